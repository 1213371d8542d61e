"""What the settings of a factorisation may be for a corpus, measured on a sample of it."""

from __future__ import annotations

from functools import cached_property

import numpy as np
import scipy

from skeinwork.core.said import counted, decimal
from skeinwork.core.topics import matching
from skeinwork.core.topics.advice import Advice
from skeinwork.core.topics.choose import suggest_grid
from skeinwork.core.topics.methods.nmf_fit import USUAL, NmfSettings, fit
from skeinwork.core.topics.model import TopicModel

# Documents of each half of the sample, and iterations after which halves can be told apart.
_HALF, _ITERATIONS = 500, 30
# Topics that are tried at most, so that it takes a second or two.
_MOST_TOPICS = 20
# Of fewer in each half nothing can be said.
_LEAST = 20
# Weights that are tried for the squared loss, and by how much one has to come out better to be suggested.
_TRIED, _CLEARLY = ("tf-idf", "1 + log tf, idf, L2", "log and entropy", "BM25"), 0.02


class Advisor:
    """Fits of two halves of a sample: the better a setting suits, the more their topics agree.

    Parameters
    ----------
    counts : int[n_docs, n_terms]; settings : as they are now
    """

    def __init__(self, counts: scipy.sparse.csr_matrix, settings: NmfSettings) -> None:
        filled = np.random.default_rng([settings.seed, 12]).permutation(np.flatnonzero(np.diff(counts.indptr) > 0))
        half = min(_HALF, len(filled) // 2)
        self.halves = [counts[np.sort(filled[:half])], counts[np.sort(filled[half : 2 * half])]]
        most = max(2, min(half // 2, counts.shape[1] // 2, _MOST_TOPICS))
        self.settings = settings.model_copy(update={"topics": min(settings.topics, most), "iterations": _ITERATIONS})
        self.wanted = settings.topics
        self.documents, self.tokens = len(filled), int(counts.data.sum())

    def _fits(self, **changes: object) -> list[TopicModel]:
        wanted = self.settings.model_copy(update=changes)
        return [fit(half, wanted) for half in self.halves]

    def agreement(self, **changes: object) -> float:
        """The mean matched cosine of the topics' own words in both halves."""
        own = [matching.own_words(each.topic_word, each.doc_topic.mean(axis=0)) for each in self._fits(**changes)]
        return float(np.mean([cosine for _, _, cosine in matching.match(*own)]))

    @cached_property
    def by_weights(self) -> dict[str, float]:
        return {name: self.agreement(loss="frobenius", weights=name) for name in _TRIED}

    @property
    def of(self) -> str:
        return f"{self.settings.topics} in two halves of {counted(self.halves[0].shape[0], 'document')} each"

    def topics(self) -> Advice:
        counts = suggest_grid(self.documents, self.tokens).counts
        return Advice(
            self.wanted if counts[0] <= self.wanted <= counts[-1] else counts[len(counts) // 2],
            f"{counted(self.documents, 'document')} bear {counts[0]} to {counts[-1]}; which of them, Choose compares",
            counts[0],
            counts[-1],
        )

    def weights(self) -> Advice:
        told, usual = self.by_weights, USUAL["frobenius"]
        best = max(told, key=lambda name: told[name])
        taken = best if told[best] > told[usual] + _CLEARLY else usual
        said = ", ".join(f"{decimal(value)} by {name}" for name, value in told.items())
        return Advice(
            None if taken == usual else taken,
            f"topics of {self.of} agree by {said}"
            + ("; left open it is tf-idf" if taken == usual else "; tf-idf, which it is left open, agrees less"),
        )

    def loss(self) -> Advice:
        squared, divergence = max(self.by_weights.values()), self.agreement(loss="kl", weights=None)
        value = "kl" if divergence > squared + _CLEARLY else "frobenius"
        return Advice(
            value,
            f"topics of {self.of} agree by {decimal(squared)} with squared differences, "
            f"by {decimal(divergence)} with the divergence of counts",
        )

    def start(self) -> Advice:
        told = {name: self._fits(start=name)[0].trace[-1, 1] for name in ("nndsvd", "random")}
        return Advice(
            "nndsvd" if told["nndsvd"] >= told["random"] - 1e-3 else "random",
            f"of one half {decimal(100 * told['nndsvd'], 1)} % is told from the singular vectors, "
            f"{decimal(100 * told['random'], 1)} % by chance; only by chance do seeds differ",
        )


def advice(counts: scipy.sparse.csr_matrix, settings: NmfSettings) -> dict[str, Advice]:
    """What each setting may be for counts, int[n_docs, n_terms]; see ``Advisor``."""
    found = Advisor(counts, settings)
    if found.halves[0].shape[0] < max(_LEAST, 2 * found.settings.topics):
        return {"topics": found.topics()}
    return {"topics": found.topics(), "loss": found.loss(), "weights": found.weights(), "start": found.start()}
