"""Corpus: files read into documents, and documents shaped by the analyst's operations."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, fields
from pathlib import Path
from typing import Any, ClassVar

import numpy as np
from pydantic import BaseModel

from skeinwork.core.corpus import gather, shape
from skeinwork.core.corpus.corpus import Column, Corpus
from skeinwork.core.corpus.gather import GatherSettings
from skeinwork.core.corpus.join import Join
from skeinwork.core.corpus.renumber import renumber
from skeinwork.core.corpus.shape import OPERATIONS, Done, Filter, Operation, Sources
from skeinwork.core.corpus.survey import Survey, survey
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.dates import MISSING
from skeinwork.core.kinds import differing
from skeinwork.core.progress import Report, silent
from skeinwork.store.artefacts import Artefact, ArtefactStore, Making
from skeinwork.work import finding
from skeinwork.work.steps.step import Arrays, Documents, Earlier, Link, Said, count, plain

_ARRAYS = ("data", "pointer", "days", "precision", "lines", "sources", "numbers")
_SURVEY = tuple(each.name for each in fields(Survey))


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
class SourceFile:
    """A file as it lies on this machine, with the analyst's name for it and its checksum."""

    path: Path
    name: str
    sha256: str


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
    """From files; the corpus as brought in."""

    name: ClassVar[str] = "corpus"
    station: ClassVar[str] = "gather"
    summary: ClassVar[type[BaseModel]] = CorpusSummary

    def parse(self, settings: Mapping[str, Any]) -> GatherSettings:
        given = {key: value for key, value in settings.items() if key != "names"}
        return GatherSettings.model_validate(given)

    def of_files(self, files: Sequence[SourceFile], settings: GatherSettings) -> Making:
        """What a corpus of files is made from."""
        names = {"names": [file.name for file in files]}
        sums = [file.sha256 for file in files]
        told = {**differing(settings), **names}
        return Making("corpus", gather.VERSION, {**plain(settings), **names}, sums, told)

    def read(
        self, store: ArtefactStore, files: Sequence[SourceFile], settings: GatherSettings,
        report: Report = silent,
    ) -> str:  # fmt: skip
        """Read files into a corpus."""
        making = self.of_files(files, settings)
        if store.has(making.identity):
            return making.identity
        paths = [(sound(each.path, each.sha256, each.name), each.name) for each in files]
        corpus, trouble = gather.gather(paths, settings, report)
        report("Looking for languages and repeats", 0.9)
        return self.write(store, making, Made(corpus, [asdict(each) for each in trouble], []))

    def write(self, store: ArtefactStore, making: Making, made: Made) -> str:
        arrays, documents = self.save(made.corpus)
        documents |= {"trouble": made.trouble, "done": made.done}
        return store.write(making, arrays, documents, _summary(made).model_dump())

    def save(self, value: Corpus) -> tuple[Arrays, Documents]:
        known = survey(value)
        arrays: Arrays = {name: getattr(value, name) for name in _ARRAYS}
        arrays |= {f"survey_{name}": getattr(known, name) for name in _SURVEY}
        arrays |= {f"codes_{at}": column.codes for at, column in enumerate(value.columns)}
        columns = [{"name": c.name, "role": c.role, "values": c.values} for c in value.columns]
        return arrays, {"fields": columns, "names": value.names}

    def load(self, stored: Artefact, earlier: Earlier) -> Corpus:
        return load_corpus(stored)

    def said(self, settings: GatherSettings, summary: CorpusSummary) -> Said:
        noun = "document" if summary.documents == 1 else "documents"
        return Said(name="", size=f"{count(summary.documents)} {noun}")


CORPUS = CorpusLink()


def load_corpus(stored: Artefact) -> Corpus:
    """A stored corpus; results of earlier versions have no numbers of their own."""
    columns = [
        Column(f["name"], f["role"], stored.array(f"codes_{at}"), f["values"])
        for at, f in enumerate(stored.document("fields"))
    ]
    part = stored.array
    own = np.arange(len(part("pointer")) - 1, dtype=np.int32)
    numbers = part("numbers") if stored.holds("numbers") else own
    return Corpus(
        part("data"), part("pointer"), columns, part("days"), part("precision"), part("lines"),
        part("sources"), numbers, stored.document("names"),
    )  # fmt: skip


def load_survey(stored: Artefact) -> Survey:
    """The survey of a corpus, made now where an earlier version stored none."""
    if not stored.holds("survey_words"):
        return survey(load_corpus(stored))
    return Survey(**{name: stored.array(f"survey_{name}") for name in _SURVEY})


def load_done(stored: Artefact) -> list[dict[str, Any]]:
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


def shaped_making(base: str, operations: Sequence[Operation]) -> Making:
    """What a shaped corpus is made from."""
    settings = {"shape": [plain(each) for each in operations]}
    told = {"shape": [differing(each) for each in operations]}
    return Making("corpus", shape.VERSION, settings, [base], told)


def wanted_corpus(base: str, operations: Sequence[Operation]) -> str:
    """The identity of a corpus shaped by operations."""
    return shaped_making(base, operations).identity if operations else base


def make_shaped(
    store: ArtefactStore, base: str, operations: Sequence[Operation], tables: dict[str, Path],
    report: Report = silent,
) -> str:  # fmt: skip
    """Shape a corpus as brought in; without operations it is that corpus itself.

    What the operations but the last have made is taken from the store where it is there.
    """
    if not operations:
        return base
    making = shaped_making(base, operations)
    if store.has(making.identity):
        return making.identity
    before, rest = base, list(operations)
    for number in range(len(operations) - 1, 0, -1):
        earlier = shaped_making(base, operations[:number]).identity
        if store.has(earlier):
            before, rest = earlier, list(operations[number:])
            break
    for each in rest:
        if isinstance(each, Join):
            sound(tables[each.sha256], each.sha256, each.name)
    stored = store.open(before)
    sources = Sources(finding.find_unindexed, tables, load_survey(stored))
    corpus, done = shape.shape(load_corpus(stored), rest, sources, report)
    all_done = [*load_done(stored), *(asdict(each) for each in done)]
    return CORPUS.write(store, making, Made(corpus, stored.document("trouble"), all_done))


def base_of(store: ArtefactStore, corpus: str) -> str:
    """The corpus as brought in that a corpus was shaped from; itself where it was not shaped."""
    making = store.open(corpus).making
    return making.inputs[0] if "shape" in making.settings else corpus


def shape_of(store: ArtefactStore, corpus: str) -> tuple[Operation, ...]:
    """The operations that a corpus was shaped by."""
    return OPERATIONS.validate_python(store.open(corpus).making.settings.get("shape", []))


def done_of(stored: Artefact) -> list[Done]:
    """What the operations on a corpus have done, one by one."""
    return [Done(**each) for each in load_done(stored)]


def renumbered(
    store: ArtefactStore, operations: Sequence[Operation], before: str, after: str
) -> tuple[Operation, ...]:
    """Operations for another corpus as brought in; those that name documents name the same ones."""
    if not any(isinstance(each, Filter) and each.numbers is not None for each in operations):
        return tuple(operations)
    old, new = (load_corpus(store.open(each)) for each in (before, after))
    return tuple(
        each.model_copy(update={"numbers": renumber(old, new, each.numbers)})
        if isinstance(each, Filter) and each.numbers is not None else each
        for each in operations
    )  # fmt: skip
