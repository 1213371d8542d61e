"""The English lemmatiser: irregular forms and detachment rules, checked against a lexicon.

A word's possible lemmas are those of which it is an irregular form, those that a detachment rule
leads to, and itself, as far as the lexicon has them. Of several the one is taken that is most frequent
for its inflection. (Exceptions and detachment: G. A. Miller et al., *Introduction to WordNet*,
International Journal of Lexicography 3(4), 1990.)
"""

from __future__ import annotations

from typing import ClassVar, Literal

from pydantic import Field

from skeinwork.core.kinds import NoOptions
from skeinwork.core.text.forms.base import Form, Method, Place
from skeinwork.core.text.forms.lexicon import ADJECTIVE, ADVERB, NOUN, VERB, english

_ORDER = (NOUN, VERB, ADJECTIVE, ADVERB)
_PARTS = {"NOUN": (NOUN,), "VERB": (VERB,), "ADJ": (ADJECTIVE,), "ADV": (ADVERB,), "": _ORDER}
_RULES: dict[str, dict[str, tuple[tuple[str, str], ...]]] = {
    NOUN: {"s": (("ies", "y"), ("es", ""), ("s", "")), "n": (("men", "man"),)},
    VERB: {
        "s": (("ies", "y"), ("es", ""), ("s", "")),
        "d": (("ied", "y"), ("ed", "e"), ("ed", "")),
        "g": (("ing", "e"), ("ing", ""), ("ying", "ie")),
    },
    ADJECTIVE: {"r": (("ier", "y"), ("er", "e"), ("er", "")), "t": (("iest", "y"), ("est", "e"), ("est", ""))},
}
_RULES[ADVERB] = _RULES[ADJECTIVE]
_ENDINGS = ("s", "men", "ed", "ing", "er", "est")
# What the lexicon lacks, or where a rule would mislead.
_OWN = {
    NOUN: {
        "algae": "alga",
        "bacteria": "bacterium",
        "dice": "die",
        "monies": "money",
        "passersby": "passerby",
        "courts-martial": "court-martial",
    },
    ADJECTIVE: {"eldest": "old", "farthest": "far", **{word: word for word in ("inner", "outer", "upper", "lesser")}},
    ADVERB: {"worse": "badly", "worst": "badly", "deeper": "deep", "after": "after"},
}
_CLOSED = {
    "AUX": {
        **dict.fromkeys("am is are was were been being be 's 'm 're ’s ’m ’re m".split(), "be"),
        **dict.fromkeys("has had having 've ’ve".split(), "have"),
        **dict.fromkeys("does did doing done".split(), "do"),
        **dict.fromkeys("'ll ’ll wo".split(), "will"),
        "got": "get",
        "ca": "can",
        **dict.fromkeys("'d ’d".split(), "would"),
        "might": "might",
    },
    "DET": {"an": "a", "these": "this", "those": "that"},
    "PRON": {"these": "this", "those": "that"},
    "PART": dict.fromkeys("n't n’t".split(), "not"),
}
# How much of what is counted of a lemma stands in a form of this kind, about.
_SHARES = {
    NOUN: {"": 0.7, "s": 0.3},
    VERB: {"": 0.45, "s": 0.1, "d": 0.25, "g": 0.2},
    ADJECTIVE: {"": 0.95, "r": 0.03, "t": 0.02},
    ADVERB: {"": 0.97, "r": 0.02, "t": 0.01},
}
_OWN_LEAD = 5  # times that an inflected form is the more frequent as a word of its own
_VOWELS = "aeiou"


def lemma(word: str, tag: str = "", by_rule: bool = False) -> str:
    """The lemma of a lower-case word.

    Parameters
    ----------
    tag : a universal part-of-speech tag; empty where it is not known
    by_rule : whether words that the lexicon does not have lose regular endings; else they stay

    Examples
    --------
    >>> [lemma(word) for word in ("were", "hoping", "skies", "thieves", "moorings")]
    ['be', 'hope', 'sky', 'thief', 'mooring']
    >>> lemma("worse", "ADJ"), lemma("left", "VERB"), lemma("left", "NOUN")
    ('bad', 'leave', 'left')
    """
    if tag not in _PARTS and tag not in _CLOSED:
        return word
    closed, parts = _CLOSED.get(tag, {}), _PARTS.get(tag, (VERB,) if tag == "AUX" else ())
    own = closed or (_OWN.get(parts[0], {}) if tag else {})
    if word in own or not parts:
        return own.get(word, word)
    if not word.endswith(_ENDINGS) and not any(word in english().irregular[part] for part in parts):
        return word
    readings = [reading for part in parts if (reading := _reading(word, part))]
    if readings:
        return max(readings)[2]
    head, hyphen, last = word.rpartition("-")
    if hyphen:
        return head + hyphen + lemma(last, tag, by_rule)
    return _regular(word, parts) if by_rule else word


