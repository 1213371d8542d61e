"""Prevalence regressed on factors, numbers and time: what remains of a difference when other things are held fixed.

Either least squares on the shares, or a fractional logit by quasi-likelihood (L. Papke and J. Wooldridge, *Econometric
methods for fractional response variables*, 1996). Variances leave out each unit in turn, with all its documents (the
jackknife over clusters; one step of it for the logit: J. MacKinnon, M. Nielsen and M. Webb, *Fast and reliable
jackknife and bootstrap methods for cluster-robust inference*, 2023), and add what the saved samples and other chains
say (the method of composition: M. Roberts and others, *Structural topic models for open-ended survey responses*, 2014).
Predictions are shares, so that their intervals and differences are made as those of cells are
(``prevalence.spread_of``, ``differences.Compared``).

How often the intervals cover what was planted is simulated by ``make calibrate``.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray
from scipy import special

from skeinwork.core.false_discovery import any_of, false_discovery_rates
from skeinwork.core.prevalence.chains import Chain, spread_with_chains
from skeinwork.core.prevalence.design_matrix import Design
from skeinwork.core.prevalence.differences import LEAST_P
from skeinwork.core.prevalence.effects import Effects, effects_of
from skeinwork.core.prevalence.leaving_out import left_out
from skeinwork.core.prevalence.prevalence import (
    LEAST_UNITS,
    LEVEL,
    OF_CELL,
    OF_TOPIC,
    Moments,
    Pooled,
    equal_units,
    freedom,
    pooled_over,
    spread_of,
)
from skeinwork.core.progress import Report, part_of, silent
from skeinwork.core.topics.model import Samples

Array = NDArray[np.float64]
VERSION = 3
# Documents that predictions are averaged over, drawn where there are more; a curve needs each of them at each point.
_AVERAGED = {"identity": 20_000, "logit": 2_000}
# Parts of the largest direction under which columns say what others have said.
_LEAST_DIRECTION = 1e-8
# Of a topic's mean share, under which no prediction of least squares is taken to lie when its width is made.
_LEAST_PART = 0.5
# The share of the time that a regression takes itself; a logit is held against least squares after it.
_OWN_TIME = {"identity": 1.0, "logit": 0.6}
_STEPS = 60
_MOST_STEP = 5.0


@dataclass(frozen=True)
class Regressed:
    """A regression of every topic.

    Attributes
    ----------
    effects : what is predicted and compared
    share, low, high : float64[n_points, n_topics], predictions; NaN where the documents can't tell, the last two also
        where under ``LEAST_UNITS`` equal units would bear its variance
    difference, difference_low, difference_high, p : float64[n_contrasts, n_topics], NaN likewise; p of a logit is that
        of least squares where that is larger
    effect_p, adjusted : float64[n_effects, n_topics], whether an effect is there at all, the latter over topics
    coefficients : float64[n_columns, n_topics], of the shares or their logits
    explained : float64[n_topics], of how shares of documents scatter
    outside : predictions of points beneath 0 or above 1, of least squares
    units : that were sampled
    """

    effects: Effects
    share: Array
    low: Array
    high: Array
    difference: Array
    difference_low: Array
    difference_high: Array
    p: Array
    effect_p: Array
    adjusted: Array
    coefficients: Array
    explained: Array
    outside: int
    units: int
    link: str

    def foretold(self, columns: Array, topic: int) -> Array:
        """Shares of one topic, float64[n_rows], from columns, float64[n_rows, n_columns]."""
        found = columns @ self.coefficients[:, topic]
        return np.asarray(special.expit(found) if self.link == "logit" else found)


@dataclass(frozen=True)
class _Directions:
    """Columns turned so that they are uncorrelated and of length 1: what can be told, and what can't.

    Attributes
    ----------
    turn : float64[n_columns, n_kept]; lost : float64[n_columns, n_lost], of columns over their length
    length : float64[n_columns], of the columns
    """

    turn: Array
    lost: Array
    length: Array

    def tells(self, rows: Array) -> NDArray[np.bool_]:
        """Whether the documents can tell a prediction, bool[n_rows]."""
        scaled = rows / self.length
        apart = np.linalg.norm(scaled @ self.lost, axis=1)
        return np.asarray(apart <= 1e-6 * np.maximum(np.linalg.norm(scaled, axis=1), 1e-300))


def _directions(columns: Array, weight: Array) -> _Directions:
    length = np.sqrt(weight @ columns**2)
    length[length == 0] = 1.0
    scaled = columns / length
    values, vectors = np.linalg.eigh(scaled.T @ (scaled * weight[:, None]))
    kept = values > _LEAST_DIRECTION * values[-1]
    turn = vectors[:, kept] / np.sqrt(values[kept]) / length[:, None]
    return _Directions(turn, vectors[:, ~kept], length)


def _fit_logit(x: Array, y: Array, weight: Array, penalty: float) -> Array:
    """Coefficients of one topic's logit, about that of its mean: float64[n_columns]."""
    offset = float(special.logit(weight @ y))
    b = np.zeros(x.shape[1])
    for _ in range(_STEPS):
        mean = special.expit(offset + x @ b)
        slope = x.T @ (weight * (y - mean)) - penalty * b
        bend = (x * (weight * mean * (1.0 - mean))[:, None]).T @ x + penalty * np.eye(len(b))
        step = np.linalg.solve(bend, slope)
        b += step * min(1.0, _MOST_STEP / max(float(np.abs(step).max()), 1e-300))
        if float(np.abs(step).max()) < 1e-9:
            break
    return b


