"""What is nearest to a direction: by the cosine, from a vector or the middle of several."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray

Falling = Literal["equal", "falling"]


def cosines(unit: NDArray[np.float32], towards: NDArray[np.float64]) -> NDArray[np.float64]:
    """The cosine of each vector with a direction, float64[n_items], rounded to what all machines agree on.

    Parameters
    ----------
    unit : float32[n_items, n_dimensions] of length 1
    towards : float64[n_dimensions]
    """
    length = float(np.sqrt((towards**2).sum()))
    if length == 0:
        return np.zeros(len(unit))
    found = (unit @ (towards / length).astype(np.float32)).astype(np.float64)
    return np.asarray(np.round(found, 5), dtype=np.float64)


def rank_weights(number: int, weights: Falling) -> NDArray[np.float64]:
    """What each of so many items, the first first, weighs in their middle: alike, or 1, ½, ⅓ …; of sum 1."""
    found = np.ones(number) if weights == "equal" else 1.0 / np.arange(1, number + 1)
    return np.asarray(found / found.sum(), dtype=np.float64)


def centroid(unit: NDArray[np.float32], weights: Falling) -> NDArray[np.float64]:
    """The middle of vectors of length 1, the first first, float64[n_dimensions]."""
    return np.asarray(rank_weights(len(unit), weights) @ unit.astype(np.float64))


def shared_parts(one: NDArray[np.float64], other: NDArray[np.float64]) -> NDArray[np.float64]:
    """What each feature adds to the cosine of two rows, float64[n_features]; their sum is the cosine."""
    lengths = float(np.sqrt((one**2).sum() * (other**2).sum()))
    return one * other / lengths if lengths > 0 else np.zeros(len(one))


def strongest(parts: NDArray[np.float64], most: int) -> list[int]:
    """The places of the greatest numbers over 0, the greatest first, ``most`` at most."""
    return [at for at in np.argsort(-parts, kind="stable")[:most].tolist() if parts[at] > 0]


def mutual_pairs(nearest: NDArray[np.int32], cosine: NDArray[np.float32]) -> NDArray[np.int64]:
    """Pairs of items that are each other's nearest, int64[n_pairs, 2], the nearest first.

    Parameters
    ----------
    nearest : int32[n_items], of each the nearest other item
    cosine : float32[n_items], with it
    """
    first = nearest.astype(np.int64)
    here = np.arange(len(first))
    once = here[(first[first] == here) & (here < first)]
    order = np.argsort(-cosine[once], kind="stable")
    return np.stack([once[order], first[once[order]]], axis=1)
