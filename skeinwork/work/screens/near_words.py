"""Relate, near words: which words are near one and by which contexts, analogies, words that may be one."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.relate.nearest import cosines, mutual_pairs, strongest
from skeinwork.core.relate.vector_settings import WordVectorsSettings
from skeinwork.core.working import Line
from skeinwork.work.relate.nearness import context_parts, unit_words, word_place, word_settings
from skeinwork.work.results.view import View
from skeinwork.work.screens.working import cosine_line, sum_in_numbers
from skeinwork.work.steps import WORD_VECTORS
from skeinwork.work.steps.step import count, counted

_NEAREST = 25
_CONTEXTS = 15
_PAIRS = 200
# Nearest words of those that are shown before any is asked for.
_SHOWN = 8
# Of the most frequent ones.
_FREQUENT = 200
# Pairs whose angle is wider are no synonyms to think of.
_ALIKE = 0.4


class NearWord(BaseModel):
    """A word with its cosine to what was asked for, and how often it occurs."""

    term: str
    display: str
    cosine: float
    count: int


class NearWordsScreen(BaseModel):
    """Word vectors as they are; ``begin`` are words to begin with; ``bad`` lines of a file that can't be read."""

    settings: WordVectorsSettings
    says: str
    words: int
    has_contexts: bool
    begin: list[NearWord]
    bad: list[str]
    bad_lines: int


def near_words(view: View) -> NearWordsScreen:
    """What the word vectors are of."""
    made, settings = view.value(WORD_VECTORS), word_settings(view)
    return NearWordsScreen(
        settings=settings,
        says=_says(view, settings),
        words=len(made.terms),
        has_contexts=made.contexts.nnz > 0,
        begin=[_word(view, at, 1.0) for at in _telling(view)],
        bad=[f"{view.matrix_of(WORD_VECTORS).display[int(made.terms[0])]}: {made.bad[0].reason}"] if made.bad else [],
        bad_lines=len(made.bad),
    )


def _telling(view: View) -> list[int]:
    """Frequent words with the longest vectors: those that stand near the same words again and again."""
    frequent = view.value(WORD_VECTORS).vectors[:_FREQUENT].astype(np.float64)
    return np.argsort(-(frequent**2).sum(axis=1), kind="stable")[:_SHOWN].tolist()


def _says(view: View, settings: WordVectorsSettings) -> str:
    made = view.value(WORD_VECTORS)
    size = f"{counted(len(made.terms), 'word')} as {made.vectors.shape[1]} numbers each"
    if settings.file:
        return f"{size}, from {settings.file.name}"
    total = int(view.matrix_of(WORD_VECTORS).lengths.size)
    return (
        f"{size}, of {counted(total, 'term')}; near is within {counted(settings.window, 'word')}, "
        f"{count(made.contexts.nnz)} pairs stand near each other more often than by chance"
    )


def _word(view: View, place: int, cosine: float) -> NearWord:
    matrix = view.matrix_of(WORD_VECTORS)
    column = int(view.value(WORD_VECTORS).terms[place])
    return NearWord(
        term=matrix.terms[column], display=matrix.display[column], cosine=cosine, count=int(_totals(view)[column])
    )


def _totals(view: View) -> NDArray[np.int64]:
    return view.cache.get(
        ("totals of terms", view.matrix_of_record(WORD_VECTORS).identity), lambda: view.matrix_of(WORD_VECTORS).totals
    )


class Context(BaseModel):
    """A word that stands near one, and how strongly: ln of how many times as often as by chance."""

    term: str
    display: str
    weight: float


class NearToWord(BaseModel):
    """Words near one, the nearest first, and what stands near it."""

    word: NearWord
    nearest: list[NearWord]
    contexts: list[Context]


def near_word(view: View, term: str) -> NearToWord:
    """The words nearest to one, and its strongest contexts."""
    place = word_place(view, term)
    unit = unit_words(view)
    nearest = _best(view, cosines(unit, unit[place].astype(np.float64)), [place])
    row = view.value(WORD_VECTORS).contexts[place].toarray().ravel()
    contexts = [
        Context(**_word(view, at, 0.0).model_dump(include={"term", "display"}), weight=float(row[at]))
        for at in strongest(row, _CONTEXTS)
    ]
    return NearToWord(word=_word(view, place, 1.0), nearest=nearest, contexts=contexts)


def _best(view: View, cosine: NDArray[np.float64], without: Iterable[int]) -> list[NearWord]:
    left = cosine.copy()
    left[list(without)] = -2.0
    order = np.argsort(-left, kind="stable")[:_NEAREST].tolist()
    return [_word(view, at, float(cosine[at])) for at in order if left[at] > -2.0]


class SharedContext(BaseModel):
    """A word near both: its weight with each, and what it adds to the cosine of their contexts."""

    term: str
    display: str
    one: float
    other: float
    adds: float


