"""How well groups hold together, and how far two ways to group agree.

P. Rousseeuw, *Silhouettes*, Journal of Computational and Applied Mathematics 20, 1987; L. Hubert and
P. Arabie, *Comparing partitions*, Journal of Classification 2, 1985.
"""

from __future__ import annotations

import numpy as np
import scipy
from numpy.typing import NDArray


def silhouettes(distances: NDArray[np.float64], group: NDArray[np.int32]) -> NDArray[np.float64]:
    """How much nearer each item is to its own group than to the next: (b − a) / max(a, b).

    Parameters
    ----------
    distances : float64[n_items, n_items], symmetric
    group : int32[n_items], from 0

    Returns
    -------
    float64[n_items], from -1 to 1; 0 for an item that is a group by itself, or where there is but one
    """
    number = int(group.max(initial=-1)) + 1
    if number < 2:
        return np.zeros(len(group))
    members = scipy.sparse.csr_matrix((np.ones(len(group)), (group, np.arange(len(group)))), (number, len(group)))
    sums: NDArray[np.float64] = np.asarray(members @ distances).T
    sizes, here = np.bincount(group, minlength=number), np.arange(len(group))
    own = sums[here, group] / np.maximum(sizes[group] - 1, 1)
    others = sums / np.maximum(sizes, 1)[None, :]
    others[:, sizes == 0] = np.inf
    others[here, group] = np.inf
    next_one = others.min(axis=1)
    wider = np.maximum(own, next_one)
    value = np.divide(next_one - own, wider, out=np.zeros(len(group)), where=wider > 0)
    return np.where(sizes[group] > 1, value, 0.0)


def adjusted_rand_index(one: NDArray[np.int64], other: NDArray[np.int64]) -> float:
    """Agreement of two ways to group the same items, corrected for chance: 1 where they are the same, 0 as by chance.

    Parameters
    ----------
    one, other : int64[n_items], the group of each item

    Examples
    --------
    >>> adjusted_rand_index(np.array([0, 0, 1, 1]), np.array([5, 5, 3, 3]))
    1.0
    """
    _, rows = np.unique(one, return_inverse=True)
    _, columns = np.unique(other, return_inverse=True)
    cells = np.unique(np.stack([rows.ravel(), columns.ravel()]), axis=1, return_counts=True)[1]
    both, first, second = (_pairs(each) for each in (cells, np.bincount(rows.ravel()), np.bincount(columns.ravel())))
    everything = _pairs(np.array([len(one)]))
    expected = first * second / everything if everything else 0.0
    most = (first + second) / 2
    return 1.0 if most == expected else (both - expected) / (most - expected)


def _pairs(sizes: NDArray[np.int64]) -> float:
    return float((sizes * (sizes - 1) // 2).sum())
