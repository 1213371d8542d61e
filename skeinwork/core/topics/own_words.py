"""A topic's own words in each group of documents, or at each time: what it is said with there, and how far it drifts.

Each occurrence counts for the topic that it most probably is of in its document. The words of a topic in a group are
drawn towards those of the topic by a prior that all groups share, as strong as makes what they hold most probable
(T. Minka, *Estimating a Dirichlet distribution*, 2000). Which words are more or less its words there than elsewhere is
tested by the units that were sampled (``relate.significance``). How far its words lie apart there from elsewhere is
the Jensen-Shannon divergence, beside that of units dealt out anew over the groups; where another topic's words are
nearer to them than its own are elsewhere, it is another topic there.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
import scipy
from numba import njit
from numpy.typing import NDArray
from scipy.special import gammaln

from skeinwork.core.errors import BadInputError
from skeinwork.core.false_discovery import false_discovery_rates
from skeinwork.core.progress import Report, silent
from skeinwork.core.relate.group_words import HALF
from skeinwork.core.relate.significance import LEAST_UNITS, UnitCounts, log_ratio_intervals, significance, unit_counts
from skeinwork.core.topics.divergence import jensen_shannon

Array = NDArray[np.float64]
VERSION = 2
# Occurrences of a word within a topic, under which nothing is told of it.
LEAST_OCCURRENCES = 5
# Deals of the documents over the groups.
DEALS = 99
# Words of a group that have an interval.
MOST_WORDS = 15
MOST_GROUPS = 60


@njit(cache=True, nogil=True)
def _most_probable(indptr: Any, indices: Any, topic_word: Any, doc_topic: Any) -> Any:
    found = np.empty(len(indices), dtype=np.int32)
    n_topics = len(topic_word)
    for doc in range(len(indptr) - 1):
        for at in range(indptr[doc], indptr[doc + 1]):
            best, most = 0, -1.0
            for k in range(n_topics):
                here = topic_word[k, indices[at]] * doc_topic[doc, k]
                if here > most:
                    best, most = k, here
            found[at] = best
    return found


def most_probable_topics(
    counts: scipy.sparse.csr_matrix, topic_word: Array, doc_topic: NDArray[np.floating[Any]]
) -> NDArray[np.int32]:
    """The topic of every entry of a matrix: the one that a term most probably is of in its document.

    Parameters
    ----------
    counts : int[n_docs, n_terms]
    topic_word : float64[n_topics, n_terms]; doc_topic : float[n_docs, n_topics]

    Returns
    -------
    int32[nnz], the first of several that are as probable
    """
    return np.asarray(_most_probable(counts.indptr, counts.indices, topic_word, doc_topic), dtype=np.int32)


def of_topic(counts: scipy.sparse.csr_matrix, topics: NDArray[np.int32], topic: int) -> scipy.sparse.csr_matrix:
    """Occurrences that count for one topic, int[n_docs, n_terms]."""
    kept = topics == topic
    ends = np.concatenate([[0], np.cumsum(kept)])[counts.indptr]
    return scipy.sparse.csr_matrix((counts.data[kept], counts.indices[kept], ends), shape=counts.shape)


def prior_tokens(inside: NDArray[np.int64], base: Array) -> float:
    """How many tokens the topic's own shares of words count for in each group: the most probable, 1 to a million.

    Parameters
    ----------
    inside : int64[n_groups, n_terms], occurrences; base : float64[n_terms], that add up to 1
    """
    from scipy.optimize import minimize_scalar  # slow to import, and not wanted at a start

    held = base > 0
    counts, shares = inside[:, held].astype(np.float64), base[held]
    totals = counts.sum(axis=1)

    def loss(log_tokens: float) -> float:
        a = np.exp(log_tokens)
        found = gammaln(a) - gammaln(a + totals)
        return -float(found.sum() + (gammaln(counts + a * shares) - gammaln(a * shares)).sum())

    return float(np.exp(minimize_scalar(loss, bounds=(0.0, np.log(1e6)), method="bounded").x))


@dataclass(frozen=True)
class OwnWord:
    """A word of a topic that is more, or less, its word in a group than elsewhere.

    Attributes
    ----------
    term : its column; inside, outside : occurrences
    weight : its share of the topic's words there, drawn towards that of the topic
    ratio, low, high : log₂ of how many times as frequent, 95 % over units; ends may be infinite
    p, adjusted : by unit, the latter over all words and groups
    """

    term: int
    inside: int
    outside: int
    weight: float
    ratio: float
    low: float
    high: float
    p: float
    adjusted: float


@dataclass(frozen=True)
class OwnWords:
    """A topic in each group.

    Attributes
    ----------
    tokens, units : int64[n_groups], of the topic
    words : of each group its most probable words, int64[<= MOST_WORDS] terms with weights
    more, less : of each group words that are more, or less, its there, the surest first
    drift : float64[n_groups], divergence of its words there from elsewhere, in bits; NaN where a side has too few
        units
    by_chance : float64[n_groups], what no group is beyond in 95 of 100 deals of the units
    nearest : int64[n_groups], the other topic whose words are nearest to its words there; apart : float64[n_groups]
    prior : tokens that the topic's own words count for in each group
    compared : words times groups that p was adjusted over
    """

    tokens: NDArray[np.int64]
    units: NDArray[np.int64]
    words: list[list[tuple[int, float]]]
    more: list[list[OwnWord]]
    less: list[list[OwnWord]]
    drift: Array
    by_chance: Array
    nearest: NDArray[np.int64]
    apart: Array
    prior: float
    compared: int

    @property
    def another(self) -> NDArray[np.bool_]:
        """Where it is another topic, bool[n_groups]: it drifts more than by chance, and further than another lies."""
        return np.asarray((self.drift > self.by_chance) & (self.apart < self.drift))


def own_words(
    counts: scipy.sparse.csr_matrix,
    group: NDArray[np.int64],
    unit: NDArray[np.int64] | None,
    topic_word: Array,
    topic: int,
    seed: int = 1,
    report: Report = silent,
) -> OwnWords:
    """What a topic is said with in each group.

    Parameters
    ----------
    counts : int[n_docs, n_terms], occurrences that count for the topic
    group : int64[n_docs], from 0, -1 for none; unit : int64[n_docs], -1 for a unit of its own, None for all
    topic_word : float64[n_topics, n_terms], of all topics
    seed : of the deals

    Raises
    ------
    BadInputError
        where no two groups hold anything of the topic.
    """
    found = unit_counts(counts, group, unit)
    if int((found.tokens > 0).sum()) < 2:
        raise BadInputError("No two of these groups hold words of this topic. Choose another topic, or other groups.")
    occurrences = np.asarray(found.counts.sum(axis=0)).ravel()
    terms = np.flatnonzero(occurrences >= LEAST_OCCURRENCES)
    told = UnitCounts(found.counts[:, terms], found.group, found.lengths, found.tokens, found.units)
    tested = significance(told, report)
    inside = _inside(found)
    base = occurrences / occurrences.sum()
    prior = prior_tokens(inside, base)
    weights = (inside + prior * base) / (found.tokens[:, None] + prior)
    adjusted = false_discovery_rates(tested.p)
    more: list[list[OwnWord]] = []
    less: list[list[OwnWord]] = []
    for at in range(len(found.tokens)):
        for upward, kept in ((True, more), (False, less)):
            kept.append(_told(told, tested.p, adjusted, tested.inside, weights[:, terms], at, terms, upward))
    drift, by_chance = _drift(found, inside, seed)
    few = np.minimum(found.units, found.units.sum() - found.units) < LEAST_UNITS
    drift[few] = by_chance[few] = np.nan
    nearest, apart = _nearest(inside, topic_word, topic)
    words = [
        [(int(term), float(row[term])) for term in np.argsort(-row, kind="stable")[:MOST_WORDS]] for row in weights
    ]
    return OwnWords(
        found.tokens,
        found.units,
        words,
        more,
        less,
        drift,
        by_chance,
        nearest,
        apart,
        prior,
        int((~np.isnan(tested.p)).sum()),
    )


def _nearest(inside: NDArray[np.int64], topic_word: Array, topic: int) -> tuple[NDArray[np.int64], Array]:
    """The other topic nearest to each group's words, and how far it is."""
    n_groups = len(inside)
    nearest, apart = np.full(n_groups, topic, dtype=np.int64), np.full(n_groups, np.inf)
    for other in np.flatnonzero(np.arange(len(topic_word)) != topic):
        there = jensen_shannon(inside.astype(np.float64), np.broadcast_to(topic_word[other], inside.shape))
        nearer = there < apart
        nearest[nearer], apart[nearer] = other, there[nearer]
    return nearest, apart


