"""How much of a true difference between groups comes out as one, for topics like those of a fit.

Tokens whose words could belong to several topics are given to the commoner ones, which draws groups
together. By how much is seen on documents written by the fit itself: two halves with known shares,
placed again among its topics.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.topics.fold_in import fold_in

VERSION = 1
Place = Callable[[scipy.sparse.csr_matrix], NDArray[np.float64]]
# Documents that are made up to find the factor.
_DOCUMENTS = 2000
# How far their groups differ: shares by half, up or down.
_TILT = 0.5


def recovery(
    topic_word: NDArray[np.float64],
    alpha: NDArray[np.float64],
    lengths: NDArray[np.int64],
    seed: int = 1,
    place: Place | None = None,
) -> float | None:
    """The factor at which differences of shares between two groups come out; 1 is unbiased.

    Slope of the differences found on the true ones, over topics.

    Parameters
    ----------
    topic_word : float64[n_topics, n_terms]; alpha : float64[n_topics], the document prior
    lengths : int64[n_docs], tokens of the documents; lengths are drawn from these
    place : from counts, int[n_docs, n_terms], to tokens of topics; by the samples of ``fold_in`` where it is left out

    Returns
    -------
    None without documents that have tokens
    """
    filled = lengths[lengths > 0]
    if not len(filled):
        return None
    rng = np.random.default_rng([seed, 5])
    drawn = rng.choice(filled, _DOCUMENTS)
    tilt = 1.0 + _TILT * np.where(rng.random(len(alpha)) < 0.5, -1.0, 1.0)
    first = np.arange(_DOCUMENTS) < _DOCUMENTS // 2
    prior = np.where(first[:, None], alpha * tilt, alpha * (2.0 - tilt))
    gammas = rng.standard_gamma(np.maximum(prior, 1e-3)) + 1e-300
    shares = gammas / gammas.sum(axis=1, keepdims=True)
    row = np.repeat(np.arange(_DOCUMENTS), drawn)
    topic = _pick(np.cumsum(shares, axis=1)[row], rng)
    words = np.zeros(len(row), dtype=np.int32)
    for k in np.unique(topic):
        mine = np.flatnonzero(topic == k)
        words[mine] = rng.choice(topic_word.shape[1], len(mine), p=topic_word[k] / topic_word[k].sum())
    doc_ptr = np.concatenate([[0], np.cumsum(drawn)]).astype(np.int64)
    if place:
        shape = (_DOCUMENTS, topic_word.shape[1])
        counts = scipy.sparse.csr_matrix((np.ones(len(words), np.int32), words, doc_ptr), shape=shape)
        counts.sum_duplicates()
        found = place(counts)
    else:
        placed = fold_in(words, doc_ptr, topic_word, alpha, seed=seed)
        found = np.mean([placed.counts(at).toarray() for at in range(len(placed))], axis=0)
    true = np.zeros_like(found)
    np.add.at(true, (row, topic), 1.0)
    apart = [
        each[first].sum(axis=0) / each[first].sum() - each[~first].sum(axis=0) / each[~first].sum()
        for each in (found, true)
    ]
    scale = float(apart[1] @ apart[1])
    return float(apart[0] @ apart[1]) / scale if scale > 0 else None


def _pick(running: NDArray[np.float64], rng: np.random.Generator) -> NDArray[np.int64]:
    """One topic for every row of running sums."""
    target = rng.random((len(running), 1)) * running[:, -1:]
    chosen: NDArray[np.int64] = np.minimum((running < target).sum(axis=1), running.shape[1] - 1)
    return chosen
