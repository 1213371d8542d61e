"""How far distributions lie from each other."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray


def jensen_shannon(one: NDArray[np.float64], other: NDArray[np.float64]) -> NDArray[np.float64]:
    """Jensen-Shannon divergence of rows, in bits: 0 where they are the same, 1 where they share nothing.

    J. Lin, *Divergence measures based on the Shannon entropy*, IEEE Transactions on Information Theory 37(1), 1991.

    Parameters
    ----------
    one, other : float64[n, n_terms], not negative; each row is divided by its sum, a row of zeros is far from all

    Returns
    -------
    float64[n], in [0, 1]

    >>> jensen_shannon(np.array([[1.0, 0], [1, 1]]), np.array([[0, 2.0], [5, 5]])).tolist()
    [1.0, 0.0]
    """
    p, q = (each / np.maximum(each.sum(axis=1, keepdims=True), 1e-300) for each in (one, other))
    middle = (p + q) / 2

    def from_middle(part: NDArray[np.float64]) -> NDArray[np.float64]:
        ratio = np.divide(part, middle, out=np.ones_like(part), where=part > 0)
        return np.asarray((part * np.log2(ratio)).sum(axis=1))

    known = (p.sum(axis=1) > 0) & (q.sum(axis=1) > 0)
    return np.where(known, np.clip((from_middle(p) + from_middle(q)) / 2, 0.0, 1.0), 1.0)