@dataclass(frozen=True)
class _Averaged:
    """Predictions as means over documents: ``rows`` float64[n_points, n_documents, n_columns]."""

    rows: Array
    weight: Array

    @property
    def mean(self) -> Array:
        return np.asarray(np.einsum("d,pdc->pc", self.weight, self.rows))


def _averaged(design: Design, effects: Effects, link: str, seed: int) -> _Averaged:
    """Columns of every point over the documents, or over some that are drawn by their weight."""
    n, most = len(design.documents), _AVERAGED[link]
    chosen, weight = np.arange(n), design.weight
    if n > most:
        chosen = np.sort(np.random.default_rng(seed).choice(n, most, p=design.weight))
        weight = np.full(most, 1.0 / most)
    parts = [{}, *effects.given]
    if link == "identity":
        means = [weight @ design.columns(chosen, given) for given in parts]
        return _Averaged(np.stack(means)[:, None, :], np.ones(1))
    return _Averaged(np.stack([design.columns(chosen, given) for given in parts]), weight)


def _shares_of(samples: Samples, sample: int, docs: NDArray[np.int64]) -> scipy.sparse.csr_matrix:
    counts = samples.counts(sample)[docs].astype(np.float64)
    sizes = np.maximum(samples.whole(sample)[docs], 1e-300)
    return scipy.sparse.csr_matrix(scipy.sparse.diags(1.0 / sizes) @ counts)


def shares_by_sample(samples: Samples, docs: NDArray[np.int64]) -> list[scipy.sparse.csr_matrix]:
    """Tokens of a topic over tokens of a document in each sample, float64[len(docs), n_topics]."""
    return [_shares_of(samples, at, docs) for at in range(len(samples))]


def mean_shares(each: Sequence[scipy.sparse.csr_matrix]) -> scipy.sparse.csc_matrix:
    """The mean over the samples, float64[n_docs, n_topics]."""
    return scipy.sparse.csc_matrix(sum(each[1:], each[0]) / len(each))


def column_of(shares: scipy.sparse.csc_matrix, topic: int) -> Array:
    """One topic's, float64[n_docs]."""
    return np.asarray(shares[:, [topic]].todense(), dtype=np.float64).ravel()


