"""Whose task is begun next, where jobs want more workers than there are."""

from __future__ import annotations

import threading
from collections import Counter

from skeinwork.work.jobs.executors.base import Executor


class Queue:
    """Jobs with tasks that wait, in the order in which they are served: as they were started.

    Those that are done soon come before those that take long; a job can be put before all.
    """

    def __init__(self, executor: Executor) -> None:
        self._executor = executor
        self._lock = threading.Lock()
        # Of jobs whether they let others go first, and their rank among those that do, or don't.
        self._waiting: dict[int, tuple[bool, int]] = {}
        self._begun: Counter[int] = Counter()

    def begin(self, job: int, patient: bool) -> bool:
        """Whether a task of a job may be begun now; if not, the job waits for its turn."""
        with self._lock:
            self._waiting.setdefault(job, (patient, job))
            if self._begun.total() >= self._executor.workers or self._order()[0] != job:
                return False
            self._begun[job] += 1
            return True

    def end(self, job: int) -> None:
        """A task of a job has ended."""
        with self._lock:
            self._begun[job] -= 1

    def leave(self, job: int) -> None:
        """None of its tasks waits any more."""
        with self._lock:
            self._waiting.pop(job, None)

    def put_first(self, job: int) -> None:
        """Serve a job before all others that wait."""
        with self._lock:
            if job in self._waiting:
                self._waiting[job] = False, min(rank for _, rank in self._waiting.values()) - 1

    def before(self, job: int) -> int:
        """How many jobs are served before one that waits with none of its tasks begun; 0 for any other."""
        with self._lock:
            if job not in self._waiting or self._begun[job]:
                return 0
            working = {each for each, tasks in self._begun.items() if tasks}
            return len(working | set(self._order()[: self._order().index(job)]))

    def _order(self) -> list[int]:
        return sorted(self._waiting, key=lambda job: self._waiting[job])
