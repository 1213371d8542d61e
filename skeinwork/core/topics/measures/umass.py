"""Topic coherence UMass.

D. Mimno, H. Wallach, E. Talley, M. Leenders and A. McCallum, *Optimizing semantic coherence in topic
models*, EMNLP 2011.
"""

from __future__ import annotations

from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.topics.measures.pairs import PairCoherence


class UmassCoherence(PairCoherence):
    """The mean of log((D(i, j) + 1) / D(j)) over pairs with j more probable than i; D counts documents."""

    key: ClassVar[str] = "umass"
    title: ClassVar[str] = "Coherence, UMass"
    rewards: ClassVar[str] = "top words that stand in the same documents, the frequent ones first"
    misses: ClassVar[str] = "what is in between: in long documents words meet that have nothing to do with each other"
    column: ClassVar[str] = "coherence_umass"
    VERSION: ClassVar[int] = 1
    window: ClassVar[int] = 0
    formula: ClassVar[str] = "the mean over pairs of ln ((D(i, j) + 1) / D(j)), j the more probable word"

    def scores(self, joint: NDArray[np.int64], total: int) -> NDArray[np.float64]:
        found: NDArray[np.float64] = np.log((joint + 1) / np.diag(joint))
        return found


MEASURE = UmassCoherence()
