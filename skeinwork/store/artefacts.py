"""Results as files: a folder for each, named by its identity, written once and never changed.

A result is written under a temporary name, flushed to disk and renamed, so that a folder with its
final name is always whole. ``made.json`` in it says what it was made from and holds the checksum of
every other file. Of a result found damaged the files are removed and ``made.json`` stays: what it was
made from is known, and it is made again in its place.
"""

from __future__ import annotations

import hashlib
import json
import logging
import os
import re
import shutil
import tempfile
import threading
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import partial
from pathlib import Path
from typing import Annotated, Any, Protocol

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.content import ContentError
from skeinwork.core.errors import BadInputError, SkeinworkError
from skeinwork.core.identity import canonical_json, result_identity
from skeinwork.store.disk import disk_faults
from skeinwork.store.states import StatesFolder

LOG = logging.getLogger("skeinwork.store")
_MADE = "made.json"
_TEMPORARY = ".tmp-"
# Scratch, beside the folders of results.
_STATES = "states"


_IDENTITY = re.compile("[0-9a-f]{64}")
# NumPy parses a file's header as Python does its own code, which counts how deep it is for all threads together.
_HEADERS = threading.Lock()
# What a file is like: inode, size, time of the last change.
State = tuple[int, int, int]


class DamagedResultError(SkeinworkError):
    """A stored file is not what was written; the result has to be made again."""

    def __init__(self, identity: str, step: str = "", reason: str = "") -> None:
        super().__init__(identity, step, reason)
        self.identity = identity
        self.step = step
        self.reason = reason

    def __str__(self) -> str:
        named = f"{self.step} result" if self.step else "result"
        return f"A stored {named} is damaged or missing on disk. It is being made again."


@dataclass(frozen=True)
class Making:
    """What a result is made from; equal makings give the same result.

    Attributes
    ----------
    settings : all of them, for people and for making it again
    told : what of them makes it another result, and the versions of what took part; None: all
    """

    step: str
    version: int
    settings: Mapping[str, Any]
    inputs: Sequence[str] = ()
    told: Mapping[str, Any] | None = None

    @property
    def identity(self) -> str:
        told = self.settings if self.told is None else self.told
        return result_identity(self.step, self.version, told, self.inputs)


Recall = Callable[[str], tuple[Making, dict[str, Any]] | None]


class Examine(Protocol):
    """Looks at the content of a result; ``store`` holds what that was made from."""

    def __call__(self, stored: Artefact, store: ArtefactStore) -> None:
        """Raise ``ContentError`` where no step can have written it."""


class Made(BaseModel):
    """``made.json``; ``sealed`` is a checksum of the rest, which those of the first version lack."""

    model_config = ConfigDict(extra="forbid", strict=True)
    step: str
    version: int
    settings: dict[str, Any]
    inputs: list[str]
    told: dict[str, Any] | None = None
    summary: dict[str, Any]
    checksums: dict[Annotated[str, Field(pattern=r"^\w[\w.-]*$")], str]
    sealed: str | None = None


class Known(dict[str, State]):
    """Files whose checksum was right, as they were then; who looks holds the lock, so that none is looked at twice."""

    def __init__(self) -> None:
        super().__init__()
        self.lock = threading.RLock()

    def __reduce__(self) -> tuple[type[Known], tuple[()]]:
        """Another process looks for itself."""
        return Known, ()


