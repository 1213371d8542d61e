"""Where a fit at work leaves its state, so that it goes on from there rather than begins again."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Protocol

from numpy.typing import NDArray

# What a method needs to go on exactly as if it had not stopped, by names of its own.
State = Mapping[str, NDArray[Any]]


class States(Protocol):
    """States of fits that differ in nothing but their iterations."""

    def latest(self, most: int) -> State | None:
        """The state after the most iterations that are not above ``most``; None where there is none that is whole."""

    def keep(self, iteration: int, state: State) -> None:
        """Keep the state after so many iterations."""

    def wanted(self) -> bool:
        """Whether it is time to keep one again."""


class Forgetful:
    """Where none are kept."""

    def latest(self, most: int) -> State | None:
        return None

    def keep(self, iteration: int, state: State) -> None:
        pass

    def wanted(self) -> bool:
        return False


FORGETFUL = Forgetful()
