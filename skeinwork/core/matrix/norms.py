"""Lengths: what a document's row of weights is multiplied by.

One is added by its class and its entry in ``NORMS``.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.matrix.numbers import said

Values = NDArray[np.float64]


class Norm(ABC):
    """One way to bring rows to a length.

    Attributes
    ----------
    title, formula : what the screens call it
    edge : what becomes of an empty row
    scales : whether it takes a factor that all weights of a row have in common out again
    """

    title: ClassVar[str]
    formula: ClassVar[str]
    edge: ClassVar[str] = "an empty document stays empty"
    scales: ClassVar[bool] = True

    @abstractmethod
    def size(self, weights: Values, rows: NDArray[np.int64], n_rows: int) -> Values:
        """What each row is divided by, float64[n_rows].

        Parameters
        ----------
        weights : float64[n_cells]
        rows : int64[n_cells], the row of each
        """

    @abstractmethod
    def filled(self, weights: Values) -> str:
        """The formula with the weights of one row, float64[n_cells], put in."""

    def factors(self, weights: Values, rows: NDArray[np.int64], n_rows: int) -> Values:
        """What each row is multiplied by, float64[n_rows]; 1 where nothing weighs anything. See ``size``."""
        size = self.size(weights, rows, n_rows)
        return np.where(size > 0, 1.0 / np.where(size > 0, size, 1.0), 1.0)


class NoNorm(Norm):
    """Rows stay as they are."""

    title, formula, edge, scales = "none", "1", "", False

    def size(self, weights: Values, rows: NDArray[np.int64], n_rows: int) -> Values:
        return np.ones(n_rows)

    def filled(self, weights: Values) -> str:
        return "1"


class SumToOne(Norm):
    """The weights of a row add up to 1."""

    title, formula = "sum to 1 (L1)", "1 / Σ |w|"

    def size(self, weights: Values, rows: NDArray[np.int64], n_rows: int) -> Values:
        return np.bincount(rows, np.abs(weights), n_rows).astype(np.float64, copy=False)

    def filled(self, weights: Values) -> str:
        return f"1 / {said(weights.sum())}"


class LengthOne(Norm):
    """The squares of the weights of a row add up to 1."""

    title, formula = "length 1 (L2)", "1 / √(Σ w²)"

    def size(self, weights: Values, rows: NDArray[np.int64], n_rows: int) -> Values:
        return np.sqrt(np.bincount(rows, weights**2, n_rows))

    def filled(self, weights: Values) -> str:
        return f"1 / √{said((weights**2).sum())}"


NORMS: dict[str, Norm] = {"none": NoNorm(), "l1": SumToOne(), "l2": LengthOne()}
