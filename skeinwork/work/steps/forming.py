"""What is told of a fit while it forms: its words, what its trace says, measures that may still change."""

from __future__ import annotations

import time
from collections.abc import Sequence
from dataclasses import asdict
from typing import Any

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.matrix.matrix import Matrix
from skeinwork.core.progress import Report
from skeinwork.core.topics.measures import BY, Texts
from skeinwork.core.topics.measures.base import AT_A_TIME
from skeinwork.core.topics.measures.windows import Windows
from skeinwork.core.topics.methods.base import Method, MethodSettings

# Words of each topic that are shown.
_SHOWN = 6
# Shares of a fit after which it is measured, and seconds between two times at least: the windows of the corpus are
# counted for it.
_MEASURED_AT = (0.1, 0.2, 0.4, 0.6, 0.8)
_MEASURED_EVERY = 1.0


def so_far(method: Method[Any], points: Sequence[Sequence[float]]) -> str:
    """What the trace of a fit at work says, in a sentence without its full stop; empty before there is any."""
    if not points:
        return ""
    trace = np.array(points)
    change = method.trend(trace)
    ends = (change.change, change.low, change.high) if change else None
    return method.judged(method.verdict(trace), ends, ended=False)


# Seconds between two verdicts on a fit at work: a short iteration is told of far more often than anybody reads it.
_JUDGED_EVERY = 0.3


class Forming:
    """Tells of a fit at work, with its words as they are read."""

    def __init__(
        self, method: Method[Any], settings: MethodSettings, matrix: Matrix, texts: Texts, report: Report
    ) -> None:
        self.method, self.settings, self.matrix, self.texts, self.report = method, settings, matrix, texts, report
        self._judged, self._judged_due = "", 0.0
        self._measured: dict[str, float] = {}
        self._left, self._measured_due = list(_MEASURED_AT), 0.0

    def __call__(self, phase: str, done: float, **details: Any) -> None:
        if "top" in details:
            details = self._told(details["top"], details["trace"], done) | details
            display = self.matrix.display
            details["top"] = [[display[at] for at in row[:_SHOWN]] for row in details["top"]]
        self.report(phase, done, **details)

    def _told(self, top: list[list[int]], trace: Sequence[Sequence[float]], done: float) -> dict[str, Any]:
        now = time.monotonic()
        if now >= self._judged_due:
            self._judged, self._judged_due = so_far(self.method, trace), now + _JUDGED_EVERY
        if self._left and done >= self._left[0] and now >= self._measured_due:
            self._left = [each for each in self._left if each > done]
            coherent = self._coherence(np.array(top, dtype=np.int64))
            self._measured = {BY.key: coherent} if np.isfinite(coherent) else {}
            self._measured_due = time.monotonic() + _MEASURED_EVERY
        return {
            "judged": self._judged,
            "watches": [asdict(each) for each in self.method.watches],
            "measured": self._measured,
            "fit": {"topics": self.settings.topics, "seed": self.settings.seed},
        }

    def _coherence(self, top: NDArray[np.int64]) -> float:
        """Of the words of each topic, int64[n_topics, n_top], of the first topics where they are many."""
        some = top[:AT_A_TIME]
        windows = Windows.count(self.texts, np.unique(some), len(self.matrix.terms), BY.window)
        known = BY.of_top_words(some, lambda topic: windows)
        known = known[np.isfinite(known)]
        return float(known.mean()) if len(known) else float("nan")
