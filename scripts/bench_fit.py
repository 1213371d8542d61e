"""Fits of planted corpora: samplers of LDA beside the dense one, starts, factorisations beside multiplied updates."""

from __future__ import annotations

import time

import numpy as np
from bench_base import Line, interleaved
from numpy.typing import NDArray
from scipy.optimize import linear_sum_assignment
from scipy.sparse import csr_matrix

from skeinwork.core.matrix.weighting import SCHEMES, weigh
from skeinwork.core.topics.factors import threads
from skeinwork.core.topics.losses import LeastSquares
from skeinwork.core.topics.measures import MEASURES, Measured, Texts
from skeinwork.core.topics.methods.lda_chain import Chain, LdaSettings
from skeinwork.core.topics.nndsvd import nndsvd
from skeinwork.core.topics.samplers.constant_time import ConstantTime

_TERMS, _LENGTH = 10_000, 100
_ROUNDS = 7
_SWEEPS = 12
_UPDATES = 100


def samplers(documents: int) -> list[Line]:
    """Seconds of a sweep over all tokens."""
    size = f"{documents * _LENGTH / 1e6:g} M tokens"
    many, against_many = _sweeps(400, documents)
    some, against_some = _sweeps(60, documents)
    few, again = interleaved(_constant_time(20, documents, 1).once, _constant_time(400, documents, 1).once, _ROUNDS)
    one, two = _constant_time(400, documents, 1), _constant_time(400, documents, 2)
    alone, both = interleaved(one.once, two.once, _ROUNDS)
    assert one.state.z.tobytes() == two.state.z.tobytes()
    return [
        Line("constant-time, 400 topics", size, many, against_many, against_many / many, "at least 10 (dense)"),
        Line("constant-time, 60 topics", size, some, against_some, against_some / some, "at least 3 (dense)"),
        Line("constant-time, 400 topics", size, again, few, again / few, "at most 1.5 x its 20 topics"),
        Line("constant-time, two threads", size, both, alone, alone / both, "at least 1.6, same bytes"),
    ]


def _sweeps(topics: int, documents: int) -> tuple[float, float]:
    return interleaved(
        _constant_time(topics, documents, 1).once, _planted(topics, documents).step, 3 if topics > 100 else _ROUNDS
    )


def _constant_time(topics: int, documents: int, threads: int) -> ConstantTime:
    made = ConstantTime(_planted(topics, documents), threads=threads)
    made.once()
    return made


def _planted(topics: int, documents: int) -> Chain:
    """A chain that begins by chance, over documents of a hundred tokens by topics that use words unevenly."""
    settings = LdaSettings(topics=topics, alpha=5 / topics, beta=0.05, start="random", sampler="dense")
    return Chain(_written(topics, documents, 5.0)[0], settings)


def _written(
    topics: int, documents: int, whole: float, terms: int = _TERMS, length: int = _LENGTH
) -> tuple[csr_matrix, NDArray[np.float64]]:
    """Documents of ``length`` tokens by topics that use words unevenly, and these, float64[topics, terms].

    ``whole`` is the sum of the prior of their shares.
    """
    rng = np.random.default_rng(topics)
    even = 1.0 / np.arange(1, terms + 1) ** 0.9
    words_of = rng.standard_gamma(np.tile(500 * even / even.sum(), (topics, 1))) + 1e-300
    words_of /= words_of.sum(axis=1, keepdims=True)
    z = np.concatenate(
        [rng.choice(topics, length, p=each) for each in rng.dirichlet(np.full(topics, whole / topics), documents)]
    )
    words = np.empty(len(z), np.int32)
    for topic in range(topics):
        own = np.flatnonzero(z == topic)
        words[own] = rng.choice(terms, len(own), p=words_of[topic])
    counts = csr_matrix((np.ones(len(z), np.int32), words, np.arange(0, len(z) + 1, length)), (documents, terms))
    counts.sum_duplicates()
    return counts, words_of


