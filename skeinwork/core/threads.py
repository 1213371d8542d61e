"""How many threads a computation takes; what it comes to is the same for any number."""

from __future__ import annotations

import os

# More are kept waiting by memory.
_MOST = 8


def most_threads() -> int:
    """As many as there are processors for this process, up to a bound."""
    return min(_MOST, len(os.sched_getaffinity(0)))
