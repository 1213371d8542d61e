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
    words: NDArray[np.int32], doc_ptr: NDArray[np.int64], groups: NDArray[np.int32], n_groups: int,
    n_words: int,
) -> NDArray[np.int64]:  # fmt: skip
    """Tokens of every word in every group of documents, int64[n_groups, n_words].

    Parameters
    ----------
    groups : int32[n_docs], the group of each document, -1 for none
    """
    group = np.repeat(groups, np.diff(doc_ptr))
    meant = (group >= 0) & (words >= 0)
    cells = group[meant].astype(np.int64) * n_words + words[meant]
    return np.bincount(cells, minlength=n_groups * n_words).reshape(n_groups, n_words)


def evenness(counts: NDArray[np.float64], sizes: NDArray[np.float64]) -> NDArray[np.float64]:
    """How evenly words are spread over groups of unlike sizes, 0 to 1, float64[n_words].

    The entropy of a word's rates over the groups against that of equal rates: 1 where it is as
    frequent in every group.

    Parameters
    ----------
    counts : [n_groups, n_words], tokens or shares of them; sizes : [n_groups], all tokens of each
    """
    used = sizes > 0
    if used.sum() < 2:
        return np.ones(counts.shape[1])
    rates = counts[used] / sizes[used, None]
    whole = rates.sum(axis=0)
    share = rates / np.where(whole > 0, whole, 1.0)
    logs = np.log(np.where(share > 0, share, 1.0))
    found: NDArray[np.float64] = -(share * logs).sum(axis=0) / np.log(used.sum())
    return found
