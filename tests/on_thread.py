"""A server whose results are made on a thread of the tests: for all that is not about processes."""

from __future__ import annotations

import threading
from concurrent.futures import Future, ThreadPoolExecutor
from pathlib import Path
from typing import Any

from skeinwork.core.errors import CancelledError
from skeinwork.server.run import state_of
from skeinwork.server.state import State
from skeinwork.store.artefacts import ArtefactStore, Making
from skeinwork.store.store import Store
from skeinwork.work import steps
from skeinwork.work.jobs.executors.base import Executor, Progress


class Call:
    """One result at work, what it last said, and whether it is to stop."""

    def __init__(self) -> None:
        self.said: dict[str, Any] = {}
        self.stop = threading.Event()
        self.future: Future[str] = Future()

    def report(self, phase: str, done: float, **details: Any) -> None:
        if self.stop.is_set():
            raise CancelledError("Cancelled.")
        self.said = {"phase": phase, "done": done, **details}


class OnThread(Executor):
    """Makes results one after another on a thread."""

    def __init__(self, store: ArtefactStore, uploads: Path) -> None:
        self.store, self.uploads = store, uploads
        self.threads = ThreadPoolExecutor(1)

    @property
    def workers(self) -> int:
        return 1

    def submit(self, making: Making) -> Call:
        call = Call()
        call.future = self.threads.submit(steps.make, self.store, making, self.uploads, report=call.report)
        return call

    def progress(self, task: Call) -> Progress:
        return Progress(task.future.done(), task.said)

    def cancel(self, task: Call) -> None:
        task.stop.set()

    def result(self, task: Call) -> str:
        return task.future.result()

    def warm(self) -> None:
        """Kernels are compiled for the tests."""

    def close(self) -> None:
        self.threads.shutdown(wait=False, cancel_futures=True)


def open_on_thread(folder: Path, upload_limit_mb: int = 2000) -> State:
    """The state of a data folder."""
    store = Store(folder, steps.examine)
    return state_of(store, OnThread(store.artefacts, store.uploads), upload_limit_mb)
