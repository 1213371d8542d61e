"""Fits that were stopped go on where they were, in jobs: cancelled, killed, and asked for more."""

from __future__ import annotations

import json
import time
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from skeinwork.demo.generator import write_files
from skeinwork.store.artefacts import ArtefactStore
from tests.conftest import bring_in, wait_for
from tests.shared import Server
from tests.test_faults import begin

LONG = {"method": "lda", "topics": 6, "iterations": 1500, "start": "random"}


@pytest.fixture(scope="module")
def entries_file(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return write_files(tmp_path_factory.mktemp("demo"), size=300)


def iteration(jobs: list[dict[str, Any]], job: int) -> int:
    """Where the fit of a job says that it is."""
    progress = next(each for each in jobs if each["id"] == job)["progress"] or {"tasks": []}
    return max((task.get("iteration", 0) for task in progress["tasks"]), default=0)


def begun(client: TestClient, job: int, after: int = 0) -> int:
    """The first iteration above ``after`` that a fit tells of."""
    end = time.monotonic() + 60
    while time.monotonic() < end:
        if (at := iteration(client.get("/api/jobs").json(), job)) > after:
            return at
        time.sleep(0.01)
    raise AssertionError("the fit said nothing of itself")


def checksums(folder: Path, identity: str) -> dict[str, str]:
    found: dict[str, str] = json.loads((folder / identity[:2] / identity / "made.json").read_text())["checksums"]
    return found


def test_cancelled_continued_and_prolonged(client: TestClient, tmp_path: Path, entries_file: Path) -> None:
    results = tmp_path / "data" / "results"
    strand = bring_in(client, "entries.csv", entries_file.read_bytes())
    fit = f"/api/strands/{strand}/fits"
    job = client.post(fit, json=LONG).json()["job"]
    begun(client, job, 300)
    client.post(f"/api/jobs/{job}/cancel")
    wait_for(client, job, "cancelled")
    (course,) = ArtefactStore(results).courses()
    reached = ArtefactStore(results).states(course).iterations()
    assert reached > 300
    assert client.post(f"/api/jobs/{job}/continue").status_code == 202
    assert begun(client, job) > reached
    wait_for(client, job)
    identity = client.get(f"/api/strands/{strand}").json()["plies"][-1]["identity"]
    went_on = checksums(results, identity)
    # One made in one go, since its files are gone, has the same bytes.
    ArtefactStore(results).set_aside(identity)
    ArtefactStore(results).states(course).remove()
    assert client.get(f"{fit}/{identity}").status_code in (404, 503)
    mend = client.get("/api/jobs").json()[0]
    assert mend["kind"] == "mend"
    wait_for(client, mend["id"])
    assert checksums(results, identity) == went_on
    # More iterations go on from its end, which is all that is kept of it.
    assert [path.name for path in ArtefactStore(results).states(course).folder.iterdir()] == ["1500.npz"]
    more = client.get(f"{fit}/{identity}").json()["going_on"]
    assert more == {"reached": 1500, "least": 1825, "suggested": 3000}
    job = client.post(fit, json={**LONG, "iterations": more["least"]}).json()["job"]
    assert begun(client, job) > 1500
    wait_for(client, job)
    # States of what nobody has any more are cleared with it.
    skein = client.get(f"/api/strands/{strand}").json()["skein"]
    client.delete(f"/api/skeins/{skein}")
    answer = client.post("/api/storage/clear", json={"deleted": True, "unused": True}).json()
    wait_for(client, answer["job"])
    assert ArtefactStore(results).courses() == []


def test_killed_in_the_middle_of_a_fit_it_goes_on(tmp_path: Path, entries_file: Path) -> None:
    folder = tmp_path / "data"
    server = Server(folder)
    made = begin(server, entries_file)
    server.wait(made["job"], "done")
    wanted = {**LONG, "iterations": 20_000}
    job = server.post(f"/strands/{made['strand']}/fits", **wanted)["job"]
    store = ArtefactStore(folder / "results")
    end = time.monotonic() + 60
    while not any(store.states(course).iterations() for course in store.courses()):
        assert time.monotonic() < end, "no state was kept"
        time.sleep(0.05)
    server.kill()
    (course,) = store.courses()
    reached = store.states(course).iterations()
    server = Server(folder)
    assert server.wait(job, "interrupted", "done")["state"] == "interrupted"
    server.post(f"/jobs/{job}/continue")
    while not (at := iteration(server.get("/jobs"), job)):
        assert time.monotonic() < end + 60, "the fit did not go on"
        time.sleep(0.05)
    assert at > reached
    server.post(f"/jobs/{job}/cancel")
    server.wait(job, "cancelled")
    server.stop()
