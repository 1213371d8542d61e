"""Computing on a Dask cluster: the same bytes, and what is said when something is lost."""

from __future__ import annotations

import contextlib
import io
import json
import os
import signal
import socket
import subprocess
import sys
import time
from collections import Counter
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient

from skeinwork.core.errors import BadInputError, CancelledError, SkeinworkError
from skeinwork.core.topics.methods.lda import LdaSettings
from skeinwork.demo.generator import write_files
from skeinwork.server.app import make_app
from skeinwork.server.run import open_state
from skeinwork.store.artefacts import ArtefactStore, Making
from skeinwork.work import steps
from skeinwork.work.jobs.executors.cluster import Cluster
from skeinwork.work.jobs.executors.cluster_worker import MismatchError, check
from skeinwork.work.strands.strands import Wanted
from tests.conftest import Fits, bring_in, wait_for
from tests.making import read, reading

DASK = [str(Path(sys.executable).with_name("dask"))]
OLD = "import skeinwork\nskeinwork.__version__ = '0.0.1'\n"
ABSENT = (
    "import sys\n"
    "class Absent:\n"
    "    def find_spec(self, name, path=None, target=None):\n"
    "        if name.split('.')[0] == 'skeinwork':\n"
    "            raise ModuleNotFoundError(f'No module named {name!r}', name=name)\n"
    "sys.meta_path.insert(0, Absent())\n"
)


class Scheduler:
    """A scheduler and workers on loopback, each a process with an empty folder of its own."""

    def __init__(self, folder: Path, port: int = 0) -> None:
        self.folder = folder
        self.processes: list[subprocess.Popen[bytes]] = []
        self.port = port or _free_port()
        self.address = f"tcp://127.0.0.1:{self.port}"
        self.scheduler = self._run(
            "scheduler", "scheduler", "--host", "127.0.0.1", "--port", str(self.port), "--no-show"
        )
        until(lambda: _answers(self.port), "the scheduler")

    def _run(self, name: str, *arguments: str, **environment: str) -> subprocess.Popen[bytes]:
        own = self.folder / f"{name}-{len(self.processes)}"
        own.mkdir(parents=True)
        process = subprocess.Popen(
            [*DASK, *arguments],
            cwd=own,
            env={**os.environ, **environment},
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            start_new_session=True,
        )
        self.processes.append(process)
        return process

    def worker(self, before: str = "") -> subprocess.Popen[bytes]:
        """Start a worker as docs/cluster.md does; ``before`` is run when its interpreter starts."""
        site = self.folder / f"site-{len(self.processes)}"
        site.mkdir()
        (site / "sitecustomize.py").write_text(before)
        return self._run(
            "worker",
            "worker",
            self.address,
            "--nworkers",
            "1",
            "--nthreads",
            "1",
            "--no-dashboard",
            "--death-timeout",
            "60",
            PYTHONPATH=str(site),
        )

    def close(self) -> None:
        for process in self.processes:
            kill(process)


def kill(process: subprocess.Popen[bytes]) -> None:
    """End a process with those that it watches over, as when a machine is switched off."""
    with contextlib.suppress(ProcessLookupError):
        os.killpg(process.pid, signal.SIGKILL)
    process.wait()


def _free_port() -> int:
    with socket.socket() as found:
        found.bind(("127.0.0.1", 0))
        port: int = found.getsockname()[1]
    return port


def _answers(port: int) -> bool:
    with socket.socket() as found:
        return found.connect_ex(("127.0.0.1", port)) == 0


def until(look: Callable[[], Any], what: str, seconds: float = 60) -> Any:
    end = time.monotonic() + seconds
    while not (found := look()):
        assert time.monotonic() < end, f"waited for {what}"
        time.sleep(0.05)
    return found


def finish(cluster: Cluster, making: Making) -> str:
    task = cluster.submit(making)
    until(lambda: cluster.progress(task).ended, making.step)
    return cluster.result(task)


@pytest.fixture
def scheduler(tmp_path: Path) -> Iterator[Scheduler]:
    started = Scheduler(tmp_path / "cluster")
    yield started
    started.close()


@pytest.fixture
def uploads(tmp_path: Path) -> Path:
    return tmp_path / "uploads"


@pytest.fixture
def corpus(tmp_path: Path, uploads: Path) -> Making:
    return reading([write_files(tmp_path / "demo", size=120)], uploads)


