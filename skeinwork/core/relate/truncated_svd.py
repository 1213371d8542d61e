"""Truncated singular value decomposition: the few directions in which rows differ most.

N. Halko, P. Martinsson and J. Tropp, *Finding structure with randomness: probabilistic algorithms for
constructing approximate matrix decompositions*, SIAM Review 53, 2011 (subspace iteration); C. Jacobi, *Über ein
leichtes Verfahren, die in der Theorie der Säcularstörungen vorkommenden Gleichungen numerisch aufzulösen*, 1846
(rotations). No linear algebra library takes part, so that the bytes are the same on every machine.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, TypeAlias

import numpy as np
import scipy
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.progress import Report, silent

VERSION = 1
# Change of every singular value, as a share of itself, from which on they stand.
_STANDS = 1e-4
MOST_PASSES = 40
# Directions beside those wanted: the last of them would be found late otherwise.
_BESIDE = 10
# Directions shorter than this share of the longest are rounding.
_NONE = 1e-12

Rows: TypeAlias = scipy.sparse.csr_matrix | NDArray[np.float32] | NDArray[np.float64]


@dataclass(frozen=True)
class TruncatedSvd:
    """``rows`` ≈ ``left`` · diag(``values``) · ``right``ᵀ.

    Attributes
    ----------
    left : float64[n_rows, n_dimensions], columns of length 1 at right angles
    values : float64[n_dimensions], falling
    right : float64[n_columns, n_dimensions], the same; the largest entry of each is positive
    passes : over the rows
    """

    left: NDArray[np.float64]
    values: NDArray[np.float64]
    right: NDArray[np.float64]
    passes: int


def truncated_svd(
    rows: Rows, dimensions: int, seed: int = 1, report: Report = silent, most_passes: int = MOST_PASSES
) -> TruncatedSvd:
    """The leading singular values of a matrix with their directions, by subspace iteration.

    Parameters
    ----------
    rows : float[n_rows, n_columns], sparse or dense
    dimensions : how many are wanted; fewer come where the rows have no more
    seed : of the directions it begins with
    most_passes : over the rows, where it need not be exact; two find all that matters of a falling spectrum

    Examples
    --------
    >>> found = truncated_svd(np.array([[3.0, 0.0], [0.0, 2.0], [0.0, 0.0]]), 2)
    >>> found.values.round(6).tolist()
    [3.0, 2.0]
    """
    width = min(dimensions + max(_BESIDE, dimensions // 2), *rows.shape)
    begun = np.random.default_rng(seed).standard_normal((rows.shape[1], width))
    left = _orthonormal(times(rows, begun))
    before = np.zeros(dimensions)
    for passes in range(1, most_passes + 1):
        right = turned_times(rows, left)
        squares, turn = eigen(gram(right))
        values = np.sqrt(np.maximum(squares, 0.0))[:dimensions]
        change = np.abs(values - before[: len(values)]).max(initial=0.0)
        moved = np.abs(values - before[: len(values)]) > _STANDS * np.maximum(values, _NONE * values.max(initial=0.0))
        report("Finding directions", min(0.99, passes / 15), change=float(change))
        if not moved.any() or passes == most_passes:
            break
        before, held = values, squares > _NONE * squares.max(initial=0.0)
        left = _orthonormal(times(rows, times(right, turn[:, held] / np.sqrt(squares[held]))))
    held = values > _NONE**0.5 * values.max(initial=0.0)
    values, turn = values[held], np.ascontiguousarray(turn[:, : len(held)][:, held])
    left, right = times(left, turn), times(right, turn) / values
    signs = np.sign(right[np.abs(right).argmax(axis=0), np.arange(len(values))])
    return TruncatedSvd(left * signs, values, right * signs, passes)


def times(rows: Rows, columns: NDArray[np.float64]) -> NDArray[np.float64]:
    """``rows`` · ``columns``, summed in one order."""
    if scipy.sparse.issparse(rows):
        return np.asarray(rows @ np.ascontiguousarray(columns))
    out = np.zeros((rows.shape[0], columns.shape[1]))
    _add_product(np.ascontiguousarray(rows), np.ascontiguousarray(columns), out)
    return out


def turned_times(rows: Rows, columns: NDArray[np.float64]) -> NDArray[np.float64]:
    """``rows``ᵀ · ``columns``, summed in one order."""
    if scipy.sparse.issparse(rows):
        return np.asarray(rows.T @ np.ascontiguousarray(columns))
    out = np.zeros((rows.shape[1], columns.shape[1]))
    _add_turned_product(np.ascontiguousarray(rows), np.ascontiguousarray(columns), out)
    return out


def gram(columns: NDArray[np.float64]) -> NDArray[np.float64]:
    """Inner products of the columns with one another."""
    return turned_times(columns, columns)


def eigen(square: NDArray[np.float64]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Eigenvalues, falling, and eigenvectors in columns, of a symmetric matrix, by rotations (Jacobi 1846)."""
    values, vectors = _rotated(square.copy())
    order = np.argsort(-values, kind="stable")
    return values[order], np.ascontiguousarray(vectors[:, order])


