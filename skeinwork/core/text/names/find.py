"""Names of a corpus: persons, places, organisations, peoples and others, variants of one name as one.

Every rule that speaks for a kind says so with a confidence and a reason; the kind is the one that most
speaks for, the less sure the more speaks for another.
"""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import Literal

from skeinwork.core.in_words import percent
from skeinwork.core.text.names import known
from skeinwork.core.text.names.mentions import Capitals, Finder, Mention
from skeinwork.core.text.segment import Segments
from skeinwork.core.text.tagging.words import known as readings
from skeinwork.core.text.variants import Variant

Kind = Literal["person", "place", "organisation", "people", "other"]
KINDS: tuple[Kind, ...] = ("person", "place", "organisation", "people", "other")
_LEAST_SHARE = 0.5  # of the tokens of a single word inside sentences that have its capital
_DIALOGUE, _PLACED, _THE = 0.15, 0.4, 0.6  # shares of mentions from which a rule speaks
# Counts of the lexicon below which a word is hardly one: what it gives to those it has not met is 0.35.
_HARDLY = 0.5
# Share of a word's tokens in capitals for it to be letters: *gui* and *null* are words.
_ALWAYS = 0.95
# Share of the mentions before one and the same noun, or a number, from which that is part of it: *Listing 4*.
_LEADS = 0.3
# Share of the mentions before a colon from which a word is a label: *Note:*.
_LABELS = 0.5
_RARE = 20  # times that a word may be more frequent than the name in full that it stands for
# Share of the mentions before a deed from which a name is a person.
_ACTS = 0.1
_TITLED = 0.1  # of the mentions that have a title
# How sure it is where nothing but the capital tells.
_UNSAID = 0.3


@dataclass(frozen=True)
class Name:
    """A name with all its variants.

    Attributes
    ----------
    words : the fullest way in which it is written often
    kind, confidence, reason : what it is taken for, how surely (0 to 1), and why
    tokens, documents : mentions, and documents with any, all variants together
    variants : the ways in which it is written, with their mentions, the most frequent first
    """

    words: str
    kind: Kind
    confidence: float
    reason: str
    tokens: int
    documents: int
    variants: tuple[Variant, ...]


@dataclass
class _Form:
    """One way in which a name is written, with what is known of its mentions."""

    words: tuple[str, ...]
    mentions: int = 0
    documents: set[int] = field(default_factory=set)
    capitals: float = 1.0
    titles: Counter[str] = field(default_factory=Counter)
    before: Counter[str] = field(default_factory=Counter)
    behind: Counter[str] = field(default_factory=Counter)

    @property
    def titled(self) -> bool:
        """Whether titles before it are more than a chance."""
        return sum(self.titles.values()) >= max(1, _TITLED * self.mentions)

    @property
    def letters(self) -> bool:
        """Whether it is some letters in capitals, and never a word in small ones."""
        word = self.words[0]
        some = len(self.words) == 1 and word.isupper() and word.isalpha() and 2 <= len(word) <= 6
        return some and self.capitals >= _ALWAYS and not readings(word.casefold())

    @property
    def leads(self) -> bool:
        """Whether it mostly stands before one and the same noun, or a number."""
        numbers = sum(n for word, n in self.behind.items() if word[:1].isdigit())
        words = [n for word, n in self.behind.items() if _is_noun(word)]
        return max([numbers, *words]) >= max(2, _LEADS * self.mentions)

    @property
    def label(self) -> bool:
        """Whether it is a word that mostly stands before a colon."""
        before_colons = self.behind[":"] >= _LABELS * self.mentions
        return len(self.words) == 1 and before_colons and bool(readings(self.folded[0]))

    @property
    def office(self) -> bool:
        """Whether it is an office with what it is held in: *President of the Republic*."""
        first, *rest = self.folded
        return first in known.TITLES and bool(rest) and rest[0] in known.LINKS

    @property
    def saint(self) -> bool:
        """Whether it is called by a saint, who may be meant, or a place or a church."""
        return len(self.words) > 1 and self.folded[0] in known.SAINTS

    @property
    def the(self) -> bool:
        """Whether it mostly stands behind *the*."""
        return self.before["the"] >= _THE * self.mentions

    @property
    def folded(self) -> tuple[str, ...]:
        return tuple(word.casefold() for word in self.words)

    def share(self, counts: Counter[str], words: frozenset[str]) -> float:
        """Of the mentions that have one of these words there."""
        return sum(counts[word] for word in words if word in counts) / self.mentions


def _forms(mentions: Iterable[Mention], capitals: Capitals) -> dict[tuple[str, ...], _Form]:
    """Mentions by their words; of several spellings in capitals the first counts."""
    found: dict[tuple[str, ...], _Form] = {}
    for each in mentions:
        key = tuple(word.casefold() for word in each.words)
        if (form := found.get(key)) is None:
            share = capitals.share(key[0]) if key[0] in capitals.inside else 1.0
            form = found[key] = _Form(each.words, capitals=share)
        form.mentions += 1
        form.documents.add(each.document)
        if each.title:
            form.titles[each.title] += 1
        form.before[each.before] += 1
        form.behind[each.behind] += 1
    return found


