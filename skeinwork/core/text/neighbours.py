"""Whether words stand among the same neighbours, as those of one family should."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_matrix

WINDOW = 5  # tokens to each side
# Halvings of the documents over which likeness is taken: its ends come from how far they differ.
SPLITS = 5
LEAST_TOKENS = 20  # of each word: below, halves say nothing of themselves


@dataclass(frozen=True)
class Likeness:
    """How alike the neighbours of two words are: 1 where as alike as each word's own to themselves.

    Attributes
    ----------
    alike : the mean over splits of the documents into halves
    low, high : the least and the most of a split
    first, second : neighbours (word identifiers) by which each is told from the other
    """

    alike: float
    low: float
    high: float
    first: list[int]
    second: list[int]


@dataclass(frozen=True)
class _Contexts:
    """Every neighbour of the words looked at: the word's row, the neighbour, the document."""

    rows: NDArray[np.int32]
    words: NDArray[np.int32]
    documents: NDArray[np.int32]
    weight: NDArray[np.float64]

    def counted(self, group: NDArray[np.int32], groups: int, n_rows: int) -> csr_matrix:
        """float64[n_rows * groups, n_words] of unit length, by row and by group of documents."""
        at = self.rows * groups + group[self.documents]
        shape = (n_rows * groups, len(self.weight))
        found = csr_matrix((np.ones(len(at)), (at, self.words)), shape=shape)
        found.data = np.log1p(found.data)
        found = csr_matrix(found.multiply(self.weight[None, :]))
        length = np.sqrt(np.asarray(found.multiply(found).sum(axis=1)).ravel())
        found.data /= np.repeat(np.maximum(length, 1e-12), np.diff(found.indptr))
        return found


def _contexts(
    ids: NDArray[np.int32], doc_ptr: NDArray[np.int64], looked_at: NDArray[np.int32], n_words: int
) -> _Contexts:
    document = np.repeat(np.arange(len(doc_ptr) - 1, dtype=np.int32), np.diff(doc_ptr))
    kept = ids >= 0
    ids, document = ids[kept], document[kept]
    row = np.full(n_words, -1, dtype=np.int32)
    row[looked_at] = np.arange(len(looked_at), dtype=np.int32)
    parts = []
    for distance in range(1, WINDOW + 1):
        near = document[:-distance] == document[distance:]
        for word, other in ((ids[:-distance], ids[distance:]), (ids[distance:], ids[:-distance])):
            take = near & (row[word] >= 0) & (word != other)
            parts.append((row[word[take]], other[take], document[:-distance][take]))
    rows, words, documents = (np.concatenate(each) for each in zip(*parts, strict=True))
    often = np.bincount(ids, minlength=n_words)
    return _Contexts(rows, words, documents, np.log(max(len(ids), 1) / np.maximum(often, 1)))


def likeness(
    ids: NDArray[np.int32],
    doc_ptr: NDArray[np.int64],
    pairs: Sequence[tuple[int, int]],
    n_words: int,
    seed: int = 1,
    named: int = 5,
) -> list[Likeness | None]:
    """How alike the neighbours of both words of each pair are.

    The documents are split into halves; the likeness of one word to the other across the halves is
    set against that of each word to itself, so that rare words are no less alike for being rare
    (cosine of ``ln(1 + n) ln(N / f)`` over the words within ``WINDOW``, corrected for attenuation as
    in C. Spearman, American Journal of Psychology 15, 1904).

    Parameters
    ----------
    ids : int32[n_tokens], words; -1 where none is left: windows run over those that are
    doc_ptr : int64[n_docs + 1]
    named : neighbours to tell each word by, at most

    Returns
    -------
    for each pair its likeness; None where a word is unlike itself: there is too little of it
    """
    looked_at = np.array(sorted({word for pair in pairs for word in pair}), dtype=np.int32)
    if not len(looked_at):
        return []
    found = _contexts(ids, doc_ptr, looked_at, n_words)
    place = {int(word): at for at, word in enumerate(looked_at)}
    one = np.array([place[a] for a, _ in pairs])
    two = np.array([place[b] for _, b in pairs])
    random = np.random.default_rng(seed)
    across = np.full((SPLITS, len(pairs)), np.nan)
    for split in range(SPLITS):
        half = random.integers(0, 2, len(doc_ptr) - 1).astype(np.int32)
        unit = found.counted(half, 2, len(looked_at))
        within = _dots(unit, 2 * one, 2 * one + 1) * _dots(unit, 2 * two, 2 * two + 1)
        between = (_dots(unit, 2 * one, 2 * two + 1) + _dots(unit, 2 * one + 1, 2 * two)) / 2
        with np.errstate(divide="ignore", invalid="ignore"):
            across[split] = np.where(within > 0, between / np.sqrt(within), np.nan)
    whole = found.counted(np.zeros(len(doc_ptr) - 1, dtype=np.int32), 1, len(looked_at))
    mean, low, high = across.mean(axis=0), across.min(axis=0), across.max(axis=0)
    return [
        None
        if np.isnan(mean[at])
        else Likeness(
            float(mean[at]),
            float(low[at]),
            float(high[at]),
            _telling(whole, one[at], two[at], named),
            _telling(whole, two[at], one[at], named),
        )
        for at in range(len(pairs))
    ]


def _dots(unit: csr_matrix, left: NDArray[np.int64], right: NDArray[np.int64]) -> NDArray[np.float64]:
    """Products of pairs of rows; where most pairs there are are asked for, of all rows with all."""
    if 20 * len(left) > unit.shape[0] ** 2:
        product: NDArray[np.float64] = (unit @ unit.T).toarray()[left, right]
        return product
    return np.asarray(unit[left].multiply(unit[right]).sum(axis=1)).ravel()


def _telling(whole: csr_matrix, this: int, other: int, named: int) -> list[int]:
    """Neighbours that weigh most with one word more than with another."""
    if not named:
        return []
    more = (whole[this] - whole[other]).tocoo()
    order = np.argsort(-more.data, kind="stable")[:named]
    return [int(more.col[at]) for at in order if more.data[at] > 0]