@dataclass(frozen=True)
class Artefact:
    """A stored result, read as it is asked for."""

    identity: str
    folder: Path
    making: Making
    summary: dict[str, Any]
    checksums: dict[str, str]
    known: Known = field(repr=False, compare=False)
    examine: Callable[[Artefact], None] | None = field(default=None, repr=False, compare=False)

    def holds(self, name: str) -> bool:
        """Whether an array or document was written; results of earlier versions lack the new ones."""
        return bool({f"{name}.npy", f"{name}.json"} & set(self.checksums))

    def array(self, name: str) -> NDArray[Any]:
        """An array, memory-mapped and read-only."""
        path = self._checked(f"{name}.npy")
        with _HEADERS:
            loaded: NDArray[Any] = np.lib.format.open_memmap(path, mode="r")
        return loaded

    def document(self, name: str) -> Any:
        """A JSON document."""
        return json.loads(self._checked(f"{name}.json").read_text(encoding="utf-8"))

    def verify(self) -> None:
        """Raise ``DamagedResultError`` unless every file has the checksum it was written with."""
        if not self.checksums:
            raise DamagedResultError(self.identity, self.making.step)
        for name in self.checksums:
            self._checked(name)

    def _checked(self, name: str) -> Path:
        """A file of a result that was examined; compared once, and again when a file has changed."""
        if self.examine:
            self._examine(self.examine)
        path = self.folder / name
        try:
            state = _state(path)
            with self.known.lock:
                if self.known.get(str(path)) != state:
                    if _checksum(path) != self.checksums.get(name):
                        raise DamagedResultError(self.identity, self.making.step)
                    self.known[str(path)] = state
        except OSError as fault:
            raise DamagedResultError(self.identity, self.making.step) from fault
        return path

    def _examine(self, examine: Callable[[Artefact], None]) -> None:
        """Look once at the whole content; a checksum only says that it is what somebody wrote."""
        try:
            state = _state(self.folder / _MADE)
            with self.known.lock:
                if self.known.get(str(self.folder)) != state:
                    examine(replace(self, examine=None))
                    self.known[str(self.folder)] = state
        except (ContentError, OSError) as fault:
            LOG.warning("%s %s: %s", self.making.step, self.identity, fault)
            raise DamagedResultError(self.identity, self.making.step, str(fault)) from fault


def _state(path: Path) -> State:
    found = path.stat()
    return found.st_ino, found.st_size, found.st_mtime_ns


def _checksum(path: Path) -> str:
    with path.open("rb") as source:
        return hashlib.file_digest(source, "sha256").hexdigest()


def _seal(made: Mapping[str, Any]) -> str:
    """A checksum of what ``made.json`` says itself."""
    said = {key: value for key, value in made.items() if key != "sealed"}
    return hashlib.sha256(canonical_json(said)).hexdigest()


def _write(path: Path, data: bytes) -> None:
    with path.open("wb") as out:
        out.write(data)
        out.flush()
        os.fsync(out.fileno())


