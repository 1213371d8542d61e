"""Where non-negative factors begin: at the singular vectors of the table, or by chance.

C. Boutsidis and E. Gallopoulos, *SVD based initialization: a head start for nonnegative matrix factorization*,
2008: of each pair of singular vectors the positive or the negative parts, whichever hold more.
"""

from __future__ import annotations

import numpy as np
import scipy
from numpy.typing import NDArray

Floats = NDArray[np.float32]
# Decimals of singular vectors that count: the last bits are those of a machine and its libraries.
_DECIMALS = 6
# The part of the mean that stands in place of zeros: an update that multiplies would never leave them.
_IN_PLACE_OF_NONE = 0.01


def nndsvd(table: scipy.sparse.csr_matrix, topics: int, rng: np.random.Generator) -> tuple[Floats, Floats]:
    """Two factors of a table, float[n, m]: float32[n, topics] and float32[m, topics], both above 0.

    Where the table has fewer singular vectors than topics the others begin by chance.
    """
    rows, columns = by_chance(table, topics, rng)
    from scipy.sparse.linalg import ArpackError, svds  # slow to import, and seldom needed

    there = min(topics, min(table.shape) - 1)
    if there < 1:
        return rows, columns
    v0 = rng.standard_normal(min(table.shape))
    try:
        left, size, right = svds(table.astype(np.float64), there, v0=v0, return_singular_vectors=True)
    except ArpackError:  # no convergence: rare, and only the start is another
        return rows, columns
    least = _IN_PLACE_OF_NONE * np.sqrt(table.mean() / topics)
    for at, which in enumerate(np.argsort(-size, kind="stable").tolist()):
        u, v = left[:, which].round(_DECIMALS), right[which].round(_DECIMALS)
        parts = [(np.maximum(sign * u, 0), np.maximum(sign * v, 0)) for sign in (1, -1)]
        (a, b), (long, wide) = max(
            ((part, (float(np.sqrt((part[0] ** 2).sum())), float(np.sqrt((part[1] ** 2).sum())))) for part in parts),
            key=lambda each: each[1][0] * each[1][1],
        )
        both = long * wide
        scale = np.sqrt(max(size[which], 0) * both)
        rows[:, at] = np.maximum(scale * a / max(long, 1e-12), least)
        columns[:, at] = np.maximum(scale * b / max(wide, 1e-12), least)
    return rows, columns


def by_chance(table: scipy.sparse.csr_matrix, topics: int, rng: np.random.Generator) -> tuple[Floats, Floats]:
    """Two factors whose product is the mean of the table, in the mean."""
    size = 2 * np.sqrt(table.mean() / topics)
    return tuple((rng.random((n, topics)) * size).astype(np.float32) for n in table.shape)
