"""The constant-time sampler: a token's word and its document propose topics, which it takes or not.

A Metropolis–Hastings step costs the same for any number of topics. Words are gone through one after
another, then documents, so that what is read lies together; counts of words are those before each turn
(J. Chen and others, *a cache efficient O(1) algorithm for latent Dirichlet allocation*, PVLDB 9, 2016).

Here a turn draws every other token of half the documents, with their own counts always exact, and
proposals come from tokens that stay as they are meanwhile. Proposals from tokens of the same turn
remember where these were, which makes documents purer than they are: of 3.30 topics a document in a
planted corpus of short documents and rare words they left 3.05, and turns leave 3.28.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import partial
from typing import Any, ClassVar

import numpy as np
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.content import expect_array
from skeinwork.core.prefetch import prefetch
from skeinwork.core.threads import most_threads
from skeinwork.core.topics.samplers.base import Sampler, State
from skeinwork.core.topics.uniform import STEP, mixed

# Seconds that a token takes in one sweep on the machine of ``Dense``; topics hardly matter.
_A_TOKEN = 1.1e-7
# Sweeps that bring a chain about as far as one of the dense sampler does: 4.5 to 5.5, of 50 to 200 planted topics.
_SWEEPS = 5
# Parts of the corpus that are drawn one after another, each in two turns.
_PARTS = 2
# What makes 32 bits a number in [0, 1), and takes the lower ones of 64.
_HALF = 1.0 / 4294967296.0
_LOW = np.uint64(0xFFFFFFFF)


@njit(cache=True, nogil=True)
def alias_table(weights: Any) -> Any:
    """Two arrays by which one of n weights is drawn in constant time (A. Walker 1977).

    Parameters
    ----------
    weights : float64[n], above 0

    Returns
    -------
    float64[n], the chance to stay at a place drawn evenly; int64[n], where to go otherwise
    """
    n = len(weights)
    stay, other = weights * (n / weights.sum()), np.arange(n)
    low, high = np.empty(n, np.int64), np.empty(n, np.int64)
    n_low = n_high = 0
    for k in range(n):
        if stay[k] < 1.0:
            low[n_low] = k
            n_low += 1
        else:
            high[n_high] = k
            n_high += 1
    rest = stay.copy()
    while n_low and n_high:
        n_low -= 1
        short, long = low[n_low], high[n_high - 1]
        stay[short], other[short] = rest[short], long
        rest[long] -= 1.0 - rest[short]
        if rest[long] < 1.0:
            n_high -= 1
            low[n_low] = long
            n_low += 1
    for at in range(n_low):
        stay[low[at]] = 1.0
    for at in range(n_high):
        stay[high[at]] = 1.0
    return stay, other


@njit(cache=True, nogil=True)
def _go_through_words(
    words: Any, word_ptr: Any, turn: Any, topics: Any, beta: float, n_topics: int, seed: Any, offers: Any
) -> None:
    """What some words say of the tokens of a turn: odds of the document's proposal, and a proposal of their own.

    Parameters
    ----------
    words : int64[2], the first and the end of those to go through
    word_ptr : int64[n_terms + 1]; turn : int64[2, n_terms], where the tokens of the turn begin and end
    topics : int16[n_tokens, 2], topic and document's proposal of each token, by word
    offers : float32[n_tokens, 4], by word: odds of the document's proposal over a number drawn evenly;
        by how much the word's proposal weighs more than its chance to be drawn, against the topic and
        against the document's proposal; the word's proposal
    """
    count, own = np.full(n_topics, beta), np.zeros(n_topics)
    for word in range(words[0], words[1]):
        begin, end = turn[0, word], turn[1, word]
        if begin == end:
            continue
        first, last = word_ptr[word], word_ptr[word + 1]
        for at in range(first, last):
            count[topics[at, 0]] += 1.0
        for at in range(begin, end):
            own[topics[at, 0]] += 1.0
        stream = mixed(seed + np.uint64(word) * STEP)
        n_others, n_own = last - first - (end - begin), end - begin
        whole = n_others + beta * n_topics
        for at in range(begin, end):
            old, given = np.int64(topics[at, 0]), np.int64(topics[at, 1])
            stream += STEP
            chance = mixed(stream)
            target = np.float64(chance >> np.uint64(32)) * _HALF * whole
            if target < n_others:
                other = first + np.int64(target)
                other += n_own if other >= begin else 0
                new = np.int64(topics[other, 0])
            else:
                new = np.int64(min(int((target - n_others) / beta), n_topics - 1))
            held = count[old] - 1.0
            of_given = count[given] - (1.0 if given == old else 0.0)
            excess = (count[new] - (1.0 if new == old else 0.0)) / (count[new] - own[new])
            offers[at, 0] = of_given / (held * (np.float64(chance & _LOW) + 0.5) * _HALF)
            offers[at, 1] = excess * (count[old] - own[old]) / held
            offers[at, 2] = excess * (count[given] - own[given]) / of_given
            offers[at, 3] = new
        for at in range(first, last):
            count[topics[at, 0]] = beta
            own[topics[at, 0]] = 0.0


@njit(cache=True, nogil=True)
def _go_through_documents(
    docs: Any,
    more: Any,
    odd: int,
    doc_ptr: Any,
    z: Any,
    by_word: Any,
    topics: Any,
    offers: Any,
    size: Any,
    alpha: Any,
    stay: Any,
    other: Any,
    given: Any,
    seed: Any,
) -> None:
    """Draw every other token of some documents, and the documents' proposals for the tokens between them.

    Parameters
    ----------
    docs : int64[2], the first and the end of those to go through
    more : int64[n_topics], to which the tokens are added that a topic has more
    odd : whether the first token stays
    z : int32[n_tokens]; by_word : int32[n_tokens], the place of a token among those by word
    topics, offers : of ``_go_through_words``
    size : float64[n_topics], tokens of each topic and the prior of its words
    alpha, stay, other : float64[n_topics], the document prior; of its ``alias_table``
    given : int16[n_tokens], proposals of documents
    """
    n_topics, a_sum = len(alpha), alpha.sum()
    # Counts and prior: of all tokens but the one that is drawn, and of those that stay as they are.
    count, calm, size = alpha.copy(), alpha.copy(), size.copy()
    offer = np.empty((np.diff(doc_ptr[docs[0] : docs[1] + 1]).max() if docs[1] > docs[0] else 0, 4), np.float32)
    for doc in range(docs[0], docs[1]):
        first, last = doc_ptr[doc], doc_ptr[doc + 1]
        stream = mixed(seed + np.uint64(doc) * STEP)
        if doc + 1 < docs[1]:
            for at in range(last, doc_ptr[doc + 2]):
                prefetch(topics, np.intp(by_word[at]), 0)
            for at in range(last + odd, doc_ptr[doc + 2], 2):
                prefetch(offers, np.intp(by_word[at]), 0)
        for at in range(first, last):
            count[z[at]] += 1.0
        for at in range(first + 1 - odd, last, 2):
            calm[z[at]] += 1.0
        for at in range(first + odd, last, 2):  # together, since each lies somewhere else
            to = by_word[at]
            for part in range(4):
                offer[at - first, part] = offers[to, part]
        for at in range(first + odd, last, 2):
            old, new = np.int64(z[at]), np.int64(given[at])
            count[old] -= 1.0
            size[old] -= 1.0
            taken = offer[at - first, 0] * size[old] * count[new] * calm[old] > size[new] * count[old] * calm[new]
            now = new if taken else old
            weight = offer[at - first, 2] if taken else offer[at - first, 1]
            new = np.int64(offer[at - first, 3])
            stream += STEP
            chance = np.float64(mixed(stream) >> np.uint64(32)) * _HALF
            now = new if chance * count[now] * size[new] < weight * count[new] * size[now] else now
            count[now] += 1.0
            size[now] += 1.0
            z[at] = now
        n_drawn = (last - first + 1 - odd) // 2
        for at in range(first + odd, last, 2):
            to = by_word[at]
            old, now = topics[to, 0], z[at]
            topics[to, 0] = now
            # Beyond the document all see the topics as large as before the turn.
            size[now] -= 1.0
            size[old] += 1.0
            more[now] += 1
            more[old] -= 1
        for at in range(first + 1 - odd, last, 2):
            stream += STEP
            target = np.float64(mixed(stream) >> np.uint64(32)) * _HALF * (n_drawn + a_sum)
            if target < n_drawn:
                drawn = int(z[first + odd + 2 * np.int64(target)])
            else:
                spot = (target - n_drawn) / a_sum * n_topics
                even = min(int(spot), n_topics - 1)
                drawn = even if spot - even < stay[even] else int(other[even])
            given[at] = drawn
            topics[by_word[at], 1] = drawn
        for at in range(first, last):
            count[z[at]] = calm[z[at]] = alpha[z[at]]


@dataclass(frozen=True)
class _Turn:
    """Every other token of some documents.

    Attributes
    ----------
    docs : shares of the documents for threads, int64[2] each; odd : whether their first tokens stay
    tokens : int64[2, n_terms], where its tokens begin and end among those of each word
    words : shares of the words for threads, int64[2] each
    """

    docs: list[NDArray[np.int64]]
    odd: int
    tokens: NDArray[np.int64]
    words: list[NDArray[np.int64]]


def _shares(pointer: NDArray[np.int64], parts: int, first: int = 0, last: int | None = None) -> list[NDArray[np.int64]]:
    """Rows from first to last in so many runs of about as many tokens, int64[2] each; a run may be empty."""
    last = len(pointer) - 1 if last is None else last
    inner = np.linspace(pointer[first], pointer[last], parts + 1)[1:-1]
    after = np.searchsorted(pointer, inner).clip(first + 1, max(last, first + 1))
    nearest = after - (inner - pointer[after - 1] < pointer[after.clip(max=last)] - inner)
    edges = np.concatenate([[first], nearest.clip(first, last), [last]]).astype(np.int64)
    return [edges[at : at + 2] for at in range(parts)]


class ConstantTime(Sampler):
    """In time that hardly depends on the topics, with counts of words that are delayed by a turn."""

    name: ClassVar[str] = "constant-time"
    title: ClassVar[str] = "constant-time Metropolis–Hastings (counts of words delayed)"
    VERSION: ClassVar[int] = 1
    # Of fewer what the dense sampler reads lies in the processor's memory, and exact draws cost little.
    least_tokens: ClassVar[int] = 200_000

    def __init__(self, state: State, parts: int = _PARTS, threads: int | None = None) -> None:
        self.state = state
        self.threads = threads or most_threads()
        n_tokens = len(state.words)
        of_parts = _shares(state.doc_ptr, parts)
        lengths = np.diff(state.doc_ptr)
        part = np.repeat(np.repeat(np.arange(parts), [end - begin for begin, end in of_parts]), lengths)
        odd = (np.arange(n_tokens) - np.repeat(state.doc_ptr[:-1], lengths)) % 2
        # Tokens of seed words come after all turns: they propose their topic and are never drawn.
        all_words, kinds = np.concatenate([state.words, state.seeds.words]), 2 * parts + 1
        turn = np.concatenate([2 * part + odd, np.full(len(state.seeds.words), 2 * parts)])
        place = np.lexsort((turn, all_words)).astype(np.int32)
        self.by_word = np.empty(len(all_words), np.int32)
        self.by_word[place] = np.arange(len(all_words), dtype=np.int32)
        word_turn = all_words.astype(np.int64) * kinds + turn
        ends = np.concatenate([[0], np.cumsum(np.bincount(word_turn, minlength=kinds * state.n_terms))])
        self.word_ptr = ends[::kinds].astype(np.int64)
        words = _shares(self.word_ptr, self.threads)
        self.turns = [
            _Turn(
                _shares(state.doc_ptr, self.threads, *of_parts[at // 2]),
                at % 2,
                np.stack([ends[at:-1:kinds], ends[at + 1 :: kinds]]),
                words,
            )
            for at in range(2 * parts)
        ]
        self.pool = ThreadPoolExecutor(self.threads)
        self.given = state.z.astype(np.int16)
        begun = np.concatenate([state.z, state.seeds.topics]).astype(np.int16)
        self.topics = np.stack([begun[place]] * 2, axis=1)
        self.offers = np.empty((len(all_words), 4), np.float32)

    @classmethod
    def seconds(cls, topics: int) -> float:
        return _SWEEPS * _A_TOKEN

    def memory(self) -> dict[str, NDArray[Any]]:
        return {"given": self.given}

    def recall(self, memory: Mapping[str, NDArray[Any]]) -> None:
        tokens, most = len(self.given), len(self.state.alpha) - 1
        self.given = expect_array("given", memory.get("given"), np.int16, (tokens,), 0, most).copy()
        self.topics[self.by_word[:tokens], 1] = self.given

    def sweep(self) -> int:
        before = self.state.z.copy()
        for _ in range(_SWEEPS):
            self.once()
        return int((self.state.z != before).sum())

    def once(self) -> None:
        """Draw the topic of every token once."""
        state, stay_other = self.state, alias_table(self.state.alpha)
        for turn in self.turns:
            offered = (turn.tokens, self.topics, state.beta, len(state.alpha), self._seed(), self.offers)
            self._do([partial(_go_through_words, words, self.word_ptr, *offered) for words in turn.words])
            size = state.topic_total + state.beta * state.n_terms
            more = np.zeros((len(turn.docs), len(state.alpha)), np.int64)
            drawn = (turn.odd, state.doc_ptr, state.z, self.by_word, self.topics, self.offers, size, state.alpha)
            rest = (*stay_other, self.given, self._seed())
            self._do(
                [partial(_go_through_documents, *each, *drawn, *rest) for each in zip(turn.docs, more, strict=True)]
            )
            state.topic_total += more.sum(axis=0)

    def _do(self, calls: Sequence[Callable[[], None]]) -> None:
        """Side by side: none writes what another reads."""
        if self.threads == 1:
            for call in calls:
                call()
        else:
            for done in [self.pool.submit(call) for call in calls]:
                done.result()

    def _seed(self) -> np.uint64:
        """Mixed once more: words and documents count on from it by the step by which it is counted."""
        self.state.stream += STEP
        return np.uint64(mixed(self.state.stream[0]))
