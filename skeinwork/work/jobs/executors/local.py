"""Worker processes of this machine: tasks with progress and cancel, behind an ordinary pool.

They are forked from a process that has loaded code and kernels and done nothing else.

Progress and the wish to stop travel as small files, which no killed process can lock up. A worker
leaves when its parent does. When a worker is killed the pool is replaced, and each task it took
down is tried once more. A task that does not hear that it is to stop is killed so.
"""

from __future__ import annotations

import contextlib
import functools
import json
import multiprocessing
import os
import signal
import threading
import time
import uuid
from collections.abc import Callable
from concurrent.futures import Future, ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from pathlib import Path
from typing import Any

from skeinwork.core.errors import CancelledError, SkeinworkError
from skeinwork.core.progress import Report, silent
from skeinwork.store.artefacts import ArtefactStore, Making
from skeinwork.work import steps
from skeinwork.work.jobs.executors.base import REPORT_EVERY, Executor, Progress

_PROCESSES = multiprocessing.get_context("forkserver")
_PATIENCE = 0.7
# Seconds that a server which has just started has both processors for itself.
_FIRST_ANSWERS = 0.5


class FileReport:
    """A ``Report`` that writes where it is to a file, and looks for another that says stop."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self.stop = path.with_suffix(".stop")
        self.last = 0.0

    def __call__(self, phase: str, done: float, **details: Any) -> None:
        if time.monotonic() - self.last < REPORT_EVERY:
            return
        self.last = time.monotonic()
        if self.stop.exists():
            raise CancelledError("Cancelled.")
        with contextlib.suppress(OSError):  # a full disk stops no work that fits
            temporary = self.path.with_suffix(".part")
            temporary.write_text(json.dumps({"phase": phase, "done": done, **details}))
            os.replace(temporary, self.path)


def _begin(environment: dict[str, str]) -> None:
    """Behind the server, which answers people, and gone when it is."""
    os.nice(10)
    os.environ.update(environment)
    server = multiprocessing.parent_process()
    assert server

    def watch() -> None:
        server.join()
        os._exit(1)

    threading.Thread(target=watch, daemon=True).start()


def _run(progress: Path, call: Callable[..., Any], arguments: tuple[Any, ...]) -> Any:
    with contextlib.suppress(OSError), progress.with_suffix(".pid").open("r+") as place:
        place.write(str(os.getpid()))
    stop = progress.with_suffix(".stop")
    if stop.exists():  # it was given up while it waited for a worker
        stop.unlink(missing_ok=True)
        raise CancelledError("Cancelled.")
    return call(*arguments, report=FileReport(progress))


class Task:
    """One call in a worker process."""

    def __init__(self, progress: Path, call: Callable[..., Any], arguments: tuple[Any, ...]) -> None:
        self.progress_path = progress
        self.call = call
        self.arguments = arguments
        self.attempts = 0
        self.ran_in: ProcessPoolExecutor | None = None
        self.unwanted_since = 0.0
        self.future: Future[Any] | None = None

    def progress(self) -> dict[str, Any]:
        """What the task last said of itself."""
        try:
            said: dict[str, Any] = json.loads(self.progress_path.read_text())
        except (OSError, ValueError):
            return {}
        return said

    def make_room(self) -> None:
        """Room for the worker's process number, so that a disk that fills is no matter."""
        with contextlib.suppress(OSError):
            self.progress_path.with_suffix(".pid").write_text(" " * 20)

    def worker(self) -> int:
        """The process that works on it, 0 as long as none does."""
        try:
            return int(self.progress_path.with_suffix(".pid").read_text())
        except (OSError, ValueError):
            return 0

    def cancel(self) -> None:
        """Ask it to stop. Its future is not cancelled: a pool that breaks stumbles over that."""
        with contextlib.suppress(OSError):
            self.progress_path.with_suffix(".stop").touch()
        self.unwanted_since = self.unwanted_since or time.monotonic()

    def kill_if_deaf(self) -> bool:
        """End the process of a task that was to stop and has not heard for a while."""
        if not self.unwanted_since or time.monotonic() - self.unwanted_since < _PATIENCE:
            return False
        self.unwanted_since = time.monotonic() + _PATIENCE
        if worker := self.worker():
            with contextlib.suppress(OSError):
                os.kill(worker, signal.SIGKILL)
        return True

    def tidy(self, begun: bool = True) -> None:
        """Take its files away; the wish to stop stays for one that a worker may yet begin."""
        for suffix in (".json", ".part", ".pid", *([".stop"] if begun else [])):
            self.progress_path.with_suffix(suffix).unlink(missing_ok=True)


