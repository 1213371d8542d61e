"""Non-negative factors of a sparse table, by coordinate descent on the rows of one factor at a time.

Hierarchical alternating least squares (A. Cichocki and A.-H. Phan, *Fast local algorithms for large scale
nonnegative matrix and tensor factorizations*, 2009), with rows gone over several times while their part of the
table is at hand (N. Gillis and F. Glineur, *Accelerated multiplicative updates and hierarchical ALS algorithms for
nonnegative matrix factorization*, 2012). Rows do not depend on each other, and sums over rows go over parts of a
fixed size: any number of threads gives the same bytes.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from typing import Any

import numpy as np
import scipy
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.threads import most_threads

Floats = NDArray[np.float32]
# A row is gone over again until a pass moves it by less than this share of the first; at most so often.
_ENOUGH, _PASSES = 0.1, 3
# Rows that a sum goes over at a time.
_AT_A_TIME = 4096
# A coordinate below it has nothing to be divided by.
_NOTHING = 1e-20


@njit(cache=True, nogil=True)
def _improve(
    indptr: Any, indices: Any, data: Any, other: Any, gram: Any, rows: Any, likeness: Any, first: int, end: int
) -> None:
    """Rows ``first`` to ``end`` of a factor, written to; see ``improve``."""
    k = rows.shape[1]
    wanted, slope = np.empty(k, np.float32), np.empty(k, np.float32)
    for i in range(first, end):
        row = rows[i]
        wanted[:] = 0
        for at in range(indptr[i], indptr[i + 1]):
            weight, line = data[at], other[indices[at]]
            for t in range(k):
                wanted[t] += weight * line[t]
        slope[:] = wanted
        for s in range(k):
            if row[s] != 0:
                held, line = row[s], gram[s]
                for t in range(k):
                    slope[t] -= held * line[t]
        at_first = np.float32(0)
        for turn in range(_PASSES):
            moved = np.float32(0)
            for t in range(k):
                if gram[t, t] <= _NOTHING:
                    row[t] = 0
                    continue
                new = max(row[t] + slope[t] / gram[t, t], np.float32(0))
                step = new - row[t]
                if step != 0:
                    row[t], line = new, gram[t]
                    for s in range(k):
                        slope[s] -= step * line[s]
                    moved += step * step * line[t]
            if turn == 0:
                at_first = moved
            if moved <= _ENOUGH * _ENOUGH * at_first:
                break
        total = 0.0
        for t in range(k):
            total += np.float64(wanted[t]) * row[t]
        likeness[i] = total


@njit(cache=True, nogil=True)
def _gram(rows: Any, first: int, end: int) -> Any:
    """Products of all pairs of columns over some rows, float64[k, k]."""
    k = rows.shape[1]
    total = np.zeros((k, k))
    for i in range(first, end):
        row = rows[i]
        for t in range(k):
            if row[t] != 0:
                held, line = np.float64(row[t]), total[t]
                for s in range(k):
                    line[s] += held * row[s]
    return total


class Threads:
    """Does a thing for parts of a whole, several at once."""

    def __init__(self, pool: ThreadPoolExecutor, many: int) -> None:
        self.pool, self.many = pool, many

    def each(self, do: Callable[[int, int], Any], length: int, size: int) -> list[Any]:
        """What it comes to for each part of ``size``, in their order."""
        return list(self.pool.map(lambda first: do(first, min(first + size, length)), range(0, length, size)))


@contextmanager
def threads(many: int | None = None) -> Iterator[Threads]:
    """As many threads as there are processors, or as asked for."""
    many = many or most_threads()
    with ThreadPoolExecutor(many) as pool:
        yield Threads(pool, many)


def gram(rows: Floats, at_work: Threads) -> Floats:
    """Products of all pairs of columns, float32[k, k], of a factor, float32[n, k]."""
    parts = at_work.each(lambda first, end: _gram(rows, first, end), len(rows), _AT_A_TIME)
    total = np.zeros((rows.shape[1], rows.shape[1]))
    for part in parts:
        total += part
    return total.astype(np.float32)


def improve(table: scipy.sparse.csr_matrix, rows: Floats, other: Floats, of_other: Floats, at_work: Threads) -> float:
    """Bring the rows of one factor nearer to the least squares, the other factor as it is.

    Parameters
    ----------
    table : float32[n, m]
    rows : float32[n, k], written to; other : float32[m, k]; of_other : its products, float32[k, k]

    Returns
    -------
    The product of the table with that of the factors, which the loss is worked out from
    """
    likeness = np.zeros(len(rows))
    size = max(1, -(-len(rows) // (4 * at_work.many)))

    def some(first: int, end: int) -> None:
        _improve(table.indptr, table.indices, table.data, other, of_other, rows, likeness, first, end)

    at_work.each(some, len(rows), size)
    return float(likeness.sum())
