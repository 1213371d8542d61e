"""Labels to begin with: phrases of a topic's own tokens, by how much they are its own and how well they say it.

A phrase is held against a topic by four figures. *C-value* (K. Frantzi, S. Ananiadou and H. Mima, International
Journal on Digital Libraries 3(2), 2000), counted in the topic's tokens alone: how much it stands there as a phrase of
its own. *Distinctness*: the share of its places that are the topic's and no other's. *Closeness*: one less the
Jensen-Shannon divergence (J. Lin, IEEE Transactions on Information Theory 37(1), 1991) between the words about its
places and those of the topic, after Q. Mei, X. Shen and C. Zhai, *Automatic labeling of multinomial topic models*,
KDD 2007. *Weight*, after the same: how strong and how much its own the strongest of its words is there.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.topics.alignment import Fitted
from skeinwork.core.topics.divergence import jensen_shannon
from skeinwork.core.topics.words import ownness

VERSION = 1
# Phrases of a topic that are looked at closely, by C-value times distinctness, and those that are kept.
_LOOKED_AT, KEPT = 60, 12
# Places of a phrase whose surroundings are read, and tokens to each side.
_PLACES, _AROUND = 300, 20
# Places whose topics are worked out at a time.
_AT_A_TIME = 20_000
# A topic's tokens that a phrase needs of it: fewer say nothing of it.
_LEAST = 3.0


@dataclass(frozen=True)
class Places:
    """Where phrases stand in a stream of tokens.

    Attributes
    ----------
    phrase : int64[n_places], ascending; start : int64[n_places], the first token; length : int64[n_phrases], words
    inside : for each phrase those longer ones that hold it
    """

    phrase: NDArray[np.int64]
    start: NDArray[np.int64]
    length: NDArray[np.int64]
    inside: list[list[int]]


@dataclass(frozen=True)
class Stream:
    """Tokens as terms of a fit.

    Attributes
    ----------
    terms : int64[n_tokens], the term of each, -1 for none; doc_ptr : int64[n_docs + 1]
    """

    terms: NDArray[np.int64]
    doc_ptr: NDArray[np.int64]

    def documents(self, tokens: NDArray[np.int64]) -> NDArray[np.int64]:
        """The document of each token."""
        return np.searchsorted(self.doc_ptr, tokens, side="right").astype(np.int64) - 1


@dataclass(frozen=True)
class Candidate:
    """A phrase as a label of a topic.

    Attributes
    ----------
    phrase : its number; tokens : its places that are the topic's, expected; places : all of them
    c_value, distinct, close, weight : see the module; the last three from 0 to 1
    """

    phrase: int
    tokens: float
    places: int
    c_value: float
    distinct: float
    close: float
    weight: float

    @property
    def score(self) -> float:
        """What candidates are ordered by: ln(1 + C-value) x distinctness x closeness x weight."""
        return math.log1p(max(self.c_value, 0.0)) * self.distinct * self.close * self.weight


def topics_of_places(places: Places, stream: Stream, fit: Fitted) -> NDArray[np.float64]:
    """How many places of each phrase are each topic's, float64[n_phrases, n_topics].

    A place is of a topic as much as its counted words are, in the mean; one without a counted word is nobody's.
    """
    topics = fit.doc_topic.shape[1]
    found = np.zeros((len(places.length), topics))
    longest = int(places.length.max(initial=1))
    for first in range(0, len(places.phrase), _AT_A_TIME):
        phrase, start = places.phrase[first : first + _AT_A_TIME], places.start[first : first + _AT_A_TIME]
        rows, held, known = stream.documents(start), np.zeros((len(start), topics)), np.zeros(len(start))
        for word in range(longest):
            within = np.flatnonzero(places.length[phrase] > word)
            term = stream.terms[start[within] + word]
            there, term = within[term >= 0], term[term >= 0]
            weight = fit.of_cells(rows[there], term)
            held[there] += weight
            known[there] += weight.sum(axis=1) > 0
        held /= np.maximum(known, 1)[:, None]
        sums = scipy.sparse.csr_matrix(
            (np.ones(len(phrase)), (phrase, np.arange(len(phrase)))), (len(found), len(phrase))
        )
        found += np.asarray(sums @ held)
    return found


def c_values(held: NDArray[np.float64], places: Places) -> NDArray[np.float64]:
    """C-value of every phrase in every topic, by places that are the topic's, float64[n_phrases, n_topics].

    log2(words) times its places, less the mean of those of the longer phrases that hold it; a single word counts
    as one and a half, so that it stands where no phrase does.
    """
    nested = np.zeros_like(held)
    for phrase, longer in enumerate(places.inside):
        if longer:
            nested[phrase] = held[longer].mean(axis=0)
    return np.asarray(np.log2(np.maximum(places.length, 1.5))[:, None] * (held - nested))


def surroundings(phrase: int, places: Places, stream: Stream, n_terms: int) -> NDArray[np.float64]:
    """Terms within so many tokens about the places of a phrase, its own words among them, float64[n_terms]."""
    first, last = np.searchsorted(places.phrase, [phrase, phrase + 1])
    starts = places.start[first:last]
    if len(starts) > _PLACES:
        starts = starts[np.linspace(0, len(starts) - 1, _PLACES).astype(np.int64)]
    document = stream.documents(starts)
    begin = np.maximum(starts - _AROUND, stream.doc_ptr[document])
    end = np.minimum(starts + places.length[phrase] + _AROUND, stream.doc_ptr[document + 1])
    at = np.concatenate([np.arange(low, high) for low, high in zip(begin, end, strict=True)] or [np.zeros(0, np.int64)])
    terms = stream.terms[at]
    return np.bincount(terms[terms >= 0], minlength=n_terms).astype(np.float64)


def own_weights(topic_word: NDArray[np.float64]) -> NDArray[np.float64]:
    """Probability times ownness of every word in every topic, 1 for the strongest, float64[n_topics, n_terms]."""
    found = topic_word * ownness(topic_word)
    return np.asarray(found / np.maximum(found.max(axis=1, keepdims=True), 1e-300))


def label_candidates(places: Places, stream: Stream, fit: Fitted, skip: Sequence[int] = ()) -> list[list[Candidate]]:
    """Candidates of every topic, the best first; no two topics have the same first.

    Parameters
    ----------
    places : of the phrases; stream : tokens as terms of the fit; fit : topics of documents and of terms
    skip : topics that get none, as those that are empty

    Returns
    -------
    for each topic at most ``KEPT`` candidates
    """
    held = topics_of_places(places, stream, fit)
    everywhere = np.bincount(places.phrase, minlength=len(held))
    value, distinct = c_values(held, places), held / np.maximum(held.sum(axis=1, keepdims=True), 1e-300)
    around: dict[int, NDArray[np.float64]] = {}
    own, firsts = own_weights(fit.topic_word), np.searchsorted(places.phrase, np.arange(len(held)))
    found: list[list[Candidate]] = []
    for topic in range(held.shape[1]):
        worth = np.where(held[:, topic] >= _LEAST, value[:, topic] * distinct[:, topic], 0.0)
        best = np.argsort(-worth, kind="stable")[:_LOOKED_AT]
        mine = []
        for phrase in best[worth[best] > 0].tolist() if topic not in skip else []:
            if phrase not in around:
                around[phrase] = surroundings(phrase, places, stream, fit.topic_word.shape[1])
            at = places.start[firsts[phrase]]
            terms = stream.terms[at : at + places.length[phrase]]
            mine.append(
                Candidate(
                    phrase,
                    float(held[phrase, topic]),
                    int(everywhere[phrase]),
                    float(value[phrase, topic]),
                    float(distinct[phrase, topic]),
                    1.0 - float(jensen_shannon(fit.topic_word[topic][None], around[phrase][None])[0]),
                    float(np.where(terms >= 0, own[topic, terms], 0.0).max()),
                )
            )
        found.append(sorted(mine, key=lambda each: (-each.score, each.phrase)))
    return [each[:KEPT] for each in _distinct_first(found)]


def _distinct_first(found: list[list[Candidate]]) -> list[list[Candidate]]:
    """The same with another candidate in front of every topic, so that the sum of scores is greatest."""
    phrases = sorted({each.phrase for mine in found for each in mine})
    if not phrases:
        return found
    from scipy.optimize import linear_sum_assignment  # slow to import, and seldom needed

    column = {phrase: at for at, phrase in enumerate(phrases)}
    # A topic without a phrase of its own left takes an empty column.
    score = np.zeros((len(found), len(phrases) + len(found)))
    for topic, mine in enumerate(found):
        for each in mine:
            score[topic, column[each.phrase]] = each.score
    rows, columns = linear_sum_assignment(-score)
    first = dict(zip(rows.tolist(), columns.tolist(), strict=True))
    ordered = []
    for topic, mine in enumerate(found):
        taken = phrases[first[topic]] if first[topic] < len(phrases) else -1
        front = [each for each in mine if each.phrase == taken]
        others = {phrases[at] for of, at in first.items() if of != topic and at < len(phrases)}
        rest = [each for each in mine if each.phrase != taken and (front or each.phrase not in others)]
        ordered.append([*front, *rest])
    return ordered
