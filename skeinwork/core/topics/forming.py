"""How topics grow while they form."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

# Words of each topic that are told of while it forms: coherence is measured by as many.
TOP_FORMING = 10
# Points that are kept at most: every other is left out where they are more.
_MOST = 48


class Grown:
    """The share of each topic after so many iterations, at some of these."""

    def __init__(self) -> None:
        self.points: list[tuple[int, list[float]]] = []

    def add(self, iteration: int, sizes: NDArray[np.float64]) -> None:
        """Note the sizes of topics, float64[n_topics]."""
        self.points.append((iteration, (sizes / max(float(sizes.sum()), 1e-30)).round(5).tolist()))
        if len(self.points) > _MOST:
            del self.points[-2::-2]
