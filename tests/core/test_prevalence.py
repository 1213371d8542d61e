"""Prevalence, its intervals and periods; and the effects planted in the demo."""

from __future__ import annotations

from datetime import date

import numpy as np
import pytest
import scipy
from numpy.typing import NDArray
from scipy.optimize import linear_sum_assignment

from skeinwork.core.formats import dates
from skeinwork.core.prevalence.periods import period_index
from skeinwork.core.prevalence.prevalence import Prevalence, prevalence
from skeinwork.core.topics.methods import lda
from skeinwork.core.topics.methods.lda import LdaSettings
from skeinwork.core.topics.model import Samples
from skeinwork.demo.generator import THEMES, Entry
from skeinwork.work.steps.fit import token_weights
from tests.conftest import Prepared


def days(*texts: str) -> NDArray[np.int32]:
    return np.array([dates.to_days(date.fromisoformat(text)) for text in texts], dtype=np.int32)


def test_periods_run_from_first_to_last_with_the_empty_ones() -> None:
    when = np.append(days("2013-11-30", "2014-01-01", "2014-06-30"), dates.MISSING).astype(np.int32)
    exact = np.zeros(4, dtype=np.uint8)
    assert period_index(when, exact, "year")[1] == ["2013", "2014"]
    index, names = period_index(when, exact, "quarter")
    assert names == ["2013-Q4", "2014-Q1", "2014-Q2"]
    assert index.tolist() == [0, 1, 2, -1]
    assert period_index(when, exact, "month")[1][0] == "2013-11"
    assert len(period_index(when, exact, "month")[1]) == 8


def test_dates_before_1970_fall_in_their_own_period() -> None:
    assert period_index(days("1969-12-31", "1970-01-01"), np.zeros(2, np.uint8), "year")[1] == [
        "1969",
        "1970",
    ]


def test_a_date_known_less_exactly_than_the_period_is_missing() -> None:
    when, precision = days("2014-01-01", "2014-03-05"), np.array([2, 0], dtype=np.uint8)
    assert period_index(when, precision, "month")[0].tolist() == [-1, 0]
    assert period_index(when, precision, "year")[0].tolist() == [0, 0]


def test_no_dates_no_periods() -> None:
    index, names = period_index(
        np.array([dates.MISSING], dtype=np.int32), np.zeros(1, np.uint8), "month"
    )
    assert (index.tolist(), names) == ([-1], [])


def drawn(*shares: NDArray[np.float64]) -> Samples:
    """Saved samples with these shares."""
    parts = [Samples.of_shares(each) for each in shares]
    ends = np.cumsum([0, *(len(each.data) for each in parts)])
    indptr = [part.indptr[1:] + end for part, end in zip(parts, ends, strict=False)]
    return Samples(
        np.concatenate([each.data for each in parts]),
        np.concatenate([each.indices for each in parts]),
        np.concatenate([[0], *indptr]),
        np.concatenate([each.prior for each in parts]),
    )


def made(n: int, seed: int = 0) -> tuple[NDArray[np.float64], Samples, NDArray[np.float64]]:
    rng = np.random.default_rng(seed)
    shares = rng.dirichlet([0.5, 1.0, 2.0], n)
    return shares, drawn(shares), rng.integers(20, 120, n).astype(float)


def test_the_mean_is_the_weighted_mean_of_the_documents() -> None:
    shares, draws, weights = made(50)
    cells = np.arange(50) % 3 - 1
    found = prevalence(shares, draws, weights, cells, 2, replicates=50)
    for cell in (0, 1):
        mine = cells == cell
        assert np.allclose(
            found.mean[cell], np.average(shares[mine], axis=0, weights=weights[mine])
        )
        assert found.documents[cell] == mine.sum()
    assert (found.low <= found.mean).all() and (found.mean <= found.high).all()


def test_the_interval_has_the_width_that_theory_gives() -> None:
    """For equal weights the bootstrap's standard error is sd / sqrt(n), up to chance."""
    shares, draws, _ = made(400)
    found = prevalence(
        shares, draws, np.ones(400), np.zeros(400, dtype=np.int64), 1, replicates=4000
    )
    expected = 2 * 1.96 * shares.std(axis=0) / np.sqrt(400)
    assert np.allclose(found.high[0] - found.low[0], expected, rtol=0.06)


def test_intervals_cover_the_truth_about_as_often_as_they_say() -> None:
    truth = np.array([0.5, 1.0, 2.0]) / 3.5
    hits = []
    for seed in range(120):
        shares, draws, _ = made(60, seed)
        found = prevalence(
            shares, draws, np.ones(60), np.zeros(60, np.int64), 1, replicates=300, seed=seed
        )
        hits.append((found.low[0] <= truth) & (truth <= found.high[0]))
    assert 0.89 <= np.mean(hits) <= 0.985


def test_posterior_draws_widen_the_interval() -> None:
    shares, draws, weights = made(200)
    tilt = np.array([1.0, 0.0, -1.0]) * np.minimum(shares.min(axis=1), 0.05)[:, None]
    noisy = drawn(shares - 0.99 * tilt, shares, shares + 0.99 * tilt)
    cells = np.zeros(200, dtype=np.int64)
    narrow = prevalence(shares, draws, weights, cells, 1)
    wide = prevalence(shares, noisy, weights, cells, 1)
    wider = (wide.high - wide.low) / (narrow.high - narrow.low)
    assert (wider[0, [0, 2]] > 1.1).all() and wider[0, 1] == pytest.approx(1, abs=0.1)


