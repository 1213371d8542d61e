"""A skein as one file: its records, all results that were made for it, and the files it came from.

The file is a ZIP archive: ``skein.json`` (version 1) with the records, ``results/<identity>/...`` as
they are stored, ``files/<checksum>`` as they were brought in. Everything in it carries its checksum,
which is compared when the file is opened elsewhere.
"""

from __future__ import annotations

import hashlib
import json
import re
import shutil
import tempfile
import zipfile
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, ValidationError

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import archive
from skeinwork.core.text.clean import CleanSettings
from skeinwork.store.artefacts import DamagedResultError
from skeinwork.store.models import Event, Result, Skein, Strand, TopicNote, Upload, database
from skeinwork.store.store import Store
from skeinwork.work import strands
from skeinwork.work.strands import Wanted

_RESULT = re.compile(r"results/([0-9a-f]{64})/([\w.-]+)")
_FILE = re.compile(r"files/([0-9a-f]{64})")
_KEPT = ("corpus", "cleaning", "matrix", "fit")


class NoteRecord(BaseModel):
    fit: str
    topic: int
    dye: int
    label: str
    confirmed: bool
    note: str
    set_aside: bool


class StrandEntry(BaseModel):
    name: str
    corpus: str | None
    cleaning: str | None
    matrix: str | None
    fit: str | None
    draft: Wanted
    notes: list[NoteRecord]


class SkeinRecord(BaseModel):
    """``skein.json``."""

    model_config = ConfigDict(extra="forbid")
    format: Literal["skeinwork-skein"] = "skeinwork-skein"
    version: Literal[1] = 1
    name: str
    events: list[tuple[str, str]]
    strands: list[StrandEntry]
    results: list[tuple[str, float]]
    files: dict[str, str]


def results_of(skeins: Iterable[Skein]) -> dict[str, Result]:
    """Every result that was made for skeins, by identity, each after those it was made from."""
    mine = [strand for skein in skeins for strand in skein.strands]
    roots = {base for strand in mine for base in strands.bases(strand)}
    roots |= {each for strand in mine for name in _KEPT if (each := getattr(strand, name))}
    rows = {row.identity: row for row in Result.select().order_by(Result.number)}
    wanted: set[str] = set()
    for root in roots:
        at: str | None = root
        while at and at in rows and at not in wanted:
            wanted.add(at)
            at = rows[at].parent
    for identity, row in rows.items():  # a result's number is above those it was made from
        if row.parent in wanted:
            wanted.add(identity)
    return {identity: row for identity, row in rows.items() if identity in wanted}


def files_of(results: Iterable[Result]) -> set[str]:
    """Checksums of the files that corpora came from, and of the tables that were joined."""
    found: set[str] = set()
    for row in results:
        if row.step == "corpus":
            shape = row.settings.get("shape")
            found |= {each["sha256"] for each in shape or () if "sha256" in each}
            found |= set() if shape is not None else set(row.inputs or ())
        elif row.step == "cleaning":
            found |= set(CleanSettings.model_validate(row.settings).files())
    return found


def write(store: Store, skein: Skein, path: Path) -> None:
    """Write a skein to a file; call inside a connection."""
    results = results_of([skein])
    whole = {identity: row for identity, row in results.items() if store.artefacts.has(identity)}
    names = {row.sha256: row.name for row in Upload.select()}
    files = {each: names.get(each, each) for each in sorted(files_of(whole.values()))}
    record = SkeinRecord(
        name=skein.name, events=[(row.day, row.label) for row in skein.events],
        strands=[_entry(strand) for strand in skein.strands.order_by(Strand.id)],
        results=[(identity, row.seconds) for identity, row in whole.items()], files=files,
    )  # fmt: skip
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED, compresslevel=3) as out:
        out.writestr("skein.json", record.model_dump_json(indent=1))
        for identity in whole:
            folder = store.artefacts.open(identity).folder
            for each in sorted(folder.iterdir()):
                out.write(each, f"results/{identity}/{each.name}")
        for sha256 in files:
            if (source := store.upload_path(sha256)).exists():
                out.write(source, f"files/{sha256}")


