"""Factorisations against plain computations, planted topics, other numbers of threads, and what is refused."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import numpy as np
import pytest
import scipy
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from skeinwork.core.errors import BadInputError, CancelledError
from skeinwork.core.topics import matching
from skeinwork.core.topics.factors import gram, improve, threads
from skeinwork.core.topics.losses import LOSSES, Divergence, LeastSquares
from skeinwork.core.topics.methods import lda
from skeinwork.core.topics.methods.lda import LdaSettings
from skeinwork.core.topics.methods.nmf import NMF, NmfSettings
from skeinwork.core.topics.nndsvd import by_chance, nndsvd


def table(docs: int, terms: int, seed: int = 1, share: float = 0.3) -> scipy.sparse.csr_matrix:
    """Counts of which a share of cells is not zero, int32[docs, terms]; no row is empty."""
    rng = np.random.default_rng(seed)
    dense = rng.poisson(2, (docs, terms)) * (rng.random((docs, terms)) < share)
    dense[np.arange(docs), rng.integers(0, terms, docs)] += 1
    return scipy.sparse.csr_matrix(dense.astype(np.int32))


def planted(
    topics: int, terms: int, docs: int, length: int, seed: int
) -> tuple[scipy.sparse.csr_matrix, NDArray[np.float64], NDArray[np.float64]]:
    """Counts of documents of a few topics each, with the words of the topics and the shares of the documents."""
    rng = np.random.default_rng(seed)
    words = 0.9 * rng.dirichlet(np.full(terms, 0.05), topics) + 0.1 / terms
    shares = rng.dirichlet(np.full(topics, 0.5 / topics * 2), docs)
    dense = np.zeros((docs, terms), np.int32)
    for doc, size in enumerate(np.maximum(rng.poisson(length, docs), 3)):
        dense[doc] = rng.multinomial(size, shares[doc] @ words)
    return scipy.sparse.csr_matrix(dense), words, shares


def squares_left(x: NDArray[Any], loss: LeastSquares) -> float:
    return float(((x - loss.rows.astype(float) @ loss.columns.T.astype(float)) ** 2).sum() / (x**2).sum())


def projected_gradients(x: NDArray[Any], w: NDArray[Any], h: NDArray[Any], rounds: int) -> float:
    """The share of the squares left after gradient steps on each factor in turn, none below 0."""
    for _ in range(rounds):
        w = np.maximum(w - (w @ h @ h.T - x @ h.T) / np.linalg.norm(h @ h.T, 2), 0)
        h = np.maximum(h - (w.T @ w @ h - w.T @ x) / np.linalg.norm(w.T @ w, 2), 0)
    return float(((x - w @ h) ** 2).sum() / (x**2).sum())


@pytest.mark.parametrize("seed", [1, 2, 3])
def test_least_squares_come_to_the_loss_of_projected_gradients(seed: int) -> None:
    counts = table(50, 30, seed)
    rows, columns = by_chance(counts, 4, np.random.default_rng(seed))
    expected = projected_gradients(counts.toarray().astype(float), rows.astype(float), columns.T.astype(float), 20_000)
    with threads(1) as at_work:
        loss = LeastSquares(counts, rows, columns, at_work)
        for _ in range(600):
            left = loss.step()
    assert left == pytest.approx(expected, rel=2e-3)
    assert left == pytest.approx(squares_left(counts.toarray(), loss), abs=1e-5)


def test_a_row_comes_to_the_least_squares_without_negative_parts() -> None:
    rng = np.random.default_rng(4)
    columns, x = rng.random((30, 5)).astype(np.float32), rng.random(30)
    expected, _ = scipy.optimize.nnls(columns.astype(float), x)
    rows = np.zeros((1, 5), np.float32)
    with threads(1) as at_work:
        for _ in range(200):
            improve(scipy.sparse.csr_matrix(x[None].astype(np.float32)), rows, columns, gram(columns, at_work), at_work)
    assert rows[0] == pytest.approx(expected, abs=1e-3)


def test_a_step_of_the_divergence_is_that_of_both_multiplications() -> None:
    counts = table(20, 12)
    n, rows, columns = counts.toarray().astype(float), *by_chance(counts, 3, np.random.default_rng(2))
    with threads(1) as at_work:
        loss = Divergence(counts, rows, columns, at_work)
        w, h = loss.rows.astype(float).copy(), loss.columns.T.astype(float).copy()
        of_one = np.outer(n.sum(axis=1), n.sum(axis=0)) / n.sum()
        divergence = [np.where(n > 0, n * np.log(np.maximum(n, 1) / m), 0).sum() for m in (w @ h, of_one)]
        assert loss.step() == pytest.approx(divergence[0] / divergence[1], rel=1e-4)
    part = (w[:, :, None] * h[None]) / (w @ h)[:, None, :] * n[:, None, :]
    assert loss.rows == pytest.approx(part.sum(axis=2), rel=1e-4, abs=1e-5)
    assert pytest.approx(part.sum(axis=0) / part.sum(axis=(0, 2))[:, None], rel=1e-4, abs=1e-6) == loss.columns.T


@given(st.integers(2, 25), st.integers(2, 20), st.integers(1, 5), st.integers(0, 10_000), st.sampled_from([*LOSSES]))
@settings(max_examples=40, deadline=None)
def test_what_is_told_never_shrinks(docs: int, terms: int, topics: int, seed: int, kind: str) -> None:
    counts = table(docs, terms, seed)
    with threads(1) as at_work:
        loss = LOSSES[kind](counts, *by_chance(counts, topics, np.random.default_rng(seed)), at_work)
        left = [loss.step() for _ in range(15)]
    assert all(after <= before + 1e-4 for before, after in pairwise(left))
    assert np.isfinite(loss.rows).all() and (loss.rows >= 0).all() and (loss.columns >= 0).all()


@pytest.mark.parametrize("kind", [*LOSSES])
def test_any_number_of_threads_gives_the_same_bytes(kind: str) -> None:
    counts = table(9000, 40, share=0.1)
    found = []
    for many in (1, 2, 5):
        with threads(many) as at_work:
            loss = LOSSES[kind](counts, *by_chance(counts, 6, np.random.default_rng(1)), at_work)
            found.append(([loss.step() for _ in range(3)], loss.rows.tobytes(), loss.columns.tobytes()))
    assert found[0] == found[1] == found[2]


def test_a_start_at_singular_vectors_finds_a_table_of_one_topic_and_fills_up_by_chance() -> None:
    one = scipy.sparse.csr_matrix(np.outer([1.0, 2, 0, 3], [2.0, 0, 5]))
    rows, columns = nndsvd(one, 1, np.random.default_rng(1))
    assert rows @ columns.T == pytest.approx(one.toarray(), abs=0.15)
    rows, columns = nndsvd(one, 6, np.random.default_rng(1))
    assert rows.shape == (4, 6) and columns.shape == (3, 6) and (rows > 0).all() and (columns > 0).all()
    again = nndsvd(table(40, 20), 5, np.random.default_rng(7))
    assert [each.tobytes() for each in again] == [
        each.tobytes() for each in nndsvd(table(40, 20), 5, np.random.default_rng(7))
    ]


@pytest.mark.parametrize(("length", "settings"), [(12, {}), (40, {}), (40, {"loss": "kl"}), (40, {"start": "random"})])
def test_planted_topics_are_found_about_as_well_as_by_lda(length: int, settings: dict[str, Any]) -> None:
    counts, words, shares = planted(10, 400, 1500, length, 3)
    reference = lda.fit(counts, LdaSettings(topics=10, iterations=120))
    found = NMF.fit(counts, NmfSettings.model_validate({"topics": 10, **settings}))
    pairs = matching.match(found.topic_word, words)
    cosine = np.mean([each for *_, each in pairs])
    assert cosine > np.mean([each for *_, each in matching.match(reference.topic_word, words)]) - 0.05
    assert np.mean([np.corrcoef(found.doc_topic[:, a], shares[:, b])[0, 1] for a, b, _ in pairs]) > 0.75
    assert found.doc_topic.sum(axis=1) == pytest.approx(1) and found.topic_word.sum(axis=1) == pytest.approx(1)
    assert NMF.verdict(found.trace) == "level"


@pytest.mark.parametrize("loss", ["frobenius", "kl"])
def test_documents_are_placed_where_the_fit_has_them(loss: str) -> None:
    counts, _, _ = planted(6, 200, 400, 40, 5)
    wanted = NmfSettings(topics=6, loss=loss, start="random")
    model = NMF.fit(counts, wanted)
    placed = NMF.place(model, counts[:60], wanted)
    assert placed.low is None and placed.high is None
    assert np.abs(placed.share - model.doc_topic[:60]).max() < 0.05
    alone = NMF.place(model, counts[[7]], wanted).share[0]
    assert alone == pytest.approx(placed.share[7], abs=1e-3)
    nothing = NMF.place(model, scipy.sparse.csr_matrix((1, 200), dtype=np.int32), wanted)
    assert not nothing.share.any()


class Kept:
    """States in memory."""

    def __init__(self) -> None:
        self.states: dict[int, Any] = {}

    def latest(self, most: int) -> Any:
        return self.states[max(self.states)] if self.states and max(self.states) <= most else None

    def keep(self, iteration: int, state: Any) -> None:
        self.states = {iteration: {name: np.array(each) for name, each in state.items()}}

    def wanted(self) -> bool:
        return False


@pytest.mark.parametrize("loss", ["frobenius", "kl"])
def test_a_fit_that_stopped_goes_on_to_the_same_bytes(loss: str) -> None:
    counts, states = table(300, 60), Kept()
    wanted = NmfSettings(topics=5, start="random", iterations=12, loss=loss)
    whole = NMF.fit(counts, wanted)
    NMF.fit(counts, wanted.model_copy(update={"iterations": 5}), states=states)
    assert len(states.states[5]["trace"]) == 5
    gone_on = NMF.fit(counts, wanted, states=states)
    assert gone_on.topic_word.tobytes() == whole.topic_word.tobytes()
    assert gone_on.doc_topic.tobytes() == whole.doc_topic.tobytes()
    states.states = {5: {**states.states[12], "rows": np.full((300, 4), 1, np.float32)}}
    assert NMF.fit(counts, wanted, states=states).trace == pytest.approx(whole.trace)


def test_a_cancelled_fit_leaves_its_state() -> None:
    states = Kept()

    def report(phase: str, done: float, **details: Any) -> None:
        if details.get("iteration", 0) >= 1:
            raise CancelledError

    with pytest.raises(CancelledError):
        NMF.fit(table(300, 60), NmfSettings(topics=5, start="random"), report, states=states)
    assert len(states.states) == 1


@pytest.mark.parametrize(
    ("counts", "settings", "words"),
    [
        (table(30, 20), {"loss": "kl", "weights": "tf-idf"}, "reads counts, not tf-idf"),
        (table(30, 4), {"topics": 5}, "more than the 4 terms"),
        (table(3, 20), {"topics": 5}, "more than the 3 documents"),
        (scipy.sparse.csr_matrix((5, 0), dtype=np.int32), {}, "vocabulary is empty"),
        (scipy.sparse.csr_matrix(np.full((9, 5), 2, np.int32)), {}, "every weight is 0"),
    ],
)
def test_what_would_mean_nothing_is_refused(counts: Any, settings: dict[str, Any], words: str) -> None:
    with pytest.raises(BadInputError, match=words):
        NMF.fit(counts, NmfSettings.model_validate({"topics": 3, **settings}))


def test_advice_is_measured_on_the_corpus() -> None:
    counts, _, _ = planted(6, 200, 600, 30, 8)
    found = NMF.advice(counts, NmfSettings(topics=6))
    assert {"topics", "loss", "weights", "start"} == set(found)
    assert found["loss"].value in ("frobenius", "kl") and "two halves of 300 documents" in found["loss"].why
    assert set(NMF.advice(counts[:30], NmfSettings(topics=6))) == {"topics"}


@pytest.mark.parametrize("start", ["factorised", "gathered", "random"])
def test_agreement_over_seeds_is_no_gift_of_a_start_of_lda(start: str) -> None:
    counts, _, _ = planted(8, 300, 800, 40, 6)
    rng, tokens = np.random.default_rng(1), np.repeat(counts.indices, counts.data)
    rng.shuffle(tokens)
    lengths = np.asarray(counts.sum(axis=1)).ravel()
    noise = scipy.sparse.coo_matrix(
        (np.ones(len(tokens), np.int32), (np.repeat(np.arange(len(lengths)), lengths), tokens)), shape=counts.shape
    ).tocsr()
    agreement = {}
    for name, of in (("planted", counts), ("noise", noise)):
        fits = [lda.fit(of, LdaSettings(topics=8, seed=seed, start=start, iterations=60)) for seed in (1, 2)]
        own = [matching.own_words(each.topic_word, each.doc_topic.mean(axis=0)) for each in fits]
        agreement[name] = float(matching.stability(own).mean())
    assert agreement["noise"] < 0.4 < 0.75 < agreement["planted"]


@pytest.mark.parametrize("length", [15, 60])
def test_how_much_of_a_difference_comes_out_is_about_right(length: int) -> None:
    counts, words, shares = planted(8, 400, 1600, length, 9)
    tilted = np.argsort(-shares[:, 0] - shares[:, 1], kind="stable")
    first = np.isin(np.arange(1600), tilted[:800])
    found = NMF.fit(counts, NmfSettings(topics=8))
    lengths = np.asarray(counts.sum(axis=1)).ravel()
    pairs = matching.match(found.topic_word, words)
    apart = [
        [each[first, k].mean() - each[~first, k].mean() for k in order]
        for each, order in ((found.doc_topic, [a for a, _, _ in pairs]), (shares, [b for _, b, _ in pairs]))
    ]
    slope = np.polyfit(apart[1], apart[0], 1)[0]
    assert NMF.recovery(found, lengths, NmfSettings(topics=8)) == pytest.approx(slope, abs=0.12)
    assert NMF.recovery(found, lengths, NmfSettings(topics=8, loss="kl")) is None
