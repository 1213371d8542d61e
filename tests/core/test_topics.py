"""LDA: its sampler, priors, traces, starts, and what it foretells."""

from __future__ import annotations

import math

import numpy as np
import pytest
from numpy.typing import NDArray
from scipy.optimize import linear_sum_assignment
from scipy.sparse import csr_matrix

from skeinwork.core.errors import BadInputError, CancelledError
from skeinwork.core.matrix.weighting import SCHEMES
from skeinwork.core.matrix.weighting import weigh as weighted
from skeinwork.core.topics import gain, held_out, matching, priors, starts, trace
from skeinwork.core.topics.fold_in import fold_in
from skeinwork.core.topics.methods import lda
from skeinwork.core.topics.methods.lda import LDA, LdaSettings
from skeinwork.core.topics.model import TopicModel, empty_topics
from skeinwork.core.topics.recovery import recovery
from skeinwork.core.topics.samplers import dense
from skeinwork.core.topics.topic_counts import word_topic_counts
from skeinwork.core.topics.uniform import uniform
from skeinwork.demo.generator import THEMES, Entry
from tests.conftest import Prepared


def plain_sweep(
    tokens: list[int],
    docs: list[int],
    z: list[int],
    alpha: NDArray[np.float64],
    beta: float,
    n_terms: int,
    numbers: list[float],
) -> list[int]:
    """One collapsed Gibbs sweep written straight from the conditional distribution."""
    z, k = list(z), len(alpha)
    for at, (word, doc) in enumerate(zip(tokens, docs, strict=True)):
        rest = [i for i in range(len(tokens)) if i != at]
        weight = []
        for topic in range(k):
            in_doc = sum(docs[i] == doc and z[i] == topic for i in rest)
            of_word = sum(tokens[i] == word and z[i] == topic for i in rest)
            in_topic = sum(z[i] == topic for i in rest)
            weight.append((in_doc + alpha[topic]) * (of_word + beta) / (in_topic + n_terms * beta))
        target = numbers[at] * sum(weight)
        z[at] = next((t for t in range(k - 1) if sum(weight[: t + 1]) > target), k - 1)
    return z


def test_a_sweep_samples_the_conditional_distribution() -> None:
    rng = np.random.default_rng(5)
    n_docs, n_terms, k = 4, 6, 3
    docs = np.sort(rng.integers(0, n_docs, 40))
    tokens = rng.integers(0, n_terms, 40).astype(np.int32)
    z = rng.integers(0, k, 40).astype(np.int32)
    alpha, beta = np.array([0.1, 0.5, 0.2]), 0.05
    doc_ptr = np.searchsorted(docs, np.arange(n_docs + 1)).astype(np.int64)
    state = np.array([99], dtype=np.uint64)
    numbers = [uniform(state) for _ in tokens]
    expected = plain_sweep(tokens.tolist(), docs.tolist(), z.tolist(), alpha, beta, n_terms, numbers)
    word_topic, total = word_topic_counts(tokens, z, n_terms, k)
    before = z.copy()
    moved = dense.sweep(tokens, doc_ptr, z, word_topic, total, alpha, beta, np.array([99], dtype=np.uint64))
    assert z.tolist() == expected
    assert moved == (before != z).sum()
    again = word_topic_counts(tokens, z, n_terms, k)
    assert np.array_equal(word_topic, again[0])
    assert np.array_equal(total, again[1])


def test_random_numbers_are_uniform() -> None:
    state = np.array([1], dtype=np.uint64)
    drawn = np.array([uniform(state) for _ in range(20_000)])
    assert drawn.min() >= 0 and drawn.max() < 1
    counts = np.histogram(drawn, 20, (0, 1))[0]
    assert ((counts - 1000) ** 2 / 1000).sum() < 43.8  # chi-square, 19 degrees, p = 0.001


def recovered(model: TopicModel, entries: list[Entry]) -> NDArray[np.float64]:
    """Correlation of each theme's true shares with those of its matched topic."""
    truth = np.array([[entry.mixture.get(theme, 0.0) for theme in THEMES] for entry in entries])
    known = (truth.sum(axis=1) > 0) & (model.doc_topic.sum(axis=1) > 0)
    k = model.doc_topic.shape[1]
    table = np.corrcoef(model.doc_topic[known].T, truth[known].T)[:k, k:]
    rows, columns = linear_sum_assignment(-table)
    return table[rows, columns]


@pytest.mark.long
def test_the_themes_of_the_demo_are_recovered(demo: Prepared, entries: list[Entry]) -> None:
    found = [
        (
            recovered(lda.fit(demo.matrix.counts, LdaSettings(topics=12, seed=seed, iterations=200)), entries) >= 0.8
        ).sum()
        for seed in (1, 2, 3, 4, 5)
    ]
    assert np.mean(found) >= 10


