"""The words of a topic by how they may be ranked, what they share with other topics, those used alike as one."""

from __future__ import annotations

from typing import Literal

import numpy as np
import scipy
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.matrix.matrix import term_stream
from skeinwork.core.relate.group_words import words_apart
from skeinwork.core.text import neighbours
from skeinwork.core.topics.words import frex, ownness, top_words
from skeinwork.work.evidence.topic import topic_of
from skeinwork.work.results.view import View

Ranking = Literal["probability", "lift", "frex", "log odds"]
# Words of other topics among which a word counts as shared.
_AMONG = 30
# Likeness of two words' neighbours from which they count as used alike: that of a word to itself is 1.
_ALIKE = 0.9
# Tokens that likeness is taken from at most, of the documents that have most of the topic.
_MOST_TOKENS = 100_000
# A word needs so many of the topic's tokens to be ranked by lift: a rare word of one topic leads nothing.
_LEAST = 5.0


class RankingKind(BaseModel):
    """A way to rank words: what it is called, and what it puts first."""

    by: Ranking
    title: str
    puts_first: str


RANKINGS: tuple[RankingKind, ...] = (
    RankingKind(by="probability", title="probability", puts_first="what the topic says most often"),
    RankingKind(by="frex", title="FREX", puts_first="words both frequent in the topic and its own"),
    RankingKind(by="log odds", title="log-odds", puts_first="words surely more frequent than in the other topics"),
    RankingKind(by="lift", title="lift", puts_first="words that are hardly anywhere else, however rare"),
)


class TopicWordsQuery(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)
    by: Ranking = "probability"
    limit: int = Field(30, ge=1, le=200)
    fold: bool = Field(False, description="words that are used alike as one")


class RankedWord(BaseModel):
    """A word of a topic with all it is ranked by.

    Attributes
    ----------
    share : of the topic's tokens; tokens : of the topic, expected; own : share of all its tokens that are the topic's
    shared : other topics among whose strongest words it is
    folded : words used like it, left out for it
    """

    term: str
    display: str
    share: float
    tokens: float
    own: float
    lift: float
    frex: float
    log_odds: float
    shared: list[int]
    folded: list[str]


class TopicWords(BaseModel):
    """The words of a topic; ``says`` how the first of them are ranked, and of words that are folded."""

    topic: int
    rankings: list[RankingKind]
    words: list[RankedWord]
    says: str


class Scored(BaseModel):
    """All that words are ranked by, float64[n_topics, n_terms] each; ``strongest`` are terms of each topic."""

    model_config = ConfigDict(arbitrary_types_allowed=True)
    share: np.ndarray
    tokens: np.ndarray
    own: np.ndarray
    lift: np.ndarray
    frex: np.ndarray
    log_odds: np.ndarray
    strongest: np.ndarray

    def of(self, by: Ranking, topic: int) -> NDArray[np.float64]:
        """What words of a topic are ranked by; those with next to no tokens of it come last."""
        name = {"probability": "share", "log odds": "log_odds"}.get(by, by)
        values: NDArray[np.float64] = getattr(self, name)[topic]
        return values if by == "probability" else np.where(self.tokens[topic] >= _LEAST, values, -np.inf)


def scored(view: View) -> Scored:
    """Every ranking of every word in every topic."""

    def made() -> Scored:
        phi = np.asarray(view.model.topic_word)
        tokens = phi * np.asarray(view.assigned.sum(axis=0)).ravel()[:, None]
        everywhere = tokens.sum(axis=0)
        overall = everywhere / max(float(everywhere.sum()), 1e-300)
        return Scored(
            share=phi,
            tokens=tokens,
            own=ownness(phi),
            lift=phi / np.maximum(overall, 1e-300),
            frex=frex(phi),
            log_odds=np.array([_log_odds(tokens, topic) for topic in range(len(phi))]),
            strongest=top_words(phi, _AMONG),
        )

    return view.cached("scored words", made)


def _log_odds(tokens: NDArray[np.float64], topic: int) -> NDArray[np.float64]:
    """Weighted log odds of each word in a topic against all others, over their standard error."""
    mine = tokens[topic].round().astype(np.int64)
    others = (tokens.sum(axis=0) - tokens[topic]).round().astype(np.int64)
    if not mine.sum() or not others.sum():
        return np.zeros(len(mine))
    return words_apart(mine, others).log_odds