def _orthonormal(columns: NDArray[np.float64]) -> NDArray[np.float64]:
    """Columns of length 1 at right angles that span the same."""
    squares, turn = eigen(gram(columns))
    held = squares > _NONE * squares.max(initial=0.0)
    return times(columns, turn[:, held] / np.sqrt(squares[held]))


@njit(cache=True, nogil=True)
def _add_product(rows: Any, columns: Any, out: Any) -> None:
    for row in range(rows.shape[0]):
        for feature in range(rows.shape[1]):
            value, part, sums = rows[row, feature], columns[feature], out[row]
            for column in range(columns.shape[1]):
                sums[column] += value * part[column]


@njit(cache=True, nogil=True)
def _add_turned_product(rows: Any, columns: Any, out: Any) -> None:
    for row in range(rows.shape[0]):
        for feature in range(rows.shape[1]):
            value, part, sums = rows[row, feature], columns[row], out[feature]
            for column in range(columns.shape[1]):
                sums[column] += value * part[column]


@njit(cache=True, nogil=True)
def _rotated(square: Any) -> Any:
    """Eigenvalues and eigenvectors of a symmetric matrix, which is used up."""
    n = square.shape[0]
    vectors = np.eye(n)
    for _ in range(60):
        off, whole = 0.0, 0.0
        for i in range(n):
            whole += square[i, i] ** 2
            for j in range(i):
                off += 2 * square[i, j] ** 2
        if off <= 1e-28 * (whole + off):
            break
        for p in range(n - 1):
            for q in range(p + 1, n):
                _rotate(square, vectors, p, q)
    values = np.empty(n)
    for i in range(n):
        values[i] = square[i, i]
    return values, vectors.T.copy()


@njit(cache=True, nogil=True)
def _rotate(square: Any, vectors: Any, p: int, q: int) -> None:
    """Turn two axes so that their entry becomes 0; ``vectors`` are rows."""
    entry = square[p, q]
    if entry == 0.0:
        return
    slope = (square[q, q] - square[p, p]) / (2 * entry)
    tangent = (1.0 if slope >= 0 else -1.0) / (abs(slope) + np.sqrt(slope * slope + 1))
    cosine = 1 / np.sqrt(tangent * tangent + 1)
    sine = tangent * cosine
    _turn(square[p], square[q], cosine, sine)
    _turn(square[:, p], square[:, q], cosine, sine)
    _turn(vectors[p], vectors[q], cosine, sine)


@njit(cache=True, nogil=True)
def _turn(one: Any, other: Any, cosine: float, sine: float) -> None:
    for k in range(len(one)):
        one[k], other[k] = cosine * one[k] - sine * other[k], sine * one[k] + cosine * other[k]
