"""What a step of the chain is: from the results of earlier steps to one result."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Mapping, Sequence
from typing import Any, ClassVar, Generic, TypeVar

from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.kinds import differing
from skeinwork.core.progress import Report, silent
from skeinwork.store.artefacts import Artefact, ArtefactStore, Making

Arrays = dict[str, NDArray[Any]]
Documents = dict[str, Any]
Settings = TypeVar("Settings", bound=BaseModel)
Value = TypeVar("Value")
Summary = TypeVar("Summary", bound=BaseModel)


def plain(settings: BaseModel) -> dict[str, Any]:
    """Settings as JSON values."""
    return settings.model_dump(mode="json")


def count(number: int) -> str:
    """A number for people, in groups of three digits."""
    return f"{number:,}".replace(",", "\u202f")


class Said(BaseModel):
    """What a result is called, and how much it is."""

    name: str
    size: str


class Link(ABC, Generic[Settings, Value, Summary]):
    """One kind of result in the chain. It holds no state; ``STEPS`` is all there is of them.

    Attributes
    ----------
    name : of its results
    wanted : its name in the settings wanted of a strand, where it has settings there
    station : the screen that shows it
    summary : what its results say of themselves in a few numbers
    """

    name: ClassVar[str]
    wanted: ClassVar[str] = ""
    station: ClassVar[str]
    summary: ClassVar[type[BaseModel]]

    @abstractmethod
    def parse(self, settings: Mapping[str, Any]) -> Settings:
        """Settings from JSON values."""

    @abstractmethod
    def save(self, value: Value) -> tuple[Arrays, Documents]:
        """A result as arrays and JSON documents."""

    @abstractmethod
    def load(self, stored: Artefact, earlier: Earlier) -> Value:
        """A stored result; ``earlier`` holds what it was made from."""

    @abstractmethod
    def said(self, settings: Settings, summary: Summary) -> Said:
        """What the strand bar calls a result, and its size."""

    def summarised(self, stored: Artefact) -> Summary:
        """The summary of a stored result."""
        found: Summary = self.summary.model_validate(stored.summary)  # type: ignore[assignment]
        return found


class Step(Link[Settings, Value, Summary]):
    """A link that is computed from the results of earlier ones.

    Attributes
    ----------
    VERSION : of what the step itself does; ``parts`` are those of what takes part with settings
    """

    VERSION: ClassVar[int]

    def told(self, settings: Settings) -> dict[str, Any]:
        """What of the settings makes a result another one: those that differ from their defaults."""
        return differing(settings)

    def parts(self, settings: Settings) -> dict[str, int]:
        """The versions of what takes part with these settings."""
        return {}

    def making(self, before: str, settings: Settings) -> Making:
        """What the result is made from."""
        told = {**self.told(settings), "versions": self.parts(settings)}
        return Making(self.name, self.VERSION, plain(settings), [before], told)

    def make(
        self, store: ArtefactStore, before: str, settings: Settings, report: Report = silent
    ) -> str:
        """The identity of the result, made where it is not there yet."""
        return self.finish(store, self.making(before, settings), settings, report)

    def finish(
        self, store: ArtefactStore, making: Making, settings: Settings, report: Report
    ) -> str:
        """Compute a result and store it, unless it is there."""
        if not store.has(making.identity):
            earlier = Earlier(store, making.inputs[0])
            value, summary = self.compute(earlier, settings, report)
            store.write(making, *self.save(value), summary.model_dump(mode="json"))
        return making.identity

    @abstractmethod
    def compute(
        self, earlier: Earlier, settings: Settings, report: Report
    ) -> tuple[Value, Summary]:
        """The result from those of earlier steps."""


class Earlier:
    """The results that one was made from, or is being made from, each loaded when asked for."""

    def __init__(self, store: ArtefactStore, last: str) -> None:
        self.store = store
        self.last = last

    def load(self, step: Link[Any, Value, Any]) -> Value:
        """The result of a step before."""
        stored = self.store.ancestor(self.last, step.name)
        return load(self.store, step, stored)


def load(store: ArtefactStore, step: Link[Any, Value, Any], stored: Artefact) -> Value:
    """A stored result with what it was made from at hand."""
    inputs: Sequence[str] = stored.making.inputs
    return step.load(stored, Earlier(store, inputs[0] if inputs else ""))
