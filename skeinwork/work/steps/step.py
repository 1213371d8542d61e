"""What a step of the chain is: from the results of earlier steps to one result."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any, ClassVar, Generic, NamedTuple, Protocol, TypeVar

from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.content import ContentError, expect
from skeinwork.core.corpus.corpus import Corpus
from skeinwork.core.identity import canonical_json
from skeinwork.core.kinds import differing
from skeinwork.core.progress import Report
from skeinwork.core.said import count as count
from skeinwork.core.said import counted as counted
from skeinwork.core.topics.states import States
from skeinwork.store.artefacts import ArtefactStore, Making

Arrays = dict[str, NDArray[Any]]
Documents = dict[str, Any]
Settings = TypeVar("Settings", bound=BaseModel)
Value = TypeVar("Value")
Summary = TypeVar("Summary", bound=BaseModel)


def plain(settings: BaseModel) -> dict[str, Any]:
    """Settings as JSON values."""
    return settings.model_dump(mode="json")


class Said(BaseModel):
    """What a result is called, and how much it is."""

    name: str
    size: str


class Stored(Protocol):
    """A result as its step reads it, on disk or in memory."""

    @property
    def making(self) -> Making:
        """What it was made from."""

    @property
    def summary(self) -> dict[str, Any]:
        """What it says of itself."""

    def holds(self, name: str) -> bool:
        """Whether it has an array or document; results of earlier versions lack the new ones."""

    def array(self, name: str) -> NDArray[Any]:
        """An array, not to be changed."""

    def document(self, name: str) -> Any:
        """A JSON document."""


class Product(NamedTuple):
    """A result before it is stored."""

    arrays: Arrays
    documents: Documents
    summary: dict[str, Any]


class Inputs(Protocol):
    """Results and files that something is made from, wherever they lie."""

    def has(self, identity: str) -> bool:
        """Whether a result is there and whole."""

    def result(self, identity: str) -> Stored:
        """A result."""

    def file(self, sha256: str) -> Path:
        """A file that was brought in."""

    def states(self, course: str) -> States:
        """Where fits of a course leave their states."""


@dataclass(frozen=True)
class OnDisk:
    """Inputs on this machine; ``uploads`` holds files by their checksums."""

    store: ArtefactStore
    uploads: Path = Path()

    def has(self, identity: str) -> bool:
        return self.store.has(identity)

    def result(self, identity: str) -> Stored:
        return self.store.open(identity)

    def file(self, sha256: str) -> Path:
        return self.uploads / sha256

    def states(self, course: str) -> States:
        return self.store.states(course)


class Reads(NamedTuple):
    """What a making needs at hand: results by identity, files by checksum."""

    results: list[str]
    files: list[str]


class Link(ABC, Generic[Settings, Value, Summary]):
    """One kind of result. It holds no state; ``STEPS`` is all there is of them.

    Attributes
    ----------
    name : of its results
    wanted : its name in the settings wanted of a strand, where it has settings there
    called : for people, after “out of date:”
    missing : for people, where there is none yet
    settings : the class of its settings, where that is one
    summary : what its results say of themselves in a few numbers
    kept : whether a strand keeps its results; others come with what was made from them
    beside : whether it hangs beside the chain: made on wish, with its settings under ``beside`` of a strand
    choice : whether any of its results of the wanted parents is up to date, whatever its settings
    goes_on : whether one leaves its state, from which another goes on: those of one ``course``
    parents : the kinds of result that one is made from
    """

    name: ClassVar[str]
    wanted: ClassVar[str] = ""
    called: ClassVar[str]
    missing: ClassVar[str] = ""
    settings: ClassVar[type[BaseModel]]
    summary: ClassVar[type[BaseModel]]
    kept: ClassVar[bool] = True
    beside: ClassVar[bool] = False
    choice: ClassVar[bool] = False
    goes_on: ClassVar[bool] = False

    @property
    def parents(self) -> tuple[Link[Any, Any, Any], ...]:
        return ()

    def follows(self, other: Link[Any, Any, Any]) -> bool:
        """Whether it is made from results of another kind, at whatever distance."""
        return any(each is other or each.follows(other) for each in self.parents)

    def parse(self, settings: Mapping[str, Any]) -> Settings:
        """Settings from JSON values."""
        found: Settings = self.settings.model_validate(settings)  # type: ignore[assignment]
        return found

    @abstractmethod
    def current(self, making: Making) -> Making:
        """The same as this version of the program would make it."""

    def course(self, making: Making) -> str:
        """What it has in common with those that differ in nothing but how far they go; itself where none goes on."""
        return making.identity

    def goes_on_from(self, making: Making, inputs: Inputs) -> list[Making]:
        """Results beside its inputs that have to be made before it, in their order."""
        return []

    @abstractmethod
    def reads(self, making: Making, inputs: Inputs) -> Reads:
        """What of the inputs at hand ``produce`` will ask for."""

    @abstractmethod
    def produce(self, making: Making, inputs: Inputs, report: Report) -> Product:
        """Compute a result."""

    @abstractmethod
    def seconds(self, making: Making, size: int) -> float:
        """About how long that takes for a corpus of so many bytes; only ratios matter."""

    @abstractmethod
    def save(self, value: Value) -> tuple[Arrays, Documents]:
        """A result as arrays and JSON documents."""

    @abstractmethod
    def load(self, stored: Stored, earlier: Earlier) -> Value:
        """A stored result; ``earlier`` holds what it was made from."""

    @abstractmethod
    def check(self, stored: Stored, earlier: Earlier) -> Summary:
        """The summary that the arrays and documents of a stored result ask for.

        Raises
        ------
        ContentError
            where they don't fit each other, or those that it was made from.
        """

    @abstractmethod
    def said(self, settings: Settings, summary: Summary) -> Said:
        """What the strand bar calls a result, and its size."""

    def doubt(self, settings: Settings, summary: Summary) -> str:
        """What there is to say against a result in a few words; empty where nothing is."""
        return ""

    def summarised(self, stored: Stored) -> Summary:
        """The summary of a stored result."""
        found: Summary = self.summary.model_validate(stored.summary)  # type: ignore[assignment]
        return found


class Step(Link[Settings, Value, Summary]):
    """A link that is computed from the results of earlier ones.

    Attributes
    ----------
    VERSION : of what the step itself does; ``parts`` are those of what takes part with settings
    needs : the steps whose results ``compute`` loads, the latest first, without gaps
    parents : the first of these, where nothing else is said
    """

    VERSION: ClassVar[int]
    needs: ClassVar[tuple[Link[Any, Any, Any], ...]]

    @property
    def parents(self) -> tuple[Link[Any, Any, Any], ...]:
        return self.needs[:1]

    def settings_of(self, wanted: Any) -> Settings:
        """Its settings among those of a strand or a pattern."""
        if self.beside:
            return self.parse(wanted.beside.get(self.name, {}))
        found: Settings = getattr(wanted, self.wanted)
        return found

    def numbered(self, settings: Settings) -> bool:
        """Whether settings name documents by their numbers."""
        return False

    def renumbered(self, settings: Settings, before: Corpus, after: Corpus) -> Settings:
        """The same settings for another corpus as brought in, naming the same documents."""
        return settings

    def told(self, settings: Settings) -> dict[str, Any]:
        """What of the settings makes a result another one: those that differ from their defaults."""
        return differing(settings)

    def parts(self, settings: Settings) -> dict[str, int]:
        """The versions of what takes part with these settings."""
        return {}

    def making(self, before: str | Sequence[str], settings: Settings) -> Making:
        """What the result is made from; ``before`` are results of its parents, in their order."""
        told = {**self.told(settings), "versions": self.parts(settings)}
        inputs = [before] if isinstance(before, str) else list(before)
        return Making(self.name, self.VERSION, plain(settings), inputs, told)

    def current(self, making: Making) -> Making:
        return self.making(making.inputs, self.parse(making.settings))

    def reads(self, making: Making, inputs: Inputs) -> Reads:
        earlier = Earlier(inputs, making.inputs)
        return Reads([earlier.identity(each) for each in self.needs], [])

    def produce(self, making: Making, inputs: Inputs, report: Report) -> Product:
        settings = self.parse(making.settings)
        value, summary = self.compute(Earlier(inputs, making.inputs), settings, report)
        # What is left at its default is not written: a field that comes later changes no earlier bytes.
        said = summary.model_dump(mode="json", exclude_unset=True)
        return Product(*self.save(value), said)

    @abstractmethod
    def compute(self, earlier: Earlier, settings: Settings, report: Report) -> tuple[Value, Summary]:
        """The result from those of earlier steps."""


class Earlier:
    """The results that one was made from, or is being made from, each loaded when asked for."""

    def __init__(self, inputs: Inputs, last: Sequence[str]) -> None:
        self.inputs = inputs
        self.last = last

    def identity(self, step: Link[Any, Any, Any]) -> str:
        """The result of a step before, the nearest."""
        waiting = list(self.last)
        while (making := self.inputs.result(identity := waiting.pop(0)).making).step != step.name:
            waiting += making.inputs
        return identity

    def stored(self, step: Link[Any, Any, Any]) -> Stored:
        """The result of a step before, as it is stored."""
        return self.inputs.result(self.identity(step))

    def load(self, step: Link[Any, Value, Any]) -> Value:
        """The result of a step before."""
        return load(self.inputs, step, self.stored(step))


def examine(inputs: Inputs, step: Link[Any, Any, Any], stored: Stored) -> None:
    """Raise ``ContentError`` unless a stored result is one that its step can have written.

    Files may be written by anybody: nothing counts with a result before it was examined.
    """
    try:
        said, before = step.summarised(stored), stored.making.inputs
        if isinstance(step, Step):
            step.parse(stored.making.settings)
            made_from = [inputs.result(each).making.step for each in before]
            expect(made_from == [each.name for each in step.parents], f"it was not made from {_named(step.parents)}")
        asked = step.check(stored, Earlier(inputs, before))
        canonical_json(stored.summary)
    except ContentError:
        raise
    except (ArithmeticError, AttributeError, LookupError, RecursionError, TypeError, ValueError) as fault:
        raise ContentError(f"it can't be read ({type(fault).__name__})") from fault
    for name in said.model_fields_set & asked.model_fields_set:
        expect(getattr(said, name) == getattr(asked, name), f"its {name} is not that of its files")


def _named(parents: Sequence[Link[Any, Any, Any]]) -> str:
    return " and ".join(f"one {each.name}" for each in parents)


def load(inputs: Inputs, step: Link[Any, Value, Any], stored: Stored) -> Value:
    """A stored result with what it was made from at hand."""
    return step.load(stored, Earlier(inputs, stored.making.inputs))
