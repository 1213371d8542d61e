"""How predictions of a regression move when each sampled unit is left out, with all its documents."""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit

from skeinwork.core.prevalence.prevalence import MOST_LEVERAGE


@njit(cache=True, nogil=True)
def _solved(matrix: Any, right: Any) -> bool:
    """Solve in place by Cholesky's factors; whether the matrix has them."""
    n = len(right)
    for i in range(n):
        for j in range(i + 1):
            total = matrix[i, j]
            for k in range(j):
                total -= matrix[i, k] * matrix[j, k]
            if i == j:
                if total <= 1e-10 * matrix[i, i] or total <= 0.0:
                    return False
                matrix[i, i] = np.sqrt(total)
            else:
                matrix[i, j] = total / matrix[j, j]
    for i in range(n):
        for k in range(i):
            right[i] -= matrix[i, k] * right[k]
        right[i] /= matrix[i, i]
    for i in range(n - 1, -1, -1):
        for k in range(i + 1, n):
            right[i] -= matrix[k, i] * right[k]
        right[i] /= matrix[i, i]
    return True


@njit(cache=True, nogil=True)
def left_out(x: Any, starts: Any, residual: Any, slope: Any, bend: Any, rows: Any) -> Any:
    """How rows of predictions move when each unit is left out.

    Parameters
    ----------
    x : float64[n_docs, n_columns], sorted by unit; starts : int64[n_units + 1]
    residual : float64[n_docs], weight times residual; slope : float64[n_docs], weight times the link's slope
    bend : float64[n_columns, n_columns], of the likelihood; rows : float64[n_rows, n_columns]

    Returns
    -------
    float64[2, n_rows], sums of squares and of fourth powers
    """
    n_columns, n_rows = x.shape[1], len(rows)
    powers = np.zeros((2, n_rows))
    inverse = np.linalg.inv(bend)
    score, moved, own = np.empty(n_columns), np.empty(n_columns), np.empty((n_columns, n_columns))
    matrix = np.empty((n_columns, n_columns))
    for unit in range(len(starts) - 1):
        first, end = starts[unit], starts[unit + 1]
        score[:] = 0.0
        for doc in range(first, end):
            for i in range(n_columns):
                score[i] += residual[doc] * x[doc, i]
        if end - first == 1:
            lever = 0.0
            for i in range(n_columns):
                total = 0.0
                for j in range(n_columns):
                    total += inverse[i, j] * x[first, j]
                moved[i] = total
                lever += total * x[first, i]
            moved *= residual[first] / (1.0 - min(lever * slope[first], MOST_LEVERAGE))
        else:
            own[:] = 0.0
            for doc in range(first, end):
                for i in range(n_columns):
                    part = slope[doc] * x[doc, i]
                    for j in range(i + 1):
                        own[i, j] += part * x[doc, j]
            moved[:] = score
            matrix[:] = bend - own
            if not _solved(matrix, moved):
                moved[:] = score
                matrix[:] = bend - MOST_LEVERAGE * own
                _solved(matrix, moved)
        for row in range(n_rows):
            total = 0.0
            for i in range(n_columns):
                total += rows[row, i] * moved[i]
            powers[0, row] += total**2
            powers[1, row] += total**4
    return powers
