"""One data folder: the database, the results, the files brought in, and the lock on all of it."""

from __future__ import annotations

import contextlib
import fcntl
import hashlib
import os
import shutil
import sqlite3
import tempfile
from collections.abc import Iterable
from pathlib import Path
from typing import IO, Any

from peewee import DatabaseError, OperationalError, SqliteDatabase, fn

from skeinwork.core.errors import SkeinworkError, UsageError
from skeinwork.store import models
from skeinwork.store.artefacts import ArtefactStore, DamagedResultError, Examine, Making
from skeinwork.store.disk import DiskError
from skeinwork.store.migrations import migrate
from skeinwork.store.models import Job, Result, Upload

_PRAGMAS = {
    "journal_mode": "wal",
    "foreign_keys": 1,
    "synchronous": "normal",
    "busy_timeout": 10_000,
    "cache_size": -64_000,
}


class Store:
    """Opened by the one server process of a data folder; a second one is refused."""

    def __init__(self, folder: Path, examine: Examine | None = None) -> None:
        self.folder = folder
        self._lock = _lock(folder)
        self.artefacts = ArtefactStore(folder / "results", recall, examine)
        self.uploads = folder / "uploads"
        self.uploads.mkdir(exist_ok=True)
        self.tasks = folder / "tasks"
        self.tasks.mkdir(exist_ok=True)
        self.database = SqliteDatabase(str(folder / "skeinwork.db"), pragmas=_PRAGMAS)
        models.database.initialize(self.database)
        try:
            with self.database.connection_context():
                migrate(self.database)
                self._recover()
                self._kept_open = self._keep_open()
        except (OperationalError, sqlite3.OperationalError) as fault:
            self._lock.close()
            raise UsageError(str(DiskError(folder, fault))) from fault
        except (DatabaseError, sqlite3.DatabaseError, models.DamagedRecordError) as fault:
            self._lock.close()
            raise UsageError(
                f"The database of {folder} can't be used ({fault}). Put back a copy of skeinwork.db, or "
                "move the folder away to begin anew."
            ) from fault

    def _keep_open(self) -> sqlite3.Connection:
        """A connection that stays: the first to open the database writes files, the last removes
        them, and on a full disk nobody could read any more."""
        held = sqlite3.connect(self.folder / "skeinwork.db", check_same_thread=False)
        held.execute("SELECT COUNT(*) FROM sqlite_master").fetchone()
        return held

    def close(self) -> None:
        self._kept_open.close()
        self.database.close()
        self._lock.close()

    def _recover(self) -> None:
        """After a crash: no half-made files, finished results recorded, running jobs marked."""
        self.artefacts.sweep()
        for leftover in (*self.uploads.glob(".tmp-*"), *self.tasks.iterdir()):
            leftover.unlink()
        for leftover in self.folder.glob(".tmp-*"):
            shutil.rmtree(leftover, ignore_errors=True)
        known = {row.identity for row in Result.select(Result.identity).where(Result.inputs.is_null(False))}
        for identity in self.artefacts.identities():
            if identity not in known:
                with contextlib.suppress(DamagedResultError):
                    self.record(identity)
        Job.update(state="interrupted", finished=models.now()).where(Job.state.in_(["queued", "running"])).execute()

    def connection(self) -> Any:
        """A database connection for the duration of a ``with`` block, in one thread."""
        return self.database.connection_context()

    def record(self, identity: str, seconds: float = 0.0) -> None:
        """Note a result whose files are in place, and all that it was made from."""
        artefact = self.artefacts.open(identity)
        parent = artefact.making.inputs[0] if artefact.making.inputs else None
        with self.database.atomic("IMMEDIATE"):
            last = Result.select(fn.MAX(Result.number)).scalar() or 0
            made_from = {"version": artefact.making.version, "inputs": list(artefact.making.inputs)}
            Result.insert(
                identity=identity,
                number=last + 1,
                step=artefact.making.step,
                settings=artefact.making.settings,
                parent=parent,
                summary=artefact.summary,
                seconds=seconds,
                **made_from,
            ).on_conflict(conflict_target=[Result.identity], update=made_from).execute()

    def temporary(self, suffix: str) -> Path:
        """A new file that goes at the next start, where nobody removes it before."""
        handle, path = tempfile.mkstemp(prefix=".tmp-", suffix=suffix, dir=self.uploads)
        os.close(handle)
        return Path(path)

    def upload_path(self, sha256: str) -> Path:
        return self.uploads / sha256

    def keep_upload(self, name: str, chunks: Iterable[bytes], limit: int) -> Upload:
        """Keep a file under its checksum, streamed to disk; nothing stays of one that breaks off.

        Raises
        ------
        SkeinworkError
            if it is larger than ``limit`` bytes.
        """
        digest, size = hashlib.sha256(), 0
        handle, temporary = tempfile.mkstemp(prefix=".tmp-", dir=self.uploads)
        try:
            with os.fdopen(handle, "wb") as out:
                for chunk in chunks:
                    size += len(chunk)
                    if size > limit:
                        raise SkeinworkError(
                            f"{name} is larger than the limit of {limit // 1_000_000} MB. Raise it with --upload-limit."
                        )
                    digest.update(chunk)
                    out.write(chunk)
                out.flush()
                os.fsync(out.fileno())
            os.replace(temporary, self.upload_path(digest.hexdigest()))
        finally:
            Path(temporary).unlink(missing_ok=True)
        Upload.insert(sha256=digest.hexdigest(), name=name, size=size).on_conflict_replace().execute()
        return Upload.get_by_id(digest.hexdigest())


def recall(identity: str) -> tuple[Making, dict[str, Any]] | None:
    """What a result was made from and its summary, as recorded."""
    opened = models.database.connect(reuse_if_open=True)
    try:
        row = Result.get_or_none(Result.identity == identity)
    finally:
        if opened:
            models.database.close()
    if row is None or row.inputs is None or row.version is None:
        return None
    return Making(row.step, row.version, row.settings, row.inputs), row.summary


def _lock(folder: Path) -> IO[str]:
    try:
        folder.mkdir(parents=True, exist_ok=True)
        handle = (folder / "lock").open("w")
    except OSError as fault:
        raise UsageError(
            f"The data folder {folder} can't be written ({fault.strerror}). Choose another with --data."
        ) from fault
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError as fault:
        handle.close()
        raise UsageError(
            f"Another Skeinwork server uses the data folder {folder}. Stop it, or choose another folder with --data."
        ) from fault
    return handle
