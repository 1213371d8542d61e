"""Whether topics foretell words that they have not seen better than one topic for all does.

Document completion (H. Wallach, I. Murray, R. Salakhutdinov and D. Mimno, *Evaluation methods for
topic models*, ICML 2009): topics are fitted to four in five documents; half the tokens of each other
document place it among them, the other half are foretold. In documents whose words are dealt out at
random there is nothing to find, and topics foretell worse.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.topics.fold_in import fold_in
from skeinwork.core.topics.gain import Foretold, Gain
from skeinwork.core.topics.model import Samples, TopicModel

VERSION = 4
# Documents that are foretold at most.
MOST_DOCUMENTS = 5000
# One in five is foretold from the other four.
_FOLDS = 5

# Words of topics, float64[n_topics, n_terms]; the document prior and the tokens of each, float64[n_topics].
Trained = tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]
Train = Callable[[scipy.sparse.csr_matrix], Iterator[Trained]]


def tokens_of(counts: scipy.sparse.csr_matrix) -> tuple[NDArray[np.int32], NDArray[np.int64]]:
    """The term of every token, int32[n_tokens], and where documents begin, int64[n_docs + 1]."""
    words = np.repeat(counts.indices, counts.data).astype(np.int32)
    ends = np.concatenate([[0], np.cumsum(counts.data, dtype=np.int64)])
    return words, ends[counts.indptr].astype(np.int64)


def halves(
    counts: scipy.sparse.csr_matrix, rng: np.random.Generator
) -> tuple[NDArray[np.int32], NDArray[np.int32], NDArray[np.int64], NDArray[np.int64]]:
    """Tokens dealt to two halves by turns in random order, with where documents begin in each."""
    words, doc_ptr = tokens_of(counts)
    sizes = np.diff(doc_ptr)
    row = np.repeat(np.arange(len(sizes)), sizes)
    order = np.lexsort((rng.random(len(words)), row))
    second = (np.arange(len(words)) - doc_ptr[row]) % 2 == 1
    dealt = words[order]
    starts = [np.append(0, np.cumsum(each)) for each in ((sizes + 1) // 2, sizes // 2)]
    return dealt[~second], dealt[second], starts[0].astype(np.int64), starts[1].astype(np.int64)


def training_part(counts: scipy.sparse.csr_matrix, test: NDArray[np.bool_] | None) -> scipy.sparse.csr_matrix:
    """Counts, int[n_docs, n_terms], without the words of the documents held out, bool[n_docs]."""
    if test is None:
        return counts
    known = np.repeat(~test, np.diff(counts.indptr))
    indptr = np.concatenate([[0], np.cumsum(known)])[counts.indptr].astype(np.int64)
    return scipy.sparse.csr_matrix((counts.data[known], counts.indices[known], indptr), shape=counts.shape)


def with_held_out(
    model: TopicModel, counts: scipy.sparse.csr_matrix, test: NDArray[np.bool_], alpha: NDArray[np.float64], seed: int
) -> TopicModel:
    """A model of the training part with the documents held out placed among its topics.

    Parameters
    ----------
    counts : int[n_docs, n_terms]; test : bool[n_docs]
    alpha : float64[n_topics], the document prior
    """
    if not test.any():
        return model
    known, held = model.drawn, counts[test]
    placed = fold_in(*tokens_of(held), model.topic_word, alpha, saved=len(known), seed=seed)
    place = scipy.sparse.csr_matrix(
        (np.ones(held.shape[0], np.int32), (np.flatnonzero(test), np.arange(held.shape[0]))),
        shape=(len(test), held.shape[0]),
    )
    both = [known.counts(at) + place @ placed.counts(at) for at in range(len(known))]
    shares = np.array(model.doc_topic)
    shares[test] = np.mean([placed.shares(at) for at in range(len(placed))], axis=0)
    return replace(model, doc_topic=shares, samples=Samples.of_counts(both, known.prior))


def gain_over_one_topic(counts: scipy.sparse.csr_matrix, train: Train, seed: int = 1) -> Gain | None:
    """How much better topics in the shares of each document foretell its words than in those of all.

    So the one topic for all is smoothed as the topics are: words that are seldom or never seen would
    else be foretold better for that alone.

    Parameters
    ----------
    counts : int[n_docs, n_terms]; of more than ``MOST_DOCUMENTS`` documents some are drawn
    train : from counts to topics; then the same after more work, which is asked for where what there
        is foretells no better

    Returns
    -------
    None where fewer than ten documents have two tokens to split
    """
    rng = np.random.default_rng([seed, 77])
    long = _with_halves(counts)
    if len(long) < 2 * _FOLDS:
        return None
    drawn = rng.permutation(long)[:MOST_DOCUMENTS]
    away, rest = drawn[: len(drawn) // _FOLDS], drawn[len(drawn) // _FOLDS :]
    known, held = counts[np.sort(rest)], counts[np.sort(away)]
    dealt, found = halves(held, rng), None
    for trained in train(known):
        found = _foretold(*dealt, *trained, seed).gain
        if found.low > 0:
            break
    return found


def foretold(trained: Trained, counts: scipy.sparse.csr_matrix) -> Foretold | None:
    """What topics foretell of documents that they have not seen, int[n_docs, n_terms].

    The tokens of a document are dealt to its halves in the same way for any topics, so that these can be compared.
    None where no document has two tokens to split; of more than ``MOST_DOCUMENTS`` some are drawn.
    """
    rng = np.random.default_rng([1, 77])
    drawn = rng.permutation(_with_halves(counts))[:MOST_DOCUMENTS]
    if not len(drawn):
        return None
    return _foretold(*halves(counts[np.sort(drawn)], rng), *trained, seed=1)


def _with_halves(counts: scipy.sparse.csr_matrix) -> NDArray[np.int64]:
    """Documents with two tokens to split, int64[n]."""
    return np.flatnonzero(np.asarray(counts.sum(axis=1)).ravel() >= 2)


def _foretold(
    seen: NDArray[np.int32],
    told: NDArray[np.int32],
    seen_ptr: NDArray[np.int64],
    told_ptr: NDArray[np.int64],
    topic_word: NDArray[np.float64],
    alpha: NDArray[np.float64],
    tokens_of_topics: NDArray[np.float64],
    seed: int,
) -> Foretold:
    """What is foretold of halves of documents."""
    plain = np.log(tokens_of_topics @ topic_word / tokens_of_topics.sum())
    placed = fold_in(seen, seen_ptr, topic_word, alpha, seed=seed)
    share = np.mean([placed.shares(at) for at in range(len(placed))], axis=0)
    tokens = np.diff(told_ptr).astype(np.float64)
    row = np.repeat(np.arange(len(tokens)), np.diff(told_ptr))
    better = np.log(np.einsum("tk,kt->t", share[row], topic_word[:, told])) - plain[told]
    return Foretold(np.bincount(row, better, len(tokens)).astype(np.float64), tokens)
