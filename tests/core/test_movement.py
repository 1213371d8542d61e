"""What moves and differs: families of contrasts, change points, smoothing, standardising, and what could be shown."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from scipy.sparse import csr_matrix

from skeinwork.core.corpus.periods import PERIODS, between_breaks, bounds, lie_within, period_index, said_of
from skeinwork.core.errors import BadInputError
from skeinwork.core.false_discovery import any_of
from skeinwork.core.formats.dates import MISSING, to_days
from skeinwork.core.prevalence.change_points import change_points, dealt_out
from skeinwork.core.prevalence.detectable import LEAST_HELD, detectable, detectable_of_all
from skeinwork.core.prevalence.differences import _unit_by_unit, differences, each_against_others, sides_of
from skeinwork.core.prevalence.movement import MOST_BOUNDARIES, between_groups, movement, over_time
from skeinwork.core.prevalence.prevalence import moments, prevalence
from skeinwork.core.prevalence.smoothing import loess_weights, rolling_weights, smoothed
from skeinwork.core.prevalence.standardising import crossed, standardised
from skeinwork.core.prevalence.totals import UnitTotals, unit_totals
from skeinwork.core.topics.model import Samples

Array = NDArray[np.float64]


def totals_of(
    shares: Array, cells: NDArray[np.int64], units: NDArray[np.int64] | None = None, length: int = 60
) -> UnitTotals:
    rng, length = np.random.default_rng(5), 60
    counts = rng.multinomial(length, shares / shares.sum(axis=1, keepdims=True))
    samples = Samples.of_counts([csr_matrix(counts)], np.zeros((1, shares.shape[1])))
    return unit_totals(samples, np.full(len(shares), float(length)), cells, int(cells.max()) + 1, units)


def series(levels: list[float], each: int, topics: int = 4, seed: int = 0) -> UnitTotals:
    """Periods of as many documents, in which the first topic has these shares."""
    rng = np.random.default_rng(seed)
    period = np.repeat(np.arange(len(levels)), each)
    alpha = np.full((len(period), topics), 2.0 / topics)
    level = np.array(levels)[period]
    alpha[:, 0] = 2.0 * level
    alpha[:, 1:] = (2.0 * (1.0 - level) / (topics - 1))[:, None]
    return totals_of(rng.standard_gamma(alpha) + 1e-12, period)


@given(st.lists(st.one_of(st.floats(0, 1), st.just(float("nan"))), min_size=1, max_size=12))
def test_p_of_several_hypotheses_is_that_of_a_plain_loop(p: list[float]) -> None:
    known = sorted(each for each in p if not np.isnan(each))
    found = float(any_of(np.array(p)))
    if not known:
        assert np.isnan(found)
        return
    assert found == pytest.approx(min(1.0, *(each * len(known) / (at + 1) for at, each in enumerate(known))))
    assert known[0] <= found + 1e-12 <= min(1.0, known[0] * len(known)) + 1e-9


def test_the_family_over_time_is_every_boundary_and_every_period() -> None:
    family = over_time(np.array([0, 0, 1, 3, -1]), np.ones(5))
    assert family.place.tolist() == [1, 3, 0, 1, 3] and family.lasting.tolist() == [True, True, False, False, False]
    assert family.sides.tolist() == [
        [-1, -1, 1, 1, 0],
        [-1, -1, -1, 1, 0],
        [1, 1, -1, -1, 0],
        [-1, -1, 1, -1, 0],
        [-1, -1, -1, 1, 0],
    ]
    many = over_time(np.arange(1000), np.ones(1000))
    assert len(many.sides) == MOST_BOUNDARIES and np.diff(many.place).max() <= 1000 // MOST_BOUNDARIES + 1
    assert len(over_time(np.array([0, 0]), np.ones(2)).sides) == 0


def test_groups_over_several_cells_are_held_against_all_others() -> None:
    rng = np.random.default_rng(2)
    shares, cells = rng.dirichlet([1.0, 1, 2], 120), rng.integers(0, 6, 120)
    group = np.array([0, 0, 1, 1, 2, 2])
    split = movement(totals_of(shares, cells), between_groups(group)).found
    whole = differences(totals_of(shares, group[cells]))
    assert np.allclose(split.difference, whole.difference) and np.allclose(split.p, whole.p, atol=0.02)


def test_many_units_are_added_up_by_cell_as_they_are_one_by_one() -> None:
    rng = np.random.default_rng(8)
    cells = np.concatenate([rng.integers(0, 4, 2400), np.full(12, 4)])
    totals = totals_of(rng.dirichlet([0.3, 1, 2], len(cells)), cells)
    totals = replace(totals, weight=totals.weight * rng.uniform(0.5, 2, len(cells)))
    one, other, together = sides_of(totals, each_against_others(np.arange(5)))
    # Two in a thousand of the units make up much of the last cell, so that it is gone through unit by unit.
    shares, sums = np.stack([one.share, other.share]), np.stack([one.weight, other.weight])
    exact_ones, exact_others, _ = _unit_by_unit(totals, each_against_others(np.arange(5)), shares, sums)
    for found, exact in ((one, exact_ones), (other, exact_others)):
        for name in ("variance", "freedom", "effective", "units"):
            assert np.allclose(getattr(found, name), getattr(exact, name), rtol=2e-4), name
    assert not together.any()


def test_what_changed_is_named_and_what_did_not_is_left() -> None:
    for levels, lasting, place in (
        ([0.1] * 6 + [0.35] * 6, True, 6),
        ([0.1] * 5 + [0.5] + [0.1] * 6, False, 5),
        ([0.4] * 9 + [0.1] * 3, True, 9),
    ):
        totals = series(levels, 30)
        found = movement(totals, over_time(np.arange(12), totals.cell_weight))
        at = found.clearest[0]
        assert found.adjusted[0] < 0.01
        assert (bool(found.family.lasting[at]), int(found.family.place[at])) == (lasting, place)
    flat = series([0.2] * 12, 30)
    found = movement(flat, over_time(np.arange(12), flat.cell_weight))
    assert (found.adjusted > 0.05).all() and (found.clearest >= 0).all()


def test_too_few_units_say_nothing() -> None:
    assert np.isnan(differences(series([0.3], 300)).p).all()
    totals = series([0.1, 0.9], 4)
    found = movement(totals, over_time(np.arange(2), totals.cell_weight))
    assert np.isnan(found.p).all() and np.isnan(found.adjusted).all() and (found.clearest == -1).all()
    assert change_points(totals, np.arange(2)).points == []
    assert np.isnan(detectable(totals, found, 0, range(4))).all()


def test_change_points_are_found_where_they_were_planted() -> None:
    totals = series([0.1] * 6 + [0.4] * 6 + [0.1] * 6, 40)
    found = change_points(totals, np.arange(18))
    mine = [each for each in found.points if each.topic == 0]
    assert [each.period for each in mine] == [6, 12]
    assert mine[0].before < 0.2 < mine[0].after and mine[0].low > 0 > mine[1].high
    assert found.dealt >= 400 and found.false <= 0.05 * found.dealt
    assert change_points(series([0.2] * 12, 40), np.arange(12)).points == []
    again = change_points(totals, np.arange(18))
    assert again == found


@settings(deadline=None, max_examples=25)
@given(seed=st.integers(0, 1000), clustered=st.booleans())
def test_dealing_out_keeps_weights_and_cells_and_moves_whole_units(seed: int, clustered: bool) -> None:
    rng = np.random.default_rng(seed)
    cells = rng.integers(0, 4, 60)
    units = rng.integers(0, 12, 60) if clustered else None
    totals = totals_of(rng.dirichlet([0.4, 1, 2], 60), cells, units)
    dealt = dealt_out(totals, rng)
    assert np.array_equal(dealt.cell, totals.cell) and np.array_equal(dealt.unit, totals.unit)
    assert np.allclose(dealt.cell_weight, totals.cell_weight)
    assert np.allclose(np.add.reduceat(dealt.amount, dealt.indptr[:-1]), dealt.weight)
    if not clustered:
        assert sorted(dealt.amount.round(6)) == sorted(totals.amount.round(6))


def test_loess_is_that_of_a_plain_loop() -> None:
    rng = np.random.default_rng(1)
    place, weight, values = np.array([0, 1, 2, 4, 5, 7, 8, 9]), rng.uniform(1, 5, 8), rng.uniform(0, 1, 8)
    for span in (0.4, 0.75, 1.0):
        found = loess_weights(place, weight, span) @ values
        near = max(3, int(np.ceil(span * 8)))
        for at in range(8):
            away = np.abs(place - place[at])
            reach = np.sort(away)[near - 1] * (1 + 1e-9) + 1e-9
            local = weight * np.where(away < reach, (1 - (away / reach) ** 3) ** 3, 0.0)
            fitted = np.polyfit(place - place[at], values, 1, w=np.sqrt(local))
            assert found[at] == pytest.approx(fitted[1], abs=1e-6)
        assert np.allclose(loess_weights(place, weight, span) @ (3 + 0.5 * place), 3 + 0.5 * place)


def test_a_rolling_mean_is_weighed() -> None:
    place, weight = np.array([0, 1, 3, 4]), np.array([1.0, 3, 2, 2])
    found = rolling_weights(place, weight, 3)
    assert np.allclose(found @ np.array([0.0, 4, 8, 8]), [3.0, 3, 8, 8])
    assert np.allclose(found.sum(axis=1), 1)


def test_bands_of_smoothed_shares_count_units_with_all_their_periods() -> None:
    """Where a unit's rows vary together the smoothed shares vary by more than if these were apart."""
    rng = np.random.default_rng(3)
    units = np.tile(np.arange(40), 6)
    cells = np.repeat(np.arange(6), 40)
    person = rng.dirichlet([0.3, 0.3, 0.3], 40)[units]
    totals = totals_of(0.9 * person + 0.1 * rng.dirichlet([1.0, 1, 1], 240), cells, units)
    parts = rolling_weights(np.arange(6), totals.cell_weight, 5)
    together, apart = smoothed(totals, parts), smoothed(totals_of(person, cells), parts)
    assert np.allclose(together.mean, parts @ moments(totals).share)
    assert ((together.high - together.low) > 1.5 * (apart.high - apart.low)).mean() > 0.9
    alone = prevalence(totals_of(person, cells))
    same = smoothed(totals_of(person, cells), np.eye(6))
    assert np.allclose(same.mean, alone.mean) and np.allclose(same.low, alone.low, atol=0.02)


