"""A Dask cluster: the same tasks, on workers that have no disk in common with the server.

What a task reads is scattered to the workers, each result or file once; what it gives is brought
back and stored here.
"""

from __future__ import annotations

import threading
import time
import uuid
from collections import OrderedDict
from concurrent.futures import CancelledError as FutureCancelledError
from pathlib import Path
from pkgutil import resolve_name
from typing import Any

from distributed import Client, KilledWorker

from skeinwork.core.errors import BadInputError, CancelledError, SkeinworkError
from skeinwork.store.artefacts import ArtefactStore, Making
from skeinwork.work import steps
from skeinwork.work.jobs.executors.base import Executor, Progress
from skeinwork.work.jobs.executors.cluster_worker import TOPIC, Held, MismatchError, check, make_there, stop, versions
from skeinwork.work.steps.step import OnDisk, Product

_ANSWERS = "5s"
_SCATTERED = 6
_TRIES = 3
_NO_WORKER = "Waiting: the cluster has no worker"
_VERSIONS = "skeinwork.work.jobs.executors.cluster_worker:versions"


class Handle:
    """A task on the cluster."""

    def __init__(self, making: Making) -> None:
        self.making = making
        self.name = f"{making.step}-{uuid.uuid4().hex}"
        self.future: Any = None
        self.client: Any = None
        self.said: dict[str, Any] = {}
        self.tries = 0
        self.stopped = False
        self.fault: SkeinworkError | None = None


