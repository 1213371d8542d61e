"""How alike the documents of one unit are: the intraclass correlation of their topic shares.

P. Shrout and J. Fleiss, *Intraclass correlations: uses in assessing rater reliability*, 1979, the
first of their forms; pooled over topics by adding up mean squares. What it does to a variance is the
design effect of L. Kish, *Survey sampling*, 1965.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

# Deals against which likeness is held: the least p is one in a hundred.
_SHUFFLES = 99
# Documents that likeness is estimated from at most.
_MOST_DOCUMENTS = 5000
# Documents of one unit: large units must not outweigh the others.
_MOST_OF_ONE = 50
# Units that are drawn in any case, however large they are.
_LEAST_UNITS = 30


@dataclass(frozen=True)
class Likeness:
    """Of documents that share a unit.

    Attributes
    ----------
    correlation : intraclass, of shares of topics; at most 1
    each : documents of a unit, on average
    units : those with documents
    p : how often shuffled units are as much alike
    """

    correlation: float
    each: float
    units: int
    p: float

    @property
    def design_effect(self) -> float:
        """How many times the variance of a mean grows over that of documents drawn singly."""
        return 1.0 + (self.each - 1.0) * max(self.correlation, 0.0)


def _mean_squares(
    shares: NDArray[np.float64], units: NDArray[np.int64], sizes: NDArray[np.int64]
) -> tuple[float, float]:
    """Between and within units, added up over topics."""
    order = np.argsort(units, kind="stable")
    starts = np.concatenate([[0], np.cumsum(sizes)[:-1]])
    sums = np.add.reduceat(shares[order], starts, axis=0)
    grand = shares.mean(axis=0)
    between = float((sums**2 / sizes[:, None]).sum() - len(shares) * (grand**2).sum())
    whole = float((shares**2).sum() - len(shares) * (grand**2).sum())
    return between / (len(sizes) - 1), (whole - between) / max(len(shares) - len(sizes), 1)


def _drawn(units: NDArray[np.int64], rng: np.random.Generator) -> NDArray[np.int64]:
    """Some documents of some units where there are very many: whole units, of each not too many."""
    order = rng.permutation(len(units))
    by_unit = order[np.argsort(units[order], kind="stable")]
    starts = np.flatnonzero(np.diff(units[by_unit], prepend=-1))
    sizes = np.diff(np.append(starts, len(units)))
    within = np.arange(len(units)) - np.repeat(starts, sizes)
    chosen = rng.permutation(len(sizes))
    enough = np.cumsum(np.minimum(sizes[chosen], _MOST_OF_ONE)) <= _MOST_DOCUMENTS
    enough[:_LEAST_UNITS] = True
    keep = np.zeros(len(sizes), dtype=bool)
    keep[chosen[enough]] = True
    return np.sort(by_unit[(within < _MOST_OF_ONE) & np.repeat(keep, sizes)])


def likeness(shares: NDArray[np.float64], units: NDArray[np.int64], seed: int = 1) -> Likeness | None:
    """How alike documents of the same unit are; None where no two documents share one.

    Of more than ``_MOST_DOCUMENTS`` documents some units are drawn.

    Parameters
    ----------
    shares : float64[n_docs, n_topics]
    units : int64[n_docs], -1 for none
    seed : of the draw and the shuffles
    """
    known = np.flatnonzero(units >= 0)
    _, sizes = np.unique(units[known], return_counts=True)
    n, m = len(known), len(sizes)
    if m < 2 or n <= m:
        return None
    rng = np.random.default_rng(seed)
    drawn = known[_drawn(units[known], rng)]
    values = np.asarray(shares[drawn], dtype=np.float64)
    _, place, counts = np.unique(units[drawn], return_inverse=True, return_counts=True)
    if len(drawn) <= len(counts):
        return None
    each = _each(counts)
    between, within = _mean_squares(values, place, counts)
    correlation = _correlation(between, within, each)
    exceeded = _SHUFFLES
    if correlation > 0:
        exceeded = sum(_mean_squares(values, rng.permutation(place), counts)[0] >= between for _ in range(_SHUFFLES))
    return Likeness(correlation, _each(sizes), m, (1 + exceeded) / (1 + _SHUFFLES))


def intraclass_correlation(shares: NDArray[np.float64], units: NDArray[np.int64]) -> float:
    """Of all documents, without a test; 0 where no two documents share a unit.

    Parameters
    ----------
    shares : float64[n_docs, n_topics]; units : int64[n_docs], -1 for none
    """
    known = np.flatnonzero(units >= 0)
    _, place, sizes = np.unique(units[known], return_inverse=True, return_counts=True)
    if len(sizes) < 2 or len(known) <= len(sizes):
        return 0.0
    return _correlation(*_mean_squares(np.asarray(shares[known], dtype=np.float64), place, sizes), _each(sizes))


def _correlation(between: float, within: float, each: float) -> float:
    spread = between + (each - 1.0) * within
    return (between - within) / spread if spread > 0 else 0.0


def _each(sizes: NDArray[np.int64]) -> float:
    """Documents of a unit on average, as unequal units count."""
    n = int(sizes.sum())
    return float((n - (sizes**2).sum() / n) / (len(sizes) - 1))
