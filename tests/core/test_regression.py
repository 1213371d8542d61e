"""Regression of prevalence against plain least squares, a direct likelihood, leaving units out, and planted effects."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import numpy as np
import pytest
from numpy.typing import NDArray
from pydantic import ValidationError
from scipy.interpolate import CubicSpline
from scipy.optimize import minimize
from scipy.sparse import csr_matrix
from scipy.special import expit, logit

from skeinwork.core.corpus.corpus import Corpus, encode_column
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.dates import MISSING
from skeinwork.core.prevalence.breakdown import Breakdown, broken_down
from skeinwork.core.prevalence.chains import chain_of
from skeinwork.core.prevalence.design_matrix import (
    LEAST_UNITS,
    REST,
    TIME,
    Design,
    Regression,
    design_of,
    natural_spline,
)
from skeinwork.core.prevalence.leaving_out import left_out
from skeinwork.core.prevalence.prevalence import prevalence
from skeinwork.core.prevalence.regression import Regressed, regress
from skeinwork.core.prevalence.residuals import Residual, by_fifths, by_parts, parts_of, told_by_others
from skeinwork.core.topics.model import Samples

Array = NDArray[np.float64]


def corpus_of(days: NDArray[np.int64], **fields: list[str | None]) -> Corpus:
    n = len(days)
    columns = [encode_column(name, "group", cells) for name, cells in fields.items()]
    at = np.arange(n + 1)
    return Corpus(
        np.frombuffer(b"a" * n, dtype=np.uint8),
        at.astype(np.int64),
        columns,
        days.astype(np.int32),
        *(each.astype(kind) for each, kind in ((0 * at[1:], np.uint8), (at[1:], np.int32), (0 * at[1:], np.int32))),
        at[:-1].astype(np.int32),
        ["x"],
    )


def planted(
    n: int = 400, seed: int = 0, interaction: float = 0.0, authors: int = 0, watch: float = 0.2
) -> tuple[Corpus, Samples, Array]:
    """Entries of three harbours by day or night, whose first topic is larger by night, and grows at Tarnholt if so."""
    rng = np.random.default_rng(seed)
    harbour = rng.choice(3, n, p=(0.5, 0.3, 0.2))
    night = (rng.random(n) < np.array([0.2, 0.5, 0.7])[harbour]).astype(int)
    days = rng.integers(0, 4000, n)
    level = 0.2 + watch * night + interaction * (harbour == 0) * (days / 4000 - 0.5)
    alpha = np.column_stack([level, *[(1 - level) / 3] * 3]) * 2.0
    shares = rng.standard_gamma(alpha) + 1e-12
    lengths = rng.integers(20, 90, n)
    counts = rng.multinomial(lengths, shares / shares.sum(axis=1, keepdims=True))
    writer = rng.integers(0, authors, n) if authors else np.arange(n)
    corpus = corpus_of(
        days,
        harbour=[("Tarnholt", "Ossingby", "Quellan")[each] for each in harbour],
        watch=["night" if each else "day" for each in night],
        depth=[f"{each:.1f}" for each in rng.normal(8, 2, n)],
        writer=[f"w{each}" for each in writer],
    )
    more = rng.multinomial(lengths, counts / lengths[:, None])
    samples = Samples.of_counts([csr_matrix(counts), csr_matrix(more)], np.zeros((2, 4)))
    return corpus, samples, lengths.astype(np.float64)


def shares_of(samples: Samples, docs: NDArray[np.int64]) -> Array:
    each = [samples.counts(at).toarray()[docs] for at in range(len(samples))]
    return np.asarray(sum(one / one.sum(axis=1, keepdims=True) for one in each) / len(each))


EVERYTHING: dict[str, Any] = {
    "factors": ("harbour", "watch"),
    "numbers": ("depth",),
    "time": True,
    "pairs": (("harbour", TIME),),
}


def test_least_squares_and_predictions_are_those_of_plain_loops() -> None:
    corpus, samples, tokens = planted()
    design = design_of(corpus, Regression(**EVERYTHING), tokens)
    found = regress(samples, design)
    rows = np.arange(len(design.documents))
    columns, y = design.columns(rows, {}), shares_of(samples, design.documents)
    root = np.sqrt(design.weight)[:, None]
    direct = np.linalg.lstsq(columns * root, y * root, rcond=None)[0]
    assert found.coefficients == pytest.approx(direct, abs=1e-8)
    assert found.foretold(columns, 1) == pytest.approx(columns @ direct[:, 1], abs=1e-8)
    for at in (0, 3, 7, len(found.effects.given) - 1):
        there = design.columns(rows, found.effects.given[at]) @ direct
        assert found.share[at] == pytest.approx(np.clip(design.weight @ there, 0, 1), abs=1e-8)
    scatter = design.weight @ (y - design.weight @ y) ** 2
    assert found.explained == pytest.approx(1 - design.weight @ (y - columns @ direct) ** 2 / scatter)


def test_the_logit_is_the_maximum_of_its_likelihood() -> None:
    corpus, samples, tokens = planted(300)
    design = design_of(corpus, Regression(factors=("watch",), numbers=("depth",)), tokens)
    found = regress(samples, design, "logit")
    columns = design.columns(np.arange(len(design.documents)), {})
    y = shares_of(samples, design.documents)[:, 0]

    def loss(b: Array) -> float:
        mean = np.clip(expit(columns @ b), 1e-12, 1 - 1e-12)
        return -float(design.weight @ (y * np.log(mean) + (1 - y) * np.log(1 - mean)))

    best = minimize(loss, np.array([logit(y.mean()), 0.0, 0.0]), tol=1e-12).x
    # Beside it stands what one document says of every direction.
    assert found.foretold(columns, 0) == pytest.approx(expit(columns @ best), abs=2e-3)
    night = design.columns(np.arange(len(y)), {"watch": design.terms["watch"].labels.index("night")})
    at = design.terms["watch"].labels.index("night")
    assert found.share[at, 0] == pytest.approx(float(design.weight @ expit(night @ best)), abs=2e-3)


def test_leaving_units_out_is_fitting_without_each() -> None:
    corpus, samples, tokens = planted(240, authors=40)
    design = design_of(corpus, Regression(factors=("harbour",), time=True, unit="writer"), tokens)
    x = design.columns(np.arange(len(design.documents)), {})
    y, w = shares_of(samples, design.documents)[:, 0], design.weight
    starts = np.append(np.flatnonzero(np.diff(design.unit, prepend=-1)), len(y))
    bend = (x * w[:, None]).T @ x
    whole = np.linalg.solve(bend, x.T @ (w * y))
    rows = np.eye(x.shape[1])
    powers = left_out(x, starts, w * (y - x @ whole), w, bend, rows)
    apart = []
    for first, end in pairwise(starts):
        kept = np.r_[0:first, end : len(y)]
        root = np.sqrt(w[kept])
        apart.append(np.linalg.lstsq(x[kept] * root[:, None], y[kept] * root, rcond=None)[0] - whole)
    assert powers[0] == pytest.approx((np.array(apart) ** 2).sum(axis=0), rel=1e-6)
    assert powers[1] == pytest.approx((np.array(apart) ** 4).sum(axis=0), rel=1e-6)


def test_a_factor_alone_says_what_its_groups_say() -> None:
    corpus, samples, tokens = planted()
    found = regress(samples, design_of(corpus, Regression(factors=("harbour",)), tokens))
    groups = prevalence(broken_down(samples, corpus, Breakdown(group="harbour"), tokens).totals)
    assert found.share == pytest.approx(groups.mean, abs=1e-9)
    assert found.low == pytest.approx(groups.low, abs=0.01)
    assert found.high == pytest.approx(groups.high, abs=0.01)
    assert (found.low <= found.share).all()
    assert (found.share <= found.high).all()


def test_a_natural_spline_holds_every_natural_cubic_through_its_knots() -> None:
    knots, x = np.array([0.0, 0.2, 0.5, 1.0]), np.linspace(-0.3, 1.4, 60)
    columns = np.column_stack([np.ones(60), natural_spline(x, knots)])
    for values in np.eye(4):
        curve = CubicSpline(knots, values, bc_type="natural")
        inside = (x >= 0) & (x <= 1)
        b = np.linalg.lstsq(columns[inside], curve(x[inside]), rcond=None)[0]
        assert columns[inside] @ b == pytest.approx(curve(x[inside]), abs=1e-9)
        beyond = columns[x > 1] @ b
        assert np.diff(beyond, 2) == pytest.approx(0.0, abs=1e-9)


def effect_of(found: Regressed, *terms: str) -> int:
    return next(at for at, each in enumerate(found.effects.effects) if each.terms == terms)


@pytest.mark.parametrize("link", ["identity", "logit"])
def test_planted_effects_are_found_and_no_others(link: str) -> None:
    corpus, samples, tokens = planted(1500, interaction=0.36)
    found = regress(samples, design_of(corpus, Regression(**EVERYTHING), tokens), link)
    sure = found.adjusted[:, 0] < 0.05
    assert sure[effect_of(found, "watch")]
    assert sure[effect_of(found, "harbour", TIME)]
    assert not sure[effect_of(found, "depth")]
    night = found.effects.labels.index(("night",))
    assert found.difference_low[night, 0] < 0.2 < found.difference_high[night, 0]
    # Harbours differ in how many of their entries are of the night, not in what such entries hold.
    apart = regress(samples, design_of(corpus, Regression(factors=("harbour",)), tokens), link)
    assert apart.adjusted[0, 0] < 0.05
    assert not sure[effect_of(found, "harbour")]


def test_a_part_that_no_document_is_in_is_not_foretold() -> None:
    corpus, samples, tokens = planted(300)
    harbour = [corpus.columns[0].value(at) for at in range(300)]
    boat = ["tug" if each == "Quellan" else "gig" for each in harbour]
    nested = corpus_of(corpus.days.astype(np.int64), harbour=harbour, boat=list(boat))
    of = Regression(factors=("harbour", "boat"))
    design = design_of(nested, of, tokens)
    found = regress(samples, design)
    assert np.isnan(found.share).all()
    assert np.isnan(found.p).all()
    assert told_by_others(design, design.columns(np.arange(300), {}))["boat"] == pytest.approx(1.0)
    crossed = design_of(nested, Regression(factors=("harbour", "boat"), pairs=(("harbour", "boat"),)), tokens)
    pair = regress(samples, crossed).share[crossed_points(crossed)]
    there = crossed.share_at("harbour", "boat").ravel() > 0
    assert np.isfinite(pair[there]).all()
    assert np.isnan(pair[~there]).all()


def crossed_points(design: Design) -> slice:
    return slice(sum(len(each.labels) for each in design.terms.values()), None)


def test_other_chains_widen_what_is_foretold() -> None:
    corpus, samples, tokens = planted(200)
    design = design_of(corpus, Regression(factors=("harbour",)), tokens)
    other = csr_matrix(np.roll(samples.counts(0).toarray(), 40, axis=0))
    alone = regress(samples, design)
    both = regress(samples, design, chains=[chain_of(other, [[k] for k in range(4)])])
    assert (both.high - both.low > alone.high - alone.low - 1e-12).all()
    assert both.share == pytest.approx(alone.share)


def missed(design: Design, found: Regressed, samples: Samples) -> tuple[list[Residual], list[Residual], Array]:
    """By fifths, by parts of two terms, and each document's, of the first topic."""
    y = shares_of(samples, design.documents)[:, 0]
    foretold = found.foretold(design.columns(np.arange(len(y)), {}), 0)
    return by_fifths(design, y, foretold), by_parts(design, parts_of(design), y, foretold), y - foretold


