"""Where points of a map lie close together: a density over it, and the areas round its peaks.

B. Silverman, *Density estimation for statistics and data analysis*, 1986 (kernel estimate); L. Vincent and P.
Soille, *Watersheds in digital spaces*, IEEE PAMI 13, 1991 (areas from the highest point down).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
import scipy
from numba import njit
from numpy.typing import NDArray

# Cells to a side.
SIDE = 160
# Width of the kernel as a share of a side, of few points; of more it narrows by the sixth root of their number.
_WIDTH, _FEW = 0.018, 2500
# Two peaks are one area where the way between them is nowhere under this share of the lower one.
_JOINED = 0.65
# What belongs to an area is at least this dense, as a share of its peak.
_EDGE = 0.15
# Room round the outermost points, as a share of a side.
_MARGIN = 0.04


@dataclass(frozen=True)
class Density:
    """How densely points lie on a square map.

    Attributes
    ----------
    low, size : the corner and the side of the square, in units of the map
    grid : float64[SIDE, SIDE], rows from the bottom, 1 at its highest
    area : int32[n_points], by falling number of points; -1 outside all areas
    peaks : float64[n_areas, 2]
    """

    low: tuple[float, float]
    size: float
    grid: NDArray[np.float64]
    area: NDArray[np.int32]
    peaks: NDArray[np.float64]


def density(places: NDArray[np.float32], least: int) -> Density:
    """The density of points in the plane, and its areas of so many points or more.

    Parameters
    ----------
    places : float32[n_points, 2]
    """
    low, high = places.min(axis=0).astype(np.float64), places.max(axis=0).astype(np.float64)
    size = float(max(*(high - low), 1e-9)) * (1 + 2 * _MARGIN)
    corner = (low + high) / 2 - size / 2
    cell = np.minimum(((places - corner) / size * SIDE).astype(np.int64), SIDE - 1)
    counts, width = np.zeros((SIDE, SIDE)), _WIDTH * min(1.0, (_FEW / len(places)) ** (1 / 6))
    np.add.at(counts, (cell[:, 1], cell[:, 0]), 1.0)
    smooth = scipy.ndimage.gaussian_filter(counts, width * SIDE, mode="constant")
    smooth /= max(float(smooth.max()), 1e-300)
    basin = _basins(smooth.ravel(), np.argsort(-smooth.ravel(), kind="stable"), SIDE, _JOINED)
    peak = np.zeros(int(basin.max()) + 1)
    np.maximum.at(peak, basin, smooth.ravel())
    flat = cell[:, 1] * SIDE + cell[:, 0]
    inside = smooth.ravel()[flat] >= _EDGE * peak[basin[flat]]
    sizes = np.bincount(basin[flat][inside], minlength=len(peak))
    order = np.argsort(-sizes, kind="stable")
    order = order[sizes[order] >= least]
    name = np.full(len(peak), -1, np.int32)
    name[order] = np.arange(len(order), dtype=np.int32)
    at = [int(np.where(basin == each, smooth.ravel(), -1.0).argmax()) for each in order.tolist()]
    peaks = np.array([[place % SIDE + 0.5, place // SIDE + 0.5] for place in at]).reshape(-1, 2) / SIDE * size + corner
    area = np.where(inside, name[basin[flat]], -1).astype(np.int32)
    return Density((float(corner[0]), float(corner[1])), size, smooth, area, peaks)


def in_polygon(places: NDArray[Any], corners: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Which points lie inside a polygon, bool[n_points], by the edges that a ray to the right crosses.

    Parameters
    ----------
    places : float[n_points, 2]
    corners : float64[n_corners, 2], in turn; the last is joined to the first

    Examples
    --------
    >>> in_polygon(np.array([[1.0, 1.0], [3.0, 1.0]]), np.array([[0.0, 0], [2, 0], [2, 2], [0, 2]])).tolist()
    [True, False]
    """
    x, y = places[:, 0].astype(np.float64), places[:, 1].astype(np.float64)
    inside = np.zeros(len(places), dtype=bool)
    for at in range(len(corners)):
        (x1, y1), (x2, y2) = corners[at - 1], corners[at]
        if y1 != y2:
            crosses = (y1 > y) != (y2 > y)
            inside ^= crosses & (x < (x2 - x1) * (y - y1) / (y2 - y1) + x1)
    return inside


@njit(cache=True, nogil=True)
def _basins(density: Any, order: Any, side: int, joined: float) -> Any:
    """The peak that each cell belongs to, from the highest down; peaks with a high way between them are one."""
    owner = np.full(len(density), -1, np.int64)
    top = np.empty(len(density))
    parent = np.empty(len(density), np.int64)
    peaks = 0
    for at in order:
        row, column = at // side, at % side
        best = -1
        for r in range(max(row - 1, 0), min(row + 2, side)):
            for c in range(max(column - 1, 0), min(column + 2, side)):
                other = owner[r * side + c]
                if other >= 0:
                    other = _root(parent, other)
                    if best < 0:
                        best = other
                    elif other != best:
                        lower, higher = (other, best) if top[other] < top[best] else (best, other)
                        if density[at] > joined * top[lower]:
                            parent[lower] = higher
                        best = higher
        if best < 0:
            parent[peaks], top[peaks] = peaks, density[at]
            best = peaks
            peaks += 1
        owner[at] = best
    for at in range(len(density)):
        owner[at] = _root(parent, owner[at])
    return owner


@njit(cache=True, nogil=True)
def _root(parent: Any, at: int) -> int:
    while parent[at] != at:
        at = parent[at]
    return at
