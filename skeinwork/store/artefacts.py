"""Results as files: a folder for each, named by its identity, written once and never changed.

A result is written under a temporary name, flushed to disk and renamed, so that a folder with its
final name is always whole. ``made.json`` in it says what it was made from and holds the checksum of
every other file.
"""

from __future__ import annotations

import hashlib
import json
import os
import shutil
import tempfile
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.errors import SkeinworkError
from skeinwork.core.identity import canonical_json, result_identity

_MADE = "made.json"
_TEMPORARY = ".tmp-"


class DamagedResultError(SkeinworkError):
    """A stored file is not what was written; the result has to be made again."""


@dataclass(frozen=True)
class Making:
    """What a result is made from; equal makings give the same result."""

    step: str
    version: int
    settings: Mapping[str, Any]
    inputs: Sequence[str] = ()

    @property
    def identity(self) -> str:
        return result_identity(self.step, self.version, self.settings, self.inputs)


@dataclass(frozen=True)
class Artefact:
    """A stored result, read as it is asked for."""

    identity: str
    folder: Path
    making: Making
    summary: dict[str, Any]
    checksums: dict[str, str]

    def holds(self, name: str) -> bool:
        """Whether an array or document was written; results of earlier versions lack the new ones."""
        return bool({f"{name}.npy", f"{name}.json"} & set(self.checksums))

    def array(self, name: str) -> NDArray[Any]:
        """An array, memory-mapped and read-only."""
        loaded: NDArray[Any] = np.load(self.folder / f"{name}.npy", mmap_mode="r")
        return loaded

    def document(self, name: str) -> Any:
        """A JSON document."""
        return json.loads((self.folder / f"{name}.json").read_text(encoding="utf-8"))

    def verify(self) -> None:
        """Raise ``DamagedResultError`` unless every file has the checksum it was written with."""
        for name, expected in self.checksums.items():
            path = self.folder / name
            if not path.exists() or _checksum(path) != expected:
                raise DamagedResultError(
                    f"The stored {self.making.step} result has a damaged file ({name}). "
                    "Rebuild to make it again."
                )


def _checksum(path: Path) -> str:
    with path.open("rb") as source:
        return hashlib.file_digest(source, "sha256").hexdigest()


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
    """The folder that holds all results."""

    def __init__(self, root: Path) -> None:
        self.root = root
        self._intact: set[str] = set()
        root.mkdir(parents=True, exist_ok=True)

    def _place(self, identity: str) -> Path:
        return self.root / identity[:2] / identity

    def has(self, identity: str) -> bool:
        """Whether a result is there and whole; a damaged one is removed, to be made again.

        Checksums are compared once for each result and process.
        """
        if not (self._place(identity) / _MADE).exists():
            self._intact.discard(identity)
            return False
        if identity not in self._intact:
            try:
                self.open(identity).verify()
            except DamagedResultError:
                self.discard(identity)
                return False
            self._intact.add(identity)
        return True

    def write(
        self,
        making: Making,
        arrays: Mapping[str, NDArray[Any]],
        documents: Mapping[str, Any],
        summary: Mapping[str, Any],
    ) -> str:
        """Store a result whole or not at all; return its identity."""
        identity = making.identity
        if self.has(identity):
            return identity
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
                "summary": summary,
                "checksums": checksums,
            }
            _write(temporary / _MADE, canonical_json(made))
            target = self._place(identity)
            target.parent.mkdir(exist_ok=True)
            _sync_folder(temporary)
            try:
                temporary.rename(target)
            except OSError:  # another worker was there first, with the same result
                if not (target / _MADE).exists():
                    raise
            _sync_folder(target.parent)
            self._intact.add(identity)
        finally:
            shutil.rmtree(temporary, ignore_errors=True)
        return identity

    def open(self, identity: str) -> Artefact:
        folder = self._place(identity)
        try:
            made = json.loads((folder / _MADE).read_text(encoding="utf-8"))
        except (OSError, ValueError) as fault:
            raise DamagedResultError(
                "A stored result is missing or damaged. Rebuild to make it again."
            ) from fault
        making = Making(made["step"], made["version"], made["settings"], made["inputs"])
        return Artefact(identity, folder, making, made["summary"], made["checksums"])

    def ancestor(self, identity: str, step: str) -> Artefact:
        """The result of an earlier step that this one was made from, at whatever distance."""
        artefact = self.open(identity)
        while artefact.making.step != step:
            artefact = self.open(artefact.making.inputs[0])
        return artefact

    def identities(self) -> Iterator[str]:
        for folder in self.root.glob("??/*"):
            if (folder / _MADE).exists():
                yield folder.name

    def discard(self, identity: str) -> None:
        """Remove a damaged result, so that it can be made again."""
        shutil.rmtree(self._place(identity), ignore_errors=True)

    def sweep(self) -> int:
        """Remove what a killed process left half-written; return how much."""
        leftovers = list(self.root.glob(f"{_TEMPORARY}*"))
        for leftover in leftovers:
            shutil.rmtree(leftover, ignore_errors=True)
        return len(leftovers)
