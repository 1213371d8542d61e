"""States of fits at work, as files beside the results: scratch, which may be removed at any time."""

from __future__ import annotations

import os
import shutil
import time
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.topics.states import State

# Seconds between two states, at least; a kill costs no more.
KEEP_EVERY = 2.0
# One of which all samples that are saved come later, and the latest.
_KEPT = 2


class StatesFolder:
    """A folder with the latest states of fits that differ in nothing but their iterations.

    A file is written under another name and renamed, so that one with its name is whole; its parts carry checksums.
    """

    def __init__(self, folder: Path, every: float = KEEP_EVERY) -> None:
        self.folder = folder
        self.every = every
        self._kept = time.monotonic()

    def _files(self) -> dict[int, Path]:
        return {int(path.stem): path for path in self.folder.glob("*.npz") if path.stem.isdigit()}

    def iterations(self) -> int:
        """After how many iterations the latest state is; 0 where there is none."""
        return max(self._files(), default=0)

    def latest(self, most: int) -> State | None:
        for iteration, path in sorted(self._files().items(), reverse=True):
            if iteration <= most and (found := _read(path)) is not None:
                return found
        return None

    def wanted(self) -> bool:
        return time.monotonic() - self._kept >= self.every

    def keep(self, iteration: int, state: State) -> None:
        """Keep a state; a disk that is full or can't be written to keeps none, and stops no fit."""
        begun = time.monotonic()
        temporary = self.folder / f".{os.getpid()}.part"
        try:
            self.folder.mkdir(parents=True, exist_ok=True)
            with temporary.open("wb") as out:
                np.savez(out, allow_pickle=False, **state)
                out.flush()
                os.fsync(out.fileno())
            os.replace(temporary, self.folder / f"{iteration}.npz")
            self._leave(_KEPT)
        except OSError:
            temporary.unlink(missing_ok=True)
        self._kept = time.monotonic()
        # A large state is kept more rarely: writing takes a twentieth of the time at most.
        self.every = max(self.every, 20 * (self._kept - begun))

    def only_last(self) -> None:
        """Leave the latest state alone, of a fit that has ended."""
        self._leave(1)

    def _leave(self, latest: int) -> None:
        """Remove all but so many."""
        for _, path in sorted(self._files().items())[:-latest]:
            path.unlink(missing_ok=True)

    def size(self) -> int:
        """Bytes of all."""
        return sum(_size(path) for path in self._files().values())

    def remove(self) -> None:
        shutil.rmtree(self.folder, ignore_errors=True)


def _read(path: Path) -> State | None:
    """A state; None for a file that is not what was written."""
    try:
        with np.load(path, allow_pickle=False) as parts:
            found: dict[str, NDArray[Any]] = {name: parts[name] for name in parts.files}
    except (OSError, ValueError, EOFError, zipfile.BadZipFile):
        return None
    return found


def _size(path: Path) -> int:
    """Bytes of a file; none where a fit at work has put another in its place."""
    try:
        return path.stat().st_size
    except FileNotFoundError:
        return 0
