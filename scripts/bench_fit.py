"""Samplers of LDA on a planted corpus: the constant-time one beside the dense one, on one thread and on two."""

from __future__ import annotations

import time

import numpy as np
from bench_base import Line, interleaved
from numpy.typing import NDArray
from scipy.optimize import linear_sum_assignment
from scipy.sparse import csr_matrix

from skeinwork.core.topics.methods.lda_chain import Chain, LdaSettings
from skeinwork.core.topics.samplers.constant_time import ConstantTime

_TERMS, _LENGTH = 10_000, 100
_ROUNDS = 7
_SWEEPS = 12


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


def _written(topics: int, documents: int, whole: float) -> tuple[csr_matrix, NDArray[np.float64]]:
    """Documents of a hundred tokens by topics that use words unevenly, and these, float64[topics, _TERMS].

    ``whole`` is the sum of the prior of their shares.
    """
    rng = np.random.default_rng(topics)
    even = 1.0 / np.arange(1, _TERMS + 1) ** 0.9
    words_of = rng.standard_gamma(np.tile(500 * even / even.sum(), (topics, 1))) + 1e-300
    words_of /= words_of.sum(axis=1, keepdims=True)
    z = np.concatenate(
        [rng.choice(topics, _LENGTH, p=each) for each in rng.dirichlet(np.full(topics, whole / topics), documents)]
    )
    words = np.empty(len(z), np.int32)
    for topic in range(topics):
        own = np.flatnonzero(z == topic)
        words[own] = rng.choice(_TERMS, len(own), p=words_of[topic])
    counts = csr_matrix((np.ones(len(z), np.int32), words, np.arange(0, len(z) + 1, _LENGTH)), (documents, _TERMS))
    counts.sum_duplicates()
    return counts, words_of


def beginnings(documents: int) -> list[Line]:
    """What a start by expected counts takes and finds, beside the time of twelve dense sweeps."""
    return [_beginning(topics, documents) for topics in (50, 200)]


def _beginning(topics: int, documents: int) -> Line:
    counts, planted = _written(topics, documents, 1.0)
    settings = LdaSettings(topics=topics, sampler="dense")
    Chain(counts[:100], settings)
    begun = time.perf_counter()
    chain = Chain(counts, settings)
    started, found = time.perf_counter(), chain.topic_word()
    for _ in range(_SWEEPS):
        chain.step()
    ended = time.perf_counter()
    cosine = _unit(planted) @ _unit(found).T
    rows, columns = linear_sum_assignment(-cosine)
    name = f"start of {topics} topics, seconds of {_SWEEPS} dense sweeps beside"
    size = f"{documents * _LENGTH / 1e6:g} M tokens"
    like = float(cosine[rows, columns].mean())
    return Line(name, size, started - begun, ended - started, like, "mean cosine at least .94, in less than the sweeps")


def _unit(rows: NDArray[np.float64]) -> NDArray[np.float64]:
    return rows / np.linalg.norm(rows, axis=1, keepdims=True)