def _inside(found: UnitCounts) -> NDArray[np.int64]:
    """Occurrences by group, int64[n_groups, n_terms]."""
    n_groups = len(found.tokens)
    ones = np.ones(len(found.group))
    add = scipy.sparse.csr_matrix((ones, (found.group, np.arange(len(found.group)))), (n_groups, len(found.group)))
    return np.asarray((add @ found.counts).todense()).round().astype(np.int64)


def _told(
    told: UnitCounts,
    p: Array,
    adjusted: Array,
    inside: NDArray[np.int64],
    weights: Array,
    group: int,
    terms: NDArray[np.int64],
    upward: bool,
) -> list[OwnWord]:
    """The surest words of a group in one direction."""
    whole = inside.sum(axis=0)
    own, rest = inside[group], whole - inside[group]
    tokens, others = int(told.tokens[group]), int(told.tokens.sum() - told.tokens[group])
    if not tokens or not others:
        return []
    ratio = np.log2((own + HALF) / tokens) - np.log2((rest + HALF) / others)
    asked = np.flatnonzero(~np.isnan(p[group]) & ((ratio > 0) if upward else (ratio < 0)))
    asked = asked[np.lexsort((-np.abs(ratio[asked]), p[group, asked]))][:MOST_WORDS]
    if not len(asked):
        return []
    ends = log_ratio_intervals(told, group, asked.tolist(), p[group, asked])
    return [
        OwnWord(
            int(terms[at]),
            int(own[at]),
            int(rest[at]),
            float(weights[group, at]),
            float(ratio[at]),
            float(low),
            float(high),
            float(p[group, at]),
            float(adjusted[group, at]),
        )
        for at, (low, high) in zip(asked, ends, strict=True)
    ]