def test_what_a_regression_misses_shows_in_its_residuals() -> None:
    corpus, samples, tokens = planted(1500, interaction=0.36)
    missing = design_of(corpus, Regression(factors=("harbour", "watch"), time=True), tokens)
    _, parts, residuals = missed(missing, regress(samples, missing), samples)
    assert parts[0].terms == ("harbour", TIME)
    assert parts[0].labels[0] == "Tarnholt"
    assert parts[0].p < 0.01
    rows = missing.terms["harbour"].place[missing.documents] == 0
    late = missing.terms[TIME].columns[missing.documents][:, 0]
    assert abs(float(np.corrcoef(late[rows], residuals[rows])[0, 1])) > 0.2
    whole = design_of(corpus, Regression(**EVERYTHING), tokens)
    fifths, parts, _ = missed(whole, regress(samples, whole), samples)
    assert all(each.p > 0.01 for each in parts)
    assert [each.foretold for each in fifths] == sorted(each.foretold for each in fifths)
    assert sum(each.documents for each in fifths) == len(whole.documents)
    assert all(each.low <= each.foretold <= each.high for each in fifths)


def test_documents_without_a_value_are_left_out_and_small_values_are_one() -> None:
    n = 200
    days = np.arange(n) * 10
    days[:7] = MISSING
    boat: list[str | None] = [None] * 3 + ["gig"] * 100 + ["tug"] * 90 + ["punt"] * 4 + ["skiff"] * 3
    corpus = corpus_of(days, boat=boat, one=["x"] * n, name=[f"n{each}" for each in range(n)])
    design = design_of(corpus, Regression(factors=("boat",), time=True), np.ones(n))
    assert design.left_out == 7
    assert design.terms["boat"].labels == ["gig", "tug", REST]
    assert design.terms["boat"].merged == 2
    assert design.weight.sum() == pytest.approx(1.0)
    assert design.share_at("boat")[2] == pytest.approx(7 / 193)
    for wrong, words in (
        ({"factors": ("one",)}, f"no two values with {LEAST_UNITS} units"),
        ({"factors": ("quay",)}, "no field “quay”"),
        ({"numbers": ("name",)}, "no two different numbers"),
        ({"numbers": ("quay",)}, "no field “quay”"),
    ):
        with pytest.raises(BadInputError, match=words):
            design_of(corpus, Regression(**wrong), np.ones(n))  # type: ignore[arg-type]
    with pytest.raises(BadInputError, match="too few for a curve"):
        design_of(corpus_of(np.full(n, MISSING), boat=boat), Regression(time=True), np.ones(n))