def beginnings(documents: int) -> list[Line]:
    """What a start by expected counts takes and finds, beside the time of twelve dense sweeps."""
    return [_beginning(topics, documents, start) for topics in (50, 200) for start in ("gathered", "factorised")]


def _beginning(topics: int, documents: int, start: str) -> Line:
    counts, planted = _written(topics, documents, 1.0)
    settings = LdaSettings(topics=topics, sampler="dense", start=start)
    Chain(counts[:100], settings)
    begun = time.perf_counter()
    chain = Chain(counts, settings)
    started, found = time.perf_counter(), chain.topic_word()
    for _ in range(_SWEEPS):
        chain.step()
    ended = time.perf_counter()
    cosine = _unit(planted) @ _unit(found).T
    rows, columns = linear_sum_assignment(-cosine)
    name = f"{start} start of {topics} topics, seconds of {_SWEEPS} dense sweeps beside"
    size = f"{documents * _LENGTH / 1e6:g} M tokens"
    like = float(cosine[rows, columns].mean())
    beside = {"gathered": "mean cosine at least .94, in less than the sweeps", "factorised": "cosine, beside gathered"}
    return Line(name, size, started - begun, ended - started, like, beside[start])


def _unit(rows: NDArray[np.float64]) -> NDArray[np.float64]:
    return rows / np.linalg.norm(rows, axis=1, keepdims=True)


def factorising(documents: int) -> list[Line]:
    """Seconds to what a hundred multiplied updates leave of the squares of weights, beside theirs, from one start."""
    topics, terms, length = 50, max(200, documents // 5), 30
    table = weigh(_written(topics, documents, 1.0, terms, length)[0], SCHEMES["tf-idf"])
    rows, columns = nndsvd(table, topics, np.random.default_rng(1))
    begun = time.perf_counter()
    wanted = _multiplied(table, rows.astype(np.float64), columns.astype(np.float64), _UPDATES)
    theirs = time.perf_counter() - begun
    with threads() as at_work:
        LeastSquares(table[:100], rows[:100].copy(), columns.copy(), at_work).step()
        begun = time.perf_counter()
        loss, steps = LeastSquares(table, rows, columns, at_work), 1
        while loss.step() > wanted and steps < _UPDATES:
            steps += 1
        ours = time.perf_counter() - begun
    size = f"{documents:,} x {terms:,}"
    said = f"at least 4 ({steps} iterations to the loss of {_UPDATES} multiplied)"
    return [Line(f"factorising, {topics} topics", size, ours, theirs, theirs / ours, said)]


def coherence(documents: int) -> list[Line]:
    """Seconds of C_V of 50 topics, twenty words each, beside one sweep of the dense sampler over the same tokens."""
    chain = _planted(50, documents)
    stream, doc_ptr = chain.words, chain.doc_ptr.astype(np.int64)
    lengths, words = np.ones(chain.n_terms, np.int8), chain.topic_word()

    def measured() -> None:
        MEASURES["c_v"].of_topics(Measured(words, lengths, Texts(stream, doc_ptr)), 20)

    measured()
    chain.step()
    ours, sweep = interleaved(measured, lambda: chain.step(), _ROUNDS)
    size = f"{documents * _LENGTH / 1e6:g} M tokens"
    return [Line("coherence C_V, 50 topics of 20 words", size, ours, sweep, ours / sweep, "at most 1 x a dense sweep")]


def _multiplied(table: csr_matrix, w: NDArray[np.float64], h: NDArray[np.float64], times: int) -> float:
    """The share of squares that is left after the updates of Lee and Seung (2001), of the last factors."""
    by_term = table.T.tocsr()
    for _ in range(times):
        h *= (by_term @ w) / np.maximum(h @ (w.T @ w), 1e-12)
        w *= (table @ h) / np.maximum(w @ (h.T @ h), 1e-12)
    whole = float((table.data**2).sum())
    left = whole - 2 * float(((table @ h) * w).sum()) + float(((w.T @ w) * (h.T @ h)).sum())
    return left / whole
