"""How words are spread over documents or groups of them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray


@dataclass(frozen=True)
class Spread:
    """Of every word.

    Attributes
    ----------
    tokens, documents : int64[n_words], how often it stands, and in how many documents
    entropy : float64[n_words], of its distribution over documents, in nats; 0 where all of it stands
        in one
    """

    tokens: NDArray[np.int64]
    documents: NDArray[np.int64]
    entropy: NDArray[np.float64]


@njit(cache=True, nogil=True)
def _spread(words: Any, doc_ptr: Any, n_words: int) -> Any:
    tokens = np.zeros(n_words, dtype=np.int64)
    documents = np.zeros(n_words, dtype=np.int64)
    logs = np.zeros(n_words)
    here = np.zeros(n_words, dtype=np.int64)
    for doc in range(len(doc_ptr) - 1):
        for at in range(doc_ptr[doc], doc_ptr[doc + 1]):
            if words[at] >= 0:
                here[words[at]] += 1
        for at in range(doc_ptr[doc], doc_ptr[doc + 1]):
            word = words[at]
            if word >= 0 and here[word]:
                tokens[word] += here[word]
                documents[word] += 1
                logs[word] += here[word] * np.log(here[word])
                here[word] = 0
    return tokens, documents, logs


def spread(words: NDArray[np.int32], doc_ptr: NDArray[np.int64], n_words: int) -> Spread:
    """Tokens, documents and entropy of words.

    With ``p(d) = n(w, d) / n(w)`` the entropy is ``-sum p ln p`` (Shannon 1948); that of a word
    dealt out evenly over D documents is ``ln D``.

    Parameters
    ----------
    words : int32[n_tokens], the word of each token, -1 for those to pass over
    doc_ptr : int64[n_docs + 1]

    Examples
    --------
    >>> found = spread(np.array([0, 0, 1, 0], dtype=np.int32), np.array([0, 3, 4]), 2)
    >>> found.documents.tolist(), found.entropy.round(3).tolist()
    ([2, 1], [0.637, 0.0])
    """
    tokens, documents, logs = _spread(words, doc_ptr.astype(np.int64), n_words)
    some = np.maximum(tokens, 1)
    entropy = np.where(tokens > 0, np.log(some) - logs / some, 0.0)
    return Spread(tokens, documents, np.maximum(entropy, 0.0))


def by_group(
    words: NDArray[np.int32], doc_ptr: NDArray[np.int64], groups: NDArray[np.int32], n_groups: int, n_words: int
) -> NDArray[np.int64]:
    """Tokens of every word in every group of documents, int64[n_groups, n_words].

    Parameters
    ----------
    groups : int32[n_docs], the group of each document, -1 for none
    """
    group = np.repeat(groups, np.diff(doc_ptr))
    meant = (group >= 0) & (words >= 0)
    cells = group[meant].astype(np.int64) * n_words + words[meant]
    return np.bincount(cells, minlength=n_groups * n_words).reshape(n_groups, n_words)


@njit(cache=True, nogil=True)
def _by_chance(tokens: Any, sizes: Any, times: Any, n_all: float, most_exact: float) -> Any:
    """Sum over documents of the expected n ln n, for n of so many tokens dealt to all places."""
    found = np.zeros(len(tokens))
    for word in range(len(tokens)):
        n = tokens[word]
        for at in range(len(sizes)):
            q = sizes[at] / n_all
            mean = n * q
            if mean > most_exact:  # the first four moments about the mean
                var = mean * (1.0 - q)
                fourth = 3.0 * var * var + var * (1.0 - 6.0 * q * (1.0 - q))
                each = mean * np.log(mean) + var / (2.0 * mean)
                each += fourth / (12.0 * mean**3) - var * (1.0 - 2.0 * q) / (6.0 * mean**2)
            else:
                each, chance = 0.0, (1.0 - q) ** n
                for k in range(1, min(n, int(mean + 12.0 * np.sqrt(mean) + 20.0)) + 1):
                    chance *= (n - k + 1) / k * q / (1.0 - q)
                    each += chance * k * np.log(k)
            found[word] += times[at] * each
    return found


_MOST_EXACT = 60.0  # tokens expected in a document, beyond which moments are as good


def chance_entropy(tokens: NDArray[np.int64], sizes: NDArray[np.int64]) -> NDArray[np.float64]:
    """Expected entropy over documents of so many tokens dealt at random to all places, in nats.

    Each document gets a binomial number of them: with p = n / N, ``ln N - sum E[n ln n] / N``.

    Parameters
    ----------
    tokens : int64[n_words]; sizes : int64[n_docs], tokens of each document

    Examples
    --------
    >>> chance_entropy(np.array([2]), np.array([5, 5])).round(3).tolist()  # apart in half of all cases
    [0.347]
    """
    each, times = np.unique(sizes[sizes > 0], return_counts=True)
    if len(each) == 1 and times[0] == 1:
        return np.zeros(len(tokens))
    some = np.maximum(tokens, 1)
    logs = _by_chance(some, each, times, float(sizes.sum()), _MOST_EXACT)
    return np.asarray(np.maximum(np.log(some) - logs / some, 0.0))


# Deals at random, whose mean is taken.
_DRAWS = 200


def _entropy_of_rates(counts: NDArray[np.float64], sizes: NDArray[np.float64]) -> NDArray[np.float64]:
    """Entropy of rates per token over the last axis, in nats."""
    rates = counts / sizes
    whole = rates.sum(axis=-1, keepdims=True)
    share = rates / np.where(whole > 0, whole, 1.0)
    return np.asarray(-(share * np.log(np.where(share > 0, share, 1.0))).sum(axis=-1))


def evenness(counts: NDArray[np.float64], sizes: NDArray[np.float64]) -> NDArray[np.float64]:
    """How evenly words are spread over groups of unlike sizes, float64[n_words].

    The entropy of a word's rates over the groups against that of as many tokens dealt at random to all
    places, the mean of ``_DRAWS`` deals: about 1 where a word is as frequent in every group but for
    chance, 0 where it is in one alone.

    Parameters
    ----------
    counts : float64[n_groups, n_words], tokens or shares of them
    sizes : float64[n_groups], all tokens of each
    """
    used = sizes > 0
    if used.sum() < 2:
        return np.ones(counts.shape[1])
    counts, sizes = counts[used].T.astype(np.float64), sizes[used].astype(np.float64)
    found, whole = _entropy_of_rates(counts, sizes), counts.sum(axis=1).round().astype(np.int64)
    rng, chance = np.random.default_rng(1), np.empty(len(counts))
    for at, tokens in enumerate(whole):
        dealt = rng.multinomial(tokens, sizes / sizes.sum(), _DRAWS)
        chance[at] = _entropy_of_rates(dealt.astype(np.float64), sizes).mean()
    return np.divide(found, chance, out=np.ones_like(found), where=chance > 0)