def regress(
    samples: Samples,
    design: Design,
    link: str = "identity",
    chains: Sequence[Chain] = (),
    seed: int = 1,
    report: Report = silent,
) -> Regressed:
    """Regress every topic's share in documents on the columns of a design.

    Parameters
    ----------
    samples : of documents by topics
    link : ``identity``, least squares, or ``logit``
    chains : of other seeds, whose spread is let in
    seed : of the documents that predictions are averaged over, where there are very many
    """
    docs, weight = design.documents, design.weight
    columns = design.columns(np.arange(len(docs)), {})
    directions = _directions(columns, weight)
    effects = effects_of(design)
    averaged = _averaged(design, effects, link, seed)
    told = directions.tells(averaged.mean)
    turned = _Averaged(averaged.rows @ directions.turn, averaged.weight)
    x = np.ascontiguousarray(columns @ directions.turn)
    each = shares_by_sample(samples, docs)
    y = mean_shares(each[: samples.estimated_from])
    by_sample = np.stack([(mine.T @ (x * weight[:, None])).T for mine in each])
    others = [_chain_scores(chain, docs, x, weight) for chain in chains]
    starts = np.append(np.flatnonzero(np.diff(design.unit, prepend=-1)), len(docs))
    # The mean of all, every point, and both sides of every contrast less each other.
    n_topics, n_points = y.shape[1], len(effects.given)
    sides = np.pad((effects.one - effects.other) * effects.times[:, None], ((0, 0), (1, 0)))
    of_points = np.concatenate([np.eye(1 + n_points), sides])
    parts = _Parts.empty(len(of_points), n_topics, len(by_sample), len(others))
    coefficients = np.empty((columns.shape[1], n_topics))
    explained = np.zeros(n_topics)
    mine = part_of(report, 0.0, _OWN_TIME[link])
    for k in range(n_topics):
        mine("Regressing", k / n_topics)
        shares = column_of(y, k)
        one = _one(x, shares, weight, link, turned)
        coefficients[:, k] = directions.turn @ one.coefficients
        coefficients[0, k] += one.offset
        rows = np.ascontiguousarray(of_points @ one.hang)
        residual = weight * (shares - one.fitted)
        parts.value[:, k] = of_points @ one.points
        parts.powers[:, :, k] = left_out(x, starts, residual, weight * one.slope, one.bend, rows)
        reach = np.linalg.solve(one.bend, rows.T)
        middle = by_sample[:, :, k].mean(axis=0)
        parts.by_sample[:, :, k] = (by_sample[:, :, k] - middle) @ reach
        for at, (scores, known) in enumerate(others):
            parts.by_chain[at, :, k] = (scores[:, k] - middle) @ reach if known[k] else np.nan
        scatter = weight @ (shares - weight @ shares) ** 2
        explained[k] = 1.0 - weight @ (shares - one.fitted) ** 2 / scatter if scatter > 0 else 0.0
    influence = _influence(x, starts, weight, of_points @ turned.mean)
    made = _told(parts, influence, len(starts) - 1, effects, told)
    # A logit is no surer than least squares that anything is there: of rare topics it told of effects where none were.
    p = made[-1]
    if link == "logit":
        p = np.maximum(p, regress(samples, design, "identity", chains, seed, part_of(report, _OWN_TIME[link], 1.0)).p)
    effect_p = np.stack([any_of(p[each.contrasts]) for each in effects.effects])
    adjusted = np.stack([false_discovery_rates(mine) for mine in effect_p])
    outside = int(((parts.value < 0) | (parts.value > 1))[1 : 1 + n_points][told[1:]].sum())
    return Regressed(
        effects, *made[:-1], p, effect_p, adjusted, coefficients, explained, outside, len(starts) - 1, link
    )


def _chain_scores(chain: Chain, docs: NDArray[np.int64], x: Array, weight: Array) -> tuple[Array, NDArray[np.bool_]]:
    assigned, known = chain
    counts = assigned[docs]
    sizes = np.maximum(np.asarray(counts.sum(axis=1), dtype=np.float64).ravel(), 1e-300)
    return np.asarray(counts.T @ (x * (weight / sizes)[:, None])).T, known


@dataclass(frozen=True)
class _Parts:
    """What is found topic by topic; rows are the mean of all, points, and contrasts.

    Attributes
    ----------
    value : float64[n_rows, n_topics]; powers : float64[2, n_rows, n_topics], of how it moves without each unit
    by_sample, by_chain : float64[n, n_rows, n_topics], how far it lies off in each sample and chain
    """

    value: Array
    powers: Array
    by_sample: Array
    by_chain: Array

    @classmethod
    def empty(cls, rows: int, topics: int, samples: int, chains: int) -> _Parts:
        return cls(*(np.zeros((*several, rows, topics)) for several in ((), (2,), (samples,), (chains,))))


@dataclass(frozen=True)
class _Topic:
    """A regression of one topic: ``hang`` is how its predictions hang on the coefficients."""

    offset: float
    coefficients: Array
    fitted: Array
    slope: Array
    bend: Array
    points: Array
    hang: Array


def _one(x: Array, shares: Array, weight: Array, link: str, averaged: _Averaged) -> _Topic:
    mean = float(weight @ shares)
    if link == "identity" or not 0.0 < mean < 1.0:
        b, rows = x.T @ (weight * shares), averaged.mean
        if link == "logit":
            # Nothing or all there is, whatever the columns.
            flat, all_of = np.zeros(len(b)), np.full(len(x), mean)
            return _Topic(
                100.0 * mean - 50.0, flat, all_of, np.ones(len(x)), np.eye(len(b)), rows[:, 0] * 0 + mean, rows * 0
            )
        return _Topic(0.0, b, x @ b, np.ones(len(x)), np.eye(len(b)), rows @ b, rows)
    # As if one more document said that the topic is as large everywhere, so that no coefficient is without end.
    penalty = mean * (1.0 - mean) / len(x)
    b, offset = _fit_logit(x, shares, weight, penalty), float(special.logit(mean))
    fitted = special.expit(offset + x @ b)
    slope = fitted * (1.0 - fitted)
    bend = (x * (weight * slope)[:, None]).T @ x + penalty * np.eye(len(b))
    at = special.expit(offset + averaged.rows @ b)
    hang = np.einsum("pd,pdc->pc", averaged.weight * at * (1.0 - at), averaged.rows)
    return _Topic(offset, b, fitted, slope, bend, at @ averaged.weight, hang)