class WordPair(BaseModel):
    """Why two words are near: their cosine worked out, what stands near both, documents with either and both."""

    one: NearWord
    other: NearWord
    lines: list[Line]
    shared: list[SharedContext]
    near_both: int
    documents: list[int]


def word_pair(view: View, one: str, other: str) -> WordPair:
    """What makes two words near."""
    places = [word_place(view, each) for each in (one, other)]
    made, matrix = view.value(WORD_VECTORS), view.matrix_of(WORD_VECTORS)
    lines = [cosine_line(*(made.vectors[at].astype(np.float64) for at in places))]
    cosine, parts = lines[0].value, context_parts(view, *places)
    near = [made.contexts[at].toarray().ravel() for at in places]
    if made.contexts.nnz:
        name, formula = "cosine of their contexts", "Σ a(c) b(c) / (|a| |b|), over contexts c of both"
        numbers = sum_in_numbers(parts, "context")
        lines.append(Line(name=name, formula=formula, numbers=numbers, value=float(parts.sum())))
    held = matrix.counts[:, made.terms[places]].toarray() > 0
    return WordPair(
        one=_word(view, places[0], cosine),
        other=_word(view, places[1], cosine),
        lines=lines,
        shared=[
            SharedContext(
                **_word(view, at, 0.0).model_dump(include={"term", "display"}),
                one=float(near[0][at]),
                other=float(near[1][at]),
                adds=float(parts[at]),
            )
            for at in strongest(parts, _CONTEXTS)
        ],
        near_both=int((parts > 0).sum()),
        documents=_holding(held),
    )


def _holding(held: NDArray[np.bool_]) -> list[int]:
    """Documents that hold the one, the other, both, of bool[n_docs, 2]."""
    return [int(held[:, 0].sum()), int(held[:, 1].sum()), int(held.all(axis=1).sum())]


class Analogous(NearWord):
    """A word, and the three cosines that it is ranked by."""

    parts: list[float]


class Analogy(BaseModel):
    """Words that stand to ``third`` as ``second`` does to ``first``."""

    first: NearWord
    second: NearWord
    third: NearWord
    formula: str
    found: list[Analogous]


def analogy(view: View, first: str, second: str, third: str) -> Analogy:
    """``first`` is to ``second`` as ``third`` is to what? By the cosines with the three (Levy and Goldberg 2014)."""
    places = [word_place(view, each) for each in (first, second, third)]
    unit = unit_words(view)
    parts = [cosines(unit, unit[at].astype(np.float64)) for at in places]
    score = parts[1] - parts[0] + parts[2]
    found = [
        Analogous(**each.model_dump(), parts=[float(part[word_place(view, each.term)]) for part in parts])
        for each in _best(view, score, places)
    ]
    one, two, three = (_word(view, at, 1.0) for at in places)
    formula = f"cos(x, {two.display}) − cos(x, {one.display}) + cos(x, {three.display})"
    return Analogy(first=one, second=two, third=three, formula=formula, found=found)


class SynonymPair(BaseModel):
    """Two words that are each other's nearest; in how many documents each stands, and both.

    ``in_row`` where they stand together so often that they may be one term rather than two words for one thing.
    """

    one: NearWord
    other: NearWord
    cosine: float
    documents: list[int]
    in_row: bool


class Synonyms(BaseModel):
    """Words that may be one."""

    pairs: list[SynonymPair]
    says: str


def synonyms(view: View) -> Synonyms:
    """Words that are each other's nearest, the nearest first."""
    made, matrix = view.value(WORD_VECTORS), view.matrix_of(WORD_VECTORS)
    alike = [pair for pair in mutual_pairs(made.nearest, made.cosine).tolist() if made.cosine[pair[0]] >= _ALIKE]
    held = matrix.counts.tocsc()[:, made.terms[np.array(alike[:_PAIRS], np.int64).ravel()]] > 0
    found = []
    for at, (one, other) in enumerate(alike[:_PAIRS]):
        cosine = float(np.round(made.cosine[one], 4))
        each = _holding(held[:, [2 * at, 2 * at + 1]].toarray())
        found.append(
            SynonymPair(
                one=_word(view, one, cosine),
                other=_word(view, other, cosine),
                cosine=cosine,
                documents=each,
                in_row=2 * each[2] >= min(each[:2]),
            )
        )
    found.sort(key=lambda pair: (pair.in_row, -pair.cosine))
    said = (
        f"{counted(len(alike), 'pair')} of {counted(len(made.nearest), 'word')} are each other’s nearest, with a "
        f"cosine of {_ALIKE} or more. Near is used alike, not meaning alike: read them before taking two as one."
    )
    return Synonyms(pairs=found, says=said)
