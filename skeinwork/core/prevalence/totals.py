"""How much of each topic the sampled units hold in each cell: what every estimate is made from.

A *cell* is a group, a period, or both. A *unit* is what was sampled: a document, or what several
documents belong to (an author, a source). Documents of one unit are added up, since they are not
independent of each other.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
import scipy
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.corpus.grouping import with_own_units
from skeinwork.core.topics.model import Samples


@dataclass(frozen=True)
class UnitTotals:
    """One row for every unit in every cell that it has documents in, sorted by cell, then unit.

    Attributes
    ----------
    cell, unit : int64[n_rows]
    weight : float64[n_rows], of the row's documents together
    indptr : int64[n_rows + 1]; topic : int32[nnz]; amount : float64[nnz]
        weight times share of each topic in a row, the mean over the saved samples
    spread : float64[n_cells, n_topics], variance of a cell's share over the saved samples, for a
        mean of as many; zero without samples
    documents : int64[n_cells], documents that count
    """

    cell: NDArray[np.int64]
    unit: NDArray[np.int64]
    weight: NDArray[np.float64]
    indptr: NDArray[np.int64]
    topic: NDArray[np.int32]
    amount: NDArray[np.float64]
    spread: NDArray[np.float64]
    documents: NDArray[np.int64]

    @property
    def n_cells(self) -> int:
        return self.spread.shape[0]

    @property
    def n_topics(self) -> int:
        return self.spread.shape[1]

    @property
    def recurring(self) -> bool:
        """Whether any unit is in more than one cell."""
        return len(np.unique(self.unit)) < len(self.unit)

    @property
    def cell_weight(self) -> NDArray[np.float64]:
        """Of all rows of each cell together, float64[n_cells]."""
        return np.bincount(self.cell, self.weight, self.n_cells).astype(np.float64)

    @property
    def entry_row(self) -> NDArray[np.int64]:
        """The row of every entry, int64[nnz]."""
        return np.repeat(np.arange(len(self.cell)), np.diff(self.indptr))

    @property
    def share(self) -> NDArray[np.float64]:
        """Of every topic in every cell, float64[n_cells, n_topics]; zeros in cells without documents."""
        rows = (self.cell, self.indptr, self.topic, self.amount)
        return np.asarray(_shares(*rows, self.cell_weight, self.n_topics), dtype=np.float64)

    def by_unit(self) -> tuple[UnitTotals, NDArray[np.int64]]:
        """The rows sorted by unit, and where those of each unit begin, int64[n_units + 1]."""
        rows = self.ordered(np.argsort(self.unit, kind="stable"))
        return rows, np.append(np.flatnonzero(np.diff(rows.unit, prepend=-1)), len(rows.unit))

    def ordered(self, order: NDArray[np.int64]) -> UnitTotals:
        """The same with the rows in another order, int64[n_rows]."""
        rows = scipy.sparse.csr_matrix((self.amount, self.topic, self.indptr), shape=(len(self.cell), self.n_topics))[
            order
        ]
        return replace(
            self,
            cell=self.cell[order],
            unit=self.unit[order],
            weight=self.weight[order],
            indptr=rows.indptr.astype(np.int64),
            topic=rows.indices,
            amount=rows.data,
        )


@njit(cache=True, nogil=True)
def _shares(cell: Any, indptr: Any, topic: Any, amount: Any, whole: Any, n_topics: int) -> Any:
    share = np.zeros((len(whole), n_topics))
    for row in range(len(cell)):
        for at in range(indptr[row], indptr[row + 1]):
            share[cell[row], topic[at]] += amount[at] / whole[cell[row]]
    return share


@njit(cache=True, nogil=True)
def _tokens(data: Any, indptr: Any, row: int) -> float:
    total = 0.0
    for at in range(indptr[row], indptr[row + 1]):
        total += data[at]
    return total


def _whole(samples: Samples) -> NDArray[np.float64]:
    """What each document counts for in each sample, float64[n_samples * n_docs]."""
    if samples.sizes is not None:
        return np.tile(np.asarray(samples.sizes), len(samples))
    whole = np.empty(len(samples.indptr) - 1)
    _sum_rows(samples.data, samples.indptr, whole)
    return whole


@njit(cache=True, nogil=True)
def _sum_rows(data: Any, indptr: Any, out: Any) -> None:
    for row in range(len(out)):
        out[row] = _tokens(data, indptr, row)


@njit(cache=True, nogil=True)
def _distinct(indices: Any, indptr: Any, n_samples: int, n_means: int, docs: Any, starts: Any, n_topics: int) -> Any:
    """Where each row's entries begin: topics that any sample of the mean gives any of its documents."""
    n_docs = (len(indptr) - 1) // n_samples
    begins = np.zeros(len(starts), dtype=np.int64)
    seen = np.full(n_topics, -1, dtype=np.int64)
    for row in range(len(starts) - 1):
        found = 0
        for place in range(starts[row], starts[row + 1]):
            for sample in range(n_means):
                at_row = sample * n_docs + docs[place]
                for at in range(indptr[at_row], indptr[at_row + 1]):
                    if seen[indices[at]] != row:
                        seen[indices[at]] = row
                        found += 1
        begins[row + 1] = begins[row] + found
    return begins


