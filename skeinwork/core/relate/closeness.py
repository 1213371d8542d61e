"""How far documents are from the centres of groups."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.relate.distances import Rows, squared_lengths, unit_rows

_CHUNK = 5000


def to_centres(
    rows: Rows, centres: NDArray[np.float64], spherical: bool
) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """Squared distance of each row from each centre, and the two nearest centres of each, the nearest first.

    Parameters
    ----------
    rows : float64[n_rows, n_columns]
    centres : float64[n_centres, n_columns]
    spherical : whether rows are brought to the length 1

    Returns
    -------
    float64[n_rows, n_centres], int64[n_rows, 2]; the one centre twice where there is but one
    """
    data = unit_rows(rows) if spherical else rows
    squares, lengths = (centres**2).sum(axis=1), squared_lengths(data)
    turned = np.ascontiguousarray(centres.T)
    apart = np.empty((rows.shape[0], len(centres)))
    for begins in range(0, rows.shape[0], _CHUNK):
        part = slice(begins, begins + _CHUNK)
        apart[part] = lengths[part, None] + squares[None, :] - 2 * (data[part] @ turned)
    np.maximum(apart, 0.0, out=apart)
    nearest = np.argsort(apart, axis=1, kind="stable")[:, [0, min(1, len(centres) - 1)]]
    return apart, nearest
