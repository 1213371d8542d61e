"""A job at work: its tasks in an executor, how far it is and how long it will still take."""

from __future__ import annotations

import heapq
import threading
import time
from collections.abc import Callable, Collection, Iterator, Sequence
from typing import Any

from pydantic import BaseModel

from skeinwork.core.errors import BadInputError, CancelledError
from skeinwork.store import search
from skeinwork.store.artefacts import DamagedResultError
from skeinwork.store.models import Job
from skeinwork.store.store import Store
from skeinwork.work import steps
from skeinwork.work.jobs.executors.base import Executor
from skeinwork.work.jobs.plans.base import INDEX, Plan, Task, task_of
from skeinwork.work.jobs.queue import Queue
from skeinwork.work.results import finding
from skeinwork.work.steps.corpus import load_corpus
from skeinwork.work.steps.step import OnDisk

_LOOK_EVERY = 0.03
_LEAST_KNOWN = 0.02
_LEAST_SPENT = 1.0
# What an early picture may cost of the whole time.
_PRICE = 1.05


class Part(BaseModel):
    """Tasks of one step: how many are finished, of how many."""

    finished: int
    total: int


class JobProgress(BaseModel):
    """Phase, share done, seconds left (None before that can be told), what the tasks say; jobs served before it."""

    phase: str
    done: float
    seconds_left: float | None
    finished: int
    total: int
    parts: dict[str, Part]
    tasks: list[dict[str, Any]]
    before: int