class Cluster(Executor):
    """Makes results on the workers of a scheduler, such as ``tcp://HOST:8786``.

    Raises
    ------
    BadInputError
        where no scheduler answers at the address.
    """

    def __init__(self, store: ArtefactStore, uploads: Path, address: str) -> None:
        self.store = store
        self.uploads = uploads
        self.address = address
        self._lock = threading.Lock()
        self._handles: dict[str, Handle] = {}
        self._scattered: OrderedDict[str, Any] = OrderedDict()
        self._checked: set[str] = set()
        self._counted = (0.0, 1)
        try:
            self._client = self._connect()
        except (OSError, ValueError) as fault:
            raise BadInputError(
                f"No scheduler answers at {address}. Start one there with “dask scheduler”, or leave "
                "out --scheduler to compute on this machine."
            ) from fault
        try:
            self._check_new(self._client)
        except MismatchError:
            self._client.close()
            raise

    def _connect(self) -> Any:
        client = Client(self.address, timeout=_ANSWERS, set_as_default=False, name="skeinwork")
        client.subscribe_topic(TOPIC, self._hear)
        return client

    def _check_new(self, client: Any) -> int:
        """Refuse workers that are another program; how many workers there are."""
        there = set(client.nthreads())
        if new := sorted(there - self._checked):
            found = client.run(resolve_name, _VERSIONS, workers=new, on_error="return")
            for place, each in found.items():
                if isinstance(each, BaseException):
                    raise MismatchError(
                        f"The worker {place} has no Skeinwork. Install the same version there as here, then continue."
                    )
            for place, each in client.run(versions, workers=new).items():
                check(versions(), each, place)
            self._checked |= there
        return len(there)

    def _hear(self, event: tuple[float, dict[str, Any]]) -> None:
        said = event[1]
        if handle := self._handles.get(said["task"]):
            handle.said = said["said"]

    def _there(self) -> Any:
        """The client of a scheduler that answers, connected anew where it was lost."""
        with self._lock:
            if self._client.status not in ("running", "connecting"):
                self._scattered.clear()
                self._checked.clear()
                try:
                    self._client = self._connect()
                except (OSError, ValueError) as fault:
                    raise self._lost() from fault
            return self._client

    def _lost(self) -> SkeinworkError:
        return SkeinworkError(
            f"The scheduler at {self.address} does not answer any more. Start it again, then continue; "
            "what was finished is kept."
        )

    @property
    def workers(self) -> int:
        """Threads of all workers, asked for once a second at most."""
        now = time.monotonic()
        if now > self._counted[0] + 1 and self._answers():
            self._counted = (now, max(1, sum(self._client.nthreads().values())))
        return self._counted[1]

    def _answers(self) -> bool:
        return bool(self._client.status == "running")

    def submit(self, making: Making) -> Handle:
        handle = Handle(making)
        self._handles[handle.name] = handle
        self._send(handle)
        return handle

    def _send(self, handle: Handle) -> None:
        """Give a task to the cluster, where it has a worker; else it is tried again later."""
        client = self._there()
        try:
            if not self._check_new(client):
                handle.said = {"phase": _NO_WORKER}
                return
            reads = steps.STEPS[handle.making.step].reads(handle.making, OnDisk(self.store))
            results = {each: self._at_hand(client, each) for each in reads.results}
            files = {each: self._at_hand(client, each, file=True) for each in reads.files}
            handle.client, handle.tries = client, handle.tries + 1
            handle.future = client.submit(
                make_there,
                handle.making,
                results,
                files,
                handle.name,
                versions(),
                key=f"{handle.name}-{handle.tries}",
                pure=False,
            )
        except (OSError, TimeoutError) as fault:
            if not self._answers():
                raise self._lost() from fault
            handle.said = {"phase": _NO_WORKER}

    def _at_hand(self, client: Any, name: str, file: bool = False) -> Any:
        """A result or file on the workers, sent there where it is not yet."""
        with self._lock:
            found = self._scattered.get(name)
            if found is None or found.status != "finished":
                value: Any = (self.uploads / name).read_bytes() if file else Held.of(self.store.open(name))
                found = client.scatter(value, broadcast=True, hash=False)
                self._scattered[name] = found
            self._scattered.move_to_end(name)
            while len(self._scattered) > _SCATTERED:
                self._scattered.popitem(last=False)
            return found

    def progress(self, task: Handle) -> Progress:
        if task.fault or task.stopped:
            return Progress(True, {})
        try:
            if task.future is None:
                self._send(task)
            elif task.client.status not in ("running", "connecting"):
                task.fault = self._lost()
            elif task.future.done() and not self._again(task):
                return Progress(True, task.said)
        except SkeinworkError as fault:
            task.fault = fault
        return Progress(False, task.said)

    def _again(self, task: Handle) -> bool:
        """Send a task again whose inputs were lost with a worker."""
        lost = task.future.cancelled() or task.future.status == "lost"
        if not lost or task.tries >= _TRIES or task.client is not self._client:
            return False
        self._scattered.clear()
        task.future, task.said = None, {"phase": "Once more: a worker of the cluster was lost"}
        return True

    def cancel(self, task: Handle) -> None:
        if task.stopped:
            return
        task.stopped = True
        if task.future is not None and self._answers():
            threading.Thread(target=self._stop, args=(task,), daemon=True).start()

    def _stop(self, task: Handle) -> None:
        """Tell the worker, and drop what has not begun."""
        try:
            task.client.run(stop, task.name, on_error="ignore")
            task.future.cancel()
        except (OSError, TimeoutError):
            return

    def result(self, task: Handle) -> str:
        self._handles.pop(task.name, None)
        if task.fault:
            raise task.fault
        if task.stopped or task.future is None:
            raise CancelledError("Cancelled.")
        try:
            product: Product = task.future.result(timeout=600)
        except (FutureCancelledError, OSError, TimeoutError) as fault:
            raise self._lost() from fault
        except KilledWorker as fault:
            raise SkeinworkError(
                f"Every worker of the cluster that began the {task.making.step} was lost, perhaps for "
                "want of memory. Give them more, then continue."
            ) from fault
        return self.store.write(task.making, *product)

    def warm(self) -> None:
        """The workers of a cluster load what they need with their first task."""

    def close(self) -> None:
        for handle in list(self._handles.values()):
            self.cancel(handle)
        time.sleep(0.1)
        self._client.close(timeout=2)
