"""Topic coherence by normalised pointwise mutual information in sliding windows.

G. Bouma, *Normalized (pointwise) mutual information in collocation extraction*, 2009, over windows of ten
tokens as in M. Röder, A. Both and A. Hinneburg, *Exploring the space of topic coherence measures*, WSDM
2015. The windows run over the tokens that cleaning left.
"""

from __future__ import annotations

from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.topics.measures.pairs import PairCoherence, probabilities


def npmi(joint: NDArray[np.int64], total: int, epsilon: float = 0.0) -> NDArray[np.float64]:
    """Normalised pointwise mutual information of every pair, in [-1, 1].

    log((p_ij + e) / (p_i p_j)) / -log(p_ij + e). Without smoothing its limits are -1 for words that never
    meet, however rare they are, and 1 for words that always do, in every window too.

    Parameters
    ----------
    joint : int64[n_words, n_words], windows that hold both, the diagonal those that hold one
    total : all windows
    epsilon : e

    Returns
    -------
    float64[n_words, n_words]; words never seen give -1
    """
    pair, apart = probabilities(joint, total)
    raised = pair + epsilon
    with np.errstate(divide="ignore", invalid="ignore"):
        value = np.log(raised / apart) / -np.log(raised)
    value = np.where((raised <= 0) | (apart <= 0), -1.0, np.where(pair >= 1, 1.0, value))
    return np.clip(value, -1.0, 1.0)


class NpmiCoherence(PairCoherence):
    """The mean NPMI of the pairs of a topic's top words."""

    key: ClassVar[str] = "coherence"
    title: ClassVar[str] = "Coherence, NPMI"
    rewards: ClassVar[str] = "top words that stand near each other more often than by chance"
    misses: ClassVar[str] = "whether two topics are the same thing"
    column: ClassVar[str] = "coherence_npmi"
    VERSION: ClassVar[int] = 3
    window: ClassVar[int] = 10
    formula: ClassVar[str] = "the mean over pairs of ln (p(i, j) / (p(i) p(j))) / −ln p(i, j)"

    def scores(self, joint: NDArray[np.int64], total: int) -> NDArray[np.float64]:
        return npmi(joint, total)


MEASURE = NpmiCoherence()
