"""How long computations tell where they are and learn that they are no longer wanted."""

from __future__ import annotations

from collections.abc import Callable
from contextvars import ContextVar
from typing import Any, Protocol

from skeinwork.core.errors import CancelledError


class Report(Protocol):
    """Called at least every half second; raises ``CancelledError`` when the work is to stop."""

    def __call__(self, phase: str, done: float, **details: Any) -> None:
        """Say the phase, the share done (0 to 1) and anything worth showing while it forms."""


# Whether who asked has left, where somebody waits for the answer of this thread.
LEFT: ContextVar[Callable[[], bool] | None] = ContextVar("left", default=None)
# Seconds after which work of unknown length is refused to who waits for it; None in a job.
PATIENCE: ContextVar[float | None] = ContextVar("patience", default=None)


def check_wanted() -> None:
    """Raise ``CancelledError`` where nobody waits for the answer any more; cheap enough for any loop."""
    left = LEFT.get()
    if left is not None and left():
        raise CancelledError("Nobody waits for this any more.")


def silent(phase: str, done: float, **details: Any) -> None:
    """A report that nobody reads, where somebody may still wait for the answer."""
    check_wanted()


def part_of(report: Report, begins: float, ends: float) -> Report:
    """A report for a part of some work, which is that share of the whole."""

    def part(phase: str, done: float, **details: Any) -> None:
        report(phase, begins + (ends - begins) * done, **details)

    return part
