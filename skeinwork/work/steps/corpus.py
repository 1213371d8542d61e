"""Corpus: files read into documents, and documents shaped by the analyst's operations."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, fields
from pathlib import Path
from typing import Any, ClassVar

import numpy as np
from pydantic import BaseModel, TypeAdapter

from skeinwork.core.content import expect, expect_words
from skeinwork.core.corpus import gather, shaping
from skeinwork.core.corpus.about import about
from skeinwork.core.corpus.corpus import Column, Corpus
from skeinwork.core.corpus.documents import Trouble
from skeinwork.core.corpus.gather import GatherSettings
from skeinwork.core.corpus.shaping import OPERATIONS, Done, Operation, Sources
from skeinwork.core.corpus.survey import VERSION as SURVEY
from skeinwork.core.corpus.survey import Survey, survey
from skeinwork.core.errors import NO_DOCUMENTS, BadInputError
from skeinwork.core.formats.dates import MISSING
from skeinwork.core.identity import canonical_json
from skeinwork.core.kinds import differing
from skeinwork.core.progress import Report
from skeinwork.core.text.about import About
from skeinwork.store.artefacts import ArtefactStore, Making
from skeinwork.work.results import finding
from skeinwork.work.steps.step import (
    Arrays,
    Documents,
    Earlier,
    Inputs,
    Link,
    Product,
    Reads,
    Said,
    Stored,
    counted,
    plain,
)

_ARRAYS = ("data", "pointer", "days", "precision", "lines", "sources", "numbers")
_SURVEY = tuple(each.name for each in fields(Survey))
_TROUBLE: TypeAdapter[list[Trouble]] = TypeAdapter(list[Trouble])
_DONE: TypeAdapter[list[Done]] = TypeAdapter(list[Done])


class CorpusSummary(BaseModel):
    """Documents, those without text, rows left out or noted, bytes, the period, operations done."""

    documents: int
    empty: int
    rejected: int
    noted: int
    bytes: int
    first_day: int | None
    last_day: int | None
    shaped: int


@dataclass(frozen=True)
class Made:
    """A corpus with what was noted while it was made, and what its operations did."""

    corpus: Corpus
    trouble: list[dict[str, Any]]
    done: list[dict[str, Any]]


def sound(path: Path, sha256: str, name: str) -> Path:
    """A file brought in, as it was.

    Raises
    ------
    BadInputError
        where it is gone or is not what was brought in.
    """
    try:
        with path.open("rb") as source:
            if hashlib.file_digest(source, "sha256").hexdigest() == sha256:
                return path
    except OSError:
        pass
    raise BadInputError(
        f"{name}, as it was brought in, is damaged or missing on disk. Bring the same file in again "
        "at Gather, Files; then continue."
    )


class CorpusLink(Link[GatherSettings, Corpus, CorpusSummary]):
    """From files; or from a corpus as brought in, by the analyst's operations."""

    name: ClassVar[str] = "corpus"
    called: ClassVar[str] = "the documents"
    missing: ClassVar[str] = NO_DOCUMENTS
    summary: ClassVar[type[BaseModel]] = CorpusSummary

    def parse(self, settings: Mapping[str, Any]) -> GatherSettings:
        given = {key: value for key, value in settings.items() if key != "names"}
        return GatherSettings.model_validate(given)

    def of_files(self, named: Sequence[tuple[str, str]], settings: GatherSettings) -> Making:
        """What a corpus of files is made from, each the checksum and the analyst's name of one."""
        names = {"names": [name for _, name in named]}
        sums = [sha256 for sha256, _ in named]
        told = {**differing(settings), **names}
        return Making(self.name, gather.VERSION, {**plain(settings), **names}, sums, told)

    def shaped(self, base: str, operations: Sequence[Operation]) -> Making:
        """What a corpus shaped by operations is made from."""
        settings = {"shape": [plain(each) for each in operations]}
        told = {"shape": [differing(each) for each in operations]}
        return Making(self.name, shaping.VERSION, settings, [base], told)

    def current(self, making: Making) -> Making:
        if operations := operations_of(making):
            return self.shaped(making.inputs[0], operations)
        named = list(zip(making.inputs, making.settings["names"], strict=True))
        return self.of_files(named, self.parse(making.settings))

    def reads(self, making: Making, inputs: Inputs) -> Reads:
        operations = operations_of(making)
        if not operations:
            return Reads([], list(making.inputs))
        before, done = self._nearest(making, inputs)
        tables = [table.sha256 for each in operations[done:] for table in each.tables()]
        return Reads([before], tables)

    def seconds(self, making: Making, size: int) -> float:
        return 6e-7 * size

    def produce(self, making: Making, inputs: Inputs, report: Report) -> Product:
        if operations_of(making):
            return self._shape(making, inputs, report)
        named = zip(making.inputs, making.settings["names"], strict=True)
        paths = [(sound(inputs.file(sha256), sha256, name), name) for sha256, name in named]
        corpus, trouble = gather.gather(paths, self.parse(making.settings), report)
        report("Looking for languages and repeats", 0.9)
        return self._product(Made(corpus, [asdict(each) for each in trouble], []))

    def _nearest(self, making: Making, inputs: Inputs) -> tuple[str, int]:
        """What the most of the operations have made that is there, and how many those are."""
        base, operations = making.inputs[0], operations_of(making)
        for number in range(len(operations) - 1, 0, -1):
            earlier = self.shaped(base, operations[:number]).identity
            if inputs.has(earlier):
                return earlier, number
        return base, 0

    def _shape(self, making: Making, inputs: Inputs, report: Report) -> Product:
        before, done = self._nearest(making, inputs)
        rest, stored = operations_of(making)[done:], inputs.result(before)
        tables = {
            table.sha256: sound(inputs.file(table.sha256), table.sha256, table.name)
            for each in rest
            for table in each.tables()
        }
        sources = Sources(finding.find_unindexed, tables, load_survey(stored))
        corpus, reports = shaping.shape(load_corpus(stored), rest, sources, report)
        all_done = [*load_done(stored), *(asdict(each) for each in reports)]
        return self._product(Made(corpus, stored.document("trouble"), all_done))

    def _product(self, made: Made) -> Product:
        arrays, documents = self.save(made.corpus)
        documents |= {"trouble": made.trouble, "done": made.done}
        return Product(arrays, documents, _summary(made).model_dump())

    def save(self, value: Corpus) -> tuple[Arrays, Documents]:
        known = survey(value)
        arrays: Arrays = {name: getattr(value, name) for name in _ARRAYS}
        arrays |= {_stored_as(name): getattr(known, name) for name in _SURVEY}
        arrays |= {f"codes_{at}": column.codes for at, column in enumerate(value.columns)}
        columns = [{"name": c.name, "role": c.role, "values": c.values} for c in value.columns]
        return arrays, {"fields": columns, "names": value.names}

    def load(self, stored: Stored, earlier: Earlier) -> Corpus:
        return load_corpus(stored)

    def check(self, stored: Stored, earlier: Earlier) -> CorpusSummary:
        settings, inputs = stored.making.settings, stored.making.inputs
        if operations_of(stored.making):
            expect(len(inputs) == 1, "a shaped corpus is made from one")
            base = earlier.inputs.result(inputs[0]).making
            expect(base.step == self.name and "shape" not in base.settings, "it was shaped from none")
        else:
            expect_words("names of files", list(settings["names"]), len(inputs))
            expect(len(self.parse(settings).files) == len(inputs), "its files are not as many")
        corpus = load_corpus(stored)
        corpus.check()
        if stored.holds(_stored_as("words")):
            load_survey(stored).check(len(corpus))
        trouble, done = stored.document("trouble"), load_done(stored)
        _TROUBLE.validate_json(canonical_json(trouble), strict=True)
        _DONE.validate_json(canonical_json(done), strict=True)
        return _summary(Made(corpus, trouble, done))

    def said(self, settings: GatherSettings, summary: CorpusSummary) -> Said:
        return Said(name="", size=counted(summary.documents, "document"))