def topic_words(view: View, topic: int, query: TopicWordsQuery) -> TopicWords:
    """The words of a topic in the order that is asked for."""
    known, number, matrix = scored(view), topic_of(view, topic), view.fit_matrix
    values = known.of(query.by, number)
    order = np.argsort(-values, kind="stable")
    order = order[np.isfinite(values[order])][: 2 * query.limit if query.fold else query.limit]
    folded: dict[int, list[int]] = {int(term): [] for term in order}
    if query.fold:
        folded = view.cached("folded words", lambda: _folded(view, number, order), number, query.by, query.limit)
    kind = next(each for each in RANKINGS if each.by == query.by)
    words = [
        RankedWord(
            term=matrix.terms[term],
            display=matrix.display[term],
            share=float(known.share[number, term]),
            tokens=float(known.tokens[number, term]),
            own=float(known.own[number, term]),
            lift=float(known.lift[number, term]),
            frex=float(known.frex[number, term]),
            log_odds=float(known.log_odds[number, term]),
            shared=[k for k in np.flatnonzero((known.strongest == term).any(axis=1)).tolist() if k != number],
            folded=[matrix.display[each] for each in others],
        )
        for term, others in list(folded.items())[: query.limit]
    ]
    says = f"By {kind.title}: {kind.puts_first}."
    if query.fold:
        gone = sum(len(each.folded) for each in words)
        says += f" {gone} of them are used like another, among the same neighbours, and stand behind it."
    return TopicWords(topic=number, rankings=list(RANKINGS), words=words, says=says)


def _folded(view: View, topic: int, order: NDArray[np.int64]) -> dict[int, list[int]]:
    """Words of the order that stand for themselves, each with those after it that are used alike."""
    single = [int(term) for term in order if view.fit_matrix.lengths[term] == 1]
    pairs = [(first, second) for at, second in enumerate(single) for first in single[:at]]
    ids, doc_ptr = _some_of(*term_stream(view.fit_cleaning, view.fit_matrix), view.assigned[:, [topic]])
    found = neighbours.likeness(ids, doc_ptr, pairs, len(view.fit_matrix.terms), named=0)
    alike = {pair for pair, each in zip(pairs, found, strict=True) if each and each.low >= _ALIKE}
    kept: dict[int, list[int]] = {}
    for term in order.tolist():
        leader = next((each for each in kept if (each, term) in alike), None)
        if leader is None:
            kept[term] = []
        else:
            kept[leader].append(term)
    return kept


def _some_of(
    ids: NDArray[np.int32], doc_ptr: NDArray[np.int64], tokens: scipy.sparse.csc_matrix
) -> tuple[NDArray[np.int32], NDArray[np.int64]]:
    """The stream of the documents that have most of a topic, where all of them are too many."""
    if len(ids) <= _MOST_TOKENS:
        return ids, doc_ptr
    sizes = np.diff(doc_ptr)
    order = np.argsort(-tokens.toarray().ravel(), kind="stable")
    chosen = np.sort(order[: int(np.searchsorted(np.cumsum(sizes[order]), _MOST_TOKENS)) + 1])
    part = np.concatenate([ids[doc_ptr[each] : doc_ptr[each + 1]] for each in chosen.tolist()])
    return part, np.concatenate([[0], np.cumsum(sizes[chosen])]).astype(np.int64)


class SheetTopic(BaseModel):
    """A topic on the sheet: words with their shares and how much they are its own."""

    topic: int
    words: list[RankedWord]


class SheetQuery(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)
    by: Ranking = "probability"
    limit: int = Field(24, ge=1, le=100)


def sheet(view: View, asked: SheetQuery) -> list[SheetTopic]:
    """Every topic with its words, to be printed on one sheet."""
    topics, query = range(len(view.model.topic_word)), TopicWordsQuery(by=asked.by, limit=asked.limit)
    return [SheetTopic(topic=k, words=topic_words(view, k, query).words) for k in topics]
