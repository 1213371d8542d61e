"""The random numbers of the compiled samplers."""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit

# The step of a SplitMix64 stream (G. Steele and others, *Fast splittable pseudorandom number generators*, 2014).
STEP = np.uint64(0x9E3779B97F4A7C15)


@njit(cache=True, nogil=True)
def mixed(at: Any) -> Any:
    """64 bits of chance at a place of a SplitMix64 stream."""
    z = (at ^ (at >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    z = (z ^ (z >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    return z ^ (z >> np.uint64(31))


@njit(cache=True, nogil=True)
def uniform(state: Any) -> float:
    """The next number in [0, 1) of a SplitMix64 stream."""
    state[0] += STEP
    return np.float64(mixed(state[0]) >> np.uint64(11)) * (1.0 / 9007199254740992.0)
