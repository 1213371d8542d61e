"""The random numbers of the compiled samplers."""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit


@njit(cache=True, nogil=True)
def uniform(state: Any) -> float:
    """The next number in [0, 1) of a SplitMix64 stream (G. Steele and others, 2014)."""
    state[0] += np.uint64(0x9E3779B97F4A7C15)
    z = state[0]
    z = (z ^ (z >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    z = (z ^ (z >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    z = z ^ (z >> np.uint64(31))
    return np.float64(z >> np.uint64(11)) * (1.0 / 9007199254740992.0)
