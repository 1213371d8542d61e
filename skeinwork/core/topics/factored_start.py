"""Where a chain of samples begins: at the topics of a factorisation, which takes a few of its passes."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.matrix.global_weights import divisors
from skeinwork.core.matrix.weighting import SCHEMES, learn, weigh
from skeinwork.core.progress import Report, silent
from skeinwork.core.topics.expectation import wide
from skeinwork.core.topics.factors import threads
from skeinwork.core.topics.losses import LeastSquares
from skeinwork.core.topics.nndsvd import by_chance
from skeinwork.core.topics.starts import LikelyStart

# Iterations of the factorisation, which begins by chance: at the singular vectors all seeds would begin alike.
_ITERATIONS = 15
_WEIGHTS = SCHEMES["tf-idf"]


class FactoredStart(LikelyStart):
    """Topics of tf-idf weights without negative parts, then tokens shared out among them."""

    def topics(self, report: Report = silent, *_: Any) -> NDArray[np.int32]:
        """A topic for every token, int32[n_tokens], in the order of ``held_out.tokens_of``."""
        learnt = learn(self.counts)
        table = weigh(self.counts, _WEIGHTS, learnt)
        with threads() as at_work:
            loss = LeastSquares(table, *by_chance(table, self.k, self.rng), at_work)
            for number in range(_ITERATIONS):
                report("Factorising for a start", number / (_ITERATIONS + 1))
                loss.step()
        said = _WEIGHTS.parts()[1].weights(learnt.terms, _WEIGHTS.base)
        told = loss.columns * loss.rows.sum(axis=0) / divisors(said)[:, None]
        share = told / np.maximum(told.sum(axis=1, keepdims=True), 1e-30)
        found = np.zeros((len(share), wide(self.k)), np.float32)
        found[:, : self.k] = share * learnt.terms.total[:, None]
        return self._over_all(found, report)
