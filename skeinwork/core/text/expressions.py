"""Regular expressions of the analyst's, compiled and run where time and memory are bounded.

Neither the time nor the memory that an expression takes can be told from its text, and a library call
that runs can't be stopped. So they run in small processes of their own, two at most, each of which
the system ends after 2 s of work on one text or at 512 MB; the next question gets a new one.
"""

from __future__ import annotations

import json
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Iterable, Iterator, Sequence
from itertools import repeat
from pathlib import Path
from typing import Any, NamedTuple

from skeinwork.core.errors import BadInputError
from skeinwork.core.progress import check_wanted

# For one expression on one text: what takes longer has no end in sight.
SECONDS = 2.0
# For all texts of a request.
ALL_SECONDS = 4.0
_WORKER = Path(__file__).with_name("expression_worker.py")
# Bytes that are sent to the process at once.
_BATCH = 1_000_000
# Bytes of memory: a process that has used more is not kept for the next question.
_KEPT = 128 * 2**20
# Texts that are sent at once at most, so that a cancel is heard.
_LIGHT = 500


class Place(NamedTuple):
    """Where an expression matches, in characters, and what its named groups hold."""

    begin: int
    end: int
    groups: dict[str, str | None]


class _EndedError(Exception):
    """The process was ended while it worked."""

    def __init__(self, code: int) -> None:
        self.too_long = code == -signal.SIGPROF


class _Worker:
    """One process, asked a batch of texts at a time."""

    def __init__(self) -> None:
        self.process = subprocess.Popen(
            [sys.executable, "-I", str(_WORKER)],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
        )

    def ask(self, question: dict[str, Any], texts: list[bytes]) -> Iterator[Any]:
        """The answers to a batch, one by one."""
        assert self.process.stdin and self.process.stdout
        head = json.dumps({**question, "sizes": [len(text) for text in texts]})
        try:
            self.process.stdin.write(head.encode() + b"\n" + b"".join(texts))
            self.process.stdin.flush()
        except BrokenPipeError:
            raise _EndedError(self.process.wait()) from None
        while True:
            line = self.process.stdout.readline()
            if not line.endswith(b"\n"):
                raise _EndedError(self.process.wait())
            yield json.loads(line)

    def close(self) -> None:
        self.process.kill()
        with self.process:
            pass


class _Workers:
    """At most two at work; one that took little is kept for the next question."""

    def __init__(self) -> None:
        self._slots = threading.BoundedSemaphore(2)
        self._idle: list[_Worker] = []

    def run(self, question: dict[str, Any], texts: list[bytes], until: float) -> list[Any]:
        """The answers to a batch, as many as there are up to a time.

        Raises
        ------
        _EndedError
            where the process was ended at its work.
        BadInputError
            where the expression is none.
        """
        with self._slots:
            worker, keep = self._idle.pop() if self._idle else _Worker(), False
            answers: list[Any] = []
            try:
                for answer in worker.ask(question, texts):
                    if isinstance(answer, dict):
                        keep = answer.get("used", 0) < _KEPT
                        if "fault" in answer:
                            raise BadInputError(
                                f"The regular expression “{answer['expression'][:60]}” can't be read: "
                                f"{answer['fault']}."
                            )
                        break
                    answers.append(answer)
                    check_wanted()
                    if time.monotonic() > until:
                        break
            finally:
                if keep:
                    self._idle.append(worker)
                else:
                    worker.close()
        return answers


_WORKERS = _Workers()


def _batches(texts: Iterable[str]) -> Iterator[list[bytes]]:
    """Texts as bytes, about a megabyte at a time."""
    size, batch = 0, list[bytes]()
    for text in texts:
        batch.append(text.encode("utf-8", "surrogatepass"))
        size += len(batch[-1])
        if size > _BATCH or len(batch) == _LIGHT:
            yield batch
            size, batch = 0, []
    if batch:
        yield batch


def _answers(
    question: dict[str, Any], texts: Iterable[str], limit: float | None, things: str = "document"
) -> Iterator[Any]:
    question = {"ignore_case": True, "seconds": SECONDS, **question}
    until, looked_at = time.monotonic() + (limit or float("inf")), 0
    for batch in _batches(texts):
        try:
            answers = _WORKERS.run(question, batch, until)
        except _EndedError as fault:
            took = f"{SECONDS:.0f} s" if fault.too_long else "512 MB"
            raise BadInputError(
                f"The regular expression took more than {took} on one {things} and was stopped. Make "
                "it simpler: avoid repetitions within repetitions, and high counts."
            ) from fault
        looked_at += len(answers)
        yield from answers
        if time.monotonic() > until:
            raise BadInputError(
                f"The regular expression took more than {limit:.0f} s; {looked_at:,} {things}s were "
                "looked at. Filter first, or make it simpler."
            )


def check(expression: str, ignore_case: bool = True) -> None:
    """Raise ``BadInputError`` for an expression that is none, or too costly to be one."""
    list(_answers({"expression": expression, "ignore_case": ignore_case}, [""], None))


def found(expression: str, texts: Iterable[str], limit: float | None = None) -> Iterator[bool]:
    """Whether an expression, letter case aside, matches in each text.

    Parameters
    ----------
    limit : seconds for all texts together; None: only each text has its limit

    Raises
    ------
    BadInputError
        where it is none, or takes too long or too much memory.

    >>> list(found("gales?", ["A gale", "ice"]))
    [True, False]
    """
    return _answers({"expression": expression}, texts, limit)


def places(
    expression: str, texts: Iterable[str], limit: float | None = None, ignore_case: bool = True
) -> Iterator[list[Place]]:
    """Where an expression matches in each text, empty matches aside; else as ``found``."""
    question = {"expression": expression, "places": True, "ignore_case": ignore_case}
    for answer in _answers(question, texts, limit):
        yield [Place(*each) for each in answer if each[1] > each[0]]


def rewritten(lines: Sequence[tuple[str, str]], words: Sequence[str], limit: float | None = None) -> Iterator[str]:
    r"""Words as they are once all that expressions match in them was replaced, one after the other.

    Parameters
    ----------
    lines : expressions, letter case aside, each with what is written in the place of its matches:
        ``\1`` or ``\g<name>`` stand for groups
    limit : seconds for all words together

    Raises
    ------
    BadInputError
        where an expression is none, or all take too long or too much memory.

    >>> list(rewritten([(r"(\w+)ise$", r"\1ize"), ("ou", "o")], ["colourise", "quay"]))
    ['colorize', 'quay']
    """
    answers = _answers({"lines": list(lines)}, words, limit, "word") if lines else repeat(None)
    for word, answer in zip(words, answers, strict=False):
        yield word if answer is None else str(answer)


def check_lines(lines: Sequence[tuple[str, str]]) -> None:
    """Raise ``BadInputError`` where one of the expressions of ``rewritten`` is none."""
    list(_answers({"lines": list(lines)}, [""] if lines else [], None))
