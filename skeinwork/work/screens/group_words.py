"""Relate, words by group: which words set a group apart, how surely, and a grid of words by groups."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import numpy as np
import scipy
from numpy.typing import NDArray
from pydantic import BaseModel, Field

from skeinwork.core.matrix.matrix import Matrix
from skeinwork.core.relate.crossed import residuals
from skeinwork.core.relate.distances import distances
from skeinwork.core.relate.leaf_order import leaf_order
from skeinwork.core.relate.linkage import linkage
from skeinwork.core.relate.settings import GroupWordsSettings
from skeinwork.core.relate.significance import LEAST_UNITS, UNLIKE_LENGTHS, log_ratio_intervals
from skeinwork.core.working import Line
from skeinwork.work.relate.compared_words import Compared, compared, units_counted
from skeinwork.work.results.view import View
from skeinwork.work.screens.names import found_names
from skeinwork.work.screens.working import words_apart_lines
from skeinwork.work.steps import GROUP_WORDS
from skeinwork.work.steps.fitted import known
from skeinwork.work.steps.step import count, counted

_PER = 10_000
_SURE = 0.05
Order = Literal["log_odds", "likelihood", "log_ratio", "count"]
Kind = Literal["all", "words", "phrases", "names"]


class GroupWordsQuery(BaseModel):
    """Which group, against all others or one, which terms, in which order."""

    group: int = Field(0, ge=0, le=1000)
    against: int | None = Field(None, ge=0, le=1000)
    less: bool = Field(False, description="words that it has less of, instead of more")
    sure: bool = Field(False, description="only those told apart by unit")
    kind: Kind = "all"
    order: Order = "log_odds"
    page: int = Field(1, ge=1, le=100_000)
    limit: int = Field(25, ge=1, le=200)


class ComparedWord(BaseModel):
    """A word inside and outside of a group, per ten thousand tokens, with all measures.

    ``spread`` is the share of the group's units that have the word; ``low`` and ``high`` are those of the log ratio.
    """

    term: str
    display: str
    inside: int
    outside: int
    rate: float
    other_rate: float
    likelihood: float
    log_ratio: float
    low: float | None
    high: float | None
    log_odds: float
    p: float | None
    adjusted: float | None
    units: int
    other_units: int
    spread: float


class ComparedWords(BaseModel):
    """A page of words that set a group apart."""

    group: str
    against: str
    units: int
    other_units: int
    tokens: int
    other_tokens: int
    words: list[ComparedWord]
    found: int
    told_apart: int
    page: int
    pages: int
    says: str


class GroupOfWords(BaseModel):
    """A group that is compared."""

    group: int
    name: str
    documents: int
    units: int
    tokens: int


class GroupWordsScreen(BaseModel):
    """What is compared, and the groups there are."""

    settings: GroupWordsSettings
    says: str
    groups: list[GroupOfWords]


def group_words(view: View) -> GroupWordsScreen:
    """The groups whose words are compared."""
    made, settings = view.value(GROUP_WORDS), GROUP_WORDS.parse(view.record(GROUP_WORDS).making.settings)
    sizes = zip(made.names, made.documents.tolist(), made.group_units.tolist(), made.tokens.tolist(), strict=True)
    return GroupWordsScreen(
        settings=settings,
        says=(
            f"Each against all others; units are {_unit(settings)}. Tests are by unit: what one of them says "
            "often counts as one."
        ),
        groups=[
            GroupOfWords(group=at, name=name, documents=documents, units=units, tokens=tokens)
            for at, (name, documents, units, tokens) in enumerate(sizes)
        ],
    )


def _unit(settings: GroupWordsSettings) -> str:
    return f"the values of {settings.unit}" if settings.unit else "documents"


def words(view: View, query: GroupWordsQuery) -> ComparedWords:
    """Words that a group has more, or less, of."""
    found, matrix = compared(view, query.group, query.against), view.matrix_of(GROUP_WORDS)
    made = view.value(GROUP_WORDS)
    names = _of_names(view, matrix) if query.kind == "names" else np.zeros(len(matrix.terms), dtype=bool)
    chosen, told = _chosen(found, matrix, query, names)
    pages = max(1, -(-len(chosen) // query.limit))
    page = min(query.page, pages)
    shown = chosen[(page - 1) * query.limit : page * query.limit]
    return ComparedWords(
        group=made.names[query.group],
        against="all others" if query.against is None else made.names[query.against],
        units=found.of,
        other_units=found.of_others,
        tokens=int(found.words.inside.sum()),
        other_tokens=int(found.words.outside.sum()),
        words=_words(view, found, matrix, shown.tolist()),
        found=len(chosen),
        told_apart=told,
        page=page,
        pages=pages,
        says=_says(found, told),
    )


def _chosen(
    found: Compared, matrix: Matrix, query: GroupWordsQuery, names: NDArray[np.bool_]
) -> tuple[NDArray[np.int64], int]:
    """Columns in order, and how many of them are told apart."""
    sign = -1.0 if query.less else 1.0
    keep = (sign * found.words.log_odds > 0) & (found.words.inside + found.words.outside > 0)
    if query.kind == "names":
        keep &= names
    elif query.kind != "all":
        keep &= (matrix.lengths > 1) == (query.kind == "phrases")
    told = keep & (found.adjusted <= _SURE)
    keep = told if query.sure else keep
    score = {
        "log_odds": sign * found.words.log_odds,
        "likelihood": sign * found.words.likelihood,
        "log_ratio": sign * found.words.log_ratio,
        "count": found.words.inside.astype(np.float64),
    }[query.order]
    order = np.flatnonzero(keep)
    return order[np.argsort(-score[order], kind="stable")], int(told.sum())


def _of_names(view: View, matrix: Matrix) -> NDArray[np.bool_]:
    """Terms all of whose words stand in names of the corpus, bool[n_terms]."""

    def look() -> NDArray[np.bool_]:
        known = {word for name in found_names(view) for word in name.words.casefold().split(" ")}
        return np.array([set(shown.casefold().split(" ")) <= known for shown in matrix.display], dtype=bool)

    return view.cache.get(("terms of names", view.record(GROUP_WORDS).making.inputs[0]), look)


def _words(view: View, found: Compared, matrix: Matrix, shown: Sequence[int]) -> list[ComparedWord]:
    """Some words with all their figures."""
    both = None if found.against is None else (found.group, found.against)
    units, group = units_counted(view, both), found.group if both is None else 0
    ends = log_ratio_intervals(units, group, shown, found.p[list(shown)])
    return [_word(found, matrix, at, *each) for at, each in zip(shown, ends.tolist(), strict=True)]


def _word(found: Compared, matrix: Matrix, at: int, low: float, high: float) -> ComparedWord:
    inside, outside = int(found.words.inside[at]), int(found.words.outside[at])
    return ComparedWord(
        term=matrix.terms[at],
        display=matrix.display[at],
        inside=inside,
        outside=outside,
        rate=_PER * inside / int(found.words.inside.sum()),
        other_rate=_PER * outside / int(found.words.outside.sum()),
        likelihood=float(found.words.likelihood[at]),
        log_ratio=float(found.words.log_ratio[at]),
        low=known(low) if np.isfinite(low) else None,
        high=known(high) if np.isfinite(high) else None,
        log_odds=float(found.words.log_odds[at]),
        p=known(float(found.p[at])),
        adjusted=known(float(found.adjusted[at])),
        units=int(found.units[at]),
        other_units=int(found.other_units[at]),
        spread=int(found.units[at]) / max(found.of, 1),
    )


def _says(found: Compared, told: int) -> str:
    if np.isnan(found.p).all():
        few = min(found.of, found.of_others)
        return f"No test: one side has {counted(few, 'unit')}, and under {LEAST_UNITS} tell nothing of others."
    said = f"{counted(told, 'word')} told apart by unit (false discovery rate 5\u202f%)"
    if found.lengths > UNLIKE_LENGTHS:
        said += (
            f"; units of one side are {found.lengths:.1f} times as long, so a word counts only where the "
            "number of units that have it tells too"
        )
    return said + "."


class WordWorking(BaseModel):
    """A word of a group with all its figures worked out."""

    display: str
    group: str
    against: str
    lines: list[Line]


def working(view: View, group: int, term: str, against: int | None = None) -> WordWorking:
    """How the figures of one word came about."""
    matrix, made = view.matrix_of(GROUP_WORDS), view.value(GROUP_WORDS)
    found, at = compared(view, group, against), matrix.column_of(term)
    return WordWorking(
        display=matrix.display[at],
        group=made.names[group],
        against="all others" if against is None else made.names[against],
        lines=[*words_apart_lines(found.words, at), *_p_line(found, at)],
    )


def _p_line(found: Compared, at: int) -> list[Line]:
    if np.isnan(found.p[at]):
        return []
    n, m = int(found.words.inside.sum()), int(found.words.outside.sum())
    here, there = int(found.units[at]), int(found.other_units[at])
    return [
        Line(
            name="p by unit",
            formula="the larger of two: of the sum over units with the word, each inside with chance π = n / (n + m); "
            "of the ratio against its scatter over units",
            numbers=f"{count(here)} of {counted(found.of, 'unit')} have it, {count(there)} of "
            f"{count(found.of_others)} others; π = {n / (n + m):.4f}",
            value=float(found.p[at]),
        )
    ]


class GridCell(BaseModel):
    """A word in a group: tokens, what the margins let expect, adjusted residual, units with it."""

    n: int
    expected: float
    residual: float
    units: int


class GridRow(BaseModel):
    term: str
    display: str
    cells: list[GridCell]


class WordGrid(BaseModel):
    """Words by groups, both in an order in which neighbours are alike."""

    groups: list[GroupOfWords]
    rows: list[GridRow]


def grid(view: View, each: int = 5, most: int = 60) -> WordGrid:
    """The words that tell most of each group, by groups."""
    made, matrix = view.value(GROUP_WORDS), view.matrix_of(GROUP_WORDS)
    n = len(made.names)
    each = max(1, min(each, most // n)) if n else each
    terms: dict[int, None] = {}
    for group in range(n):
        odds = compared(view, group).words.log_odds
        terms |= dict.fromkeys(at for at in np.argsort(-odds, kind="stable")[:each].tolist() if odds[at] > 0)
    columns = np.array(list(terms), dtype=np.int64)
    counts = made.inside[:, columns].T.astype(np.int64)
    expected, residual = _against_all(counts, made.tokens)
    by_row, by_group = _seriated(residual), _seriated(residual.T)
    groups = group_words(view).groups
    return WordGrid(
        groups=[groups[at] for at in by_group.tolist()],
        rows=[
            GridRow(
                term=matrix.terms[columns[row]],
                display=matrix.display[columns[row]],
                cells=[
                    GridCell(
                        n=int(counts[row, at]),
                        expected=float(expected[row, at]),
                        residual=float(residual[row, at]),
                        units=int(made.units[at, columns[row]]),
                    )
                    for at in by_group.tolist()
                ],
            )
            for row in by_row.tolist()
        ],
    )


def _against_all(
    counts: NDArray[np.int64], tokens: NDArray[np.int64]
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Expected counts and adjusted residuals of some words, float64[n_words, n_groups], against all tokens."""
    pairs = [residuals(np.stack([row, tokens - row])) for row in counts]
    return np.stack([each[0][0] for each in pairs]), np.stack([each[1][0] for each in pairs])


def _seriated(rows: NDArray[np.float64]) -> NDArray[np.int64]:
    """An order of rows in which neighbours are alike: that of the leaves of a tree."""
    if len(rows) < 3:
        return np.arange(len(rows))
    shifted = scipy.sparse.csr_matrix(rows - rows.min())
    apart = distances(shifted, "euclidean")
    return leaf_order(linkage(apart, "average"), apart)
