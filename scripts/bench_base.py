"""What the parts of ``make bench`` share: a line of its table, two calls timed in turn, texts."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from skeinwork.demo.generator import write_entries


@dataclass
class Line:
    """One line of the table; ``ratio`` is the reference's time over ours, or as ``wanted`` says."""

    name: str
    size: str
    ours: float
    reference: float
    ratio: float
    wanted: str


def interleaved(ours: Callable[[], Any], theirs: Callable[[], Any], rounds: int) -> tuple[float, float]:
    """Median seconds of two calls, run in turn."""
    times: tuple[list[float], list[float]] = ([], [])
    for _ in range(rounds):
        for call, into in ((ours, times[0]), (theirs, times[1])):
            begun = time.perf_counter()
            call()
            into.append(time.perf_counter() - begun)
    return statistics.median(times[0]), statistics.median(times[1])


def texts(count: int) -> list[str]:
    bank = [entry.row["text"] for entry in write_entries()]
    return [bank[at % len(bank)] for at in range(count)]