def _person(form: _Form) -> tuple[float, str]:
    lists, words = known.english(), form.folded
    if form.titled:
        return 0.95, f"titled {form.titles.most_common(1)[0][0].capitalize()}"
    if form.office:
        return 0.0, ""
    if form.saint:
        return (0.5, "a saint") if len(words) == 2 else (0.0, "")
    street = words[-1] in known.PLACE_HEADS - known.SURNAMES_TOO
    if len(words) > 1 and not street and not {words[0], words[-1]} & known.ORGANISATION_HEADS:
        if words[0] in lists.given:
            return 0.9, f"{form.words[0]} is a given name"
        if len(words[0]) == 1 and words[-1] not in known.PLACE_HEADS:
            return 0.85, "initials before a surname"
    if len(words) == 1 and words[0] in lists.given:
        return 0.75, "a given name"
    shouted = any(word.isupper() and len(word) > 1 for word in form.words)
    often = max(readings(words[0]).values(), default=0.0)
    other = often >= _HARDLY or (often and readings(words[-1]))
    if 1 < len(words) < 4 and not (shouted or street or form.the or other):
        return 0.6, f"{form.words[0]} is {'hardly another' if often else 'no other'} word"
    if form.letters:
        return 0.0, ""
    said = form.share(form.behind, known.SAID) + form.share(form.before, known.SAID)
    if said >= _DIALOGUE and form.mentions > 1:
        return min(0.85, 0.5 + said), f"{percent(said)} beside a word of saying"
    if words[-1] in lists.surname and not readings(words[-1]):
        return 0.45, "a surname on the list"
    acts = sum(n for word, n in form.behind.items() if _is_deed(word)) / form.mentions
    if acts >= _ACTS and not form.the and form.mentions > 2:
        return min(0.7, 0.3 + acts), f"{percent(acts)} before a deed"
    return 0.0, ""


def _is_deed(word: str) -> bool:
    """Whether a word is a verb in the past, and nothing else."""
    return readings(word).keys() == {"VERB.d"}


def _is_noun(word: str) -> bool:
    """Whether a word is a noun more often than anything else."""
    found = readings(word)
    return bool(found) and max(found, key=lambda each: found[each]).startswith("NOUN")


def _place(form: _Form) -> tuple[float, str]:
    words = form.folded
    if " ".join(words) in known.english().place and (len("".join(words)) > 2 or words[0] in known.STATES):
        return 0.85, "on the list of places"
    placed = form.share(form.before, known.PLACED)
    if form.office:
        return 0.0, ""
    person = words[0] in known.english().given and words[-1] in known.SURNAMES_TOO
    for head in (words[-1], "" if form.saint else words[0]):
        if head in known.PLACE_HEADS and len(words) > 1 and (placed >= _PLACED or not person):
            return 0.9, f"has {head.capitalize()} in it"
    if form.saint and placed >= _PLACED and form.mentions > 1:
        return 0.75, f"{percent(placed)} behind a word of place"
    if placed >= _PLACED and form.mentions > 1 and not form.leads:
        return min(0.85, 0.35 + placed / 2), f"{percent(placed)} behind a word of place"
    return 0.0, ""


def _organisation(form: _Form) -> tuple[float, str]:
    words = form.folded
    if " ".join(words) in known.english().organisation:
        return 0.85, "on the list of organisations"
    if form.office:
        return 0.0, ""
    heads = [word for word in (words[-1], words[0]) if word in known.ORGANISATION_HEADS]
    if heads:
        return (0.92, f"has {heads[0].capitalize()} in it") if len(words) > 1 else (0.5, "names a body")
    if "&" in words:
        return 0.8, "has & in it"
    if form.letters:
        return 0.5, "letters in capitals"
    return 0.0, ""


def _people(form: _Form) -> tuple[float, str]:
    if len(form.words) == 1 and form.folded[0] in known.PEOPLES and not form.titled:
        return 0.9, "a people or a language"
    return 0.0, ""


_RULES: dict[Kind, Callable[[_Form], tuple[float, str]]] = {
    "person": _person,
    "place": _place,
    "organisation": _organisation,
    "people": _people,
}


def _judged(form: _Form) -> tuple[Kind, float, str]:
    """What a form is taken for; a rule that speaks against it takes half of its weight away."""
    found = {kind: rule(form) for kind, rule in _RULES.items()}
    kind = max(_RULES, key=lambda each: found[each][0])
    top, reason = found[kind]
    if top < _UNSAID:
        return "other", _UNSAID, "a capital inside sentences"
    against = max(found[each][0] for each in _RULES if each != kind)
    return kind, round(top * (1 - against / 2), 3), reason


