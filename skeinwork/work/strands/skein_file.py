"""A skein as one file: its records, all results that were made for it, and the files it came from.

The file is a ZIP archive: ``skein.json`` (version 2) with the records, ``results/<identity>/...`` as
they are stored, ``files/<checksum>`` as they were brought in. Everything in it carries its checksum,
which is compared when the file is opened elsewhere.
"""

from __future__ import annotations

import hashlib
import re
import tempfile
import zipfile
from collections.abc import Container, Iterable, Iterator, Mapping
from pathlib import Path
from typing import Any

from skeinwork.core.errors import BadInputError, SkeinworkError
from skeinwork.core.formats import archive
from skeinwork.store.artefacts import ArtefactStore, DamagedResultError
from skeinwork.store.models import Choice, Event, Result, Skein, Strand, TopicCheck, TopicNote, Upload, database
from skeinwork.store.store import Store
from skeinwork.work import steps
from skeinwork.work.strands import checks, choices, pins, strands
from skeinwork.work.strands.choices import ChoiceRecord, VoteRecord
from skeinwork.work.strands.schemas import MOST_NAME
from skeinwork.work.strands.skein_record import NoteRecord, SkeinRecord, StrandEntry, check_record, read_record

_RECORD = "skein.json"
_FILE_SAID = "The file of the skein"
_RESULT = re.compile(r"results/([0-9a-f]{64})/([\w.-]+)")
_FILE = re.compile(r"files/([0-9a-f]{64})")


def result_rows() -> dict[str, Result]:
    """All results by identity, each after those that it was made from."""
    return {row.identity: row for row in Result.select().order_by(Result.number)}


def made_from(row: Result) -> list[str]:
    """The results that one was made from, or the checksums of files."""
    return row.inputs or [each for each in [row.parent] if each]


def results_of(skeins: Iterable[Skein], rows: Mapping[str, Result]) -> dict[str, Result]:
    """Those of all results that were made for skeins, by identity, in their order."""
    mine = [strand for skein in skeins for strand in skein.strands]
    roots = {base for strand in mine for base in strands.bases(strand)}
    waiting = list(roots.union(*(strand.results.values() for strand in mine)))
    wanted: set[str] = set()
    while waiting:
        if (identity := waiting.pop()) in rows and identity not in wanted:
            wanted.add(identity)
            waiting += made_from(rows[identity])
    for identity, row in rows.items():  # a result's number is above those it was made from
        if wanted.intersection(made_from(row)):
            wanted.add(identity)
    return {identity: row for identity, row in rows.items() if identity in wanted}


def files_of(results: Iterable[Result]) -> set[str]:
    """Checksums of the files that results came from: documents, tables that were joined, lists."""
    found: set[str] = set()
    for row in results:
        found |= set(sums_in(row.settings))
        if row.step == steps.CORPUS.name and "shape" not in row.settings:
            found |= set(row.inputs or ())
    return found


def sums_in(settings: Any) -> Iterator[str]:
    """Checksums of files that settings name, wherever they stand in them."""
    if isinstance(settings, dict):
        if isinstance(found := settings.get("sha256"), str):
            yield found
        settings = list(settings.values())
    if isinstance(settings, list | tuple):
        for each in settings:
            yield from sums_in(each)


def write(store: Store, skein: Skein, path: Path) -> None:
    """Write a skein to a file; call inside a connection.

    Raises
    ------
    DamagedResultError
        for a damaged result that can be made again; others are left out, with what follows from them.
    """
    results = results_of([skein], result_rows())
    whole: dict[str, Result] = {}
    for identity, row in results.items():  # each after those that it was made from
        if all(each in whole for each in made_from(row) if each in results) and _is_whole(store, identity):
            whole[identity] = row
    names = {row.sha256: row.name for row in Upload.select()}
    files = {each: names.get(each, each) for each in sorted(files_of(whole.values()))}
    record = SkeinRecord(
        name=skein.name[:MOST_NAME],
        events=[(row.day, row.label) for row in skein.events],
        strands=[_entry(strand, whole) for strand in skein.strands.order_by(Strand.id)],
        results=[(identity, row.seconds) for identity, row in whole.items()],
        files=files,
    )
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED, compresslevel=3) as out:
        out.writestr(_RECORD, record.model_dump_json(indent=1))
        for identity in whole:
            folder = store.artefacts.open(identity).folder
            for each in sorted(folder.iterdir()):
                out.write(each, f"results/{identity}/{each.name}")
        for sha256 in files:
            if (source := store.upload_path(sha256)).exists():
                out.write(source, f"files/{sha256}")


def _is_whole(store: Store, identity: str) -> bool:
    """Whether a result is to be written; one that can be made again has to be made first."""
    if store.artefacts.has(identity):
        return True
    try:
        step = steps.remaking(store.artefacts, identity).step
    except SkeinworkError:
        return False
    raise DamagedResultError(identity, step)


