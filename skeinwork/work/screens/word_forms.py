"""Word forms side by side: what every method makes of a sentence and of the vocabulary."""

from __future__ import annotations

import time
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.text import neighbours, segment, tokenise
from skeinwork.core.text.clean import CleanSettings
from skeinwork.core.text.forms import METHODS
from skeinwork.core.text.forms.base import Place
from skeinwork.core.text.forms.lancaster import Lancaster
from skeinwork.core.text.language import LANGUAGES, detect_languages
from skeinwork.core.text.passes.base import Forms
from skeinwork.core.text.passes.word_forms import WordFormsPass
from skeinwork.work.results import cleaning_preview
from skeinwork.work.results.cleaning_preview import Tried
from skeinwork.work.results.view import View

_SHOWN, _PAIRS, _UNLIKE, _TIMED = 12, 120, 12, 500


class FormsColumn(BaseModel):
    """A way to bring words together: its settings in the pass, and its name in words."""

    title: str
    settings: dict[str, Any]
    wanted: bool


class WordRow(BaseModel):
    """A word, and its form in every column."""

    word: str
    forms: list[str]


class Sentence(BaseModel):
    columns: list[FormsColumn]
    rows: list[WordRow]


class Member(BaseModel):
    word: str
    tokens: int


class FormFamily(BaseModel):
    """Words that become one form, the most frequent first."""

    form: str
    members: list[Member]


class FormsMethod(FormsColumn):
    """What a column makes of the vocabulary.

    ``alone``: families that no other column makes, ``n_alone`` of them; ``seconds``: for all words.
    """

    before: int
    after: int
    families: int
    n_alone: int
    alone: list[FormFamily]
    seconds: float


class Doubtful(BaseModel):
    """Two words of a family whose neighbours are unlike, with the neighbours that tell them apart.

    ``alike`` is 1 where the words are as alike as each is to itself; ``low`` and ``high`` over splits.
    """

    form: str
    first: Member
    second: Member
    alike: float
    low: float
    high: float
    beside_first: list[str]
    beside_second: list[str]


class FormsSideBySide(BaseModel):
    """``wanted``: the widest families of the wanted pass; ``sample``: of so many documents."""

    methods: list[FormsMethod]
    wanted: list[FormFamily]
    sample: int | None


class DoubtfulFamilies(BaseModel):
    """``looked_at``: pairs of words that are frequent enough to be compared."""

    doubtful: list[Doubtful]
    looked_at: int
    least_tokens: int
    sample: int | None


class RulesChecked(BaseModel):
    """Rules of the Lancaster stemmer in order, and what is wrong with them; empty where nothing is."""

    rules: list[str]
    fault: str


@dataclass(frozen=True)
class _Words:
    """The words that are left without word forms, their tokens, and the language of most of these."""

    tried: Tried
    words: list[str]
    counts: NDArray[np.int64]
    languages: Sequence[str]
    language: NDArray[np.int32]


def _wanted_pass(settings: CleanSettings) -> WordFormsPass:
    """The word forms that are wanted; as they would be added where they are not."""
    found = [each for each in settings.passes if isinstance(each, WordFormsPass)]
    return next((each for each in found if each.on), found[0] if found else WordFormsPass())


def _spoken(view: View) -> str:
    """The language of most documents that there are forms of."""
    about = cleaning_preview.about_of(view)
    often = np.bincount(about.language, minlength=len(about.languages))
    order = [about.languages[at] for at in np.argsort(-often, kind="stable") if often[at]]
    return next((each for each in order if any(each in method.languages for method in METHODS.values())), "English")