def test_same_seed_same_bytes_other_seed_other_model(demo: Prepared) -> None:
    small = demo.matrix.counts[:200]
    one, same, other = (lda.fit(small, LdaSettings(topics=5, seed=seed, iterations=40)) for seed in (3, 3, 4))
    assert one.topic_word.tobytes() == same.topic_word.tobytes()
    assert one.samples and same.samples
    assert one.samples.data.tobytes() == same.samples.data.tobytes()
    assert one.doc_topic.tobytes() == same.doc_topic.tobytes()
    assert np.allclose(one.doc_topic, np.mean([one.samples.shares(s) for s in range(10)], axis=0))
    assert one.topic_word.tobytes() != other.topic_word.tobytes()


def test_shares_are_distributions_and_empty_documents_have_none(demo: Prepared, model: TopicModel) -> None:
    assert np.allclose(model.topic_word.sum(axis=1), 1)
    sums = model.doc_topic.sum(axis=1)
    empty = np.zeros(len(sums), dtype=bool)
    empty[demo.matrix.empty_documents] = True
    assert np.allclose(sums[~empty], 1, atol=1e-5)
    assert (sums[empty] == 0).all()
    assert (model.by_topic["alpha"] > 0).all()


def test_the_log_likelihood_is_the_formula(demo: Prepared) -> None:
    """The compiled counts give the same value as gamma functions summed in plain Python."""
    sampler = lda.Chain(demo.matrix.counts[:12], LdaSettings(topics=2, seed=1))
    n_terms, total = sampler.n_terms, 0.0
    for k in range(2):
        column = sampler.word_topic[:, k]
        total += math.lgamma(n_terms * sampler.beta) - n_terms * math.lgamma(sampler.beta)
        total += sum(math.lgamma(n + sampler.beta) for n in column)
        total -= math.lgamma(column.sum() + n_terms * sampler.beta)
    for row in sampler.doc_counts().toarray():
        total += math.lgamma(sampler.alpha.sum()) - sum(map(math.lgamma, sampler.alpha))
        total += sum(math.lgamma(n + a) for n, a in zip(row, sampler.alpha, strict=True))
        total -= math.lgamma(row.sum() + sampler.alpha.sum())
    assert sampler.log_likelihood() == pytest.approx(total / len(sampler.words))


def test_the_likelihood_rises_from_the_start_and_is_traced(demo: Prepared) -> None:
    counts = demo.matrix.counts[:300]
    start = lda.Chain(counts, LdaSettings(topics=6, seed=1))
    before = start.log_likelihood()
    made = lda.fit(counts, LdaSettings(topics=6, seed=1, iterations=60))
    assert before < made.trace[0, 1] < made.trace[-1, 1]
    assert made.trace[:, 0].tolist() == list(range(5, 61, 5))


def test_a_start_by_chance_is_taken_where_it_comes_further(demo: Prepared) -> None:
    """Twice as many topics as there are themes; what gathered documents begin with stays below."""
    few, many = (LdaSettings(topics=topics, iterations=60) for topics in (12, 30))
    counts = demo.matrix.counts
    taken = lda.fit(counts, many)
    assert "begun by chance" in lda.LDA.remarks(taken, many)
    assert "begun by chance" not in lda.LDA.remarks(lda.fit(counts, few), few)
    chain = lda.Chain(counts, many)
    for _ in range(60):
        chain.step()
    assert taken.trace[-1, 1] > chain.log_likelihood() + 0.02


def test_a_fit_can_be_stopped_all_along_its_beginning(demo: Prepared) -> None:
    """It tells of itself in every iteration of both starts, further each time."""
    told: list[float] = []

    def listen(phase: str, done: float, **details: object) -> None:
        if phase == "Trying starts":
            told.append(done)
        if len(told) == 110:
            raise CancelledError("Cancelled.")

    with pytest.raises(CancelledError):
        lda.fit(demo.matrix.counts[:60], LdaSettings(topics=4, iterations=20), report=listen)
    assert told == sorted(told) and told[-1] < 1


def test_alpha_is_found_again_from_drawn_counts() -> None:
    rng = np.random.default_rng(1)
    truth = np.array([0.8, 0.3, 0.1])
    counts = csr_matrix([rng.multinomial(200, p) for p in rng.dirichlet(truth, 4000)], dtype=np.int32)
    found = priors.optimise_alpha(counts, np.full(3, 0.5))
    assert np.allclose(found, truth, rtol=0.06)
    assert np.allclose(priors.optimise_alpha(counts[:, ::-1], np.full(3, 9.0)), found[::-1], rtol=1e-2)


def test_beta_is_found_again_from_drawn_counts() -> None:
    rng = np.random.default_rng(2)
    word_topic = np.array([rng.multinomial(3000, p) for p in rng.dirichlet(np.full(300, 0.2), 30)]).T
    found = priors.optimise_beta(word_topic.astype(np.int32), word_topic.sum(axis=0), 0.01)
    assert found == pytest.approx(0.2, rel=0.05)