CORPUS = CorpusLink()


def load_corpus(stored: Stored) -> Corpus:
    """A stored corpus; results of earlier versions have no numbers of their own."""
    columns = [
        Column(f["name"], f["role"], stored.array(f"codes_{at}"), f["values"])
        for at, f in enumerate(stored.document("fields"))
    ]
    part = stored.array
    own = np.arange(len(part("pointer")) - 1, dtype=np.int32)
    numbers = part("numbers") if stored.holds("numbers") else own
    return Corpus(
        part("data"),
        part("pointer"),
        columns,
        part("days"),
        part("precision"),
        part("lines"),
        part("sources"),
        numbers,
        stored.document("names"),
    )


def load_survey(stored: Stored) -> Survey:
    """The survey of a corpus, made now where an earlier version stored another or none."""
    if not stored.holds(_stored_as("words")):
        return survey(load_corpus(stored))
    return Survey(**{name: stored.array(_stored_as(name)) for name in _SURVEY})


def _stored_as(name: str) -> str:
    return f"survey_{SURVEY}_{name}"


def corpus_with_about(stored: Stored) -> tuple[Corpus, About]:
    """A stored corpus, and what it says of its documents beside their texts."""
    corpus = load_corpus(stored)
    return corpus, about(corpus, load_survey(stored))


def load_done(stored: Stored) -> list[dict[str, Any]]:
    """What the operations on a corpus have done."""
    found: list[dict[str, Any]] = stored.document("done") if stored.holds("done") else []
    return found


def _summary(made: Made) -> CorpusSummary:
    lengths = np.diff(made.corpus.pointer)
    known = made.corpus.days[made.corpus.days != MISSING]
    return CorpusSummary(
        documents=len(made.corpus),
        empty=int((lengths == 0).sum()),
        rejected=sum(each["raw"] is not None for each in made.trouble),
        noted=sum(each["raw"] is None for each in made.trouble),
        bytes=int(lengths.sum()),
        first_day=int(known.min()) if len(known) else None,
        last_day=int(known.max()) if len(known) else None,
        shaped=len(made.done),
    )


def operations_of(making: Making) -> tuple[Operation, ...]:
    """The operations that a corpus was shaped by."""
    return OPERATIONS.validate_python(making.settings.get("shape", []))


def wanted_corpus(base: str, operations: Sequence[Operation]) -> str:
    """The identity of a corpus shaped by operations."""
    return CORPUS.shaped(base, operations).identity if operations else base


def base_of(inputs: Inputs, corpus: str) -> str:
    """The corpus as brought in that a corpus was shaped from; itself where it was not shaped."""
    making = inputs.result(corpus).making
    return making.inputs[0] if "shape" in making.settings else corpus


def done_of(stored: Stored) -> list[Done]:
    """What the operations on a corpus have done, one by one."""
    return [Done(**each) for each in load_done(stored)]


def renumbered(store: ArtefactStore, operations: Sequence[Operation], before: str, after: str) -> tuple[Operation, ...]:
    """Operations for another corpus as brought in; those that name documents name the same ones."""
    if not any(each.numbered() for each in operations):
        return tuple(operations)
    old, new = (load_corpus(store.open(each)) for each in (before, after))
    return tuple(each.renumbered(old, new) for each in operations)
