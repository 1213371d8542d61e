"""What an executor is: four calls that make results somewhere."""

from __future__ import annotations

from abc import ABC, abstractmethod
from typing import Any, NamedTuple

from skeinwork.store.artefacts import Making

# How often a task says where it is and looks whether it is still wanted, in seconds.
REPORT_EVERY = 0.2


class Progress(NamedTuple):
    """Whether a task has ended, and what it last said: phase, share done, what is forming."""

    ended: bool
    said: dict[str, Any]


class Executor(ABC):
    """Makes results. A task that it was given is named by what ``submit`` returns."""

    @property
    @abstractmethod
    def workers(self) -> int:
        """How many tasks it works on at a time."""

    @abstractmethod
    def submit(self, making: Making) -> Any:
        """Begin to make a result."""

    @abstractmethod
    def progress(self, task: Any) -> Progress:
        """Where a task is; a task whose worker was lost is begun again here."""

    @abstractmethod
    def cancel(self, task: Any) -> None:
        """Ask a task to stop."""

    @abstractmethod
    def result(self, task: Any) -> str:
        """The identity of what an ended task has made, which is in the store; raises what it raised."""

    @abstractmethod
    def warm(self) -> None:
        """Prepare in the background for the first task."""

    @abstractmethod
    def close(self) -> None:
        """Stop all tasks and let go of the workers."""