def test_fixed_priors_stay(demo: Prepared) -> None:
    made = lda.fit(demo.matrix.counts[:100], LdaSettings(topics=3, iterations=40, alpha=0.3, beta=0.02))
    assert (made.by_topic["alpha"] == 0.3).all() and made.overall["beta"] == 0.02


def test_a_fit_stops_when_it_is_told_to(demo: Prepared) -> None:
    def stop(phase: str, done: float, **details: object) -> None:
        if phase == "Sampling":
            raise CancelledError("Cancelled.")

    with pytest.raises(CancelledError):
        lda.fit(demo.matrix.counts[:100], LdaSettings(topics=3, iterations=4000), stop)


@pytest.mark.parametrize(
    ("counts", "topics", "sentence"),
    [
        (weighted(csr_matrix(np.array([[1, 2], [2, 1]])), SCHEMES["tf-idf"]), 2, "counts, not weights"),
        (csr_matrix((3, 0), dtype=np.int32), 2, "vocabulary is empty"),
        (csr_matrix(np.array([[1, 2], [0, 0]])), 2, "Only one document"),
        (csr_matrix(np.array([[1, 2], [2, 0]])), 3, "more than the 2 documents"),
    ],
)
def test_what_makes_no_sense_is_refused(counts: csr_matrix, topics: int, sentence: str) -> None:
    with pytest.raises(BadInputError, match=sentence):
        lda.fit(counts, LdaSettings(topics=topics))


@pytest.mark.parametrize(
    ("values", "moved", "said"),
    [
        (np.linspace(-8, -6, 30), 0.3, "still moving"),
        (np.linspace(-6, -6.5, 30) + 0.01 * np.sin(np.arange(30) * 2.1), 0.3, "still moving"),
        (-6 + 0.01 * np.sin(np.arange(30) * 2.1), 0.3, "level"),
        (np.linspace(-6, -5.99, 12), 0.3, "too short to tell"),
        (-6 + 0.5 * np.sin(np.arange(30) / 4), 0.3, "too short to tell"),
        (np.full(30, -6.0), 0.0, "stuck"),
    ],
)
def test_what_the_trace_says(values: NDArray[np.float64], moved: float, said: str) -> None:
    points = np.stack([np.arange(len(values)), values, np.full(len(values), moved)], axis=1)
    assert LDA.verdict(points) == said


def test_a_prior_that_still_moves_is_said_though_the_likelihood_is_level() -> None:
    level, moved = -6 + 0.01 * np.sin(np.arange(40) * 2.1), np.full(40, 0.3)
    for grows, said in ((0.0, "level"), (0.001, "level"), (0.02, "still moving"), (-0.02, "still moving")):
        prior = 3.0 * np.exp(grows * np.arange(40)) + 0.001 * np.cos(np.arange(40) * 1.7)
        assert trace.verdict(level, moved, prior) == said


@pytest.mark.parametrize("alike", [0.0, 0.5, 0.8])
def test_a_still_trace_is_seldom_called_moving_though_its_points_are_alike(alike: float) -> None:
    rng = np.random.default_rng(int(10 * alike))
    moving, inside = [], []
    for _ in range(500):
        series = np.zeros(200)
        for at in range(1, 200):
            series[at] = alike * series[at - 1] + rng.normal(0, 0.01)
        found = trace.trend(series[120:])
        assert found is not None
        moving.append(trace.verdict(series[120:], np.full(80, 0.3)) == "still moving")
        inside.append(found.low <= 0 <= found.high)
    assert np.mean(moving) <= 0.05 and np.mean(inside) >= 0.9


def test_topics_foretell_what_is_there_and_nothing_of_words_dealt_out(demo: Prepared) -> None:
    counts = demo.matrix.counts[:800]
    words, doc_ptr = held_out.tokens_of(counts)
    row = np.repeat(np.arange(800), np.diff(doc_ptr))
    dealt = np.random.default_rng(1).permutation(words)
    noise = csr_matrix((np.ones(len(words), dtype=np.int32), (row, dealt)), shape=counts.shape)
    noise.sum_duplicates()
    settings = LdaSettings(topics=6, seed=1)
    found, none = LDA.gain(counts, settings), LDA.gain(noise, settings)
    assert found is not None and none is not None and found.documents == 159
    assert found.mean - 5 * found.error > 0.3 and none.mean + none.error < 0
    assert LDA.gain(counts[:8], settings) is None