class Running:
    """A plan being carried out. The plan asks for its tasks; progress is derived from them.

    ``ended`` is the state it came to and what was wrong, before that stands in its record.
    How long a task of a step takes against what was expected is learnt from those of the same step
    that are done or at work.
    """

    def __init__(self, record: Job, plan: Plan, store: Store, executor: Executor, queue: Queue) -> None:
        self.record = record
        self.plan = plan
        self.store = store
        self.executor = executor
        self.queue = queue
        self.strand_id: int = record.strand_id or 0
        self.ended: tuple[str, str | None] | None = None
        self._stop = threading.Event()
        self._tasks: list[Task] = []
        self._shown = 0.0
        self.dropped: dict[str, str] = {}

    def cancel(self) -> None:
        self._stop.set()

    def carry_out(self) -> None:
        """Do what the plan asks; a result that proves damaged on the way is made again first."""
        mended: set[str] = set()
        while True:
            try:
                self._tasks, self.dropped = [], {}
                self.add(self.plan.tasks(self.store))
                return self.plan.run(self)
            except DamagedResultError as fault:
                if fault.identity in mended:
                    raise
                mended.add(fault.identity)
                self.repair(fault.identity)

    def add(self, tasks: Sequence[Task]) -> None:
        known = {task.making.identity for task in self._tasks if task.making}
        open_ones = [task for task in self._tasks if task.making is None and task.what != INDEX]
        for task in tasks:
            if task.making and task.making.identity in known:
                continue
            expected = next((each for each in open_ones if each.what == task.what), None)
            if expected:
                open_ones.remove(expected)
                self._tasks.remove(expected)
            self._tasks.append(task)
            if task.making and self.store.artefacts.has(task.making.identity):
                task.done, task.seconds = 1.0, 0.0

    def do(self, *what: str, only: Collection[str] | None = None) -> list[str]:
        mine = [task for each in what for task in self.waiting(each)]
        if only is not None:
            mine = [task for task in mine if task.making and task.making.identity in only]
        if what == (INDEX,):
            for task in mine:
                self._index(task)
            return [task.identity for task in mine]
        self._side_by_side([task for task in mine if task.done < 1])
        made = [task.making.identity for task in mine if task.making]
        identities = [each for each in made if each not in self.dropped]
        with self.store.connection():
            for identity in identities:
                self.store.record(identity)
        return identities

    def waiting(self, what: str) -> list[Task]:
        return [task for task in self._tasks if task.what == what]

    def in_turn(self, transactions: Iterator[int]) -> None:
        ended = False
        while not ended:
            self._check()
            with self.store.connection():
                ended = next(transactions, None) is None

    def _check(self) -> None:
        if self._stop.is_set():
            raise CancelledError("Cancelled.")

    def repair(self, identity: str) -> None:
        artefacts = self.store.artefacts
        if artefacts.has(identity):
            return
        making = steps.remaking(artefacts, identity)
        for each in steps.STEPS[making.step].reads(making, OnDisk(artefacts)).results:
            self.repair(each)
        task = task_of(making, 1)
        self._tasks.append(task)
        self._side_by_side([task])

    def _side_by_side(self, tasks: Sequence[Task]) -> None:
        """Make results in their order, at most one per worker at a time, and record them."""
        waiting = in_order(tasks, self.executor.workers)
        at_work: list[Task] = []
        try:
            self._work_through(waiting, at_work)
        finally:
            self.queue.leave(self.record.id)
            for _ in at_work:
                self.queue.end(self.record.id)

    def _work_through(self, waiting: list[Task], at_work: list[Task]) -> None:
        fault: Exception | None = None
        while waiting or at_work:
            self._drop_those_after(waiting)
            while (
                not fault
                and (task := _ready(waiting, at_work, self._reads))
                and self.queue.begin(self.record.id, self.plan.patient)
            ):
                waiting.remove(task)
                at_work.append(task)
                self._begin(task)
            if not waiting:
                self.queue.leave(self.record.id)
            if self._stop.is_set() or fault:
                waiting.clear()
                for task in at_work:
                    self.executor.cancel(task.handle)
            for task in list(at_work):
                ended, said = self.executor.progress(task.handle)
                task.said = said or task.said
                task.done = min(0.99, float(task.said.get("done", 0)))
                if task.done and task.heard is None:
                    task.heard = time.monotonic(), task.done
                if ended:
                    at_work.remove(task)
                    self.queue.end(self.record.id)
                    try:
                        self._finish(task)
                    except Exception as problem:  # the others are called back first
                        if not self._spared(task, problem):
                            fault = fault or problem
            time.sleep(_LOOK_EVERY)
        self._check()
        if fault:
            raise fault

    def _spared(self, task: Task, problem: Exception) -> bool:
        """Let a task go that others don't wait for, where what was asked of it can't be."""
        if task.spared and task.making and isinstance(problem, BadInputError):
            self._drop(task, str(problem))
            return True
        return False

    def _drop(self, task: Task, why: str) -> None:
        assert task.making
        self.dropped[task.making.identity] = why
        task.done, task.seconds, task.said = 1.0, 0.0, {}

    def _drop_those_after(self, waiting: list[Task]) -> None:
        """Let those go too that would be made from what was dropped."""
        for task in list(waiting):
            if task.making and (gone := self.dropped.keys() & task.making.inputs):
                waiting.remove(task)
                self._drop(task, self.dropped[gone.pop()])

    def _reads(self, task: Task) -> Sequence[str]:
        """The results that a task is made from."""
        assert task.making is not None
        if task.before is None:
            there = all(self.store.artefacts.has(each) for each in task.making.inputs)
            reads = steps.STEPS[task.what].reads
            task.before = reads(task.making, OnDisk(self.store.artefacts)).results if there else None
        return task.before or list(task.making.inputs)

    def _begin(self, task: Task) -> None:
        assert task.making is not None
        task.begun = time.monotonic()
        task.handle = self.executor.submit(task.making)

    def _finish(self, task: Task) -> None:
        assert task.begun is not None
        identity = self.executor.result(task.handle)
        task.spent = time.monotonic() - task.begun
        task.done, task.said = 1.0, {}
        with self.store.connection():
            self.store.record(identity, task.spent)

    def _index(self, task: Task) -> None:
        """Put a corpus into the search index, in short transactions."""
        task.begun, task.said = time.monotonic(), {"phase": "Indexing for search"}
        corpus = load_corpus(self.store.artefacts.open(task.identity))
        progress = search.index_corpus(task.identity, finding.titles_of(corpus), corpus.texts())
        self.in_turn(progress)
        task.spent = time.monotonic() - task.begun
        task.done, task.said = 1.0, {}

    def progress(self) -> JobProgress:
        """Where the job is."""
        tasks = list(self._tasks)
        said = [task.said for task in tasks if task.said]
        phases = [str(each["phase"]) for each in said if "phase" in each]
        parts = {
            what: Part(
                finished=sum(task.done == 1 for task in tasks if task.what == what),
                total=sum(task.what == what for task in tasks),
            )
            for what in dict.fromkeys(task.what for task in tasks)
        }
        pace = _pace(tasks)
        whole = sum(task.seconds * pace.get(task.what, 1.0) for task in tasks)
        part = sum(task.seconds * pace.get(task.what, 1.0) * task.done for task in tasks)
        self._shown = max(self._shown, min(1.0, part / whole) if whole else 0.0)
        return JobProgress(
            phase=phases[0] if phases else "Waiting",
            done=self._shown,
            seconds_left=seconds_left(tasks, self.executor.workers),
            finished=sum(each.finished for each in parts.values()),
            total=len(tasks),
            parts=parts,
            tasks=said,
            before=self.queue.before(self.record.id),
        )


