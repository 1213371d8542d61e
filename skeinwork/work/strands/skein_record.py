"""``skein.json``: the records of a skein in its file, checked before any of them is written."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import dates
from skeinwork.store.artefacts import Artefact, ArtefactStore, DamagedResultError
from skeinwork.work.steps import CLEANING, CORPUS, FIT, StepName
from skeinwork.work.strands.checks import CheckRecord, check_answers
from skeinwork.work.strands.choices import ChoiceRecord, VoteRecord
from skeinwork.work.strands.events import EventLabel
from skeinwork.work.strands.pins import MOST_PINS, PinRecord
from skeinwork.work.strands.schemas import Came, Remark, SkeinName, TopicLabel, problems_in_words
from skeinwork.work.strands.strands import Wanted

_OF_VERSION_1 = ("corpus", "cleaning", "matrix", "fit")
Checksum = Annotated[str, Field(pattern="^[0-9a-f]{64}$")]
# A strand's name is its skein's with a little more.
StrandName = Annotated[str, Field(max_length=300)]


class NoteRecord(BaseModel):
    model_config = ConfigDict(extra="forbid")
    fit: Checksum
    topic: int = Field(ge=0, lt=500)
    dye: int = Field(ge=0, le=1_000_000)
    label: TopicLabel
    confirmed: bool
    note: Remark
    set_aside: bool
    family: TopicLabel = ""
    later: bool = False
    came: Came = ""
    likeness: float | None = Field(None, ge=-1, le=1, allow_inf_nan=False)


class StrandEntry(BaseModel):
    model_config = ConfigDict(extra="forbid")
    name: StrandName
    results: dict[StepName, Checksum]
    draft: Wanted
    notes: list[NoteRecord] = Field(max_length=100_000)
    choices: list[ChoiceRecord] = Field([], max_length=10_000)
    votes: list[VoteRecord] = Field([], max_length=100_000)
    checks: list[CheckRecord] = Field([], max_length=1000)
    pins: list[PinRecord] = Field([], max_length=MOST_PINS)

    @model_validator(mode="before")
    @classmethod
    def _read_version_1(cls, given: Any) -> Any:
        """Results were fields of their own there."""
        if not isinstance(given, dict) or "results" in given:
            return given
        results = {name: given.get(name) for name in _OF_VERSION_1 if given.get(name) is not None}
        rest = {name: each for name, each in given.items() if name not in _OF_VERSION_1}
        return {**rest, "results": results}


class SkeinRecord(BaseModel):
    """``skein.json``."""

    model_config = ConfigDict(extra="forbid")
    format: Literal["skeinwork-skein"] = "skeinwork-skein"
    version: Literal[1, 2] = 2
    name: SkeinName
    events: list[tuple[Annotated[str, Field(max_length=40)], EventLabel]] = Field(max_length=10_000)
    strands: list[StrandEntry] = Field(min_length=1, max_length=1000)
    results: list[tuple[Checksum, Annotated[float, Field(ge=0, le=1e9, allow_inf_nan=False)]]] = Field(
        max_length=100_000
    )
    files: dict[Checksum, Annotated[str, Field(max_length=1000)]] = Field(max_length=100_000)


def read_record(text: bytes) -> SkeinRecord:
    """The records of a skein's file.

    Raises
    ------
    BadInputError
        naming every place that is wrong.
    """
    try:
        return SkeinRecord.model_validate_json(text)
    except (ValidationError, RecursionError) as fault:
        said = problems_in_words(fault) if isinstance(fault, ValidationError) else "nested too deep"
        raise BadInputError(
            "The file of the skein can't be read: its skein.json is damaged, or was written by a newer "
            f"version of Skeinwork ({said})."
        ) from fault


def check_record(record: SkeinRecord, results: ArtefactStore) -> None:
    """Raise ``BadInputError`` where records and the results that came with them don't fit.

    Parameters
    ----------
    results : all that the record lists, as they came
    """
    for day, label in record.events:
        if dates.parse(day) is None:
            raise BadInputError(f"The event “{label}” has no date but “{day}”.")
    came = {identity: _whole(results, identity) for identity, _ in record.results}
    topics = {
        identity: FIT.summarised(stored).topics for identity, stored in came.items() if stored.making.step == FIT.name
    }
    for at, strand in enumerate(record.strands):
        where = f"strands.{at}"
        _check_chain(where, strand, came, results)
        _check_notes(where, strand, topics)
        _check_choices(where, strand, topics)
        _check_checks(where, strand, topics)
        _check_pins(where, strand, came, topics)


def _whole(results: ArtefactStore, identity: str) -> Artefact:
    """A result that came, every file of it looked at."""
    try:
        found = results.open(identity)
        found.verify()
        return found
    except DamagedResultError as fault:
        reason = f": {fault.reason}" if fault.reason else ""
        raise BadInputError(
            f"A result in the file of the skein is damaged ({fault.step} {fault.identity[:12]}…{reason}). "
            "Nothing was brought in."
        ) from fault


def _check_chain(where: str, strand: StrandEntry, came: Mapping[str, Artefact], results: ArtefactStore) -> None:
    """What stands on a strand is of the right kinds, and all of one corpus."""
    for name, identity in strand.results.items():
        if identity not in came or came[identity].making.step != name:
            raise BadInputError(f"{where}.{name} names no {name} that is in the file.")
        if results.ancestor(identity, CORPUS.name).identity != strand.results.get(CORPUS.name):
            raise BadInputError(f"{where}.{name} is of other documents than {where}.corpus.")
    base = strand.draft.base
    if base and (base not in came or came[base].making.step != CORPUS.name):
        raise BadInputError(f"{where}.draft.base names no corpus that is in the file.")
    if base and "shape" in came[base].making.settings:
        raise BadInputError(f"{where}.draft.base is no corpus as it was brought in.")


def _check_choices(where: str, strand: StrandEntry, topics: Mapping[str, int]) -> None:
    """Choices and votes are of fits that there are, and a topic has one vote."""
    for at, each in enumerate(strand.choices):
        if each.fit not in topics or each.taken not in topics:
            raise BadInputError(f"{where}.choices.{at} names no fit that is in the file.")
    seen = Counter((vote.fit, vote.topic) for vote in strand.votes)
    for at, vote in enumerate(strand.votes):
        if vote.topic >= topics.get(vote.fit, 0):
            raise BadInputError(f"{where}.votes.{at} names no topic that is in the file.")
        if seen[vote.fit, vote.topic] > 1:
            raise BadInputError(f"{where}.votes.{at}: topic {vote.topic + 1} has another vote.")


def _check_checks(where: str, strand: StrandEntry, topics: Mapping[str, int]) -> None:
    """Questions are of topics that there are, and answers are of these questions."""
    for at, check in enumerate(strand.checks):
        there = f"{where}.checks.{at}"
        if check.fit not in topics:
            raise BadInputError(f"{there} names no fit that is in the file.")
        for place, each in enumerate(check.questions):
            if max(each.topic, *each.topics, 0) >= topics[check.fit] or each.right >= len(each.options):
                raise BadInputError(f"{there}.questions.{place} asks about what is not there.")
        for place, given in enumerate(check.answers):
            try:
                check_answers(given.answers, check.questions)
            except BadInputError as fault:
                raise BadInputError(f"{there}.answers.{place}: {fault}") from fault


def _check_pins(where: str, strand: StrandEntry, came: Mapping[str, Artefact], topics: Mapping[str, int]) -> None:
    """What is pinned is of a topic, or of a cleaning, that there is."""
    for at, pin in enumerate(strand.pins):
        topic = pin.statement.topic
        there = came[pin.of].making.step == CLEANING.name if pin.of in came else False
        if (topic is None and not there) or (topic is not None and topic >= topics.get(pin.of, 0)):
            raise BadInputError(f"{where}.pins.{at} is of nothing that is in the file.")


def _check_notes(where: str, strand: StrandEntry, topics: Mapping[str, int]) -> None:
    """What is said of topics is said once, and of topics that there are; ``topics`` has each fit's."""
    seen = Counter((note.fit, note.topic) for note in strand.notes)
    noted = Counter(fit for fit, _ in seen)
    for at, note in enumerate(strand.notes):
        if note.fit not in topics:
            raise BadInputError(f"{where}.notes.{at}.fit names no fit that is in the file.")
        if note.topic >= topics[note.fit]:
            raise BadInputError(f"{where}.notes.{at}: the fit has no topic {note.topic + 1}.")
        if noted[note.fit] < topics[note.fit]:
            raise BadInputError(f"{where}.notes.{at}: not every topic of the fit has its record.")
        if seen[note.fit, note.topic] > 1:
            raise BadInputError(f"{where}.notes.{at}: topic {note.topic + 1} stands there twice.")