def _sync_folder(path: Path) -> None:
    handle = os.open(path, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


class ArtefactStore:
    """The folder that holds all results.

    Parameters
    ----------
    recall : what a result was made from and its summary, for one whose ``made.json`` can't be read
    examine : raises ``ContentError`` for a result that no step can have written; every result is
        looked at before anything of it is handed out
    """

    def __init__(self, root: Path, recall: Recall | None = None, examine: Examine | None = None) -> None:
        self.root = root
        self._recall = recall
        self._examine = examine
        self._known = Known()
        self._opened: dict[str, tuple[State, Artefact]] = {}
        root.mkdir(parents=True, exist_ok=True)

    def __getstate__(self) -> dict[str, Any]:
        """A worker process gets the folder, not the database behind ``recall``."""
        return {**self.__dict__, "_recall": None, "_opened": {}}

    def _place(self, identity: str, root: Path | None = None) -> Path:
        if not _IDENTITY.fullmatch(identity):
            raise BadInputError("A result is named by 64 hexadecimal digits.")
        return (root or self.root) / identity[:2] / identity

    def has(self, identity: str) -> bool:
        """Whether a result is there and whole; the files of a damaged one are removed."""
        try:
            found = self.open(identity)
        except DamagedResultError:
            # Nothing is known of it. It may be put in its place at this moment, so nothing is removed there.
            return False
        try:
            found.verify()
        except DamagedResultError:
            self.set_aside(identity)
            return False
        return True

    def write(
        self,
        making: Making,
        arrays: Mapping[str, NDArray[Any]],
        documents: Mapping[str, Any],
        summary: Mapping[str, Any],
    ) -> str:
        """Store a result whole or not at all; return its identity.

        Raises
        ------
        DiskError
            saying how much was needed, and how much is there.
        """
        identity = making.identity
        if self.has(identity):
            return identity
        with disk_faults(self.root, sum(array.nbytes for array in arrays.values())):
            temporary = Path(tempfile.mkdtemp(prefix=_TEMPORARY, dir=self.root))
            try:
                for name, array in arrays.items():
                    with (temporary / f"{name}.npy").open("wb") as out:
                        np.save(out, np.ascontiguousarray(array), allow_pickle=False)
                        out.flush()
                        os.fsync(out.fileno())
                for name, value in documents.items():
                    _write(temporary / f"{name}.json", canonical_json(value))
                checksums = {path.name: _checksum(path) for path in sorted(temporary.iterdir())}
                made = {
                    "step": making.step,
                    "version": making.version,
                    "settings": making.settings,
                    "inputs": list(making.inputs),
                    "told": making.told,
                    "summary": summary,
                    "checksums": checksums,
                }
                _write(temporary / _MADE, canonical_json({**made, "sealed": _seal(made)}))
                _sync_folder(temporary)
                self._put_in_place(temporary, self._place(making.identity))
            finally:
                shutil.rmtree(temporary, ignore_errors=True)
        return identity

    @staticmethod
    def _put_in_place(temporary: Path, target: Path) -> None:
        target.parent.mkdir(exist_ok=True)
        try:
            temporary.rename(target)
        except OSError:  # another worker's equal result is there, or what is left of a damaged one
            names = sorted(path.name for path in temporary.iterdir())
            for name in sorted(names, key=lambda name: name == _MADE):
                os.replace(temporary / name, target / name)
            _sync_folder(target)
        _sync_folder(target.parent)

    def open(self, identity: str) -> Artefact:
        """A result, whose files may be gone; ``has`` says whether it is whole.

        Raises
        ------
        DamagedResultError
            where it is not known what it was made from.
        """
        path = self._place(identity) / _MADE
        try:
            state = _state(path)
            if identity in self._opened and self._opened[identity][0] == state:
                return self._opened[identity][1]
            found = self._artefact(identity, json.loads(path.read_text(encoding="utf-8")))
            self._opened[identity] = (state, found)
            return found
        except (OSError, ValueError, TypeError, RecursionError):
            pass
        recalled = self._recall(identity) if self._recall else None
        if recalled is None:
            raise DamagedResultError(identity)
        making, summary = recalled
        return Artefact(identity, path.parent, making, summary, {}, self._known)

    def _artefact(self, identity: str, written: Any) -> Artefact:
        made = Made.model_validate(written)
        making = Making(made.step, made.version, made.settings, made.inputs, made.told)
        if made.sealed not in (None, _seal(written)) or making.identity != identity:
            raise ValueError(f"{_MADE} is not what was written")
        examine = partial(self._examine, store=self) if self._examine else None
        return Artefact(identity, self._place(identity), making, made.summary, made.checksums, self._known, examine)

    def ancestor(self, identity: str, step: str) -> Artefact:
        """The result of an earlier step that this one was made from, at whatever distance."""
        waiting = [identity]
        while (artefact := self.open(waiting.pop(0))).making.step != step:
            waiting += artefact.making.inputs
        return artefact

    def identities(self) -> Iterator[str]:
        for folder in self.root.glob("??/*"):
            if _IDENTITY.fullmatch(folder.name) and (folder / _MADE).exists():
                yield folder.name

    def states(self, course: str) -> StatesFolder:
        """Where fits of a course (``Link.course``) leave their states, so that they go on from there."""
        return StatesFolder(self._place(course, self.root / _STATES))

    def courses(self) -> list[str]:
        """Of which there are states."""
        return [folder.name for folder in (self.root / _STATES).glob("??/*") if _IDENTITY.fullmatch(folder.name)]

    def adopt(self, identity: str, folder: Path) -> None:
        """Take a folder that another store wrote as a result; ``has`` says whether it is whole."""
        target = self._place(identity)
        target.parent.mkdir(exist_ok=True)
        shutil.rmtree(target, ignore_errors=True)
        shutil.move(folder, target)
        _sync_folder(target.parent)

    def remove(self, identity: str) -> int:
        """Remove a result; how many bytes it took."""
        folder = self._place(identity)
        size = sum(path.stat().st_size for path in folder.glob("*"))
        shutil.rmtree(folder, ignore_errors=True)
        self._opened.pop(identity, None)
        return size

    def set_aside(self, identity: str) -> None:
        """Remove the files of a damaged result, so that it is made again; what it was stays known."""
        for path in self._place(identity).glob("*"):
            if path.name != _MADE:
                path.unlink(missing_ok=True)

    def sweep(self) -> int:
        """Remove what a killed process left half-written; return how much."""
        leftovers = list(self.root.glob(f"{_TEMPORARY}*"))
        for leftover in leftovers:
            shutil.rmtree(leftover, ignore_errors=True)
        return len(leftovers)
