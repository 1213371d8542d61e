"""Prevalence, its intervals and periods; and the effects planted in the demo."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import numpy as np
import pytest
import scipy
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from skeinwork.core.corpus.periods import PERIODS, Period, period_index
from skeinwork.core.false_discovery import false_discovery_rates
from skeinwork.core.formats import dates
from skeinwork.core.prevalence import chains
from skeinwork.core.prevalence.differences import before_and_after, differences, each_against_others, sides_of
from skeinwork.core.prevalence.prevalence import Prevalence, moments, prevalence
from skeinwork.core.prevalence.totals import UnitTotals, unit_totals
from skeinwork.core.prevalence.units import likeness
from skeinwork.core.topics.model import Samples


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
    assert period_index(days("1969-12-31", "1970-01-01"), np.zeros(2, np.uint8), "year")[1] == ["1969", "1970"]


def test_a_date_known_less_exactly_than_the_period_is_missing() -> None:
    when, precision = days("2014-01-01", "2014-03-05"), np.array([2, 0], dtype=np.uint8)
    assert period_index(when, precision, "month")[0].tolist() == [-1, 0]
    assert period_index(when, precision, "year")[0].tolist() == [0, 0]


def test_no_dates_no_periods() -> None:
    index, names = period_index(np.array([dates.MISSING], dtype=np.int32), np.zeros(1, np.uint8), "month")
    assert (index.tolist(), names) == ([-1], [])


PERIOD = st.sampled_from(sorted(PERIODS))
FAR = st.lists(st.dates(date(1, 1, 1), date(9999, 12, 31)), min_size=1, max_size=30)


@given(FAR, PERIOD)
def test_axes_of_time_are_bounded_by_the_documents(found: list[date], period: Period) -> None:
    when = days(*(each.isoformat() for each in found))
    index, names = period_index(when, np.zeros(len(when), np.uint8), period)
    assert len(names) <= max(600, 13 * len(found)) and names == sorted(names)
    assert all("…" not in names[at] for at in index)
    plain = {each: f"{each.year:04d}-{each.month:02d}" for each in found}
    if period == "month":
        assert [names[at] for at in index] == [plain[each] for each in found]
    order = np.argsort(when, kind="stable")
    assert (np.diff(index[order]) >= 0).all()


def test_a_gap_is_one_entry_that_says_from_when_to_when() -> None:
    when = days("0001-01-15", "2014-01-31", "2014-03-01", "9999-12-31")
    index, names = period_index(when, np.zeros(4, np.uint8), "month")
    middle = ["2014-01", "2014-02", "2014-03"]
    assert names == ["0001-01", "0001-02…2013-12", *middle, "2014-04…9999-11", "9999-12"]
    assert index.tolist() == [0, 2, 4, 6]


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


def of(
    draws: Samples,
    weights: NDArray[np.float64],
    cells: NDArray[np.int64],
    n: int,
    units: NDArray[np.int64] | None = None,
) -> Prevalence:
    return prevalence(unit_totals(draws, weights, cells, n, units))


def test_the_mean_is_the_weighted_mean_of_the_documents() -> None:
    shares, draws, weights = made(50)
    cells = np.arange(50) % 3 - 1
    found = of(draws, weights, cells, 2)
    for cell in (0, 1):
        mine = cells == cell
        average = np.average(shares[mine], axis=0, weights=weights[mine])
        assert np.allclose(found.mean[cell], average)
        assert found.documents[cell] == found.units[cell] == mine.sum()
    assert (found.low <= found.mean).all() and (found.mean <= found.high).all()


@settings(deadline=None)
@given(seed=st.integers(0, 10_000), sampled=st.booleans())
def test_units_and_their_scatter_agree_with_a_plain_count(seed: int, sampled: bool) -> None:
    rng = np.random.default_rng(seed)
    n, topics = int(rng.integers(3, 25)), 3
    counts = [scipy.sparse.csr_matrix(rng.poisson(0.9, (n, topics))) for _ in range(3)]
    tokens = np.asarray(counts[0].sum(axis=1)).ravel()
    samples = Samples.of_counts(counts, np.zeros((3, topics)))
    cells, units = rng.integers(-1, 2, n), rng.integers(-1, 4, n) if sampled else None
    weights = np.where(tokens > 0, rng.integers(1, 9, n), 0).astype(float)
    totals = unit_totals(samples, weights, cells, 2, units)
    found = moments(totals)
    dense = np.array([each.toarray() for each in counts])
    shares = dense / np.maximum(dense.sum(axis=2, keepdims=True), 1)
    usable = (weights > 0) & (shares.sum(axis=2) > 0).all(axis=0)
    for cell in (0, 1):
        docs = np.flatnonzero(usable & (cells == cell))
        names = [f"d{d}" if units is None or units[d] < 0 else f"u{units[d]}" for d in docs]
        parts: dict[str, list[NDArray[np.float64]]] = {}
        for name, doc in zip(names, docs, strict=True):
            parts.setdefault(name, []).append(np.append(weights[doc] * shares[:, doc].mean(axis=0), weights[doc]))
        rows = np.array([np.sum(each, axis=0) for each in parts.values()]).reshape(-1, topics + 1)
        assert found.units[cell] == len(rows)
        if not len(rows):
            continue
        part = rows[:, -1] / rows[:, -1].sum()
        share = rows[:, :topics].sum(axis=0) / rows[:, -1].sum()
        residual = rows[:, :topics] / rows[:, -1].sum() - share * part[:, None]
        lever = 1 / (1 - np.minimum(part, 0.9))[:, None]
        assert np.allclose(found.share[cell], share)
        assert np.allclose(found.variance[cell], (lever * residual**2).sum(axis=0), atol=1e-12)
        assert found.effective[cell] == pytest.approx(1 / (part**2).sum())
        each = (shares[:, docs] * weights[docs, None]).sum(axis=1) / weights[docs].sum()
        assert np.allclose(totals.spread[cell], each.var(axis=0, ddof=1) * 4 / 3)


def test_with_many_units_the_interval_has_the_width_that_theory_gives() -> None:
    shares, draws, _ = made(4000)
    found = of(draws, np.ones(4000), np.zeros(4000, dtype=np.int64), 1)
    expected = 2 * 1.96 * shares.std(axis=0) / np.sqrt(4000)
    assert np.allclose(found.high[0] - found.low[0], expected, rtol=0.02)


def test_posterior_draws_widen_the_interval() -> None:
    shares, draws, weights = made(200)
    tilt = np.array([1.0, 0.0, -1.0]) * np.minimum(shares.min(axis=1), 0.05)[:, None]
    noisy = drawn(shares - 0.99 * tilt, shares, shares + 0.99 * tilt)
    cells = np.zeros(200, dtype=np.int64)
    narrow, wide = of(draws, weights, cells, 1), of(noisy, weights, cells, 1)
    wider = (wide.high - wide.low) / (narrow.high - narrow.low)
    assert (wider[0, [0, 2]] > 1.1).all() and wider[0, 1] == pytest.approx(1, abs=0.1)


def test_fits_of_other_seeds_widen_the_interval_by_how_far_they_stand_apart() -> None:
    shares, draws, weights = made(200)
    cells = np.arange(200) % 3 - 1
    totals = unit_totals(draws, weights, cells, 2)
    own = prevalence(totals).mean
    same = chains.cell_shares(scipy.sparse.csr_matrix(shares * weights[:, None]), weights, cells, 2)
    assert np.allclose(same, own, rtol=1e-6)
    others = [own + np.array([0.02, 0.0, -0.02]), np.array([[0.0, np.nan, 0.0]]) + own]
    found = chains.with_other_chains(replace(totals, spread=np.full((2, 3), 1e-4)), others).spread
    # Variances over three, two and three chains: .0004 / 3, 0, .0004 / 3; all together 8 / 9 of that within.
    leaned = (2 * 4e-4 / 3 + 5 * 8 / 9 * 1e-4) / 7, 5 * 8 / 9 * 1e-4 / 6, (2 * 4e-4 / 3 + 5 * 8 / 9 * 1e-4) / 7
    assert np.allclose(found, 1e-4 + np.array(leaned) * [4 / 3, 3 / 2, 4 / 3], rtol=1e-3)
    nowhere = chains.with_other_chains(totals, [np.full((2, 3), np.nan)])
    assert (nowhere.spread == totals.spread).all()


def test_shares_are_of_tokens_without_the_prior() -> None:
    """A prior shared by all documents would pull groups of short ones together."""
    rng = np.random.default_rng(4)
    counts = [scipy.sparse.csr_matrix(1 + rng.poisson(0.5, (30, 4))) for _ in range(3)]
    tokens = np.asarray(counts[0].sum(axis=1)).ravel().astype(float)
    bare = Samples.of_counts(counts, np.zeros((3, 4)))
    raised = Samples.of_counts(counts, rng.uniform(0.05, 0.6, (3, 4)))
    cells = np.zeros(30, dtype=np.int64)
    assert np.array_equal(of(bare, tokens, cells, 1).mean, of(raised, tokens, cells, 1).mean)
    order = np.array([2, 0, 3, 1])
    assert np.allclose(raised.ordered(order).shares(1), raised.shares(1)[:, order])
    dense = counts[1].toarray() + raised.prior[1]
    assert np.allclose(raised.shares(1), dense / dense.sum(axis=1, keepdims=True))


def test_cells_without_documents_and_of_few_units_have_no_interval() -> None:
    _, draws, weights = made(20)
    cells = np.array([0] * 5 + [2] * 14 + [1])
    weights[19] = 0
    found = of(draws, weights, cells, 3)
    assert np.isnan(found.mean[1]).all() and found.documents.tolist() == [5, 0, 14]
    assert np.isfinite(found.mean[[0, 2]]).all()
    assert np.isnan(found.low[:2]).all() and np.isfinite(found.low[2]).all()
    few = of(draws, np.ones(20), np.zeros(20, np.int64), 1, np.arange(20) % 5)
    assert few.units.tolist() == [5] and np.isnan(few.high).all() and np.isfinite(few.mean).all()


def test_a_topic_that_is_in_no_document_of_a_cell_still_has_an_upper_end() -> None:
    rng = np.random.default_rng(3)
    shares = rng.dirichlet([0.05, 1.0, 1.0], 200)
    shares[:10] = [0.0, 0.4, 0.6]
    cells = np.where(np.arange(200) < 10, 0, 1)
    found = of(drawn(shares), np.ones(200), cells, 2)
    assert found.mean[0, 0] == found.low[0, 0] == 0 and 0.01 < found.high[0, 0] < 0.5


def test_more_documents_of_the_same_authors_make_no_surer() -> None:
    rng = np.random.default_rng(8)
    hits, widths = {40: [], 400: []}, {40: [], 400: []}  # type: ignore[var-annotated]
    truth = np.array([0.5, 1.0, 2.0]) / 3.5
    for _ in range(60):
        authors = rng.dirichlet([0.5, 1.0, 2.0], 12)
        for n in hits:
            units = np.arange(n) % 12
            found = of(drawn(authors[units]), np.ones(n), np.zeros(n, np.int64), 1, units)
            hits[n].append((found.low[0] <= truth) & (truth <= found.high[0]))
            widths[n].append(found.high[0] - found.low[0])
    assert all(np.mean(each) >= 0.9 for each in hits.values())
    assert np.mean(widths[400]) == pytest.approx(np.mean(widths[40]), rel=0.05)


def test_intervals_cover_the_truth_about_as_often_as_they_say() -> None:
    """A rare topic and common ones, few units and more, heavy-tailed lengths; more: make calibrate."""
    alpha = np.array([0.1, 0.4, 1.5])
    for n in (6, 20, 60):
        hits = []
        for seed in range(100):
            rng = np.random.default_rng([n, seed])
            length = np.ceil(np.exp(rng.normal(3, 1, 8 * n)))
            counts = [rng.multinomial(int(size), rng.dirichlet(alpha)) for size in length]
            samples = Samples.of_counts([scipy.sparse.csr_matrix(counts)], np.zeros((1, 3)))
            found = of(samples, length, np.arange(8 * n) % 8, 8)
            hits.append((found.low <= alpha / 2) & (alpha / 2 <= found.high))
        assert 0.93 <= np.mean(hits) <= (0.99 if n < 50 else 0.975)


def test_groups_that_do_not_differ_are_seldom_told_apart() -> None:
    told, covered = [], []
    for seed in range(100):
        rng = np.random.default_rng(seed)
        shares, groups = rng.dirichlet([0.1, 0.4, 0.5, 1.0], 60), rng.integers(0, 4, 60)
        weights = np.ceil(np.exp(rng.normal(3, 1, 60)))
        found = differences(unit_totals(drawn(shares), weights, groups, 4))
        known = np.isfinite(found.p)
        told.append((found.adjusted[known] < 0.05).any())
        covered.append(((found.low <= 0) & (found.high >= 0))[known].mean())
    assert np.mean(told) <= 0.1 and np.mean(covered) >= 0.93


def _scattered(seed: int, sizes: tuple[int, int], scatter: tuple[float, float]) -> UnitTotals:
    """Two groups with the same mean shares, whose documents scatter otherwise."""
    rng = np.random.default_rng(seed)
    groups = np.repeat([0, 1], sizes)
    alpha = np.geomspace(1.0, 0.05, 10)
    shares = np.concatenate([rng.dirichlet(alpha * by, n) for n, by in zip(sizes, scatter, strict=True)])
    counts = rng.multinomial(rng.poisson(40, len(groups)) + 1, shares)
    samples = Samples.of_counts([scipy.sparse.csr_matrix(counts)], np.zeros((1, 10)))
    return unit_totals(samples, counts.sum(axis=1).astype(float), groups, 2)


@pytest.mark.parametrize(
    ("sizes", "scatter", "runs"), [((12, 400), (0.3, 10), 60), ((60, 60), (1, 10), 60), ((30, 11_000), (1, 1), 12)]
)
def test_groups_that_scatter_otherwise_or_are_small_are_not_told_apart(
    sizes: tuple[int, int], scatter: tuple[float, float], runs: int
) -> None:
    """Also where groups are beyond ten thousand; more shapes: make calibrate."""
    told, single = [], []
    for seed in range(runs):
        totals = _scattered(seed, sizes, scatter)
        found = differences(totals)
        assert np.array_equal(found.p < 0.05, (found.low > 0) | (found.high < 0))
        told.append((found.adjusted < 0.05).any())
        single.append((found.p < 0.05).mean())
    assert np.mean(told) <= 0.09 and np.mean(single) <= 0.06


@pytest.mark.parametrize("cells", [1, 3])
def test_rare_topics_are_covered_in_one_cell_and_in_a_wide_one_beside_narrow_ones(cells: int) -> None:
    alpha = np.geomspace(0.16, 0.008, 20) / np.geomspace(0.16, 0.008, 20).sum()
    inside, above = [], []
    for seed in range(80):
        rng = np.random.default_rng([seed, cells])
        lengths = np.ceil(np.exp(rng.normal(3.2, 1.2, 50 + 100 * (cells - 1)))).astype(int)
        shares = np.concatenate([rng.dirichlet(0.5 * alpha, 50), rng.dirichlet(30 * alpha, 100 * (cells - 1))])
        counts = rng.multinomial(lengths, shares / shares.sum(axis=1, keepdims=True))
        samples = Samples.of_counts([scipy.sparse.csr_matrix(counts)], np.zeros((1, 20)))
        place = np.where(np.arange(len(lengths)) < 50, 0, 1 + np.arange(len(lengths)) % 2)
        found = of(samples, lengths.astype(float), place, cells)
        inside.append((found.low[0] <= alpha) & (alpha <= found.high[0]))
        above.append(alpha > found.high[0])
    assert np.mean(inside) >= 0.93 and np.mean(np.array(above)[:, 10:]) < 0.03


def test_a_difference_is_found_with_its_size() -> None:
    rng = np.random.default_rng(5)
    groups = np.repeat([0, 1], [150, 300])
    shares = np.where(groups[:, None] == 0, rng.dirichlet([2.0, 1, 1], 450), rng.dirichlet([1.0, 1, 2], 450))
    totals = unit_totals(drawn(shares), np.ones(450), groups, 2)
    found = differences(totals)
    assert found.difference[0, 0] == pytest.approx(0.25, abs=0.05)
    assert np.allclose(found.difference[0], -found.difference[1])
    assert np.allclose(found.low[0], -found.high[1]) and found.low[0, 0] > 0.15
    assert found.adjusted[0, 0] < 1e-5
    assert found.p[0, 1] == pytest.approx(
        scipy.stats.ttest_ind(shares[:150, 1], shares[150:, 1], equal_var=False).pvalue, abs=0.03
    )
    assert np.array_equal(found.p, differences(totals).p)


def test_units_in_both_groups_are_compared_within() -> None:
    """Twenty authors who differ much, each writing a little more of a topic at night."""
    rng = np.random.default_rng(2)
    base = rng.uniform(0.1, 0.8, 20)
    share = np.repeat(base, 2) + np.tile([0.0, 0.08], 20) + rng.normal(0, 0.01, 40)
    shares = np.stack([share, 1 - share], axis=1)
    groups, authors = np.tile([0, 1], 20), np.repeat(np.arange(20), 2)
    within = differences(unit_totals(drawn(shares), np.ones(40), groups, 2, authors))
    across = differences(unit_totals(drawn(shares), np.ones(40), groups, 2))
    assert within.difference[1, 0] == pytest.approx(across.difference[1, 0])
    assert within.high[1, 0] - within.low[1, 0] < 0.5 * (across.high[1, 0] - across.low[1, 0])
    assert within.adjusted[1, 0] < 0.01 < 0.1 < across.adjusted[1, 0]


@pytest.mark.parametrize("crossed", [False, True])
def test_all_others_together_are_one_cell_of_their_units(crossed: bool) -> None:
    rng = np.random.default_rng(9)
    samples = Samples.of_counts(
        [scipy.sparse.csr_matrix(rng.poisson(0.8, (60, 4)) + (np.arange(4) == 0))], np.zeros((1, 4))
    )
    groups, weights = rng.integers(0, 4, 60), rng.integers(1, 40, 60).astype(float)
    units = rng.integers(0, 20, 60) if crossed else None
    totals = unit_totals(samples, weights, groups, 4, units)
    some = np.array([[1, 0, -1, 1], [0, -1, 1, 0]], dtype=np.int8)
    for sides in (each_against_others(np.arange(4)), before_and_after(np.arange(4)), some):
        *found, together = sides_of(totals, sides)
        for at, contrast in enumerate(sides):
            cells = np.where(groups < 0, -1, np.array([-1, 0, 1])[contrast[groups]])
            pair = moments(unit_totals(samples, weights, cells, 2, units))
            for name in ("share", "variance", "freedom", "units", "effective", "weight"):
                for side in (0, 1):
                    assert np.allclose(getattr(found[side], name)[at], getattr(pair, name)[side]), name
        assert together.any() == crossed


def test_a_group_of_few_units_is_not_compared() -> None:
    _, draws, weights = made(40)
    groups = np.where(np.arange(40) < 5, 0, np.arange(40) % 2 + 1)
    found = differences(unit_totals(draws, weights, groups, 3))
    assert np.isnan(found.p[0]).all() and np.isfinite(found.p[1:]).all()


def test_documents_of_one_author_are_seen_to_be_alike() -> None:
    rng = np.random.default_rng(6)
    authors = np.repeat(np.arange(15), 12)
    person = rng.dirichlet([1.0, 1, 1], 15)
    alike = 0.5 * person[authors] + 0.5 * rng.dirichlet([1.0, 1, 1], 180)
    found = likeness(alike, authors)
    assert found is not None and found.correlation == pytest.approx(0.5, abs=0.15)
    assert found.each == pytest.approx(12) and found.p == pytest.approx(1 / 100)
    assert found.design_effect == pytest.approx(1 + 11 * found.correlation)
    unlike = likeness(rng.dirichlet([1.0, 1, 1], 180), authors)
    assert unlike is not None and abs(unlike.correlation) < 0.05 and unlike.p > 0.01
    assert likeness(alike, np.arange(180)) is None and likeness(alike, np.full(180, -1)) is None


@given(p=st.lists(st.floats(0, 1), min_size=1, max_size=40))
def test_rates_of_false_discoveries_are_those_of_the_reference(p: list[float]) -> None:
    assert np.allclose(false_discovery_rates(np.array(p)), scipy.stats.false_discovery_control(p))
    # What is not known changes nothing, wherever it stands.
    rows = np.array([p, [np.nan] * len(p)])
    assert np.allclose(false_discovery_rates(rows)[0], scipy.stats.false_discovery_control(p))
    assert np.isnan(false_discovery_rates(rows)[1]).all()