def test_counts_with_a_prior_are_the_shares_that_they_stand_for() -> None:
    rng = np.random.default_rng(4)
    counts = [scipy.sparse.csr_matrix(rng.poisson(1.5, (30, 4))) for _ in range(3)]
    prior = rng.uniform(0.05, 0.6, (3, 4))
    samples = Samples.of_counts(counts, prior)
    order = np.array([2, 0, 3, 1])
    for at, each in enumerate(counts):
        dense = each.toarray() + prior[at]
        shares = np.where(each.sum(axis=1) > 0, dense / dense.sum(axis=1, keepdims=True), 0.0)
        assert np.allclose(samples.shares(at), shares)
        assert np.allclose(samples.ordered(order).shares(at), shares[:, order])
    shares = np.mean([samples.shares(at) for at in range(3)], axis=0)
    weights = rng.integers(5, 40, 30).astype(float)
    cells = np.zeros(30, dtype=np.int64)
    dense = drawn(*(samples.shares(at) for at in range(3)))
    sparse_found = prevalence(shares, samples, weights, cells, 1)
    dense_found = prevalence(shares, dense, weights, cells, 1)
    assert np.allclose(sparse_found.low, dense_found.low, atol=1e-6)
    assert np.allclose(sparse_found.high, dense_found.high, atol=1e-6)


def test_cells_without_documents_and_with_one_are_defined() -> None:
    shares, draws, weights = made(4)
    shares[3] = 0
    found = prevalence(shares, draws, weights, np.array([0, 2, 2, 1]), 3, replicates=20)
    assert np.isnan(found.mean[1]).all() and found.documents.tolist() == [1, 0, 2]
    assert np.allclose(found.low[0], shares[0]) and np.allclose(found.high[0], shares[0])


def test_a_cell_does_not_depend_on_the_others() -> None:
    shares, draws, weights = made(40)
    alone = prevalence(
        shares, draws, weights, np.where(np.arange(40) < 20, 0, -1), 2, replicates=50
    )
    both = prevalence(shares, draws, weights, np.where(np.arange(40) < 20, 0, 1), 2, replicates=50)
    assert np.array_equal(alone.low[0], both.low[0])


class Tracked:
    """A fit of the demo at its true count, its topics matched to the themes."""

    def __init__(self, demo: Prepared, entries: list[Entry]) -> None:
        self.model = lda.fit(demo.matrix.counts, LdaSettings(topics=12, seed=2, iterations=200))
        self.entries = entries
        self.weights = token_weights(demo.matrix)
        truth = np.array([[e.mixture.get(theme, 0.0) for theme in THEMES] for e in entries])
        known = truth.sum(axis=1) > 0
        table = np.corrcoef(self.model.doc_topic[known].T, truth[known].T)[:12, 12:]
        rows, columns = linear_sum_assignment(-table)
        self.topic = {THEMES[theme]: int(k) for k, theme in zip(rows, columns, strict=True)}

    def of(self, theme: str, *tests: object) -> tuple[Prevalence, int]:
        """Prevalence in the cells that predicates of a row define."""
        cells = np.full(len(self.entries), -1)
        for number, test in enumerate(tests):
            for at, entry in enumerate(self.entries):
                if test(entry.row):  # type: ignore[operator]
                    cells[at] = number
        found = prevalence(
            self.model.doc_topic, self.model.samples, self.weights, cells, len(tests)
        )
        return found, self.topic[theme]


@pytest.fixture(scope="module")
def tracked(demo: Prepared, entries: list[Entry]) -> Tracked:
    return Tracked(demo, entries)


def year(row: dict[str, str]) -> str:
    return row["date"][:4]


EFFECTS = {
    "storm winter": (
        "storm",
        lambda row: (
            "2013-12" <= row["date"][:7] <= "2014-03" and row["harbour"] in ("Kelpwick", "Tarnholt")
        ),
        lambda row: not "2013-12" <= row["date"][:7] <= "2014-03",
    ),
    "line closed": (
        "ferry",
        lambda row: row["harbour"] == "Quellan" and row["date"] < "2017-04",
        lambda row: row["harbour"] == "Quellan" and row["date"] >= "2017-04",
    ),
    "seabird rule": (
        "seabird",
        lambda row: row["writer"] == "warden" and year(row) in ("2019", "2020"),
        lambda row: row["writer"] == "warden" and year(row) < "2019",
    ),
    "engine trouble": (
        "engine",
        lambda row: row["harbour"] == "Ossingby",
        lambda row: row["harbour"] != "Ossingby",
    ),
    "steady growth": (
        "visitors",
        lambda row: year(row) in ("2018", "2019", "2020"),
        lambda row: year(row) in ("2011", "2012", "2013"),
    ),
}


@pytest.mark.parametrize("effect", EFFECTS)
def test_planted_effects_are_found(tracked: Tracked, effect: str) -> None:
    theme, more, less = EFFECTS[effect]
    found, topic = tracked.of(theme, more, less)
    assert found.low[0, topic] > found.high[1, topic]


def test_the_flat_theme_covers_no_change(tracked: Tracked) -> None:
    found, topic = tracked.of(
        "dues", lambda row: year(row) <= "2015", lambda row: year(row) > "2015"
    )
    assert (
        found.low[0, topic] <= found.high[1, topic] and found.low[1, topic] <= found.high[0, topic]
    )
    years = [str(number) for number in range(2011, 2021)]
    yearly, topic = tracked.of("dues", *[lambda row, y=y: year(row) == y for y in years])
    overall = (yearly.mean[:, topic] * yearly.documents).sum() / yearly.documents.sum()
    inside = (yearly.low[:, topic] <= overall) & (overall <= yearly.high[:, topic])
    assert inside.sum() >= 8