def _columns(view: View, settings: CleanSettings) -> list[tuple[FormsColumn, WordFormsPass]]:
    """Every method, and the wanted pass where it is another than these."""
    wanted, spoken = _wanted_pass(settings), _spoken(view)
    suggested = {name: method.suggested(spoken) for name, method in METHODS.items()}
    tried = [
        WordFormsPass.model_validate({"method": name, **options.model_dump()})
        for name, options in suggested.items()
        if options is not None
    ]
    plain = wanted.model_copy(update={"key": "", "on": True, "within": None})
    same = [_same(plain, each) for each in tried]
    if not any(same):
        tried, same = [*tried, plain], [*same, True]
    return [
        (
            FormsColumn(
                title=each.said(),
                wanted=is_wanted,
                settings={"method": each.method, **each.options()[1].model_dump(mode="json")},
            ),
            each,
        )
        for each, is_wanted in zip(tried, same, strict=True)
    ]


def _same(one: WordFormsPass, other: WordFormsPass) -> bool:
    """Whether two passes do the same: settings of other methods aside."""
    return not one.given and one.said() == other.said() and one.options() == other.options()


def _formed(
    view: View, step: WordFormsPass, words: Sequence[str], languages: Sequence[str], language: NDArray[np.int32]
) -> list[str]:
    forms = Forms(words, np.full(len(words), segment.WORD, dtype=np.uint8))
    forms.lists = cleaning_preview.lists_of(view, CleanSettings(passes=(step,)))
    forms.languages, forms.scope = languages, language
    step.apply(forms)
    return forms.current


def sentence(view: View, settings: CleanSettings, text: str, language: str = "") -> Sentence:
    """What every method makes of the words of a text; of which language, its words say if nobody does."""
    tokens = tokenise.tokenise([text], settings.tokenising())
    kinds = [int(at) for at in tokens.ids if tokens.classes[at] == segment.WORD]
    words = [tokens.types[at] for at in dict.fromkeys(kinds)]
    columns, small = _columns(view, settings), [word.lower() for word in words]
    guess = int(detect_languages(tokens)[0])
    spoken = language or (_spoken(view) if guess < 0 else LANGUAGES[guess])
    one = np.zeros(len(words), dtype=np.int32)
    made = [_formed(view, step, small, (spoken,), one) for _, step in columns]
    rows = [WordRow(word=word, forms=list(each)) for word, *each in zip(words, *made, strict=True)]
    return Sentence(columns=[column for column, _ in columns], rows=rows)


def check_rules(text: str) -> RulesChecked:
    """Rules that are being typed, apart by white space or commas."""
    rules = text.replace(",", " ").split()
    try:
        Lancaster(rules)
    except ValueError as fault:
        return RulesChecked(rules=rules, fault=str(fault))
    return RulesChecked(rules=rules, fault="")


def _without_forms(view: View, settings: CleanSettings, quick: bool) -> _Words:
    """The words under the wanted passes but those of word forms."""
    passes = tuple(
        each.model_copy(update={"on": False}) if isinstance(each, WordFormsPass) else each for each in settings.passes
    )
    bare = settings.model_copy(update={"passes": passes})
    tried = cleaning_preview.quick(view, bare, 0) if quick else cleaning_preview.whole(view, bare)
    ids, words, about = tried.cleaning.token_forms(), tried.cleaning.forms, tried.about
    spoken = np.repeat(about.language, np.diff(tried.cleaning.tokens.doc_ptr))
    shape = (len(words), len(about.languages))
    often = np.bincount((ids.astype(np.int64) * shape[1] + spoken)[ids >= 0], minlength=shape[0] * shape[1]).reshape(
        shape
    )
    language = often.argmax(axis=1).astype(np.int32)
    return _Words(tried, words, often.sum(axis=1), about.languages, language)


def _families(forms: Sequence[str], counts: NDArray[np.int64]) -> dict[str, list[int]]:
    """The words that share a form with others, the most frequent first."""
    members: dict[str, list[int]] = {}
    for at, form in enumerate(forms):
        members.setdefault(form, []).append(at)
    return {
        form: sorted(words, key=lambda at: (-int(counts[at]), at)) for form, words in members.items() if len(words) > 1
    }


def _named(found: _Words, families: dict[str, list[int]], which: list[str]) -> list[FormFamily]:
    return [
        FormFamily(
            form=form, members=[Member(word=found.words[at], tokens=int(found.counts[at])) for at in families[form]]
        )
        for form in which
    ]


