"""How far a map can be trusted: whether those near on it are near in truth.

J. Venna and S. Kaski, *Neighborhood preservation in nonlinear projection methods: an experimental study*, ICANN
2001.
"""

from __future__ import annotations

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.progress import check_wanted

# Neighbours that are looked at.
NEAR = 10
_TILE = 64


def trustworthiness(
    vectors: NDArray[np.float32], places: NDArray[np.float32], asked: NDArray[np.int64], k: int = NEAR
) -> NDArray[np.float64]:
    """Of each asked item 1 less how far its neighbours on the map are from being its neighbours.

    1 − 2 / (k (2n − 3k − 1)) Σ (r − k) over those of its k nearest on the map that are not among its k nearest by
    cosine, r being their rank by cosine. The mean over all items is the trustworthiness of the map.

    Parameters
    ----------
    vectors : float32[n_items, n_dimensions] of length 1
    places : float32[n_items, 2]
    asked : int64[n_asked]
    k : under half the items

    Returns
    -------
    float64[n_asked], 1 at best
    """
    n = len(vectors)
    tree = scipy.spatial.cKDTree(places)
    found = np.empty(len(asked))
    for begins in range(0, len(asked), _TILE):
        check_wanted()
        part = asked[begins : begins + _TILE]
        near = np.asarray(tree.query(places[part], k + 1)[1])
        # Rounded, so that what differs in the last bits between machines is a tie.
        cosine = np.round(vectors[part] @ vectors.T, 5)
        for at, item in enumerate(part.tolist()):
            others = [each for each in near[at].tolist() if each != item][:k]
            cosine[at, item] = -2.0
            rank = 1 + (cosine[at][None, :] > cosine[at, others][:, None]).sum(axis=1)
            found[begins + at] = 1 - 2 / (k * (2 * n - 3 * k - 1)) * np.maximum(rank - k, 0).sum()
    return found