def _first(report: Report = silent) -> None:
    """What a worker does to be there."""


def _watch_new_worker(executor: ProcessPoolExecutor) -> None:
    """Have a pool see the death of the worker that a submit started.

    Its thread is woken before that worker is there and may wait for the others alone: a job whose
    worker is then killed would run for ever.
    """
    with executor._shutdown_lock:
        executor._executor_manager_thread_wakeup.wakeup()


class Pool:
    """Submits calls to worker processes and outlives their deaths."""

    def __init__(self, folder: Path, workers: int) -> None:
        self.folder = folder
        self.workers = workers
        self._lock = threading.Lock()
        self._executor: ProcessPoolExecutor | None = None
        self._killed: ProcessPoolExecutor | None = None
        _PROCESSES.set_forkserver_preload([f"{__package__}.loaded"])

    def _live(self) -> ProcessPoolExecutor:
        if self._executor is None:
            self._executor = ProcessPoolExecutor(
                self.workers, mp_context=_PROCESSES, initializer=_begin, initargs=(dict(os.environ),)
            )
        return self._executor

    def warm(self) -> None:
        """Load code and kernels in the background, before they are needed."""

        def load() -> None:
            time.sleep(_FIRST_ANSWERS)
            try:
                task = self.submit(_first)
                while not self.finished(task):
                    time.sleep(0.05)
                task.tidy()
            except RuntimeError:  # the server was stopped before its workers were up
                return
            from skeinwork.core import warm  # takes a while: not at the server's own start

            warm.warm()

        threading.Thread(target=load, daemon=True).start()

    def submit(self, call: Callable[..., Any], *arguments: Any) -> Task:
        task = Task(self.folder / f"{uuid.uuid4().hex}.json", call, arguments)
        self._start(task)
        return task

    def _start(self, task: Task) -> None:
        task.attempts += 1
        task.make_room()
        call = functools.partial(_run, task.progress_path, task.call, task.arguments)
        with self._lock:
            try:
                task.future = self._live().submit(call)
            except BrokenProcessPool:
                self._executor = None
                task.future = self._live().submit(call)
            task.ran_in = self._executor
            _watch_new_worker(self._live())

    def finished(self, task: Task) -> bool:
        """Whether a task has ended; one whose worker was killed is tried again."""
        if task.future is None or not task.future.done():
            if task.unwanted_since and not task.worker():
                return True
            if task.kill_if_deaf():
                self._killed = task.ran_in
            return False
        if isinstance(task.future.exception(), BrokenProcessPool):
            if task.unwanted_since:
                return True
            with self._lock:
                if self._executor is task.ran_in:
                    self._executor = None
            if task.ran_in is self._killed:  # it went down with one that was to stop
                task.attempts -= 1
            if task.attempts < 2:
                self._start(task)
                return False
        return True

    def result(self, task: Task) -> Any:
        """What a finished task returned; raises what it raised."""
        assert task.future is not None
        begun = task.future.done()
        task.tidy(begun)
        if not begun:
            raise CancelledError("Cancelled.")
        try:
            return task.future.result()
        except BrokenProcessPool as fault:
            if task.unwanted_since:
                raise CancelledError("Cancelled.") from fault
            raise SkeinworkError(
                "The worker process was killed twice, perhaps for want of memory. Free some, then continue the job."
            ) from fault

    def close(self) -> None:
        with self._lock:
            executor, self._executor = self._executor, None
        if executor:
            processes = list((executor._processes or {}).values())
            executor.shutdown(wait=False, cancel_futures=True)
            for process in processes:
                process.kill()


class Local(Executor):
    """Makes results in worker processes, which map the arrays they read from the store's files."""

    def __init__(self, store: ArtefactStore, uploads: Path, folder: Path, workers: int | None = None) -> None:
        self.store = store
        self.uploads = uploads
        self.pool = Pool(folder, workers or os.cpu_count() or 1)

    @property
    def workers(self) -> int:
        return self.pool.workers

    def submit(self, making: Making) -> Task:
        return self.pool.submit(steps.make, self.store, making, self.uploads)

    def progress(self, task: Task) -> Progress:
        return Progress(self.pool.finished(task), task.progress())

    def cancel(self, task: Task) -> None:
        task.cancel()

    def result(self, task: Task) -> str:
        identity: str = self.pool.result(task)
        return identity

    def warm(self) -> None:
        self.pool.warm()

    def close(self) -> None:
        self.pool.close()
