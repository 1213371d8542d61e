"""Jobs: requests that take a while, recorded, run in worker processes, observed and stopped.

``queued -> running -> done | failed | cancelled | interrupted``. What a job finished before it
stopped is a stored result; running the same request again finds it there.
"""

from __future__ import annotations

import logging
import threading
import time
from collections.abc import Callable, Sequence
from typing import Any

from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.corpus.gather import GatherSettings, Repeated
from skeinwork.core.corpus.join import Join
from skeinwork.core.errors import NO_DOCUMENTS, BadInputError, CancelledError, SkeinworkError
from skeinwork.core.formats.records import FileSettings
from skeinwork.core.topics.methods.base import MethodSettings
from skeinwork.store import models, search
from skeinwork.store.artefacts import DamagedResultError
from skeinwork.store.models import Job, Strand
from skeinwork.store.store import Store
from skeinwork.work import finding, steps, strands
from skeinwork.work.pool import Pool, Task
from skeinwork.work.steps.corpus import SourceFile, load_corpus, make_shaped
from skeinwork.work.strands import Wanted

LOG = logging.getLogger("skeinwork.jobs")
ENDED = ("done", "failed", "cancelled", "interrupted")


class GatheredFile(BaseModel):
    """A file brought in, and how it is to be read."""

    model_config = ConfigDict(extra="forbid")
    sha256: str = Field(pattern="^[0-9a-f]{64}$")
    name: str = Field(min_length=1, max_length=255)
    settings: FileSettings


class GatherRequest(BaseModel):
    """Make a corpus, then clean and weigh it with the suggested settings."""

    model_config = ConfigDict(extra="forbid")
    files: list[GatheredFile] = Field(min_length=1, max_length=10_000)
    repeated: Repeated = "number"


class SweepRequest(BaseModel):
    """Fits over topic counts and seeds."""

    model_config = ConfigDict(extra="forbid")
    counts: list[int] = Field(min_length=1, max_length=100)
    seeds: list[int] = Field(min_length=1, max_length=50)
    iterations: int = Field(200, ge=20, le=20_000)


class MendRequest(BaseModel):
    """A result that was found damaged on disk, to be made again."""

    model_config = ConfigDict(extra="forbid")
    identity: str


class Running:
    """A job at work: its live progress, and the flag that stops it."""

    def __init__(self, record: Job) -> None:
        self.record = record
        self.id: int = record.id
        self.strand_id: int | None = record.strand_id
        self.stop = threading.Event()
        self.tasks: list[Task] = []
        self.finished = 0
        self.total = 1
        self.phase = "Waiting"
        self.begun = time.monotonic()

    def progress(self) -> dict[str, Any]:
        """Phase, share done, seconds left, and what the tasks say of themselves."""
        said = [task.progress() for task in list(self.tasks)]
        part = sum(float(each.get("done", 0)) for each in said)
        done = min(1.0, (self.finished + part) / max(self.total, 1))
        spent = time.monotonic() - self.begun
        left = spent * (1 - done) / done if done > 0.03 and spent > 1 else None
        phases = [each["phase"] for each in said if "phase" in each]
        return {
            "phase": phases[0] if phases else self.phase, "done": done, "seconds_left": left,
            "finished": self.finished, "total": self.total, "tasks": said,
        }  # fmt: skip