@settings(deadline=None)
@given(seed=st.integers(0, 10_000))
def test_standardised_cells_have_the_composition_of_all(seed: int) -> None:
    rng = np.random.default_rng(seed)
    cells, strata = rng.integers(-1, 3, 200), rng.integers(-1, 4, 200)
    weights = rng.uniform(0, 3, 200)
    found = standardised(weights, cells, 3, strata)
    usable = (cells >= 0) & (strata >= 0)
    assert (found.weights[~usable] == 0).all() and (found.weights >= 0).all()
    standard = np.bincount(strata[usable], weights[usable], 4) / weights[usable].sum()
    for cell in range(3):
        mine = usable & (cells == cell)
        table = np.bincount(strata[mine], found.weights[mine], 4)
        assert table.sum() == pytest.approx(weights[mine].sum())
        there = np.bincount(strata[mine], minlength=4) > 0
        assert found.covered[cell] == pytest.approx(standard[there].sum())
        assert np.allclose(table / table.sum(), np.where(there, standard, 0) / standard[there].sum())


def test_strata_are_crossed_values() -> None:
    assert crossed([np.array([0, 0, 1, -1]), np.array([2, 2, 2, 0])]).tolist() == [0, 0, 1, -1]


def test_a_fixed_composition_takes_a_difference_away_that_it_made() -> None:
    """One group has more of the writers who are fond of a topic."""
    rng = np.random.default_rng(4)
    writer = np.repeat([0, 1], 400)
    group = np.where(rng.random(800) < np.array([0.2, 0.8])[writer], 1, 0)
    shares = rng.standard_gamma(np.array([[2.0, 8], [8, 2]])[writer])
    counts = csr_matrix(rng.multinomial(50, shares / shares.sum(axis=1, keepdims=True)))
    samples = Samples.of_counts([counts], np.zeros((1, 2)))
    plain = differences(unit_totals(samples, np.full(800, 50.0), group, 2))
    kept = standardised(np.full(800, 50.0), group, 2, writer)
    fixed = differences(unit_totals(samples, kept.weights, group, 2))
    assert plain.low[1, 0] > 0.2 and fixed.low[1, 0] < 0 < fixed.high[1, 0]