def readings(word: str) -> list[tuple[str, str, float]]:
    """What a lower-case word can be, after the lexicon: part of speech, inflection, about how often.

    The inflection is ``""``, ``s`` (plural, or third person), ``d`` (past), ``g`` (-ing), ``r`` or ``t``.
    """
    found = []
    for part in _ORDER:
        counts, shares = english().counts[part], _SHARES[part]
        if word in counts:
            found.append((part, "", (counts[word] + 0.5) * shares[""]))
        irregular = english().irregular[part].get(word)
        if leads := irregular or _detached(word, part):
            kind = _kind(word, part)
            kind = kind or {NOUN: "s", VERB: "d"}.get(part, "r") if irregular else kind
            most = max(counts.get(each, 0) for each in leads)
            found.append((part, kind, (most + 0.5) * shares[kind]))
    return found


def _reading(word: str, part: str) -> tuple[float, int, str] | None:
    """A word as one part of speech: how frequent that is, a rank where that is equal, and the lemma.

    An irregular form, or a comparative, is never a word of its own; another inflected form is, where
    it is much the more frequent so (*glasses* is not, *means* is).
    """
    known, shares = english().counts[part], _SHARES[part]
    irregular = english().irregular[part].get(word)
    share = shares[_kind(word, part)]
    leads = irregular or _detached(word, part)
    tried = [((known.get(each, 0) + 0.5) * share, -at, each) for at, each in enumerate(leads)]
    own = (known[word] + 0.1) * shares[""] if word in known else 0.0
    if not tried:
        return (own, -_ORDER.index(part), word) if own else None
    best = max(tried)
    if own > _OWN_LEAD * best[0] and not irregular and part in (NOUN, VERB):
        return own, -_ORDER.index(part), word
    return max(own, best[0]), -_ORDER.index(part), best[2]


def _kind(word: str, part: str) -> str:
    """The inflection that a word's ending looks like."""
    last = word[-1:]
    return last if last in _SHARES[part] else ""


def _detached(word: str, part: str) -> list[str]:
    """The lemmas that rules lead to; where some would be written so when inflected, those alone."""
    known, found = english().counts[part], list[str]()
    for ending, put in _RULES[part].get(word[-1:], ()):
        bare = word[: -len(ending)]
        if word.endswith(ending) and len(bare) > 1:
            tries = [bare + put]
            if put == "" and ending in ("ed", "ing", "er", "est") and bare[-2:-1] == bare[-1:]:
                tries.append(bare[:-1])
            found += [each for each in tries if each in known and _may_take(each, ending)]
    good = [each for each in found if _doubles(each) == word.startswith(each + each[-1:])]
    return list(dict.fromkeys(good or found))


def _may_take(lemma: str, ending: str) -> bool:
    """Whether a lemma takes -es, which it does behind a hiss or an o, or else -s."""
    hisses = lemma.endswith(("s", "x", "z", "ch", "sh"))
    if ending == "es":
        return hisses or lemma.endswith("o")
    return ending != "s" or not hisses


def _doubles(lemma: str) -> bool:
    """Whether a lemma of one syllable doubles its last letter before -ed, -ing, -er."""
    return (
        len(lemma) > 2
        and lemma[-1] not in "aeiouwxy"
        and lemma[-2] in _VOWELS
        and lemma[-3] not in _VOWELS
        and sum(letter in _VOWELS for letter in lemma[:-1]) == 1
    )


def _regular(word: str, parts: tuple[str, ...]) -> str:
    """A word that the lexicon does not have without its regular ending."""
    if NOUN in parts or VERB in parts:
        if word.endswith("ies") and len(word) > 4:
            return word[:-3] + "y"
        if word.endswith(("sses", "xes", "zes", "ches", "shes")):
            return word[:-2]
        if word.endswith("s") and not word.endswith(("ss", "us", "is")) and len(word) > 3:
            return word[:-1]
    for ending in ("ing", "ed") if VERB in parts else ("est", "er") if ADJECTIVE in parts else ():
        bare = word[: -len(ending)]
        if word.endswith(ending) and len(bare) > 2 and any(each in "aeiouy" for each in bare):
            return _whole(bare)
    return word


def _whole(bare: str) -> str:
    """A stem as its lemma is spelt: one letter for two, i as y, or with an e."""
    if bare[-1] == bare[-2] and bare[-1] not in "lsz":
        return bare[:-1]
    if bare[-1] == "i":
        return bare[:-1] + "y"
    return bare + "e" if _doubles(bare) or bare.endswith(("at", "iz", "bl", "v", "c", "u")) else bare


class LemmaOptions(NoOptions):
    """What becomes of words that the lexicon does not have."""

    unknown: Literal["stay", "by rule"] = Field(
        "stay", description="words that the lexicon does not have", json_schema_extra={"with": {"method": "lemma"}}
    )


class Lemmas(Method[LemmaOptions]):
    """English lemmas, by the part of speech of a word where it is tagged."""

    name: ClassVar[str] = "lemma"
    title: ClassVar[str] = "lemmas"
    VERSION: ClassVar[int] = 2
    options: ClassVar[type[LemmaOptions]] = LemmaOptions
    sees_tags: ClassVar[bool] = True

    def form(self, options: LemmaOptions, place: Place) -> Form:
        by_rule = options.unknown == "by rule"
        return lambda word: lemma(word, place.tag, by_rule)


METHOD = Lemmas()