def test_topics_in_short_mixed_documents_are_found_though_not_at_once() -> None:
    """Words are foretold again after more work where they were not; dealt-out ones are not even so."""
    rng = np.random.default_rng(3)
    lengths = rng.poisson(15, 1500) + 1
    topic_word, shares = (rng.dirichlet(np.full(1000, 0.07), 15), rng.dirichlet(np.full(15, 0.3), 1500))
    written = np.concatenate(
        [rng.choice(1000, n, p=each @ topic_word) for n, each in zip(lengths, shares, strict=True)]
    )
    row, gains = np.repeat(np.arange(1500), lengths), []
    for drawn in (written, rng.permutation(written)):
        counts = csr_matrix((np.ones(len(row), dtype=np.int32), (row, drawn)), shape=(1500, 1000))
        counts.sum_duplicates()
        gains.append(LDA.gain(counts, LdaSettings(topics=15, seed=1)))
    found, none = gains
    assert found is not None and found.mean > gain.SURE * found.error
    assert none is not None and none.mean < -gain.SURE * none.error


@pytest.mark.parametrize(("documents", "topics"), [(200, 8), (1500, 5)])
def test_rare_words_alone_are_no_gain(documents: int, topics: int) -> None:
    """Words dealt out, some common and most rare: topics must not win by how they smooth those."""
    rng, frequency = np.random.default_rng(documents), 1 / np.arange(1, 1001)
    noise = rng.multinomial(25, frequency / frequency.sum(), documents)
    found = LDA.gain(csr_matrix(noise.astype(np.int32)), LdaSettings(topics=topics, seed=1))
    assert found is not None and found.mean < found.error and found.low < 0


def test_seeds_of_noise_do_not_agree_by_what_is_their_own(demo: Prepared) -> None:
    """As they are, topics of frequent words agree by .9 whatever the documents."""
    rng = np.random.default_rng(3)
    chance = 1 / np.arange(1, 401)
    noise = csr_matrix(rng.multinomial(30, chance / chance.sum(), 600).astype(np.int32))
    fits = [lda.fit(noise, LdaSettings(topics=4, seed=seed, iterations=60)) for seed in (1, 2)]
    plain = [each.topic_word for each in fits]
    own = [matching.own_words(each.topic_word, each.samples.topic_tokens) for each in fits if each.samples]
    assert matching.stability(plain)[0] > 0.8 and matching.stability(own)[0] < 0.5
    assert all(abs(np.sum(each)) < 1e-9 for each in own)


def test_more_topics_than_the_documents_fill_stay_empty_and_are_told() -> None:
    rng = np.random.default_rng(2)
    topics = rng.dirichlet(np.full(300, 0.05), 3)
    counts = csr_matrix(np.array([rng.multinomial(40, topics[at % 3]) for at in range(400)], dtype=np.int32))
    made = lda.fit(counts, LdaSettings(topics=30, seed=1, iterations=200))
    assert made.samples is not None
    empty = empty_topics(made.samples.topic_tokens)
    assert 3 <= 30 - empty.sum() <= 20 and made.samples.topic_tokens.sum() == pytest.approx(16_000)
    assert not empty_topics(np.array([500.0, 5000, 100_000])).any()


def test_fold_in_finds_the_topics_of_documents_by_themselves() -> None:
    rng = np.random.default_rng(4)
    topics = rng.dirichlet(np.full(200, 0.1), 3)
    shares = rng.dirichlet([0.3] * 3, 60)
    words = np.array([rng.choice(200, 80, p=share @ topics) for share in shares]).astype(np.int32)
    ptr = np.arange(61, dtype=np.int64) * 80
    placed = fold_in(words.ravel(), ptr, topics, np.full(3, 0.3))
    found = np.mean([placed.shares(at) for at in range(5)], axis=0)
    assert np.abs(found - shares).mean() < 0.05 and len(placed) == 5
    alone = fold_in(words[0], ptr[:2], topics, np.full(3, 0.3))
    assert np.array_equal(alone.shares(2)[0], placed.shares(2)[0])


def test_differences_come_out_smaller_where_words_belong_to_several_topics() -> None:
    rng = np.random.default_rng(6)
    apart = np.kron(np.eye(4), np.full(50, 0.02))
    alike = 0.7 * np.full((4, 200), 1 / 200) + 0.3 * apart
    alpha, lengths = np.full(4, 0.2), rng.integers(5, 30, 500)
    clear, blurred = (recovery(each, alpha, lengths) for each in (apart, alike))
    assert clear == pytest.approx(1, abs=1e-9) and blurred is not None and 0.3 < blurred < 0.9
    assert recovery(apart, alpha, np.zeros(3, dtype=np.int64)) is None


def test_seeds_of_a_start_are_rows_that_hold_words(demo: Prepared) -> None:
    rows = starts.unit_rows(demo.matrix.counts)
    chosen = starts.spread_seeds(rows, 12, np.random.default_rng(1))
    assert len(set(chosen.tolist())) == 12
    assert (np.diff(rows.indptr)[chosen] > 0).all()