def test_more_documents_could_show_less_and_nothing_is_promised_of_the_rare() -> None:
    sizes = []
    for each in (20, 80):
        totals = series([0.2] * 8, each)
        found = movement(totals, over_time(np.arange(8), totals.cell_weight))
        sizes.append(detectable(totals, found, 3, [0])[0])
    assert 0.02 < sizes[1] < 0.7 * sizes[0] < 0.5
    rng = np.random.default_rng(6)
    shares = np.concatenate([np.full((90, 1), 0.002), rng.dirichlet([1.0] * 11, 90)], axis=1)
    totals = totals_of(shares, np.repeat(np.arange(3), 30))
    found = movement(totals, over_time(np.arange(3), totals.cell_weight))
    every = detectable_of_all(totals, found, 1)
    units = np.minimum(found.found.one.spread.units[1], found.found.other.spread.units[1])
    rare = moments(totals).share.mean(axis=0) * units < LEAST_HELD
    assert rare[0] and np.isnan(every[rare]).all() and np.isfinite(every[~rare]).all()


@given(st.dates(date(3, 1, 1), date(9990, 12, 31)), st.sampled_from(PERIODS))
def test_a_day_lies_in_the_period_that_it_is_counted_in(day: date, period: str) -> None:
    when, exact = np.array([to_days(day)], dtype=np.int32), np.zeros(1, dtype=np.uint8)
    _, (name,) = period_index(when, exact, period)  # type: ignore[arg-type]
    first, last = bounds(name)
    assert first <= day <= last and lie_within(when, exact, name).all()
    assert bounds(f"{first}..{last}") == (first, last)


def test_stretches_begin_at_the_chosen_days() -> None:
    days = np.array(
        [to_days(date.fromisoformat(each)) for each in ("2013-12-31", "2014-01-01", "2016-01-01", "2014-01-01")]
    )
    days = np.append(days, MISSING).astype(np.int32)
    precision = np.array([0, 0, 0, 2, 0], dtype=np.uint8)
    index, names = between_breaks(days, precision, [date(2014, 6, 1), date(2014, 1, 1)])
    # The year 2014 alone lies in two of the stretches.
    assert index.tolist() == [0, 1, 2, -1, -1]
    assert names == ["0001-01-01..2013-12-31", "2014-01-01..2014-05-31", "2014-06-01..9999-12-31"]
    assert [said_of(each) for each in names] == ["to 31 Dec 2013", "1 Jan 2014 to 31 May 2014", "from 1 Jun 2014"]
    with pytest.raises(BadInputError, match="no period"):
        lie_within(days, precision, "never")