def _ready(waiting: Sequence[Task], at_work: Sequence[Task], reads: Callable[[Task], Sequence[str]]) -> Task | None:
    """The next task whose inputs none of these makes: one that is to come soon, or the first."""
    coming = {task.making.identity for task in (*waiting, *at_work) if task.making}
    ready = (task for task in waiting if coming.isdisjoint(reads(task)))
    return min(ready, key=lambda task: not task.soon, default=None)


def in_order(tasks: Sequence[Task], workers: int) -> list[Task]:
    """The longest first, so that workers end together; where that costs little, the early ones before them.

    Those come from the quickest to the longest, so that the first picture is soon there.
    """
    longest = sorted(tasks, key=lambda task: (task.late, -task.seconds))
    first = sorted((task for task in tasks if task.early), key=lambda task: task.seconds)
    early = first + [task for task in longest if not task.early]
    return early if _makespan(early, workers) <= _PRICE * _makespan(longest, workers) else longest


def _makespan(tasks: Sequence[Task], workers: int) -> float:
    """When the last of some tasks ends, each begun by the first worker that is free."""
    free = [0.0] * max(workers, 1)
    for task in tasks:
        heapq.heapreplace(free, free[0] + task.seconds)
    return max(free)


def _pace(tasks: Sequence[Task]) -> dict[str, float]:
    """How many seconds an expected second of each step takes, where that can be told."""
    spent: dict[str, float] = {}
    expected: dict[str, float] = {}
    now = time.monotonic()
    for task in tasks:
        if task.begun is None or not task.seconds:
            continue
        since, before = task.heard or (task.begun, 0.0)
        if task.done - before > _LEAST_KNOWN:
            until = now if task.spent is None else task.begun + task.spent
            spent[task.what] = spent.get(task.what, 0.0) + until - since
            known = task.seconds * (task.done - before)
            expected[task.what] = expected.get(task.what, 0.0) + known
    return {what: spent[what] / expected[what] for what in spent if expected[what] > 0}


def seconds_left(tasks: Sequence[Task], workers: int) -> float | None:
    """How long the tasks that are not done will take; None before that can be told.

    Steps follow each other. Within one the longest tasks come first, so that it takes about as long
    as all of it shared among the workers, and at least as long as its longest task.
    """
    pace = _pace(tasks)
    begun = [task.begun for task in tasks if task.begun is not None]
    if not pace or time.monotonic() - min(begun) < _LEAST_SPENT:
        return None
    usual = sum(pace.values()) / len(pace)
    left = 0.0
    for what in dict.fromkeys(task.what for task in tasks):
        rest = [task.seconds * pace.get(what, usual) * (1 - task.done) for task in tasks if task.what == what]
        left += max(sum(rest) / workers, max(rest))
    return left
