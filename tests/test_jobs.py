"""Jobs: progress, cancel, killed workers, the same bytes on any number of workers."""

from __future__ import annotations

import json
import os
import signal
import time
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from skeinwork.core.errors import BadInputError, CancelledError, SkeinworkError
from skeinwork.core.progress import Report, silent
from skeinwork.demo.generator import write_files
from skeinwork.server.app import make_app
from skeinwork.server.run import open_state
from skeinwork.server.state import State
from skeinwork.store.models import Job
from skeinwork.work.jobs.executors.local import FileReport, Pool, Task
from tests.conftest import bring_in, choose, wait_for


def answer(value: int, report: Report = silent) -> int:
    report("Answering", 0.5, detail="x")
    return value


def refuse(report: Report = silent) -> int:
    raise BadInputError("no")


def wait_long(report: Report = silent) -> int:
    for step in range(600):
        report("Waiting", step / 600)
        time.sleep(0.05)
    return 0


def deaf(report: Report = silent) -> int:
    report("Working", 0.1)
    time.sleep(60)
    return 0


def die_once(marker: Path, report: Report = silent) -> str:
    if marker.exists():
        return "survived"
    marker.touch()
    os.kill(os.getpid(), signal.SIGKILL)
    return "never"


def die_always(report: Report = silent) -> str:
    os.kill(os.getpid(), signal.SIGKILL)
    return "never"


def finish(pool: Pool, task: Task, seconds: float = 60) -> object:
    end = time.monotonic() + seconds
    while not pool.finished(task):
        assert time.monotonic() < end, "the task did not end"
        time.sleep(0.02)
    return pool.result(task)


@pytest.fixture(scope="module")
def pool(tmp_path_factory: pytest.TempPathFactory) -> Pool:
    return Pool(tmp_path_factory.mktemp("tasks"), 2)


def test_a_task_returns_what_its_call_returns(pool: Pool) -> None:
    tasks = [pool.submit(answer, number) for number in range(5)]
    assert [finish(pool, task) for task in tasks] == [0, 1, 2, 3, 4]
    assert not list(pool.folder.iterdir())


def test_what_a_task_raises_is_raised(pool: Pool) -> None:
    with pytest.raises(BadInputError, match="no"):
        finish(pool, pool.submit(refuse))


def test_progress_is_seen_and_a_cancelled_task_stops(pool: Pool) -> None:
    task = pool.submit(wait_long)
    end = time.monotonic() + 30
    while not task.progress():
        assert time.monotonic() < end
        time.sleep(0.05)
    assert task.progress()["phase"] == "Waiting"
    task.cancel()
    with pytest.raises(CancelledError):
        finish(pool, task, seconds=5)


def test_a_task_that_does_not_hear_is_ended_and_takes_no_other_with_it(pool: Pool) -> None:
    """Twice, so that the other would be given up as killed twice if these kills counted."""
    other = pool.submit(wait_long)
    for _ in range(2):
        task = pool.submit(deaf)
        end = time.monotonic() + 30
        while not (task.progress() and other.progress()):
            assert time.monotonic() < end and not pool.finished(other)
            time.sleep(0.05)
        task.cancel()
        with pytest.raises(CancelledError):
            finish(pool, task, seconds=20)
        assert not pool.finished(other)
    other.cancel()
    with pytest.raises(CancelledError):
        finish(pool, other, seconds=20)