@pytest.fixture
def store(tmp_path: Path) -> ArtefactStore:
    return ArtefactStore(tmp_path / "results")


def long_fit(corpus: str) -> Making:
    """A fit that takes some seconds."""
    return steps.chain(corpus, Wanted(fit=LdaSettings(topics=60, iterations=4000)))[-1]


def swept(folder: Path, data: bytes, scheduler: str | None) -> dict[tuple[str, str], dict[str, str]]:
    """Checksums of every file of every result, with its step, of a sweep and of statements over other choices."""
    state = open_state(folder, workers=2, scheduler=scheduler)
    with TestClient(make_app(state), base_url="http://localhost") as client:
        strand = bring_in(client, "entries.csv", data)
        request = {"counts": [3, 5], "seeds": [1, 2], "iterations": 40}
        job = client.post(f"/api/strands/{strand}/sweeps", json=request).json()["job"]
        wait_for(client, job)
        pinned = Fits(client, strand)
        pinned.fit(topics=3, iterations=30, seed=1)
        side = {"by": {"group": "harbour"}, "sides": [{"value": "Ossingby"}]}
        word = pinned.get("top-terms")["terms"][0]["term"]
        for about in ({"topic": 0}, {"word": word}):
            assert client.post(f"/api/strands/{strand}/pins", json={**side, **about}).status_code == 201
        pins = [each["id"] for each in pinned.get("holds")["pins"]]
        pinned.job("pins/trials", {"pins": pins, "over": ["seed-2", "forms-none"]})
        rows = io.BytesIO()
        np.save(rows, np.random.default_rng(1).normal(size=(pinned.get("")["summaries"]["corpus"]["documents"], 9)))
        sent = client.post("/api/uploads/vectors", files={"file": ("rows.npy", rows.getvalue())}).json()
        supplied = {"of": "file", "file": {"sha256": sent["sha256"]}}
        for step, settings in (("document_vectors", supplied), ("document_map", {}), ("word_map", {})):
            pinned.job(f"beside/{step}", settings)
    results = state.store.artefacts
    stored = [results.open(each) for each in results.identities()]
    return {(each.identity, each.making.step): dict(each.checksums) for each in stored}


def test_two_workers_without_a_common_disk_give_the_bytes_of_local_ones(tmp_path: Path, scheduler: Scheduler) -> None:
    data = write_files(tmp_path / "demo", size=200).read_bytes()
    for _ in range(2):
        scheduler.worker()
    there = swept(tmp_path / "there", data, scheduler.address)
    here = swept(tmp_path / "here", data, None)
    assert there == here
    made = Counter(step for _, step in here)
    # Both ways to clean, one of them with the matrix that fits are compared on; the sweep's fits and three more.
    assert (made["corpus"], made["tokens"], made["cleaning"], made["matrix"]) == (1, 1, 2, 3)
    assert (made["fit"], made["measures"], made["twin"]) == (7, 4, 4)
    assert (made["document_vectors"], made["word_vectors"], made["document_map"], made["word_map"]) == (1, 1, 1, 1)
    assert (made["topic_statement"], made["word_statement"]) == (3, 2)
    for folder in scheduler.folder.glob("worker-*"):
        assert not list(folder.rglob("*.npy"))


@pytest.mark.long
def test_a_killed_worker_loses_no_task_and_cancel_stops_one(
    scheduler: Scheduler, store: ArtefactStore, uploads: Path, corpus: Making
) -> None:
    first = scheduler.worker()
    cluster = Cluster(store, uploads, scheduler.address)
    base = finish(cluster, corpus)
    for making in steps.chain(base, Wanted())[:3]:
        finish(cluster, making)
    making = long_fit(base)
    task = cluster.submit(making)
    until(lambda: cluster.progress(task).said.get("trace"), "the fit to begin")
    kill(first)
    until(lambda: "no worker" in cluster.progress(task).said.get("phase", ""), "the loss")
    scheduler.worker()
    until(lambda: cluster.progress(task).said.get("trace"), "the fit to begin again")
    cluster.cancel(task)
    assert cluster.progress(task).ended
    with pytest.raises(CancelledError):
        cluster.result(task)
    assert not store.has(making.identity)
    again = steps.chain(base, Wanted(fit=LdaSettings(topics=4, iterations=20)))[-1]
    assert finish(cluster, again) == again.identity
    cluster.close()


