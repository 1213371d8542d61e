"""Whether the count that is suggested is the number of topics that were planted."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_matrix

from skeinwork.core.topics import matching
from skeinwork.core.topics.choose import CountFigures, suggest, suggest_grid
from skeinwork.core.topics.measures import BY, Measured, Texts
from skeinwork.core.topics.methods.lda import LDA, LdaSettings
from skeinwork.core.topics.model import empty_topics

# Times that a sweep may be widened or refined, and the share of documents held out.
_WIDENED, _HELD_OUT = 2, 0.2


class Planted(NamedTuple):
    """How documents are written.

    Attributes
    ----------
    topics : 0 for none: words of nine dealt out again
    uneven : some topics are far more frequent
    length : words of a document, the mean
    noise : words of all (background), documents of none (documents), words by mistake (stray)
    """

    topics: int
    uneven: bool
    length: int
    noise: str
    seed: int


def documents_of(case: Planted) -> list[NDArray[np.int64]]:
    """The words of each document."""
    topics = case.topics or 9
    rng = np.random.default_rng([case.seed, topics, case.length])
    size, terms = max(1500, (160 if case.length < 20 else 80) * topics), 1500 + 40 * topics
    even = rng.permutation(1 / (np.arange(terms) + 3.0))
    even /= even.sum()
    words = rng.gamma(np.maximum(40 * even, 1e-3), size=(topics, terms)) + 1e-300
    words /= words.sum(axis=1, keepdims=True)
    share = 1 / (np.arange(topics) + 2.0) ** (0.8 if case.uneven else 0.0)
    found = []
    for prior in rng.dirichlet(share / share.sum() * (1.0 if case.length < 20 else 1.5), size):
        n = max(2, int(rng.poisson(case.length * rng.gamma(4, 0.25))))
        drawn = rng.choice(terms, n, p=prior @ words / (prior @ words).sum())
        by_chance = {"background": 0.3, "documents": float(rng.random() < 0.2), "stray": 0.12}[case.noise]
        other = rng.integers(0, terms, n) if case.noise == "stray" else rng.choice(terms, n, p=even)
        found.append(np.where(rng.random(n) < by_chance, other, drawn))
    if not case.topics:
        dealt = rng.permutation(np.concatenate(found))
        found = np.split(dealt, np.cumsum([len(each) for each in found])[:-1])
    return found


def _counts(documents: Sequence[NDArray[np.int64]], terms: int) -> csr_matrix:
    ptr = np.concatenate([[0], np.cumsum([len(each) for each in documents])])
    words = np.concatenate(documents).astype(np.int32)
    made = csr_matrix((np.ones(len(words), np.int32), words, ptr), shape=(len(documents), terms))
    made.sum_duplicates()
    return made


class Sweep:
    """Fits of some documents, the first fifth of which are held out."""

    def __init__(self, documents: Sequence[NDArray[np.int64]]) -> None:
        held = int(_HELD_OUT * len(documents))
        terms = int(max(each.max() for each in documents)) + 1
        kept = np.bincount(_counts(documents[held:], terms).indices, minlength=terms) > 1
        place = np.where(kept, np.cumsum(kept) - 1, -1).astype(np.int32)
        self.known, self.others = (_counts(part, terms)[:, kept] for part in (documents[held:], documents[:held]))
        ptr = np.concatenate([[0], np.cumsum([len(each) for each in documents[held:]])]).astype(np.int64)
        self.texts = Texts(place[np.concatenate(documents[held:])], ptr)

    def of(self, topics: int, seeds: int, iterations: int) -> CountFigures:
        """What the fits of a count say."""
        coherent, own, told, empty = [], [], [], []
        for seed in range(1, seeds + 1):
            settings = LdaSettings(topics=topics, seed=seed, iterations=iterations)
            model = LDA.fit(self.known, settings)
            tokens = model.drawn.topic_tokens
            live = ~empty_topics(tokens)
            looked_at = Measured(model.topic_word[live], np.ones(self.known.shape[1], np.int8), self.texts)
            coherent.append(BY.of_topics(looked_at))
            own.append(matching.own_words(model.topic_word, tokens)[live])
            told.append(LDA.foretold(model, self.others, settings))
            empty.append(int((~live).sum()))
        steady = matching.stability(own).tolist()
        return CountFigures(topics, coherent, steady, [each for each in told if each], empty)


def _chosen(case: Planted) -> tuple[int | None, str]:
    """The count suggested after two widenings at most, and the first reason."""
    sweep = Sweep(documents_of(case))
    grid = suggest_grid(sweep.known.shape[0], int(sweep.known.sum()))
    counts, tried = grid.counts, dict[int, CountFigures]()
    for _ in range(1 + _WIDENED):
        tried |= {each: sweep.of(each, grid.seeds, grid.iterations) for each in counts if each not in tried}
        found = suggest([tried[each] for each in sorted(tried)])
        counts = found.widen or found.refine
        if not set(counts) - set(tried):
            break
    return found.topics, found.reasons[0]


def choices(run: Any, runs: int) -> Iterator[str]:
    yield "\nCounts suggested after two widenings at most (right: within 2, or 15 %, of those planted)"
    noises = ("background", "documents", "stray")
    cases = [
        Planted(topics, uneven, length, noises[at % 3], 40 + at)
        for at, (topics, uneven, length) in enumerate(
            (topics, uneven, length)
            for topics in (0, 5, 8, 15, 30, 60)
            for uneven in (False, True)
            for length in (45, 12)
        )
    ]
    right = []
    for case, (topics, reason) in zip(cases, run(_chosen, cases), strict=True):
        near = topics is not None and abs(topics - case.topics) <= max(2, 0.15 * case.topics)
        right.append(near if case.topics else topics is None and "nothing was found" in reason)
        shape = f"{case.topics:3} {'uneven' if case.uneven else 'even':7}{case.length:4} words, {case.noise:10}"
        yield f"{shape} {topics or 'none'!s:5} {'' if right[-1] else 'wrong'}"
    yield f"right in {sum(right)} of {len(right)}"
