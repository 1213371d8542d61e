"""What lies in the data folder: by skein, and what no skein has any more, which can be cleared."""

from __future__ import annotations

import shutil
from collections.abc import Iterable
from pathlib import Path

from pydantic import BaseModel

from skeinwork.core.errors import BadInputError
from skeinwork.store.models import Draft, Job, Result, Skein, Upload, WordList
from skeinwork.store.store import Store
from skeinwork.work import skein_file
from skeinwork.work.jobs import STOPPED, JobRunner
from skeinwork.work.plans import Clear

_NAMED = 20


class SkeinSize(BaseModel):
    """Bytes of a skein's results and files, and of those that no other skein has."""

    id: int
    name: str
    deleted: bool
    bytes: int
    own: int


class Unused(BaseModel):
    """What no skein has: files that were brought in, and results; ``names`` are some of the files."""

    files: int
    results: int
    bytes: int
    names: list[str]


class DiskUse(BaseModel):
    """The data folder; ``other`` is the database with the search index, and saved lists."""

    folder: str
    skeins: list[SkeinSize]
    unused: Unused
    other: int
    total: int
    free: int


class Holding:
    """Results and files of some skeins."""

    def __init__(self, skeins: Iterable[Skein]) -> None:
        listed = list(skeins)
        rows = skein_file.results_of(listed)
        self.results = set(rows)
        self.files = skein_file.files_of(rows.values())
        for strand in (strand for skein in listed for strand in skein.strands):
            self.files |= set(skein_file.sums_in(strand.draft))
            for kept in (Draft.select(Draft.settings), Job.select(Job.request)):
                record = kept.model
                for row in kept.where(record.strand == strand):
                    self.files |= set(skein_file.sums_in(row.__data__))

    def size(self, store: Store) -> int:
        return sum(result_size(store, each) for each in self.results) + sum(
            file_size(store.upload_path(each)) for each in self.files
        )


def file_size(path: Path) -> int:
    return path.stat().st_size if path.is_file() else 0


def result_size(store: Store, identity: str) -> int:
    return sum(file_size(path) for path in store.artefacts.open(identity).folder.glob("*"))


def own_of(skein: Skein) -> Holding:
    """What a skein has and no other, deleted ones not counted; call these inside a connection."""
    mine = Holding([skein])
    others = Holding(Skein.select().where((Skein.id != skein.id) & Skein.deleted.is_null()))
    mine.results -= others.results
    mine.files -= others.files | _of_lists()
    return mine


def _of_lists() -> set[str]:
    return {row.sha256 for row in WordList.select(WordList.sha256)}


def _unused() -> tuple[list[str], list[Upload]]:
    held = Holding(Skein.select())
    held.files |= _of_lists()
    results = [row.identity for row in Result.select(Result.identity).order_by(Result.number)]
    return (
        [each for each in results if each not in held.results],
        [row for row in Upload.select() if row.sha256 not in held.files],
    )


def disk_use(store: Store) -> DiskUse:
    """How much lies where."""
    sizes = [
        SkeinSize(id=skein.id, name=skein.name, deleted=skein.deleted is not None,
                  bytes=Holding([skein]).size(store), own=own_of(skein).size(store))
        for skein in Skein.select().order_by(Skein.id.desc())
    ]  # fmt: skip
    results, files = _unused()
    lists = sum(file_size(store.upload_path(each)) for each in _of_lists())
    return DiskUse(
        folder=str(store.folder),
        skeins=sizes,
        unused=Unused(
            files=len(files), results=len(results), names=[row.name for row in files[:_NAMED]],
            bytes=sum(result_size(store, each) for each in results)
            + sum(file_size(store.upload_path(row.sha256)) for row in files),
        ),
        other=sum(file_size(path) for path in store.folder.glob("skeinwork.db*")) + lists,
        total=sum(file_size(path) for path in store.folder.rglob("*")),
        free=shutil.disk_usage(store.folder).free,
    )  # fmt: skip


def clear(store: Store, runner: JobRunner, deleted: bool, unused: bool) -> int | None:
    """Let go for good of deleted skeins, or of what no skein has; the job that removes it.

    Raises
    ------
    BadInputError
        while a job may be making what would be removed.
    """
    gone = list(Skein.select().where(Skein.deleted.is_null(False))) if deleted else []
    strands = {strand.id for skein in gone for strand in skein.strands}
    if runner.at_work(None if unused else strands):
        raise BadInputError(
            "A job is at work on what would be cleared. Wait for its end, or stop it."
        )
    results: dict[str, None] = {}
    files: dict[str, None] = {}
    for skein in gone:
        own = own_of(skein)
        results |= dict.fromkeys(sorted(own.results))
        files |= dict.fromkeys(sorted(own.files))
    if unused:
        loose, rows = _unused()
        results |= dict.fromkeys(loose)
        files |= dict.fromkeys(row.sha256 for row in rows)
    if not gone and not results and not files:
        return None
    for skein in gone:
        skein.delete_instance()
    number: int = runner.start(Clear(results=tuple(results), files=tuple(files))).id
    return number


def clear_at_start(store: Store, runner: JobRunner) -> None:
    """Go on with what was to be removed, and remove what was deleted before the server was stopped."""
    with store.connection():
        for job in Job.select().where((Job.kind == Clear.kind) & Job.state.in_(STOPPED)):
            runner.continue_job(job)
        clear(store, runner, deleted=True, unused=False)