def test_a_value_of_one_document_alone_is_told_of_nothing() -> None:
    corpus, samples, tokens = planted(300)
    counts = [samples.counts(at).toarray() for at in range(2)]
    for each in counts:
        each[7] = [90, 0, 0, 0]
    harbour = [corpus.columns[0].value(at) for at in range(300)]
    boat: list[str | None] = ["alone" if at == 7 else "rest" for at in range(300)]
    odd = corpus_of(corpus.days.astype(np.int64), harbour=harbour, boat=boat, watch=list(boat[::-1]))
    single = Samples.of_counts([csr_matrix(each) for each in counts], np.zeros((2, 4)))
    for of in (Regression(factors=("boat",)), Regression(factors=("boat", "harbour"), pairs=(("boat", "harbour"),))):
        for link in ("identity", "logit"):
            found = regress(single, design_of(odd, of, tokens), link)
            lone = [at for at, each in enumerate(found.effects.given) if each.get("boat") == 1]
            assert np.isnan(found.low[lone]).all()
            assert np.isnan(found.p[found.effects.effects[0].contrasts]).all()
            assert np.isnan(found.adjusted[0]).all()
            if not of.pairs:
                assert found.share[lone[0], 0] == pytest.approx(1.0, abs=0.1)


def test_a_logit_is_no_surer_than_least_squares() -> None:
    corpus, samples, tokens = planted(300)
    design = design_of(corpus, Regression(factors=("harbour",), time=True), tokens)
    linear, curved = regress(samples, design), regress(samples, design, "logit")
    assert (curved.p >= linear.p).all() and (curved.adjusted >= linear.adjusted - 1e-12).all()
    assert (curved.p > linear.p).any() and (curved.difference_low != linear.difference_low).any()


@pytest.mark.parametrize(
    "wrong",
    [
        {},
        {"factors": ("a", "a")},
        {"factors": ("a",), "pairs": (("a", "b"),)},
        {"factors": ("a", "b"), "pairs": (("a", "a"),)},
        {"factors": ("a", "b"), "pairs": (("a", "b"), ("b", "a"))},
    ],
)
def test_regressions_that_say_nothing_are_refused(wrong: dict[str, Any]) -> None:
    with pytest.raises(ValidationError):
        Regression(**wrong)
