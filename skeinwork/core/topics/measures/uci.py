"""Topic coherence UCI.

D. Newman, J. Lau, K. Grieser and T. Baldwin, *Automatic evaluation of topic coherence*, NAACL 2010.
"""

from __future__ import annotations

from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.topics.measures.pairs import EPSILON, PairCoherence, probabilities


class UciCoherence(PairCoherence):
    """The mean pointwise mutual information, log((p_ij + 1e-12) / (p_i p_j)), in windows of ten tokens."""

    key: ClassVar[str] = "uci"
    title: ClassVar[str] = "Coherence, UCI"
    rewards: ClassVar[str] = "rare top words that stand near each other"
    misses: ClassVar[str] = "how much one pair that never meets weighs: a single one can outweigh all others"
    column: ClassVar[str] = "coherence_uci"
    VERSION: ClassVar[int] = 1
    window: ClassVar[int] = 10
    formula: ClassVar[str] = "the mean over pairs of ln ((p(i, j) + 10⁻¹²) / (p(i) p(j)))"

    def scores(self, joint: NDArray[np.int64], total: int) -> NDArray[np.float64]:
        pair, apart = probabilities(joint, total)
        found: NDArray[np.float64] = np.log((pair + EPSILON) / apart)
        return found


MEASURE = UciCoherence()
