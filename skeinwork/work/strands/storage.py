"""What lies in the data folder: by skein, and what no skein has any more, which can be cleared."""

from __future__ import annotations

import shutil
from collections.abc import Mapping

from pydantic import BaseModel

from skeinwork.core.errors import BadInputError
from skeinwork.store.models import Job, Result, Skein, Upload
from skeinwork.store.store import Store
from skeinwork.work.jobs.courses import remove_unneeded
from skeinwork.work.jobs.plans import Clear
from skeinwork.work.jobs.runner import STOPPED, JobRunner
from skeinwork.work.strands.holdings import Holding, every, own_of, size_of, size_under, together

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
    """The data folder; ``other`` is the database with the search index, saved lists, and states of fits."""

    folder: str
    skeins: list[SkeinSize]
    unused: Unused
    other: int
    total: int
    free: int


def _unused(of_each: Mapping[int, Holding]) -> Holding:
    """Results and files that no skein holds, nor a saved list."""
    held = together(of_each.values())
    return Holding(
        {row.identity for row in Result.select(Result.identity)} - held.results,
        {row.sha256 for row in Upload.select(Upload.sha256)} - held.files,
    )


def _states(store: Store) -> int:
    """Bytes of the states from which fits go on."""
    return sum(store.artefacts.states(course).size() for course in store.artefacts.courses())


def disk_use(store: Store) -> DiskUse:
    """How much lies where; call these inside a connection."""
    of_each = every()
    sizes = [
        SkeinSize(
            id=skein.id,
            name=skein.name,
            deleted=skein.deleted is not None,
            bytes=of_each[skein.id].size(store),
            own=own_of(skein, of_each).size(store),
        )
        for skein in Skein.select().order_by(Skein.id.desc())
        if skein.id in of_each  # one that another tab has just made is counted when it is asked for again
    ]
    unused = _unused(of_each)
    names = [row.name for row in Upload.select() if row.sha256 in unused.files]
    return DiskUse(
        folder=str(store.folder),
        skeins=sizes,
        unused=Unused(
            files=len(unused.files), results=len(unused.results), names=names[:_NAMED], bytes=unused.size(store)
        ),
        other=sum(map(size_of, store.folder.glob("skeinwork.db*"))) + together([]).size(store) + _states(store),
        total=size_under(store.folder),
        free=shutil.disk_usage(store.folder).free,
    )


def clear(store: Store, runner: JobRunner, deleted: bool, unused: bool) -> int | None:
    """Let go for good of deleted skeins, or of what no skein has; the job that removes it.

    Raises
    ------
    BadInputError
        while a job may be making what would be removed.
    """
    gone = list(Skein.select().where(Skein.deleted.is_null(False))) if deleted else []
    if not gone and not unused:
        return None
    strands = {strand.id for skein in gone for strand in skein.strands}
    if runner.at_work(None if unused else strands):
        raise BadInputError("A job is at work on what would be cleared. Wait for its end, or stop it.")
    of_each = every()
    going = [own_of(skein, of_each) for skein in gone] + ([_unused(of_each)] if unused else [])
    results = sorted(set().union(*(each.results for each in going)))
    files = sorted(set().union(*(each.files for each in going)))
    remove_unneeded(store, results)
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
        if clear(store, runner, deleted=True, unused=False) is None:
            remove_unneeded(store)