class JobRunner:
    """Starts jobs, each watched by a thread of its own; only these threads and requests write."""

    def __init__(self, store: Store, pool: Pool) -> None:
        self.store = store
        self.pool = pool
        self.running: dict[int, Running] = {}
        self._starting = threading.Lock()
        self._beyond_mending: dict[str, str] = {}
        self._plans: dict[str, Callable[[Running, Strand], None]] = {
            "gather": self._gather, "build": self._build_job, "fit": self._fit, "sweep": self._sweep,
            "mend": self._mend_job,
        }  # fmt: skip

    def start(self, kind: str, strand: Strand, request: BaseModel, title: str) -> Job:
        """Record a job and begin it.

        The same request already at work is answered with that job; a rebuild of a strand, or
        a gathering for it, takes the place of one that is at work with other settings.
        """
        wanted = request.model_dump(mode="json")
        with self._starting:
            for running in list(self.running.values()):
                alike = running.record.kind == kind and running.strand_id == strand.id
                if alike and running.record.request == wanted:
                    return running.record
                if alike and kind in ("build", "gather"):
                    self.cancel(running.id)
            job = Job.create(strand=strand, kind=kind, title=title, request=wanted, state="queued")
            self._launch(job)
        return job

    def continue_job(self, job: Job) -> Job:
        """Run a stopped job's request again; what it had finished is found in the store."""
        if job.state not in ("interrupted", "failed", "cancelled"):
            raise BadInputError("Only a job that has stopped can be continued.")
        job.state, job.error, job.finished = "queued", None, None
        job.save()
        self._launch(job)
        return job

    def _launch(self, job: Job) -> None:
        running = Running(job)
        self.running[job.id] = running
        threading.Thread(target=self._watch, args=(running,), daemon=True).start()

    def cancel(self, job_id: int) -> None:
        if running := self.running.get(job_id):
            running.stop.set()
            for task in list(running.tasks):
                task.cancel()

    def close(self) -> None:
        for job_id in list(self.running):
            self.cancel(job_id)
        self.pool.close()

    def _watch(self, running: Running) -> None:
        job = running.record
        state, error = "done", None
        try:
            with self.store.connection():
                Job.update(state="running", started=models.now()).where(Job.id == job.id).execute()
                strand = Strand.get_by_id(running.strand_id)
            self._carry_out(running, strand)
        except CancelledError:
            state = "cancelled"
        except SkeinworkError as fault:
            state, error = "failed", str(fault)
        except Exception as fault:
            LOG.exception("job %s", job.id)
            state, error = "failed", f"Something unforeseen went wrong: {fault}"
        with self.store.connection():
            Job.update(
                state=state, error=error, finished=models.now(), done=running.finished,
                total=running.total,
            ).where(Job.id == job.id).execute()  # fmt: skip
        self.running.pop(job.id, None)

    def _carry_out(self, running: Running, strand: Strand) -> None:
        """Do what a job asks; a result that proves damaged on the way is made again first."""
        mended: set[str] = set()
        while True:
            try:
                return self._plans[running.record.kind](running, strand)
            except DamagedResultError as fault:
                if fault.identity in mended:
                    raise
                self._mend(running, fault.identity)
                mended.add(fault.identity)

    def mend(self, identity: str, strand: Strand) -> str | None:
        """Start to make a damaged result again; or why that failed before."""
        if identity not in self._beyond_mending:
            self.start("mend", strand, MendRequest(identity=identity), "Repair a damaged result")
        return self._beyond_mending.get(identity)

    def _mend_job(self, running: Running, strand: Strand) -> None:
        identity = MendRequest.model_validate(running.record.request).identity
        running.finished, running.total = 0, 1
        try:
            self._mend(running, identity)
        except SkeinworkError as fault:
            if not isinstance(fault, CancelledError | DamagedResultError):
                self._beyond_mending[identity] = str(fault)
            raise
        self._beyond_mending.pop(identity, None)

    def _mend(self, running: Running, identity: str) -> None:
        """Make a damaged result again, and before it what of its inputs is damaged too."""
        artefacts = self.store.artefacts
        if artefacts.has(identity):
            return
        making = artefacts.open(identity).making
        for each in making.inputs if making.step != "corpus" or "shape" in making.settings else ():
            self._mend(running, each)
        self._run(running, [(steps.remake, identity, making, self.store.uploads)])

    def _run(self, running: Running, calls: Sequence[tuple[Any, ...]]) -> list[str]:
        """Run steps side by side, at most one per worker at a time, and record their results."""
        waiting = list(enumerate(calls))
        at_work: list[tuple[int, Task, float]] = []
        results = [""] * len(calls)
        fault: Exception | None = None
        while waiting or at_work:
            while waiting and len(at_work) < self.pool.workers and fault is None:
                index, (step, *arguments) = waiting.pop(0)
                task = self.pool.submit(step, self.store.artefacts, *arguments)
                at_work.append((index, task, time.monotonic()))
            running.tasks = [task for _, task, _ in at_work]
            if running.stop.is_set():
                waiting.clear()
                for task in running.tasks:
                    task.cancel()
            for entry in [each for each in at_work if self.pool.finished(each[1])]:
                at_work.remove(entry)
                try:
                    results[entry[0]] = self._record(entry[1], time.monotonic() - entry[2])
                    running.finished += 1
                except SkeinworkError as problem:
                    fault = fault or problem
                    waiting.clear()
            time.sleep(0.03)
        running.tasks = []
        if running.stop.is_set():
            raise CancelledError("Cancelled.")
        if fault:
            raise fault
        return results

    def _record(self, task: Task, seconds: float) -> str:
        identity: str = self.pool.result(task)
        with self.store.connection():
            self.store.record(identity, seconds)
        return identity

    def _gather(self, running: Running, strand: Strand) -> None:
        request = GatherRequest.model_validate(running.record.request)
        running.total = 4
        settings = GatherSettings.model_validate(
            {"files": [each.settings for each in request.files], "repeated": request.repeated}
        )
        files = [
            SourceFile(self.store.upload_path(f.sha256), f.name, f.sha256) for f in request.files
        ]
        (corpus,) = self._run(running, [(steps.CORPUS.read, files, settings)])
        self._index(running, corpus)
        with self.store.connection():
            strand = strands.take_base(self.store, strand, corpus)
        self._rebuild(running, strand, strands.wanted(strand))

    def _shape(self, running: Running, wanted: Wanted) -> str:
        """The corpus that the wanted operations make of the one brought in, indexed."""
        if not wanted.base:
            raise BadInputError(NO_DOCUMENTS)
        self._mend(running, wanted.base)
        if not wanted.shape:
            return wanted.base
        tables = {
            each.sha256: self.store.upload_path(each.sha256)
            for each in wanted.shape if isinstance(each, Join)
        }  # fmt: skip
        (corpus,) = self._run(running, [(make_shaped, wanted.base, wanted.shape, tables)])
        self._index(running, corpus)
        return corpus

    def _index(self, running: Running, identity: str) -> None:
        running.phase = "Indexing for search"
        corpus = load_corpus(self.store.artefacts.open(identity))
        done = False
        progress = search.index_corpus(identity, finding.titles_of(corpus), corpus.texts())
        while not done:
            if running.stop.is_set():
                raise CancelledError("Cancelled.")
            with self.store.connection():
                done = next(progress, None) is None
        running.finished += 1

    def _build(self, running: Running, strand: Strand, wanted: Wanted) -> str:
        """Shape, clean and weigh with the wanted settings; the matrix's identity."""
        corpus = self._shape(running, wanted)
        made = {"corpus": corpus}
        before = corpus
        for step in steps.COMPUTED[:-1]:
            settings = getattr(wanted, step.wanted)
            (made[step.name],) = self._run(running, [(step.make, before, settings)])
            before = made[step.name]
        tokens = steps.TOKENS.making(corpus, wanted.clean.tokenising()).identity
        self._mend(running, tokens)
        with self.store.connection():
            self.store.record(tokens)
            strands.put(self.store, strand, made)
        return before

    def _build_job(self, running: Running, strand: Strand) -> None:
        self._rebuild(running, strand, Wanted.model_validate(running.record.request))

    def _rebuild(self, running: Running, strand: Strand, wanted: Wanted) -> None:
        """Make everything that is out of date, the fit too where there was one."""
        with self.store.connection():
            refit = bool(strands.last_fit(self.store, strand))
        running.total = running.finished + 2 + refit + 2 * bool(wanted.shape)
        matrix = self._build(running, strand, wanted)
        if refit:
            self._fit_on(running, strand, matrix, wanted.fit)

    def _fit_on(
        self, running: Running, strand: Strand, matrix: str, settings: MethodSettings
    ) -> None:
        (fit,) = self._run(running, [(steps.FIT.make, matrix, settings)])
        with self.store.connection():
            present = Strand.get_by_id(strand.id)
            if self.store.artefacts.ancestor(fit, "corpus").identity == present.corpus:
                strands.take_fit(self.store, present, fit)

    def _fit(self, running: Running, strand: Strand) -> None:
        running.total = 3
        wanted = strands.wanted(strand)
        settings = steps.FIT.parse(running.record.request)
        self._fit_on(running, strand, self._build(running, strand, wanted), settings)

    def _sweep(self, running: Running, strand: Strand) -> None:
        request = SweepRequest.model_validate(running.record.request)
        wanted = strands.wanted(strand)
        grid = [
            (k, seed) for k in sorted(set(request.counts), reverse=True) for seed in request.seeds
        ]
        running.total = len(grid) + 2
        matrix = self._build(running, strand, wanted)
        self._run(
            running, [(steps.FIT.make, matrix, self._sized(wanted, k, s, request)) for k, s in grid]
        )

    @staticmethod
    def _sized(wanted: Wanted, topics: int, seed: int, request: SweepRequest) -> MethodSettings:
        change = {"topics": topics, "seed": seed, "iterations": request.iterations}
        return steps.FIT.parse({**wanted.fit.model_dump(), **change})
