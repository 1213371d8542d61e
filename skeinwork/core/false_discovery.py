"""Many p-values at once."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray


def false_discovery_rates(p: NDArray[np.float64]) -> NDArray[np.float64]:
    """The least rate of false discoveries at which each would be one (Benjamini and Hochberg 1995).

    Parameters
    ----------
    p : float64[...], p-values of one family, NaN where there is none

    Returns
    -------
    float64[...], NaN where there is none

    >>> false_discovery_rates(np.array([0.01, 0.04, 0.03])).tolist()
    [0.03, 0.04, 0.04]
    """
    there = ~np.isnan(p)
    known = p[there]
    order = np.argsort(known)
    raised = known[order] * (len(known) / np.arange(1, len(known) + 1))
    rates, found = np.empty_like(known), np.full(p.shape, np.nan)
    rates[order] = np.minimum.accumulate(raised[::-1])[::-1]
    found[there] = np.minimum(rates, 1.0)
    return found


def any_of(p: NDArray[np.float64]) -> NDArray[np.float64]:
    """p that all of several hypotheses hold, from p of each (R. Simes, *An improved Bonferroni procedure*, 1986).

    Parameters
    ----------
    p : float64[n, ...], NaN where there is none

    Returns
    -------
    float64[...], NaN where there is none at all

    >>> any_of(np.array([0.01, 0.5, 0.02])).tolist()
    0.03
    """
    known = ~np.isnan(p)
    count = known.sum(axis=0)
    order = np.sort(np.where(known, p, 2.0), axis=0)
    place = np.arange(1, len(p) + 1).reshape(-1, *[1] * (p.ndim - 1))
    least = np.min(np.where(place <= count, order * count / place, np.inf), axis=0, initial=np.inf)
    return np.where(count > 0, np.minimum(least, 1.0), np.nan)