def _entry(strand: Strand, whole: Container[str]) -> StrandEntry:
    rows = TopicNote.select().where(TopicNote.strand == strand)
    notes = [
        NoteRecord(**{name: getattr(row, name) for name in NoteRecord.model_fields}) for row in rows if row.fit in whole
    ]
    kept = {name: identity for name, identity in strand.results.items() if identity in whole}
    return StrandEntry(
        name=strand.name,
        results=kept,
        draft=strands.wanted(strand),
        notes=notes,
        choices=[
            ChoiceRecord(fit=row.fit, taken=row.taken, reason=row.reason, said=row.said)
            for row in Choice.select().where(Choice.strand == strand).order_by(Choice.id)
            if row.fit in whole and row.taken in whole
        ],
        votes=[
            VoteRecord(fit=fit, topic=topic, vote=vote)
            for (fit, topic), vote in choices.votes(strand).items()
            if fit in whole
        ],
        checks=[
            checks.record_of(row)
            for row in TopicCheck.select().where(TopicCheck.strand == strand).order_by(TopicCheck.id)
            if row.fit in whole
        ],
        pins=[each for each in pins.pins_of(strand).values() if each.of in whole],
    )


def read(store: Store, path: Path) -> int:
    """Bring a skein in from a file; the number of its first strand. Call inside a connection.

    All of it is looked at before anything is kept, and kept as a whole or not at all.

    Raises
    ------
    BadInputError
        where the file is not one, or something in it is not what can have been written.
    """
    with (
        archive.open_zip(path.read_bytes(), _FILE_SAID) as opened,
        tempfile.TemporaryDirectory(dir=store.folder, prefix=".tmp-") as folder,
    ):
        if _RECORD not in opened.namelist():
            raise BadInputError("This is not the file of a skein: it has no skein.json.")
        record = read_record(archive.read_member(opened, _RECORD, _FILE_SAID))
        _unpack(opened, Path(folder), record)
        _check_files(Path(folder), record)
        results = ArtefactStore(Path(folder) / "results", examine=steps.examine)
        check_record(record, results)
        return _keep(store, Path(folder), record, results)


def _unpack(opened: zipfile.ZipFile, folder: Path, record: SkeinRecord) -> None:
    """Only what the record names leaves the archive, and only as what it is."""
    known = {identity for identity, _ in record.results}
    (folder / "files").mkdir()
    for name in opened.namelist():
        result, file = _RESULT.fullmatch(name), _FILE.fullmatch(name)
        if result and result[1] in known:
            target = folder / "results" / result[1][:2] / result[1] / result[2]
            target.parent.mkdir(parents=True, exist_ok=True)
        elif file and file[1] in record.files:
            target = folder / "files" / file[1]
        else:
            continue
        archive.extract_member(opened, name, _FILE_SAID, target)


def _check_files(folder: Path, record: SkeinRecord) -> None:
    for source in (folder / "files").iterdir():
        with source.open("rb") as data:
            if hashlib.file_digest(data, "sha256").hexdigest() != source.name:
                name = record.files[source.name]
                raise BadInputError(f"{name} in the file of the skein is damaged.")


def _keep(store: Store, folder: Path, record: SkeinRecord, results: ArtefactStore) -> int:
    """Put everything where it belongs; what was put there goes again where that fails."""
    adopted: list[str] = []
    brought: list[Path] = []
    try:
        with database.atomic("IMMEDIATE"):
            for source in sorted((folder / "files").iterdir()):
                size, target = source.stat().st_size, store.upload_path(source.name)
                if not target.exists():
                    brought.append(target)
                    source.rename(target)
                name = record.files[source.name]
                Upload.insert(sha256=source.name, name=name, size=size).on_conflict_ignore().execute()
            for identity, seconds in record.results:
                if not store.artefacts.has(identity):
                    adopted.append(identity)
                    store.artefacts.adopt(identity, results.open(identity).folder)
                store.record(identity, seconds)
            return _make(record)
    except BaseException:
        for identity in adopted:
            store.artefacts.remove(identity)
        for target in brought:
            target.unlink(missing_ok=True)
        raise


def _make(record: SkeinRecord) -> int:
    skein = Skein.create(name=record.name)
    for day, label in record.events:
        Event.create(skein=skein, day=day, label=label)
    made = [_strand(skein, each) for each in record.strands]
    return made[0]


def _strand(skein: Skein, entry: StrandEntry) -> int:
    strand = Strand.create(skein=skein, name=entry.name, draft=entry.draft.model_dump(mode="json"))
    strand.put(entry.results)
    rows = [{"strand": strand.id, **note.model_dump()} for note in entry.notes]
    TopicNote.insert_rows(rows)
    for each in entry.choices:
        choices.choose(strand, each.fit, each.taken, each.reason, each.said)
    for vote in entry.votes:
        choices.vote(strand, choices.VoteEdit(**vote.model_dump()))
    for check in entry.checks:
        checks.keep(strand, check)
    for pin in entry.pins:
        pins.keep(strand, pin)
    found: int = strand.id
    return found


def corpora(store: Store, strand_id: int) -> Iterator[str]:
    """The corpora of a skein's strands, to be indexed."""
    skein = strands.get(strand_id).skein
    found = (strand.results.get(steps.CORPUS.name) for strand in skein.strands)
    yield from dict.fromkeys(each for each in found if each)
