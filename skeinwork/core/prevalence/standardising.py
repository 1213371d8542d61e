"""Weights by which every cell has the same composition, so that shares differ by something else.

Direct standardisation, as weights of a poststratified mean (D. Holt and T. Smith, *Post stratification*, 1979):
documents of a stratum count in each cell as much as the stratum does in all cells together.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray


@dataclass(frozen=True)
class Standardised:
    """Weights with a fixed composition.

    Attributes
    ----------
    weights : float64[n_docs], those of each cell sum to what they did
    covered : float64[n_cells], the share of the composition that each cell has documents of
    """

    weights: NDArray[np.float64]
    covered: NDArray[np.float64]


def standardised(
    weights: NDArray[np.float64], cells: NDArray[np.int64], n_cells: int, strata: NDArray[np.int64]
) -> Standardised:
    """Documents weighted so that every cell has the composition of all.

    A stratum that a cell has no documents of is left out there.

    Parameters
    ----------
    weights : float64[n_docs]; cells : int64[n_docs], -1 for none
    strata : int64[n_docs], the stratum of each document, -1 for none: those get no weight
    """
    usable = (weights > 0) & (cells >= 0) & (strata >= 0)
    n_strata = int(strata.max(initial=-1)) + 1
    cell, stratum, weight = cells[usable], strata[usable], weights[usable]
    table = np.bincount(cell * n_strata + stratum, weight, n_cells * n_strata).reshape(n_cells, n_strata)
    whole = table.sum(axis=0)
    standard = whole / max(float(whole.sum()), 1e-300)
    covered = (table > 0) @ standard
    of_cell = table.sum(axis=1)
    factor = standard[stratum] / covered[cell] * of_cell[cell] / table[cell, stratum]
    found = np.zeros(len(weights))
    found[usable] = weight * factor
    return Standardised(found, np.asarray(covered))


def crossed(columns: list[NDArray[np.int64]]) -> NDArray[np.int64]:
    """Strata by several columns of codes, int64[n_docs] each, -1 where any is."""
    known = np.all([column >= 0 for column in columns], axis=0)
    found = np.full(len(columns[0]), -1, dtype=np.int64)
    if known.any():
        values = np.stack(columns)[:, known]
        found[known] = np.unique(values, axis=1, return_inverse=True)[1].ravel()
    return found
