"""The constant-time sampler: its draws, its bytes on any number of threads, beside the dense one on planted corpora."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from scipy.sparse import csr_matrix

from skeinwork.core.errors import BadInputError
from skeinwork.core.topics.methods import lda
from skeinwork.core.topics.methods.lda import LDA, LdaSettings
from skeinwork.core.topics.samplers import SAMPLERS, quickest
from skeinwork.core.topics.samplers.constant_time import ConstantTime, alias_table
from skeinwork.core.topics.samplers.dense import Dense
from skeinwork.core.topics.seed_words import NONE
from skeinwork.core.topics.topic_counts import doc_topic_counts, word_topic_counts


class Chain:
    """Tokens with topics to begin with."""

    seeds = NONE

    def __init__(self, words: NDArray[np.int32], doc_ptr: NDArray[np.int64], z: NDArray[np.int32], topics: int) -> None:
        self.words, self.doc_ptr, self.z = words, doc_ptr, z.copy()
        self.n_terms = int(words.max(initial=0)) + 1
        self.alpha, self.beta = np.linspace(0.5, 1.5, topics) / topics, 0.05
        self.stream = np.array([11], dtype=np.uint64)
        self.word_topic, self.topic_total = word_topic_counts(words, z, self.n_terms, topics)


def planted(topics: int, terms: int, docs: int, length: int, seed: int) -> Chain:
    """A corpus written by topics, with the true topic of each token."""
    rng = np.random.default_rng(seed)
    words_of = rng.dirichlet(np.full(terms, 0.05), topics)
    shares = rng.dirichlet(np.full(topics, 1 / topics), docs)
    z = np.concatenate([rng.choice(topics, length, p=each) for each in shares]).astype(np.int32)
    words = np.array([rng.choice(terms, p=words_of[k]) for k in z], dtype=np.int32)
    chain = Chain(words, np.arange(0, docs * length + 1, length), z, topics)
    chain.alpha = np.full(topics, 1 / topics)
    return chain


@settings(max_examples=30, deadline=None)
@given(st.lists(st.floats(1e-4, 50), min_size=1, max_size=40))
def test_an_alias_table_draws_by_weight(weights: list[float]) -> None:
    stay, other = alias_table(np.array(weights))
    chance = stay / len(weights)
    np.add.at(chance, other, (1 - stay) / len(weights))
    assert np.allclose(chance, np.array(weights) / sum(weights), atol=1e-9)


@settings(max_examples=25, deadline=None)
@given(st.lists(st.integers(0, 9), min_size=1, max_size=12), st.integers(2, 7), st.integers(0, 99))
def test_bytes_are_the_same_for_any_number_of_threads(lengths: list[int], topics: int, seed: int) -> None:
    """Also with empty documents and fewer documents than threads; counts are those of the topics."""
    rng = np.random.default_rng(seed)
    doc_ptr = np.concatenate([[0], np.cumsum(lengths)]).astype(np.int64)
    words = rng.integers(0, 5, doc_ptr[-1]).astype(np.int32)
    z = rng.integers(0, topics, len(words)).astype(np.int32)
    chains = [Chain(words, doc_ptr, z, topics) for _ in range(3)]
    for chain, threads in zip(chains, (1, 2, 5), strict=True):
        sampler = ConstantTime(chain, threads=threads)
        sampler.sweep()
        moved = sampler.sweep()
        assert 0 <= moved <= len(words)
    for chain in chains:
        assert chain.z.tobytes() == chains[0].z.tobytes()
        assert chain.topic_total.tolist() == np.bincount(chain.z, minlength=topics).tolist()


def test_it_stays_where_the_dense_sampler_stays() -> None:
    """Short documents and rare words, where delayed counts and proposals would show: topics of documents and words."""
    kept = {}
    for kind in (Dense, ConstantTime):
        chain, held = planted(20, 3000, 1500, 20, 1), []
        sampler = kind(chain)
        for number in range(60):
            sampler.sweep()
            if number >= 30:
                of_words = word_topic_counts(chain.words, chain.z, chain.n_terms, 20)[0]
                of_docs = doc_topic_counts(chain.doc_ptr, chain.z, 20)
                held.append([of_docs.nnz / 1500, (of_words > 0).sum() / len(chain.words)])
        kept[kind] = np.mean(held, axis=0)
    assert np.allclose(kept[ConstantTime], kept[Dense], rtol=0.015)


def test_sparse_counts_are_those_of_a_table() -> None:
    rng = np.random.default_rng(4)
    doc_ptr, z = np.array([0, 5, 5, 30, 31]), rng.integers(0, 6, 31).astype(np.int32)
    table = np.zeros((4, 6), dtype=np.int32)
    for doc in range(4):
        np.add.at(table[doc], z[doc_ptr[doc] : doc_ptr[doc + 1]], 1)
    found = doc_topic_counts(doc_ptr, z, 6)
    assert np.array_equal(found.toarray(), table) and found.nnz == (table > 0).sum()
    assert found.has_canonical_format


def test_the_program_chooses_the_sampler_unless_one_is_asked_for() -> None:
    """And a fit says which it was; what the dense one makes keeps its identity."""
    assert quickest(20, 10**7) is quickest(400, 10_000) is Dense
    assert quickest(400, 10**6) is ConstantTime
    assert {name: LdaSettings(topics=20, sampler=name).drawn_by(9) for name in SAMPLERS} == SAMPLERS
    assert LDA.parts(LdaSettings(topics=20)) == {"lda": LDA.VERSION}
    assert LDA.parts(LdaSettings(topics=400)) == {"lda": LDA.VERSION, "constant-time": ConstantTime.VERSION}
    chain = planted(4, 60, 80, 30, 2)
    counts = csr_matrix((np.ones(len(chain.words), int), chain.words, chain.doc_ptr), shape=(80, 60))
    counts.sum_duplicates()
    wanted = LdaSettings(topics=4, sampler="constant-time", iterations=40)
    model, again = lda.fit(counts, wanted), lda.fit(counts, wanted)
    assert model.topic_word.tobytes() == again.topic_word.tobytes()
    assert LDA.remarks(model, wanted).startswith("constant-time Metropolis–Hastings (counts of words delayed); alpha")
    assert "chosen for 400 topics" in LDA.remarks(model, LdaSettings(topics=400))
    assert LDA.remarks(lda.fit(counts, LdaSettings(topics=4, iterations=20)), wanted).startswith("dense")
    with pytest.raises(ValueError, match="dense, constant-time"):
        LdaSettings(sampler="other")


@pytest.mark.parametrize("sampler", list(SAMPLERS))
@pytest.mark.parametrize("start", ["gathered", "random"])
def test_seed_words_mark_their_topic(sampler: str, start: str) -> None:
    """Two of four planted topics are asked for by their words, and come first; the rest are found beside them."""
    chain = planted(4, 60, 120, 30, 2)
    counts = csr_matrix((np.ones(len(chain.words), int), chain.words, chain.doc_ptr), shape=(120, 60))
    counts.sum_duplicates()
    true, _ = word_topic_counts(chain.words, chain.z, 60, 4)
    own = [np.argsort(-(true[:, k] - true.sum(axis=1) / 4))[:3].tolist() for k in (2, 0)]
    columns = {f"w{at}": at for at in range(60)}
    lines = tuple(", ".join(["no term", *(f"W{at}" for at in words)]) for words in own)
    wanted = LdaSettings(topics=4, sampler=sampler, start=start, seed_words=lines, iterations=60)
    model = lda.fit(counts, wanted, columns=columns)
    assert model.by_topic["seeded"].tolist() == [1, 2, 0, 0]
    for topic, words in enumerate(own):
        assert (
            model.topic_word[topic, words] > 2 * np.delete(model.topic_word, topic, axis=0)[:, words].max(axis=0)
        ).all()
    assert model.samples is not None and model.samples.topic_tokens.sum() == pytest.approx(len(chain.words))
    found = LDA.gain(counts, wanted, columns=columns)
    assert found is not None and found.low > 0


def test_seed_words_of_no_term_and_too_many_are_refused() -> None:
    counts = csr_matrix(np.ones((5, 3), int))
    with pytest.raises(BadInputError, match="None of the seed words “no such”"):
        LDA.check(counts, LdaSettings(topics=2, seed_words=("a", "no such")), {"a": 0})
    with pytest.raises(BadInputError, match="seed words of 3 topics"):
        LDA.check(counts, LdaSettings(topics=2, seed_words=("a", "a", "a")), {"a": 0})