def _drift(found: UnitCounts, inside: NDArray[np.int64], seed: int) -> tuple[Array, Array]:
    """Divergence of each group from the others, and what no group is beyond in 95 of 100 deals of the units."""
    rng, dealt = np.random.default_rng(seed), []
    for _ in range(DEALS):
        dealt.append(_apart(_inside(replace(found, group=_dealt(found, rng)))))
    apart = np.array(dealt)
    usual = np.maximum(np.where(np.isnan(apart), 0.0, apart).mean(axis=0), 1e-12)
    furthest = np.nanmax(apart / usual, axis=1)
    return _apart(inside), usual * float(np.quantile(furthest, 0.95))


def _dealt(found: UnitCounts, rng: np.random.Generator) -> NDArray[np.int64]:
    """Units in a random order, cut where each group has as many tokens as it has: fewer scatter by more."""
    order, groups = rng.permutation(len(found.group)), rng.permutation(len(found.tokens))
    before = np.cumsum(found.lengths[order]) - found.lengths[order] / 2.0
    place = np.searchsorted(np.cumsum(found.tokens[groups]), before, side="right")
    anew = np.empty(len(order), dtype=np.int64)
    anew[order] = groups[np.minimum(place, len(groups) - 1)]
    return anew


def _apart(inside: NDArray[np.int64]) -> Array:
    rest = inside.sum(axis=0) - inside
    there = (inside.sum(axis=1) > 0) & (rest.sum(axis=1) > 0)
    apart = np.full(len(inside), np.nan)
    if there.any():
        apart[there] = jensen_shannon(inside[there].astype(np.float64), rest[there].astype(np.float64))
    return apart
