"""Run a call in a process of its own, which ends where it takes too much time or memory.

What a file can hold can make any reader slow or hungry, and a library call that runs can't be
stopped. The processes are forked from one that has loaded the code and done nothing else, so that
one more takes milliseconds, and none holds memory of the server's.
"""

from __future__ import annotations

import io
import multiprocessing
import os
import pickle
import resource
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import suppress
from multiprocessing.connection import Connection
from multiprocessing.process import BaseProcess
from tempfile import gettempdir
from typing import Any, NamedTuple, NoReturn

from skeinwork.core.errors import BadInputError, SkeinworkError, UsageError

_PROCESSES = multiprocessing.get_context("forkserver")
_PROCESSES.set_forkserver_preload(["__main__", "skeinwork.core.corpus.gather"])
# Seconds between two looks at whether the work is still wanted.
_LOOK_EVERY = 0.1
# Times the limit on its work that a process is waited for in all.
_IDLE = 5
# Bytes of answers that are sent at once.
_BATCH = 1_000_000
# Seconds after which what there is is sent.
_FLUSH_EVERY = 0.2
_END = "end"
# How a process ends that never came to its work; one that takes too much memory is ended by a signal, or says so.
_LEFT = 1


class Limits(NamedTuple):
    """Seconds of work without an answer, and bytes of memory beyond what the code itself takes."""

    seconds: float
    memory: int


class OverLimitError(BadInputError):
    """What was asked took more than its limits allow."""


def each(
    call: Callable[..., Iterator[Any]],
    *arguments: Any,
    name: Callable[[], str],
    limits: Limits,
    watch: Callable[[], None] = lambda: None,
) -> Iterator[Any]:
    """What a call yields, value by value.

    Parameters
    ----------
    name : what to call the thing that is read in the sentence about a limit, when that is reached
    watch : called about ten times a second while waiting; ends the work by raising

    Raises
    ------
    OverLimitError
        where a limit was reached, or the process was ended by what it read.
    SkeinworkError
        what the call raises; anything else it raises becomes a ``RuntimeError``.
    """
    ours, theirs = _PROCESSES.Pipe()
    process = _start(theirs, (limits, dict(os.environ), call, arguments))
    theirs.close()
    try:
        while True:
            _wait(ours, name, limits, watch)
            try:
                batch = pickle.Unpickler(io.BytesIO(ours.recv_bytes()))
            except (EOFError, OSError):
                process.join()
                if process.exitcode == -signal.SIGPROF:
                    _too_long(name, limits)
                if process.exitcode == _LEFT:
                    _not_begun(name)
                _too_much(name, limits)
            while True:
                kind, value = batch.load()
                if kind is None:
                    break
                if kind == _END:
                    return _end(value, name, limits)
                yield value
    finally:
        process.kill()
        process.join()
        ours.close()


def one(
    call: Callable[..., Any],
    *arguments: Any,
    name: Callable[[], str],
    limits: Limits,
    watch: Callable[[], None] = lambda: None,
) -> Any:
    """What a call returns; else as ``each``."""
    return next(each(_once, call, *arguments, name=name, limits=limits, watch=watch))


def _start(theirs: Connection, work: tuple[Any, ...]) -> BaseProcess | _Program:
    """A process that serves a call.

    Workers of a cluster are begun by a watcher of theirs as processes that may have no children of the
    library's; there it is begun as a program of its own, with the same limits.
    """
    if multiprocessing.current_process().daemon:
        return _Program(theirs, work)
    process = _PROCESSES.Process(target=_serve, args=(theirs, *work), daemon=True)
    try:
        process.start()
    except OSError as fault:
        if "AF_UNIX path too long" not in str(fault):
            raise
        raise UsageError(
            f"The path of the folder for temporary files is too long: {gettempdir()}. Set TMPDIR to a shorter one."
        ) from fault
    return process


class _Program:
    """The same process as a program: it gets its work on standard input, and answers on a connection."""

    def __init__(self, theirs: Connection, work: tuple[Any, ...]) -> None:
        place = theirs.fileno()
        self.program = subprocess.Popen(
            [sys.executable, "-m", __name__, str(place)], stdin=subprocess.PIPE, pass_fds=[place]
        )
        assert self.program.stdin
        with suppress(BrokenPipeError), self.program.stdin as given:
            pickle.dump(work, given)

    @property
    def exitcode(self) -> int | None:
        return self.program.returncode

    def kill(self) -> None:
        self.program.kill()

    def join(self) -> None:
        self.program.wait()


