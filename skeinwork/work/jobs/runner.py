"""Jobs: plans at work, recorded, carried out by an executor, observed and stopped.

``queued -> running -> done | failed | cancelled | interrupted``. What a job finished before it
stopped is a stored result; carrying out the same plan again finds it there.
"""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable, Collection

from peewee import OperationalError
from pydantic import ValidationError

from skeinwork.core.errors import BadInputError, CancelledError, NotFoundError, SkeinworkError
from skeinwork.store import models
from skeinwork.store.artefacts import DamagedResultError
from skeinwork.store.disk import DiskError
from skeinwork.store.models import Job, Skein, Strand
from skeinwork.store.store import Store
from skeinwork.work.jobs.executors.base import Executor
from skeinwork.work.jobs.plans import PLANS, Mend, Plan
from skeinwork.work.jobs.queue import Queue
from skeinwork.work.jobs.running import Running

LOG = logging.getLogger("skeinwork.jobs")
_AGAIN = 2.0
STOPPED = ("interrupted", "failed", "cancelled")


def find_job(job_id: int) -> Job:
    """A job by number; call inside a connection."""
    job: Job | None = Job.get_or_none(Job.id == job_id)
    if job is None:
        raise NotFoundError(f"There is no job {job_id}.")
    return job


def deleted_said(skein: Skein) -> str:
    """Why nothing is done for a skein."""
    return f"The skein “{skein.name}” was deleted. Bring it back first."


class JobRunner:
    """Starts jobs, each watched by a thread of its own; only these threads and requests write.

    ``before_done`` is called with the number of a strand when all is made, before its job counts as done.
    """

    def __init__(self, store: Store, executor: Executor) -> None:
        self.store = store
        self.executor = executor
        self.queue = Queue(executor)
        self.running: dict[int, Running] = {}
        self.before_done: Callable[[int], None] = lambda strand: None
        self._starting = threading.Lock()
        self._closing = threading.Event()
        self._beyond_mending: dict[str, str] = {}

    def start(self, plan: Plan, strand: Strand | None = None) -> Job:
        """Record a job and begin it.

        The same plan already at work is answered with that job; one that supersedes takes the
        place of another of its kind.
        """
        if strand and strand.skein.deleted:
            raise NotFoundError(deleted_said(strand.skein))
        wanted = plan.model_dump(mode="json")
        number = strand.id if strand else 0
        with self._starting:
            at_work = [each for each in self.running.values() if not each.ended]
            for running in at_work:
                alike = running.plan.kind == plan.kind and running.strand_id == number
                if alike and running.plan == plan:
                    return running.record
                if alike and plan.supersedes:
                    running.cancel()
            job = Job.create(strand=strand, kind=plan.kind, title=plan.title(), request=wanted, state="queued")
            self._launch(job, plan)
        return job

    def continue_job(self, job: Job) -> Job:
        """Carry out a stopped job's plan again; what it had finished is found in the store."""
        if job.strand and job.strand.skein.deleted:
            raise NotFoundError(deleted_said(job.strand.skein))
        running = self.running.get(job.id)
        state = running.ended[0] if running and running.ended else job.state
        if state not in STOPPED:
            raise BadInputError("Only a job that has stopped can be continued.")
        try:
            plan = PLANS[job.kind].model_validate(job.request)
        except ValidationError as fault:
            raise BadInputError(
                "This job was begun by an earlier version of Skeinwork, which did not note all that it "
                "depends on. Start it anew; what it had finished is kept."
            ) from fault
        with self._starting:
            job.state, job.error, job.finished = "queued", None, None
            job.save()
            self._launch(job, plan)
        return job

    def _launch(self, job: Job, plan: Plan) -> None:
        running = Running(job, plan, self.store, self.executor, self.queue)
        self.running[job.id] = running
        threading.Thread(target=self._watch, args=(running,), daemon=True).start()

    def cancel(self, job_id: int) -> None:
        if running := self.running.get(job_id):
            running.cancel()

    def at_work(self, strands: Collection[int] | None = None) -> bool:
        """Whether a job of some strands is at work, or of any."""
        return any(
            not running.ended and (strands is None or running.strand_id in strands)
            for running in list(self.running.values())
        )

    def stop_those_of(self, strands: Collection[int]) -> None:
        """Ask the jobs of some strands to stop."""
        for running in list(self.running.values()):
            if running.strand_id in strands:
                running.cancel()

    def close(self) -> None:
        self._closing.set()
        for running in list(self.running.values()):
            running.cancel()
        self.executor.close()

    def mend(self, identity: str, strand: Strand) -> str | None:
        """Start to make a damaged result again; or why that failed before."""
        if strand.skein.deleted:
            return deleted_said(strand.skein)
        if identity not in self._beyond_mending:
            self.start(Mend(identity=identity), strand)
        return self._beyond_mending.get(identity)

    def _watch(self, running: Running) -> None:
        running.ended = self._carry_out(running)
        self._note_mending(running.plan, *running.ended)
        while not self._noted(running) and not self._closing.wait(_AGAIN):
            pass

    def _carry_out(self, running: Running) -> tuple[str, str | None]:
        """The state that a job comes to, and what was wrong."""
        job = running.record
        try:
            with self.store.connection():
                Job.update(state="running", started=models.now()).where(Job.id == job.id).execute()
            running.carry_out()
            self.before_done(running.strand_id)
        except CancelledError:
            return "cancelled", None
        except SkeinworkError as fault:
            return "failed", str(fault)
        except (OSError, OperationalError) as fault:
            return "failed", str(DiskError(self.store.folder, fault))
        except Exception as fault:
            LOG.exception("job %s", job.id)
            return "failed", f"Something unforeseen went wrong: {fault}"
        return "done", None

    def _noted(self, running: Running) -> bool:
        """Write how a job ended; False where the disk takes nothing, which may pass."""
        assert running.ended
        state, error = running.ended
        job, progress = running.record.id, running.progress()
        with self._starting:
            if self.running.get(job) is not running:  # continued meanwhile
                return True
            try:
                with self.store.connection():
                    Job.update(
                        state=state, error=error, finished=models.now(), done=progress.finished, total=progress.total
                    ).where(Job.id == job).execute()
            except (OSError, OperationalError):
                return False
            self.running.pop(job)
        return True

    def _note_mending(self, plan: Plan, state: str, error: str | None) -> None:
        """Remember what can't be made again, so that nobody tries without end."""
        if not isinstance(plan, Mend):
            return
        if state == "done":
            self._beyond_mending.pop(plan.identity, None)
        elif error and error != str(DamagedResultError(plan.identity)):
            self._beyond_mending[plan.identity] = error
