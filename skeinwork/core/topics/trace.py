"""What the trace of a chain says: how much it still changes, neighbours' likeness allowed for.

Points of a trace are alike their neighbours, so that fewer of them count (the effective number of an
autoregressive series of first order, with the bias of its estimate taken out: F. Marriott and J. Pope,
*Bias in the estimation of autocorrelations*, 1954). A level trace shows that a chain moves no further,
not that there is nothing better elsewhere.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
import scipy
from numpy.typing import NDArray

Verdict = Literal["level", "still moving", "too short to tell", "stuck"]
# Below it the scatter of a half is not known.
LEAST_POINTS = 8
# Points that are as good as independent in the last half: fewer tell of no trend.
_LEAST_EFFECTIVE = 4.0
# How rarely a level trace is called moving.
_SURE = 0.01
# Correlation of neighbours: at 1 no interval has an end.
_MOST_ALIKE = 0.97
MATTERS = 0.005  # nats a token over the part that is looked at
_MATTERS_OF_PRIOR = 0.1  # of its logarithm


@dataclass(frozen=True)
class Trend:
    """Change over the last half of a trace, in the units of the trace.

    Attributes
    ----------
    change, low, high : from the first to the last of the points, with its 95 % interval
    p : of as great a change in a level series
    points, effective : how many there are, and how many they are worth
    """

    change: float
    low: float
    high: float
    p: float
    points: int
    effective: float


def trend(values: NDArray[np.float64]) -> Trend | None:
    """Straight line through the last half of evenly spaced values, float64[n]; None for too few.

    >>> trend(np.arange(40.0)).change
    19.0
    """
    last = np.asarray(values, dtype=np.float64)[len(values) // 2 :]
    n = len(last)
    if n < LEAST_POINTS:
        return None
    time = np.arange(n) - (n - 1) / 2.0
    slope = float(time @ last / (time @ time))
    rest = last - last.mean() - slope * time
    scatter = float(rest @ rest)
    alike = float(rest[1:] @ rest[:-1]) / scatter if scatter > 0 else 0.0
    alike = min(max(alike + (1.0 + 4.0 * alike) / n, 0.0), _MOST_ALIKE) if scatter > 0 else 0.0
    grown = (1.0 + alike) / (1.0 - alike)
    error = float(np.sqrt(scatter / (n - 2) * grown / (time @ time)))
    freedom = max(n / grown - 2.0, 1.0)
    reach = float(scipy.special.stdtrit(freedom, 0.975)) * error * (n - 1)
    change = slope * (n - 1)
    p = 2.0 * float(scipy.special.stdtr(freedom, -abs(slope) / error)) if error > 0 else 0.0
    return Trend(change, change - reach, change + reach, p, n, n / grown)


def verdict(
    values: NDArray[np.float64], moved: NDArray[np.float64], prior: NDArray[np.float64] | None = None
) -> Verdict:
    """Whether a chain still moves, up or down, as far as its trace can show.

    Parameters
    ----------
    values : float64[n], log-likelihood per token, evenly spaced
    moved : float64[n], share of tokens that changed topic
    prior : float64[n], sum of the document prior; None where it was not watched
    """
    if len(moved) >= LEAST_POINTS and moved[len(moved) // 2 :].max() == 0:
        return "stuck"
    found = trend(values)
    if found is None:
        return "too short to tell"
    of_prior = None if prior is None else trend(np.log(prior))
    if _moves(found, MATTERS) or (of_prior and _moves(of_prior, _MATTERS_OF_PRIOR)):
        return "still moving"
    return "level" if found.effective >= _LEAST_EFFECTIVE else "too short to tell"


def _moves(found: Trend, matters: float) -> bool:
    return found.p < _SURE and abs(found.change) >= matters
