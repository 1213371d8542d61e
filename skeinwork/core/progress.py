"""How long computations tell where they are and learn that they are no longer wanted."""

from __future__ import annotations

from typing import Any, Protocol


class Report(Protocol):
    """Called at least every half second; raises ``CancelledError`` when the work is to stop."""

    def __call__(self, phase: str, done: float, **details: Any) -> None:
        """Say the phase, the share done (0 to 1) and anything worth showing while it forms."""


def silent(phase: str, done: float, **details: Any) -> None:
    """A report that nobody reads."""