def _entry(strand: Strand) -> StrandEntry:
    rows = TopicNote.select().where(TopicNote.strand == strand)
    notes = [
        NoteRecord(**{name: getattr(row, name) for name in NoteRecord.model_fields}) for row in rows
    ]
    made = {name: getattr(strand, name) for name in _KEPT}
    return StrandEntry(name=strand.name, **made, draft=strands.wanted(strand), notes=notes)


def _open(path: Path) -> tuple[zipfile.ZipFile, SkeinRecord]:
    try:
        opened = archive.open_zip(path.read_bytes(), "The file of the skein")
        return opened, SkeinRecord.model_validate_json(opened.read("skein.json"))
    except KeyError as fault:
        raise BadInputError("This is not the file of a skein: it has no skein.json.") from fault
    except (ValidationError, json.JSONDecodeError) as fault:
        raise BadInputError(
            "The file of the skein can't be read: its skein.json is damaged, or was written by a newer "
            "version of Skeinwork."
        ) from fault


def read(store: Store, path: Path) -> int:
    """Bring a skein in from a file; the number of its first strand. Call inside a connection.

    Raises
    ------
    BadInputError
        where the file is not one, or something in it is not what was written.
    """
    opened, record = _open(path)
    with opened, tempfile.TemporaryDirectory(dir=store.folder, prefix=".tmp-") as folder:
        _unpack(opened, Path(folder), record)
        _keep_files(store, Path(folder), record)
        for identity, seconds in record.results:
            _keep_result(store, Path(folder) / "results" / identity, identity)
            store.record(identity, seconds)
    return _make(record)


def _unpack(opened: zipfile.ZipFile, folder: Path, record: SkeinRecord) -> None:
    """Only what the record names leaves the archive, and only as what it is."""
    known = {identity for identity, _ in record.results}
    for name in opened.namelist():
        result, file = _RESULT.fullmatch(name), _FILE.fullmatch(name)
        if (result and result[1] in known) or (file and file[1] in record.files):
            target = folder / name
            target.parent.mkdir(parents=True, exist_ok=True)
            with opened.open(name) as source, target.open("wb") as out:
                shutil.copyfileobj(source, out)


def _keep_files(store: Store, folder: Path, record: SkeinRecord) -> None:
    for sha256, name in record.files.items():
        source, target = folder / "files" / sha256, store.upload_path(sha256)
        if not source.exists() or target.exists():
            continue
        with source.open("rb") as data:
            if hashlib.file_digest(data, "sha256").hexdigest() != sha256:
                raise BadInputError(f"{name} in the file of the skein is damaged.")
        size = source.stat().st_size
        source.rename(target)
        Upload.insert(sha256=sha256, name=name, size=size).on_conflict_ignore().execute()


def _keep_result(store: Store, folder: Path, identity: str) -> None:
    """Put a result where it belongs; it is checked there as any other is."""
    artefacts = store.artefacts
    if artefacts.has(identity):
        return
    if folder.exists():
        artefacts.adopt(identity, folder)
    try:
        whole = artefacts.has(identity)
    except DamagedResultError:
        whole = False
    if not whole:
        artefacts.remove(identity)
        raise BadInputError(
            f"A result in the file of the skein is damaged ({identity[:12]}…). Nothing was brought in."
        )


def _make(record: SkeinRecord) -> int:
    with database.atomic("IMMEDIATE"):
        skein = Skein.create(name=record.name)
        for day, label in record.events:
            Event.create(skein=skein, day=day, label=label)
        made = [_strand(skein, each) for each in record.strands]
    return made[0]


def _strand(skein: Skein, entry: StrandEntry) -> int:
    plain: dict[str, Any] = {name: getattr(entry, name) for name in ("name", *_KEPT)}
    strand = Strand.create(skein=skein, **plain, draft=entry.draft.model_dump(mode="json"))
    rows = [{"strand": strand.id, **note.model_dump()} for note in entry.notes]
    TopicNote.insert_rows(rows)
    found: int = strand.id
    return found


def corpora(store: Store, strand_id: int) -> Iterator[str]:
    """The corpora of a skein's strands, to be indexed."""
    skein = strands.get(strand_id).skein
    yield from dict.fromkeys(strand.corpus for strand in skein.strands if strand.corpus)