@njit(cache=True, nogil=True)
def _added_up(
    data: Any,
    indices: Any,
    indptr: Any,
    whole: Any,
    n_samples: int,
    n_means: int,
    docs: Any,
    starts: Any,
    begins: Any,
    weights: Any,
    n_topics: int,
) -> Any:
    """Topics and amounts of every row, int32[nnz] and float64[nnz]."""
    n_docs = (len(indptr) - 1) // n_samples
    topic = np.empty(begins[-1], dtype=np.int32)
    amount = np.zeros(begins[-1], dtype=np.float64)
    slot = np.full(n_topics, -1, dtype=np.int64)
    for row in range(len(starts) - 1):
        end = begins[row]
        for place in range(starts[row], starts[row + 1]):
            doc = docs[place]
            for sample in range(n_means):
                at_row = sample * n_docs + doc
                each = weights[doc] / (whole[at_row] * n_means)
                for at in range(indptr[at_row], indptr[at_row + 1]):
                    k = indices[at]
                    if slot[k] < begins[row]:
                        slot[k] = end
                        topic[end] = k
                        end += 1
                    amount[slot[k]] += each * data[at]
    return topic, amount


@njit(cache=True, nogil=True)
def _spread(
    data: Any,
    indices: Any,
    indptr: Any,
    whole: Any,
    n_samples: int,
    n_means: int,
    docs: Any,
    cells: Any,
    weights: Any,
    n_cells: int,
    n_topics: int,
) -> Any:
    """Variance over the samples of the share of each topic in each cell, of the mean of them or about the first."""
    n_docs = (len(indptr) - 1) // n_samples
    in_cell = np.zeros(n_cells)
    for doc in docs:
        in_cell[cells[doc]] += weights[doc]
    mean = np.zeros((n_cells, n_topics))
    square = np.zeros((n_cells, n_topics))
    for sample in range(n_samples):
        share = np.zeros((n_cells, n_topics))
        for doc in docs:
            row, cell = sample * n_docs + doc, cells[doc]
            each = weights[doc] / (whole[row] * in_cell[cell])
            for at in range(indptr[row], indptr[row + 1]):
                share[cell, indices[at]] += each * data[at]
        step = share - mean
        mean += step / (sample + 1) if sample < n_means else np.zeros_like(step)
        square += step * (share - mean)
    return square / max(n_samples - 1, 1) * (1.0 + 1.0 / n_samples if n_means == n_samples else 1.0)


def unit_totals(
    samples: Samples,
    weights: NDArray[np.float64],
    cells: NDArray[np.int64],
    n_cells: int,
    units: NDArray[np.int64] | None = None,
) -> UnitTotals:
    """Add up the documents of every unit in every cell.

    A document's share of a topic is the tokens of the topic over its tokens, the mean over the
    samples: shares smoothed by one prior would pull groups together.

    Parameters
    ----------
    samples : of documents by topics
    weights : float64[n_docs], tokens of each document, or ones; those without weight are left out
    cells : int64[n_docs], the cell of each document in [0, n_cells), -1 for none
    units : int64[n_docs], the unit of each document, -1 for one of its own; None where every
        document is a unit
    """
    n_docs, n_topics = samples.n_docs, samples.prior.shape[1]
    rows, whole = (samples.data, samples.indices, samples.indptr), _whole(samples)
    parts = (*rows, whole, len(samples), samples.estimated_from)
    filled = (whole.reshape(len(samples), n_docs) > 0).all(axis=0)
    usable = np.flatnonzero(filled & (weights > 0) & (cells >= 0))
    unit = with_own_units(units, n_docs)
    docs = usable[np.lexsort((unit[usable], cells[usable]))]
    pairs = np.stack([cells[docs], unit[docs]])
    new = np.ones(len(docs), dtype=bool)
    new[1:] = (pairs[:, 1:] != pairs[:, :-1]).any(axis=0)
    first = np.flatnonzero(new)
    starts = np.append(first, len(docs))
    begins = _distinct(*rows[1:], len(samples), samples.estimated_from, docs, starts, n_topics)
    topic, amount = _added_up(*parts, docs, starts, begins, weights, n_topics)
    row = np.cumsum(new) - 1
    return UnitTotals(
        cells[docs][first],
        unit[docs][first],
        np.bincount(row, weights[docs], len(first)).astype(np.float64),
        begins,
        topic,
        amount,
        _spread(*parts, usable, cells, weights, n_cells, n_topics),
        np.bincount(cells[usable], minlength=n_cells).astype(np.int64),
    )