def _influence(x: Array, starts: NDArray[np.int64], weight: Array, rows: Array) -> Array:
    """Sums of the squares and of the fourth powers of what each unit counts in a row, float64[2, n_rows]."""
    of_unit = np.add.reduceat(x * weight[:, None], starts[:-1], axis=0)
    sums = np.zeros((2, len(rows)))
    for first in range(0, len(of_unit), 4096):
        squares = (of_unit[first : first + 4096] @ rows.T) ** 2
        sums += np.stack([squares.sum(axis=0), (squares**2).sum(axis=0)])
    return sums


def _told(
    parts: _Parts, influence: Array, units: int, effects: Effects, told: NDArray[np.bool_]
) -> tuple[Array, Array, Array, Array, Array, Array, Array]:
    """Intervals of predictions, and differences of the sides of contrasts with p."""
    n_points = len(effects.given)
    shares, contrasts = slice(0, 1 + n_points), slice(1 + n_points, None)
    within = (parts.by_sample**2).sum(axis=0) / max(len(parts.by_sample) - 1, 1) * (1.0 + 1.0 / len(parts.by_sample))
    sampled = spread_with_chains(np.zeros_like(within), within, list(parts.by_chain))
    variance, free = parts.powers[0] * (units - 1) / units, freedom(parts.powers[0], parts.powers[1])
    share, effective = np.clip(parts.value[shares], 0.0, 1.0), equal_units(influence[0])
    # As many equal units would bear a row's variance: one, where a value is of one document.
    borne = influence[0] ** 2 >= (LEAST_UNITS - 1e-6) * influence[1]

    def moments_of(rows: slice) -> Moments:
        of = share[rows]
        each = np.full(len(of), units, dtype=np.int64)
        return Moments(of, variance[rows], free[rows], each, effective[rows], each.astype(np.float64))

    pooled = pooled_over(moments_of(slice(0, 1)))
    spread = spread_of(moments_of(shares), sampled[shares], pooled)
    tail = (1.0 - LEVEL) / 2.0
    low, high = (end[1:] for end in spread.interval(tail))
    # The shares that a contrast is between, which say how far units would scatter.
    near = np.clip((effects.one + effects.other) @ share[1:] / 2.0, _LEAST_PART * pooled.share, 1.0)
    of = (variance[contrasts], free[contrasts], influence[:, contrasts])
    deviation, degrees = _deviation(*of, np.maximum(near * (1.0 - near), 1e-12), sampled[contrasts], pooled)
    difference = parts.value[contrasts].copy()
    reach = -special.stdtrit(degrees, tail) * deviation
    p = np.maximum(2.0 * special.stdtr(degrees, -np.abs(difference) / deviation), LEAST_P)
    bounds = [difference - reach, difference + reach]
    usable = borne[contrasts] & ((effects.one + effects.other)[:, ~told[1:]].sum(axis=1) <= 1e-12)
    for made in (difference, *bounds, p):
        made[~usable] = np.nan
    predicted = [share[1:].copy(), low, high]
    for made in predicted:
        made[~told[1:]] = np.nan
    for end in (low, high):
        end[~borne[1 : 1 + n_points]] = np.nan
    return predicted[0], predicted[1], predicted[2], difference, bounds[0], bounds[1], p


def _deviation(
    variance: Array, free: Array, influence: Array, scale: Array, sampled: Array, pooled: Pooled
) -> tuple[Array, Array]:
    """Standard deviation of differences, leaned as that of a share is, with degrees of freedom.

    Parameters
    ----------
    variance, free, scale, sampled : float64[n_contrasts, n_topics]
    influence : float64[2, n_contrasts], sums of powers of what units count
    """
    expected = scale * influence[0][:, None]
    own, others = variance / expected, np.clip(pooled.freedom - free, 1e-6, OF_TOPIC)
    of_row = (variance.sum(axis=1) / expected.sum(axis=1))[:, None]
    by_row = (free * own + OF_CELL * of_row) / (free + OF_CELL)
    by_topic = (free * own + others * pooled.spread) / (free + others)
    unit = np.maximum(np.maximum(own, 1e-6), np.maximum(by_row, by_topic))
    rests = freedom(influence[0], influence[1])[:, None]
    return np.sqrt(expected * unit + sampled), np.maximum(rests, free + np.maximum(others, OF_CELL))