def find_names(tokens: Segments, least: int = 2) -> list[Name]:
    """The names of a corpus, the most frequent first.

    Parameters
    ----------
    tokens : of the texts as they stand; capitals tell
    least : mentions that a name needs, all variants together

    Examples
    --------
    >>> from skeinwork.core.text.segment import segment
    >>> text = "Mrs Ines Tarrow spoke. Later Tarrow left for Wenlow. We saw Tarrow in Wenlow."
    >>> [(name.words, name.kind, name.tokens) for name in find_names(segment([text]))]
    [('Ines Tarrow', 'person', 3), ('Wenlow', 'place', 2)]
    """
    if not len(tokens.ids):
        return []
    finder = Finder(tokens)
    forms = _forms(finder.mentions(), finder.capitals)
    forms = {key: form for key, form in forms.items() if _is_name(form, finder.capitals)}
    judged = {key: _judged(form) for key, form in forms.items()}
    groups = _grouped(forms, judged)
    names = [_name(rows, forms, judged) for rows in groups if rows]
    return sorted((each for each in names if each.tokens >= least), key=lambda each: (-each.tokens, each.words))


def _is_name(form: _Form, capitals: Capitals) -> bool:
    """Whether a word that stands alone has its capital mostly, inside sentences."""
    if form.label:
        return False
    if len(form.words) > 1 or form.titled:
        return True
    word = form.folded[0]
    return word not in capitals.inside or capitals.share(word) >= _LEAST_SHARE


def _grouped(
    forms: dict[tuple[str, ...], _Form], judged: dict[tuple[str, ...], tuple[Kind, float, str]]
) -> list[list[tuple[str, ...]]]:
    """Forms that are one name: a surname with its one full name, initials, letters of a body."""
    full: dict[str, list[tuple[str, ...]]] = defaultdict(list)
    letters: dict[str, list[tuple[str, ...]]] = defaultdict(list)
    for key in forms:
        if len(key) > 1 and judged[key][0] == "person" and not known.LINKS & set(key):
            full[key[-1]].append(key)
            full[key[0]].append(key)
        elif len(key) > 1:
            letters["".join(word[0] for word in key if word not in known.LINKS)].append(key)
    leads: dict[tuple[str, ...], tuple[str, ...]] = {}
    for key, form in forms.items():
        if len(key) == 1 and judged[key][0] != "organisation":
            found = _of_one_person(key[0], form, full[key[0]], forms)
            if judged[key][0] == "place" and not form.titled:
                found = None
        elif len(key) == 1:
            found = _in_letters(form, letters[key[0]], forms)
        else:
            found = _in_full(key, full[key[-1]])
        if found and found != key:
            leads[key] = found
    groups: dict[tuple[str, ...], list[tuple[str, ...]]] = defaultdict(list)
    for key in forms:
        lead = leads.get(key, key)
        groups[leads.get(lead, lead)].append(key)
    return list(groups.values())


def _of_one_person(
    word: str, form: _Form, found: list[tuple[str, ...]], forms: dict[tuple[str, ...], _Form]
) -> tuple[str, ...] | None:
    """The full name that a word stands for.

    The one that has it as its surname, or the one in the same documents; of a given name half of its
    documents must have the name in full.
    """
    found = [each for each in found if _RARE * forms[each].mentions >= form.mentions]
    shown = [each for each in found if each[-1] == word]
    if len(shown) == 1:
        return shown[0]
    if len(found) == 1:
        near = forms[found[0]].documents & form.documents
        return found[0] if 2 * len(near) >= len(form.documents) else None
    shared = sorted(((len(forms[each].documents & form.documents), each) for each in found), reverse=True)
    if len(shared) > 1 and shared[0][0] > 4 * shared[1][0]:
        return shared[0][1]
    return None


def _in_letters(
    form: _Form, found: list[tuple[str, ...]], forms: dict[tuple[str, ...], _Form]
) -> tuple[str, ...] | None:
    """The one name that has these first letters, and stands in one of the same documents."""
    if not form.letters or len(found) != 1:
        return None
    return found[0] if forms[found[0]].documents & form.documents else None


def _in_full(key: tuple[str, ...], found: list[tuple[str, ...]]) -> tuple[str, ...] | None:
    """The one name in full that has the initials of this one."""
    if len(key[0]) > 1:
        return None
    fits = [each for each in found if each != key and len(each[0]) > 1 and each[0][0] == key[0]]
    return fits[0] if len(fits) == 1 else None


def _name(
    rows: list[tuple[str, ...]],
    forms: dict[tuple[str, ...], _Form],
    judged: dict[tuple[str, ...], tuple[Kind, float, str]],
) -> Name:
    rows = sorted(rows, key=lambda key: (-forms[key].mentions, key))
    best = max(rows, key=lambda key: (judged[key][0] != "other", judged[key][1], forms[key].mentions))
    kind, confidence, reason = judged[best]
    longest = max(rows, key=lambda key: (len("".join(key)), key))
    return Name(
        words=" ".join(forms[longest].words),
        kind=kind,
        confidence=confidence,
        reason=reason,
        tokens=sum(forms[key].mentions for key in rows),
        documents=len(set().union(*(forms[key].documents for key in rows))),
        variants=tuple(Variant(" ".join(forms[key].words), forms[key].mentions) for key in rows),
    )
