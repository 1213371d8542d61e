"""What a worker of a cluster does: it gets arrays and files, and gives a result back.

It has no disk in common with the server. Both sides have to be the same program, or the bytes of a
result might differ.
"""

from __future__ import annotations

import hashlib
import platform
import tempfile
import time
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

import numba
import numpy as np
import scipy
from distributed import get_worker
from numpy.typing import NDArray

import skeinwork
from skeinwork.core.errors import CancelledError, SkeinworkError
from skeinwork.core.topics.states import FORGETFUL, States
from skeinwork.store.artefacts import Artefact, Making
from skeinwork.work import steps
from skeinwork.work.jobs.executors.base import REPORT_EVERY
from skeinwork.work.steps.step import Product, Stored

TOPIC = "skeinwork"
Versions = dict[str, str]
_stopped: set[str] = set()


class MismatchError(SkeinworkError):
    """The two sides are not the same program."""


@dataclass(frozen=True)
class Held:
    """A result in memory, as it travels."""

    making: Making
    summary: dict[str, Any]
    arrays: dict[str, NDArray[Any]]
    documents: dict[str, Any]

    @classmethod
    def of(cls, stored: Artefact) -> Held:
        """A stored result, read whole."""
        names = [Path(name) for name in stored.checksums]
        return cls(
            stored.making,
            stored.summary,
            {each.stem: np.array(stored.array(each.stem)) for each in names if each.suffix == ".npy"},
            {each.stem: stored.document(each.stem) for each in names if each.suffix == ".json"},
        )

    def holds(self, name: str) -> bool:
        return name in self.arrays or name in self.documents

    def array(self, name: str) -> NDArray[Any]:
        return self.arrays[name]

    def document(self, name: str) -> Any:
        return self.documents[name]


@dataclass(frozen=True)
class InMemory:
    """The inputs that came with a task; its files are put into a folder for as long as it runs."""

    results: Mapping[str, Held]
    folder: Path

    def has(self, identity: str) -> bool:
        return identity in self.results

    def result(self, identity: str) -> Stored:
        return self.results[identity]

    def file(self, sha256: str) -> Path:
        return self.folder / sha256

    def states(self, course: str) -> States:
        return FORGETFUL


@cache
def versions() -> Versions:
    """What has to be the same on both sides."""
    root = Path(skeinwork.__file__).parent
    code = hashlib.sha256()
    for part in ("core", "work/steps"):
        for path in sorted((root / part).rglob("*.py")):
            code.update(path.relative_to(root).as_posix().encode() + b"\0" + path.read_bytes())
    return {
        "Skeinwork": f"{skeinwork.__version__} ({code.hexdigest()[:8]})",
        "Python": ".".join(platform.python_version_tuple()[:2]),
        "NumPy": np.__version__,
        "SciPy": scipy.__version__,
        "Numba": numba.__version__,
    }


def check(wanted: Versions, here: Versions, place: str) -> None:
    """Raise ``MismatchError`` where the versions of a worker are not those of the server."""
    differ = [
        f"{name} {here.get(name, 'missing')}, here {version}"
        for name, version in wanted.items()
        if here.get(name) != version
    ]
    if differ:
        raise MismatchError(
            f"The worker {place} has {'; '.join(differ)}. Results could differ, so nothing is computed "
            "there. Install the same versions on both sides, then continue."
        )


def stop(task: str) -> None:
    """Note on a worker that a task is not wanted any more."""
    _stopped.add(task)


class ClusterReport:
    """A ``Report`` that tells the server by an event, and stops when told to."""

    def __init__(self, task: str) -> None:
        self.task = task
        self.last = 0.0

    def __call__(self, phase: str, done: float, **details: Any) -> None:
        if time.monotonic() - self.last < REPORT_EVERY:
            return
        self.last = time.monotonic()
        if self.task in _stopped:
            raise CancelledError("Cancelled.")
        said = {"phase": phase, "done": done, **details}
        get_worker().log_event(TOPIC, {"task": self.task, "said": said})


def make_there(
    making: Making, results: Mapping[str, Held], files: Mapping[str, bytes], task: str, wanted: Versions
) -> Product:
    """Compute a result on a worker."""
    place = get_worker().address
    check(wanted, versions(), place)
    try:
        with tempfile.TemporaryDirectory() as folder:
            for sha256, data in files.items():
                (Path(folder) / sha256).write_bytes(data)
            return steps.produce(making, InMemory(results, Path(folder)), ClusterReport(task))
    except SkeinworkError:
        raise
    except Exception as fault:  # what a worker's machine lacks is open
        raise SkeinworkError(
            f"The {making.step} broke off on the worker {place}: {type(fault).__name__}: {fault}. See what "
            "is wrong there, then continue; what was finished is kept."
        ) from fault
    finally:
        _stopped.discard(task)