@pytest.mark.long
def test_a_lost_scheduler_is_said_and_the_next_one_used(
    tmp_path: Path, scheduler: Scheduler, store: ArtefactStore, uploads: Path
) -> None:
    scheduler.worker()
    base = read(store, [write_files(tmp_path / "demo", size=120)])
    fit = long_fit(base)
    for making in steps.chain(base, Wanted())[:3]:
        steps.make(store, making)
    cluster = Cluster(store, uploads, scheduler.address)
    task = cluster.submit(fit)
    until(lambda: cluster.progress(task).said.get("trace"), "the fit to begin")
    scheduler.close()
    until(lambda: cluster.progress(task).ended, "the end")
    with pytest.raises(SkeinworkError, match="does not answer any more.*then continue"):
        cluster.result(task)
    second = Scheduler(tmp_path / "second", scheduler.port)
    try:
        second.worker()
        short = steps.chain(base, Wanted(fit=LdaSettings(topics=4, iterations=20)))[-1]
        assert finish(cluster, short) == short.identity
    finally:
        second.close()
        cluster.close()


@pytest.mark.parametrize(
    ("before", "words"),
    [(OLD, r"has Skeinwork 0\.0\.1 .*Install the same versions"), (ABSENT, "has no Skeinwork.*Install")],
)
def test_workers_that_differ_compute_nothing(
    scheduler: Scheduler, store: ArtefactStore, uploads: Path, corpus: Making, before: str, words: str
) -> None:
    cluster = Cluster(store, uploads, scheduler.address)
    scheduler.worker(before)
    task = cluster.submit(corpus)
    until(lambda: cluster.progress(task).ended, "the refusal")
    with pytest.raises(MismatchError, match=words):
        cluster.result(task)
    cluster.close()
    with pytest.raises(MismatchError, match=words):
        Cluster(store, uploads, scheduler.address)


def test_versions_are_compared_one_by_one() -> None:
    mine = {"Skeinwork": "1 (ab)", "NumPy": "2.4"}
    check(mine, {**mine, "other": "3"}, "tcp://a")
    with pytest.raises(MismatchError, match=r"tcp://a has NumPy 2\.3, here 2\.4\. "):
        check(mine, {**mine, "NumPy": "2.3"}, "tcp://a")


def test_a_scheduler_that_is_not_there_is_said_at_the_start(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("skeinwork.work.jobs.executors.cluster._ANSWERS", "1s")
    nowhere = f"tcp://127.0.0.1:{_free_port()}"
    with pytest.raises(BadInputError, match="No scheduler answers.*--scheduler"):
        open_state(tmp_path, scheduler=nowhere)
    open_state(tmp_path).store.close()
    command = [sys.executable, "-m", "skeinwork.cli", "serve", "--port", "0", "--data", str(tmp_path)]
    ended = subprocess.run([*command, "--scheduler", "nonsense"], capture_output=True, text=True)
    assert ended.returncode == 1 and "No scheduler answers at nonsense" in ended.stderr


def test_what_a_task_says_of_itself_is_plain(store: ArtefactStore) -> None:
    """What travels as an event has to be made of plain values."""
    said: list[dict[str, Any]] = []

    def report(phase: str, done: float, **details: Any) -> None:
        said.append({"phase": phase, "done": done, **details})

    base = read(store, [write_files(store.root.parent / "demo", size=80)])
    for making in steps.chain(base, Wanted(fit=LdaSettings(topics=3, iterations=20))):
        steps.make(store, making, report=report)
    assert any("trace" in each for each in said)
    assert json.loads(json.dumps(said)) == json.loads(json.dumps(said, default=str))


def test_what_breaks_off_on_a_worker_names_it(
    scheduler: Scheduler, store: ArtefactStore, uploads: Path, corpus: Making
) -> None:
    scheduler.worker(
        "import sys\n"
        "def broken(*_, **__): raise OSError(28, 'No space left on device')\n"
        "import tempfile\n"
        "sys.modules['tempfile'].TemporaryDirectory = broken\n"
    )
    cluster = Cluster(store, uploads, scheduler.address)
    task = cluster.submit(corpus)
    until(lambda: cluster.progress(task).ended, "the fault")
    with pytest.raises(SkeinworkError, match="corpus broke off on the worker tcp://.*No space left"):
        cluster.result(task)
    cluster.close()
