"""Topic coherence C_V.

M. Röder, A. Both and A. Hinneburg, *Exploring the space of topic coherence measures*, WSDM 2015.

Each top word is the vector of its NPMI with all of them, in windows of 110 tokens; it is held against the
sum of these vectors, by the cosine.
"""

from __future__ import annotations

from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.said import count, decimal
from skeinwork.core.topics.measures.base import Part
from skeinwork.core.topics.measures.npmi import npmi
from skeinwork.core.topics.measures.pairs import EPSILON, PairCoherence


class CvCoherence(PairCoherence):
    """The mean cosine of a top word's company with that of all top words together."""

    key: ClassVar[str] = "c_v"
    title: ClassVar[str] = "Coherence, C_V"
    rewards: ClassVar[str] = "top words that keep the same company, be they near each other or not"
    misses: ClassVar[str] = "that rare words which never meet have the same company too, so it may rise with rare words"
    column: ClassVar[str] = "coherence_c_v"
    VERSION: ClassVar[int] = 1
    window: ClassVar[int] = 110
    formula: ClassVar[str] = "the mean over words of cos (v(i), Σ v(j)); v(i) are the NPMI of i with all top words"

    def scores(self, joint: NDArray[np.int64], total: int) -> NDArray[np.float64]:
        """NPMI of every pair, smoothed; of a word with itself it is 1."""
        return npmi(joint, total, EPSILON)

    def _cosines(self, joint: NDArray[np.int64], total: int) -> NDArray[np.float64]:
        """Of each word's company with that of all together, float64[n]."""
        company = self.scores(joint, total)
        together = company.sum(axis=0)
        norms = np.sqrt((company**2).sum(axis=1) * (together**2).sum())
        return np.asarray((company * together).sum(axis=1) / np.maximum(norms, 1e-300))

    def of_words(self, joint: NDArray[np.int64], total: int) -> float:
        return float(self._cosines(joint, total).mean())

    def parts_of(self, words: NDArray[np.int64], joint: NDArray[np.int64], total: int) -> list[Part]:
        company, cosines = self.scores(joint, total), self._cosines(joint, total)
        found = []
        for at, word in enumerate(words.tolist()):
            others = np.delete(company[at], at)
            said = f"in {count(int(joint[at, at]))} of {count(total)} windows; NPMI with the others "
            said += f"{decimal(float(others.min()), 2)} to {decimal(float(others.max()), 2)}" if len(others) else "none"
            found.append(Part((word,), said, float(cosines[at])))
        return found


MEASURE = CvCoherence()
