"""Pruning: which terms become the columns of a matrix, in a stated order of limits.

1. terms pinned to go; 2. letters in a word; 3. documents that hold the term, as a number, as a share
or as a sparsity limit; 4. how often it occurs; 5. the top n or the top share, by count or by weight;
6. terms pinned to stay come back.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np
import scipy
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.matrix.counting import Counted
from skeinwork.core.matrix.matrix_settings import MatrixSettings
from skeinwork.core.matrix.weighting import weigh

Mask = NDArray[np.bool_]


@dataclass(frozen=True)
class Standing:
    """What terms are judged by.

    Attributes
    ----------
    n_docs : documents that count, all or those of the training part
    rows : bool[n_docs of the corpus], which those are; None for all
    df, total : int64[n_terms], over those documents
    shortest, longest : int64[n_terms], letters in the shortest and in the longest word of a term
    """

    n_docs: int
    rows: Mask | None
    df: NDArray[np.int64]
    total: NDArray[np.int64]
    shortest: NDArray[np.int64]
    longest: NDArray[np.int64]


def standing(counted: Counted, rows: Mask | None = None) -> Standing:
    """What the terms of a cleaning are judged by; ``rows``, bool[n_docs], are the documents that count."""
    counts = counted.counts if rows is None else counted.counts[rows]
    n_terms = counted.n_terms
    df = np.bincount(counts.indices, minlength=n_terms).astype(np.int64)
    total = np.rint(np.bincount(counts.indices, counts.data, n_terms)).astype(np.int64)
    letters = np.array([len(form) for form in counted.forms], dtype=np.int64)
    short, long = [letters], [letters]
    for parts in counted.parts:
        short.append(np.minimum(short[-1][parts[:, 0]], letters[parts[:, 1]]))
        long.append(np.maximum(long[-1][parts[:, 0]], letters[parts[:, 1]]))
    return Standing(int(counts.shape[0]), rows, df, total, np.concatenate(short), np.concatenate(long))


def document_bounds(settings: MatrixSettings, n_docs: int) -> tuple[int, int]:
    """The fewest and the most documents that a term may be in: the stricter of number and share.

    Rounded before, since 0.29 of 100 documents is a hair under 29.
    """
    least = max(settings.min_documents, int(np.ceil(round(settings.min_share * n_docs, 6))), 1)
    most = int(np.floor(round(settings.max_share * n_docs, 6)))
    return least, min(most, settings.max_documents) if settings.max_documents else most


@dataclass(frozen=True)
class Limit:
    """One limit of the order: what it is, and the terms that it and those before it keep."""

    key: str
    kept: Mask


def _columns(counted: Counted, terms: tuple[str, ...]) -> list[int]:
    found = (counted.column(term) for term in terms)
    return [at for at in found if at is not None]


def limits(counted: Counted, known: Standing, settings: MatrixSettings) -> Iterator[Limit]:
    """Each limit of the order with the terms that are still there."""
    kept = known.df > 0
    stay = _columns(counted, settings.stay)
    kept[_columns(counted, settings.go)] = False
    yield Limit("go", kept)
    kept = kept & (known.shortest >= settings.min_letters)
    if settings.max_letters is not None:
        kept = kept & (known.longest <= settings.max_letters)
    yield Limit("letters", kept)
    least, most = document_bounds(settings, known.n_docs)
    kept = kept & (known.df >= least) & (known.df <= most)
    yield Limit("documents", kept)
    kept = kept & (known.total >= settings.min_count)
    yield Limit("count", kept)
    kept = _top(counted, known, settings, kept)
    yield Limit("top", kept)
    kept = kept.copy()
    kept[stay] = True
    yield Limit("stay", kept)


def _top(counted: Counted, known: Standing, settings: MatrixSettings, kept: Mask) -> Mask:
    """The first n, or the first share, by count or by weight; ties go by the term."""
    there = np.flatnonzero(kept)
    wanted = len(there) if settings.keep_top is None else settings.keep_top
    if settings.keep_share is not None:
        wanted = min(wanted, round(settings.keep_share * len(there)))
    if wanted >= len(there):
        return kept
    score = known.total[there].astype(np.float64)
    if not settings.top_by.is_counts:
        rows = counted.counts if known.rows is None else counted.counts[known.rows]
        weights = weigh(rows[:, there].tocsr(), settings.top_by)
        score = np.bincount(weights.indices, weights.data, len(there)).astype(np.float64)
    out = np.zeros(len(kept), dtype=bool)
    if wanted == 0:
        return out
    least = np.partition(score, len(score) - wanted)[len(score) - wanted]
    out[there[score > least]] = True
    ties = there[score == least]
    order = np.argsort(np.array(counted.names(ties)), kind="stable")
    out[ties[order[: wanted - int((score > least).sum())]]] = True
    return out


def kept_terms(counted: Counted, settings: MatrixSettings, known: Standing | None = None) -> NDArray[np.int64]:
    """Columns, int64[n_kept], that pruning keeps, in the order of the settings."""
    known = known or standing(counted)
    *_, last = limits(counted, known, settings)
    return ordered(counted, known, np.flatnonzero(last.kept), settings)


def ordered(
    counted: Counted, known: Standing, columns: NDArray[np.int64], settings: MatrixSettings
) -> NDArray[np.int64]:
    """Columns, int64[n], by falling count, then by term; or as their terms first appear, the shorter first."""
    if settings.order == "appearance":
        return columns[np.lexsort((counted.lengths[columns], counted.first[columns]))]
    names, total = counted.names(columns), known.total[columns].tolist()
    order = sorted(range(len(columns)), key=lambda at: (-total[at], names[at]))
    return columns[np.array(order, dtype=np.int64)]


@njit(cache=True, nogil=True)
def _kept_in_rows(data: Any, indices: Any, indptr: Any, kept: Any) -> Any:
    """Kept terms and their tokens in each document, int64[n_docs, 2]."""
    found = np.zeros((len(indptr) - 1, 2), dtype=np.int64)
    for row in range(len(indptr) - 1):
        for at in range(indptr[row], indptr[row + 1]):
            if kept[indices[at]]:
                found[row, 0] += 1
                found[row, 1] += data[at]
    return found


@dataclass(frozen=True)
class Figures:
    """A matrix in numbers, before it is made.

    Attributes
    ----------
    per_document : terms in a document: the mean, and the quarters with the middle
    emptied : documents without a term
    words : tokens of single words; of all terms where none is a single word
    """

    terms: int
    nonzero: int
    sparsity: float
    per_document: float
    quarters: tuple[float, float, float]
    emptied: int
    tokens: int
    words: int


def figures(counted: Counted, kept: Mask) -> Figures:
    """What a matrix of the kept terms, bool[n_terms], would be."""
    counts = counted.counts
    by_row = _kept_in_rows(counts.data, counts.indices, counts.indptr, kept)
    terms, nonzero = int(kept.sum()), int(by_row[:, 0].sum())
    n_docs = counted.n_docs
    cells, tokens = n_docs * terms, int(by_row[:, 1].sum())
    words = tokens
    single = kept & (counted.lengths == 1)
    if single.any() and not single[kept].all():
        words = int(_kept_in_rows(counts.data, counts.indices, counts.indptr, single)[:, 1].sum())
    low, middle, high = np.percentile(by_row[:, 0], [25, 50, 75]) if n_docs else (0.0, 0.0, 0.0)
    return Figures(
        terms,
        nonzero,
        1.0 - nonzero / cells if cells else 1.0,
        nonzero / max(n_docs, 1),
        (float(low), float(middle), float(high)),
        int((by_row[:, 0] == 0).sum()),
        tokens,
        words,
    )


def columns_of(counts: scipy.sparse.csr_matrix, columns: NDArray[np.int64]) -> scipy.sparse.csr_matrix:
    """Some columns, int64[n_columns], of counts in a new order, sorted within each row, int32[n_docs, n_columns]."""
    place = np.full(counts.shape[1], -1, dtype=np.int32)
    place[columns] = np.arange(len(columns), dtype=np.int32)
    moved = place[counts.indices]
    stay = moved >= 0
    indptr = np.concatenate([[0], np.cumsum(stay)])[counts.indptr].astype(np.int64)
    out = scipy.sparse.csr_matrix(
        (counts.data[stay], moved[stay], indptr), shape=(counts.shape[0], len(columns)), dtype=np.int32
    )
    out.sort_indices()
    return out