def _seconds(step: WordFormsPass, words: Sequence[str]) -> float:
    """How long a method takes over some words that it has never seen."""
    some = [word for word in words if word.isalpha()][:_TIMED]
    method, options = step.options()
    form, start = method.form(options, Place()), time.perf_counter()
    for word in some:
        form(word)
    return (time.perf_counter() - start) * len(words) / max(len(some), 1)


def side_by_side(view: View, settings: CleanSettings, quick: bool) -> FormsSideBySide:
    """What every method makes of the vocabulary."""
    found = _without_forms(view, settings, quick)
    key = ("side by side", cleaning_preview.identities(view, settings)[1], found.tried.sample)
    return view.cache.get(key, lambda: _side_by_side(view, settings, found))


def _side_by_side(view: View, settings: CleanSettings, found: _Words) -> FormsSideBySide:
    columns = _columns(view, settings)
    made = [_formed(view, step, found.words, found.languages, found.language) for _, step in columns]
    families = [_families(forms, found.counts) for forms in made]
    as_sets = [{frozenset(words): form for form, words in each.items()} for each in families]
    methods, wanted = list[FormsMethod](), list[FormFamily]()
    for at, (column, step) in enumerate(columns):
        others = set[frozenset[int]]().union(*(each for by, each in enumerate(as_sets) if by != at))
        alone = [form for words, form in as_sets[at].items() if words not in others]
        weight = {form: int(found.counts[families[at][form]].sum()) for form in families[at]}
        alone.sort(key=lambda form: (-weight[form], form))
        methods.append(
            FormsMethod(
                **column.model_dump(),
                before=len(found.words),
                after=len(set(made[at])),
                families=len(families[at]),
                n_alone=len(alone),
                alone=_named(found, families[at], alone[:_SHOWN]),
                seconds=_seconds(step, found.words),
            )
        )
        if column.wanted:
            widest = sorted(weight, key=lambda form: (-len(families[at][form]), -weight[form]))
            wanted = _named(found, families[at], widest[:_SHOWN])
    return FormsSideBySide(methods=methods, wanted=wanted, sample=found.tried.sample)


def doubtful(view: View, settings: CleanSettings) -> DoubtfulFamilies:
    """Families of the wanted word forms whose frequent members stand among other neighbours."""
    found = _without_forms(view, settings, quick=False)
    key = ("doubtful", cleaning_preview.identities(view, settings)[1], found.tried.sample)
    return view.cache.get(key, lambda: _doubtful(view, settings, found))


def _doubtful(view: View, settings: CleanSettings, found: _Words) -> DoubtfulFamilies:
    wanted = _wanted_pass(settings)
    forms = _formed(view, wanted, found.words, found.languages, found.language)
    pairs = [
        (words[0], other)
        for words in _families(forms, found.counts).values()
        for other in words[1:]
        if found.counts[other] >= neighbours.LEAST_TOKENS
    ]
    pairs.sort(key=lambda pair: -int(found.counts[pair[1]]))
    cleaning = found.tried.cleaning
    alike = neighbours.likeness(
        cleaning.token_forms(), cleaning.tokens.doc_ptr.astype(np.int64), pairs[:_PAIRS], len(found.words)
    )
    known = [(one, pair) for one, pair in zip(alike, pairs, strict=False) if one]
    known.sort(key=lambda each: each[0].alike)

    def member(at: int) -> Member:
        return Member(word=found.words[at], tokens=int(found.counts[at]))

    rows = [
        Doubtful(
            form=forms[a],
            first=member(a),
            second=member(b),
            alike=one.alike,
            low=one.low,
            high=one.high,
            beside_first=[found.words[at] for at in one.first],
            beside_second=[found.words[at] for at in one.second],
        )
        for one, (a, b) in known[:_UNLIKE]
    ]
    return DoubtfulFamilies(
        doubtful=rows, looked_at=len(known), least_tokens=neighbours.LEAST_TOKENS, sample=found.tried.sample
    )