def test_a_worker_is_watched_from_its_start_and_given_up_tasks_block_no_others(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A worker that comes up after the pool has looked for workers is ended and seen to end."""
    spawn = ProcessPoolExecutor._spawn_process  # type: ignore[attr-defined]

    def spawn_late(self: ProcessPoolExecutor) -> None:
        time.sleep(0.3)
        spawn(self)

    monkeypatch.setattr(ProcessPoolExecutor, "_spawn_process", spawn_late)
    pool = Pool(tmp_path, 2)
    other = pool.submit(wait_long)
    unwanted = [pool.submit(deaf) for _ in range(4)]
    end = time.monotonic() + 30
    while not (unwanted[0].progress() and other.progress()):
        assert time.monotonic() < end
        time.sleep(0.05)
    wanted = pool.submit(answer, 4)
    for task in [*unwanted, other]:
        task.cancel()
    for task in [*unwanted[1:], unwanted[0], other]:
        with pytest.raises(CancelledError):
            finish(pool, task, seconds=20)
    assert finish(pool, wanted) == 4
    assert not list(tmp_path.glob("*.json"))
    pool.close()


def test_a_killed_worker_is_replaced_and_its_task_tried_again(pool: Pool, tmp_path: Path) -> None:
    other = pool.submit(answer, 7)
    task = pool.submit(die_once, tmp_path / "marker")
    assert finish(pool, task) == "survived"
    assert finish(pool, other) == 7


def test_a_task_that_kills_its_worker_twice_fails_and_the_pool_lives_on(pool: Pool) -> None:
    with pytest.raises(SkeinworkError, match="killed twice"):
        finish(pool, pool.submit(die_always))
    assert finish(pool, pool.submit(answer, 3)) == 3


def test_progress_files_are_never_half_written(tmp_path: Path) -> None:
    report = FileReport(tmp_path / "a.json")
    for step in range(50):
        report.last = 0.0
        report("Phase", step / 50, trace=[[step] * 40] * 40)
        assert json.loads((tmp_path / "a.json").read_text())["done"] == step / 50


@pytest.fixture(scope="module")
def entries_file(tmp_path_factory: pytest.TempPathFactory) -> bytes:
    return write_files(tmp_path_factory.mktemp("demo"), size=300).read_bytes()


def started(client: TestClient, strand: int, iterations: int = 60) -> int:
    request = {"counts": [3, 5], "seeds": [1, 2], "iterations": iterations}
    job: int = client.post(f"/api/strands/{strand}/sweeps", json=request).json()["job"]
    return job


def exported(state: State, data: bytes) -> bytes:
    with TestClient(make_app(state), base_url="http://localhost") as client:
        strand = bring_in(client, "entries.csv", data)
        wait_for(client, started(client, strand))
        fits = client.get(f"/api/strands/{strand}/fits").json()["fits"]
        choose(client, strand, fits[-1]["identity"])
        return client.get(f"/api/strands/{strand}/export.zip").content


@pytest.mark.long
def test_one_worker_and_three_give_the_same_bytes(tmp_path: Path, entries_file: bytes) -> None:
    one = exported(open_state(tmp_path / "one", workers=1), entries_file)
    three = exported(open_state(tmp_path / "three", workers=3), entries_file)
    assert one == three


def test_a_cancelled_sweep_keeps_its_fits_and_is_continued(client: TestClient, entries_file: bytes) -> None:
    strand = bring_in(client, "entries.csv", entries_file)
    job = started(client, strand, iterations=500)
    end = time.monotonic() + 60
    while not client.get(f"/api/strands/{strand}/fits").json()["fits"]:
        assert time.monotonic() < end
        time.sleep(0.05)
    live = next(j for j in client.get("/api/jobs").json() if j["id"] == job)
    assert live["progress"]["parts"]["fit"]["total"] == 4
    assert 0 < live["progress"]["done"] <= 1
    client.post(f"/api/jobs/{job}/cancel")
    wait_for(client, job, "cancelled", seconds=10)
    kept = {fit["identity"] for fit in client.get(f"/api/strands/{strand}/fits").json()["fits"]}
    assert 1 <= len(kept) < 4
    assert client.post(f"/api/jobs/{job}/continue").status_code == 202
    wait_for(client, job)
    assert kept < {fit["identity"] for fit in client.get(f"/api/strands/{strand}/fits").json()["fits"]}
    assert client.post(f"/api/jobs/{job}/continue").status_code == 422
    assert client.post("/api/jobs/99/cancel").status_code == 404


def test_the_same_request_while_at_work_is_the_same_job(client: TestClient, entries_file: bytes) -> None:
    strand = bring_in(client, "entries.csv", entries_file)
    body = {"topics": 4, "iterations": 1500}
    first, second = (client.post(f"/api/strands/{strand}/fits", json=body).json()["job"] for _ in range(2))
    assert first == second
    client.post(f"/api/jobs/{first}/cancel")
    wait_for(client, first, "cancelled")


def without_stop_words(client: TestClient, strand: int) -> None:
    """Want another cleaning."""
    record = client.get(f"/api/strands/{strand}").json()
    wanted = record["wanted"]
    for each in wanted["clean"]["passes"]:
        each["on"] = each["on"] and each["kind"] != "stop-words"
    body = {"revision": record["revision"], "wanted": wanted}
    assert client.put(f"/api/strands/{strand}/wanted", json=body).status_code == 200


def test_a_sweep_makes_what_it_was_asked_for_whatever_is_wanted_since(client: TestClient, entries_file: bytes) -> None:
    strand = bring_in(client, "entries.csv", entries_file)
    matrix = client.get(f"/api/strands/{strand}").json()["plies"][2]["identity"]
    job = started(client, strand, iterations=300)
    without_stop_words(client, strand)
    client.post(f"/api/jobs/{job}/cancel")
    wait_for(client, job, "cancelled", seconds=10)
    client.post(f"/api/jobs/{job}/continue")
    wait_for(client, job)
    record = client.get(f"/api/strands/{strand}").json()
    assert record["plies"][2]["identity"] == matrix
    assert [ply["state"] for ply in record["plies"]][:3] == ["ready", "stale", "stale"]
    fits = client.get(f"/api/strands/{strand}/fits").json()["fits"]
    assert {(each["settings"]["topics"], each["settings"]["seed"]) for each in fits} == {
        (count, seed) for count in (3, 5) for seed in (1, 2)
    }


def test_the_same_words_for_another_cleaning_are_another_request(client: TestClient, entries_file: bytes) -> None:
    strand = bring_in(client, "entries.csv", entries_file)
    first = started(client, strand, iterations=4000)
    without_stop_words(client, strand)
    second = started(client, strand, iterations=4000)
    assert first != second
    for job in (first, second):
        client.post(f"/api/jobs/{job}/cancel")
        wait_for(client, job, "cancelled")


def test_a_job_of_an_earlier_version_says_to_start_it_anew(client: TestClient, entries_file: bytes) -> None:
    state: State = client.app.state.skeinwork  # type: ignore[attr-defined]
    strand = bring_in(client, "entries.csv", entries_file)
    with state.store.connection():
        request = {"counts": [3], "seeds": [1], "iterations": 40}
        job = Job.create(strand=strand, kind="sweep", title="Sweep", request=request, state="interrupted")
    answer = client.post(f"/api/jobs/{job.id}/continue")
    assert answer.status_code == 422 and "Start it anew" in answer.json()["detail"]


def test_a_failed_gather_says_why_and_leaves_nothing(client: TestClient) -> None:
    preview = client.post("/api/uploads", files={"file": ("a.csv", b"entry,text\n1,a\n1,b\n")}).json()
    settings = {**preview["settings"], "roles": {"entry": "identifier", "text": "text"}}
    file = {"sha256": preview["sha256"], "name": "a.csv", "settings": settings}
    made = client.post("/api/skeins", json={"name": "x", "gather": {"files": [file], "repeated": "refuse"}}).json()
    failed = wait_for(client, made["job"], "failed")
    assert "occurs twice" in failed["error"]
    assert client.get(f"/api/strands/{made['strand']}").json()["plies"][0]["state"] == "empty"


def test_the_stream_of_events_tells_of_jobs(client: TestClient) -> None:
    bring_in(client, "two.txt", b"a gale\nthe ferry\n")
    client.app.state.stopping = False  # type: ignore[attr-defined]
    with client.stream("GET", "/api/jobs/stream") as stream:
        line = next(line for line in stream.iter_lines() if line.startswith("data: "))
        assert json.loads(line[6:])[0]["state"] == "done"
        client.app.state.stopping = True  # type: ignore[attr-defined]
