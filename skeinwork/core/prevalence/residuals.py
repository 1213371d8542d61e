"""What a regression misses: documents' shares less those it foretells, by its own predictions and by its terms."""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import combinations

import numpy as np
from numpy.typing import NDArray
from scipy import special

from skeinwork.core.false_discovery import false_discovery_rates
from skeinwork.core.prevalence.design_matrix import LEAST_UNITS, Design
from skeinwork.core.prevalence.differences import LEAST_P
from skeinwork.core.prevalence.prevalence import LEVEL, freedom

Array = NDArray[np.float64]
# Parts of the documents, by what is foretold of them.
FIFTHS = 5
# Points of the time or a number that are taken together, so that parts hold enough documents.
_PARTS = 4


@dataclass(frozen=True)
class Residual:
    """Documents of one kind: what they hold on average, and what was foretold.

    Attributes
    ----------
    terms, labels : what they are; empty for a fifth by what is foretold
    low, high : of the mean, 95 %; p : that it is as foretold, adjusted over all parts of two terms
    """

    terms: tuple[str, ...]
    labels: tuple[str, ...]
    documents: int
    mean: float
    foretold: float
    low: float
    high: float
    p: float


def _residual(design: Design, shares: Array, fitted: Array, rows: NDArray[np.int64]) -> tuple[Residual, bool]:
    """Of some rows of the design; whether there are enough units for an interval."""
    weight = design.weight[rows] / design.weight[rows].sum()
    apart = weight * (shares[rows] - fitted[rows])
    middle = float(apart.sum())
    _, unit = np.unique(design.unit[rows], return_inverse=True)
    part = np.bincount(unit, weight)
    own = (np.bincount(unit, apart) - middle * part) / np.sqrt(np.maximum(1.0 - part, 0.1))
    second = np.array([[float((own**2).sum())]])
    free = max(float(freedom(second, np.array([[float((own**4).sum())]]))[0, 0]), 1.0)
    deviation = max(float(np.sqrt(second[0, 0])), 1e-12)
    reach = -float(special.stdtrit(free, (1.0 - LEVEL) / 2.0)) * deviation
    mean = float(weight @ shares[rows])
    p = max(2.0 * float(special.stdtr(free, -abs(middle) / deviation)), LEAST_P)
    foretold = mean - middle
    return Residual((), (), len(rows), mean, foretold, mean - reach, mean + reach, p), len(part) >= LEAST_UNITS


def by_fifths(design: Design, shares: Array, fitted: Array) -> list[Residual]:
    """Documents from those that least is foretold of to those that most is, in fifths of their weight.

    Parameters
    ----------
    shares, fitted : float64[n_rows], of one topic in the documents of the design
    """
    order = np.argsort(fitted, kind="stable")
    place = np.minimum((np.cumsum(design.weight[order]) * FIFTHS).astype(np.int64), FIFTHS - 1)
    # Documents that the same is foretold of stay together.
    _, same = np.unique(np.round(fitted[order], 12), return_inverse=True)
    place = place[np.unique(same, return_index=True)[1]][same]
    found = (_residual(design, shares, fitted, order[place == at]) for at in np.unique(place))
    return [each for each, enough in found if enough]


def _parted(design: Design, name: str) -> tuple[NDArray[np.int64], list[str]]:
    """A term's values; of the time and numbers parts that hold as much."""
    term = design.terms[name]
    place = term.place[design.documents]
    if term.kind == "factor":
        return place, term.labels
    share = np.cumsum(design.share_at(name))
    part = np.minimum((share * _PARTS - 1e-9).astype(np.int64), _PARTS - 1)
    labels = []
    for at in range(_PARTS):
        mine = np.flatnonzero(part == at)
        labels.append(f"{term.labels[mine[0]]} to {term.labels[mine[-1]]}" if len(mine) else "")
    return part[place], labels


@dataclass(frozen=True)
class Part:
    """Documents of one value of each of two terms: their rows in the design, int64[n]."""

    terms: tuple[str, str]
    labels: tuple[str, str]
    rows: NDArray[np.int64]


def parts_of(design: Design) -> list[Part]:
    """Of all terms that are no pair of the regression, those with enough units."""
    found = []
    for one, other in combinations(design.terms, 2):
        if any({one, other} == set(pair) for pair in design.pairs):
            continue
        (first, labels), (second, others) = _parted(design, one), _parted(design, other)
        for a, b in np.ndindex(len(labels), len(others)):
            rows = np.flatnonzero((first == a) & (second == b))
            if len(np.unique(design.unit[rows])) >= LEAST_UNITS:
                found.append(Part((one, other), (labels[a], others[b]), rows))
    return found


def by_parts(design: Design, parts: list[Part], shares: Array, fitted: Array, most: int = 12) -> list[Residual]:
    """Those furthest from what is foretold first; p adjusted over all of them."""
    found = [(each, _residual(design, shares, fitted, each.rows)[0]) for each in parts]
    if not found:
        return []
    rates = false_discovery_rates(np.array([each.p for _, each in found])).tolist()
    told = [
        replace(each, terms=part.terms, labels=part.labels, p=rate)
        for (part, each), rate in zip(found, rates, strict=True)
    ]
    return sorted(told, key=lambda each: each.p)[:most]


def told_by_others(design: Design, columns: Array) -> dict[str, float]:
    """How much of each term's columns the others tell, 0 to 1: what is left bears its effect.

    Parameters
    ----------
    columns : float64[n_rows, n_columns], of the design
    """
    found, first = {}, 1
    root = np.sqrt(design.weight)[:, None]
    mains = 1 + sum(each.rows.shape[1] for each in design.terms.values())
    centered = (columns[:, :mains] - design.weight @ columns[:, :mains]) * root
    for name, term in design.terms.items():
        own = np.arange(first, first + term.rows.shape[1])
        first += len(own)
        rest = np.setdiff1d(np.arange(1, mains), own)
        total = float((centered[:, own] ** 2).sum())
        if not len(rest) or total <= 0:
            found[name] = 0.0
            continue
        coefficients = np.linalg.lstsq(centered[:, rest], centered[:, own], rcond=None)[0]
        left = float(((centered[:, own] - centered[:, rest] @ coefficients) ** 2).sum())
        found[name] = 1.0 - left / total
    return found