def warm() -> None:
    """Load the code ahead of the first call."""
    with suppress(OverLimitError):
        one(int, name=str, limits=Limits(60, 2**30))


def _once(call: Callable[..., Any], *arguments: Any) -> Iterator[Any]:
    yield call(*arguments)


def _wait(ours: Connection, name: Callable[[], str], limits: Limits, watch: Callable[[], None]) -> None:
    """Until there is an answer; a process that does nothing is not waited for without end."""
    until = time.monotonic() + _IDLE * limits.seconds
    while not ours.poll(_LOOK_EVERY):
        watch()
        if time.monotonic() > until:
            _too_long(name, limits)


def _too_long(name: Callable[[], str], limits: Limits) -> NoReturn:
    raise OverLimitError(
        f"{name()} was given up after {limits.seconds:.0f} s of reading that came to nothing. Save "
        "what you need of it in a simpler form, such as CSV or plain text, or in parts."
    )


def _not_begun(name: Callable[[], str]) -> NoReturn:
    raise SkeinworkError(f"{name()} was not read: the process that reads it could not begin. Try again.")


def _too_much(name: Callable[[], str], limits: Limits) -> NoReturn:
    raise OverLimitError(
        f"{name()} would take more than {limits.memory / 2**30:.1f} GB when laid out, far more than its "
        "size. Save what you need of it as CSV or plain text, or in parts."
    )


def _end(fault: Any, name: Callable[[], str], limits: Limits) -> None:
    if isinstance(fault, MemoryError):
        _too_much(name, limits)
    if isinstance(fault, SkeinworkError):
        raise fault
    if fault is not None:
        raise RuntimeError(fault)


class _Answers:
    """Values on their way to who asked, about a megabyte or a fifth of a second at a time."""

    def __init__(self, connection: Connection, seconds: float) -> None:
        self.connection = connection
        self.seconds = seconds
        self._begin()
        self.sent = 0.0

    def _begin(self) -> None:
        """A pickle for each batch: names that recur in it are sent once."""
        self.buffer = io.BytesIO()
        self.pickler = pickle.Pickler(self.buffer, protocol=5)
        signal.setitimer(signal.ITIMER_PROF, self.seconds)

    def add(self, kind: str, value: Any) -> None:
        self.pickler.dump((kind, value))
        if self.buffer.tell() > _BATCH or time.monotonic() - self.sent > _FLUSH_EVERY:
            self.flush()

    def flush(self) -> None:
        self.pickler.dump((None, None))
        self.connection.send_bytes(self.buffer.getvalue())
        self._begin()
        self.sent = time.monotonic()


def _serve(
    connection: Connection,
    limits: Limits,
    environment: dict[str, str],
    call: Callable[..., Iterator[Any]],
    arguments: tuple[Any, ...],
) -> None:
    """The process: leaves when nobody listens any more."""
    threading.Thread(target=_leave_with, args=(connection,), daemon=True).start()
    os.environ.update(environment)
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    with suppress(OSError, ValueError):
        most = _held() + limits.memory
        resource.setrlimit(resource.RLIMIT_AS, (most, most))
    answers = _Answers(connection, limits.seconds)
    fault: BaseException | str | None = None
    try:
        for value in call(*arguments):
            answers.add("value", value)
    except (SkeinworkError, MemoryError) as found:
        fault = found
    except Exception as found:  # what a damaged file raises is open
        fault = f"{type(found).__name__}: {found}"
    if isinstance(fault, MemoryError):
        answers, fault = _Answers(connection, limits.seconds), MemoryError()
    with suppress(OSError):
        answers.add(_END, fault)
        answers.flush()


def _leave_with(connection: Connection) -> None:
    with suppress(OSError, EOFError):
        connection.poll(None)
    os._exit(1)


def _held() -> int:
    """Bytes of address space that this process has taken already."""
    with open("/proc/self/statm") as source:
        return int(source.read().split()[0]) * resource.getpagesize()


if __name__ == "__main__":
    _serve(Connection(int(sys.argv[1])), *pickle.load(sys.stdin.buffer))
