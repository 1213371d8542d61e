"""A disk that takes nothing more while work runs: reading goes on, jobs end with why, and go on later."""

from __future__ import annotations

import resource
import time
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.shared import TABLE, Server, forked
from tests.test_faults import begin

READ = ("", "/overview", "/documents", "/specimen", "/vocabulary", "/fits", "/versions/cleaning")


@pytest.fixture
def server(tmp_path: Path) -> Iterator[Server]:
    server = Server(tmp_path / "data")
    yield server
    server.stop()


def fill(server: Server, most: int = 0) -> None:
    """Let no file of the server and its workers grow beyond a size; without limit for -1."""
    for pid in (server.process.pid, *forked(server.process.pid)):
        resource.prlimit(pid, resource.RLIMIT_FSIZE, (most, -1))


def fitting(server: Server, folder: Path, iterations: int) -> tuple[int, int, dict[str, object]]:
    """A strand, a fit at work on it when the disk is full, and what was asked for."""
    path = folder / "few.csv"
    path.write_bytes(TABLE)
    made = begin(server, path)
    server.wait(made["job"], "done")
    fit: dict[str, object] = {"method": "lda", "topics": 3, "iterations": iterations}
    job = server.post(f"/strands/{made['strand']}/fits", **fit)["job"]
    server.wait(job, "running")
    fill(server)
    return made["strand"], job, fit


def test_a_disk_that_is_full_during_a_fit_costs_nothing_that_was_finished(server: Server, tmp_path: Path) -> None:
    strand, job, fit = fitting(server, tmp_path, 1500)
    ended = server.wait(job, "failed", "done")
    assert ended["state"] == "failed" and ended["progress"] is None
    assert "MB were needed" in ended["error"] and "MB are free" in ended["error"]
    for path in READ:
        server.get(f"/strands/{strand}{path}")
    for path in (f"/jobs/{job}/continue", f"/strands/{strand}/fits"):
        refused = server.http.post(path, json=None if "jobs" in path else fit)
        assert refused.status_code == 507 and "MB are free" in refused.json()["detail"]
    assert server.http.post(f"/jobs/{job}/cancel").status_code == 202
    record = server.get(f"/strands/{strand}")
    wanted = {**record["wanted"], "weigh": {**record["wanted"]["weigh"], "min_documents": 9}}
    change = {"revision": record["revision"], "wanted": wanted}
    assert server.http.put(f"/strands/{strand}/wanted", json=change).status_code == 507
    assert server.get(f"/strands/{strand}")["revision"] == record["revision"]
    fill(server, -1)
    server.post(f"/jobs/{job}/continue")
    server.wait(job, "done")
    time.sleep(2.5)  # longer than the record of the first end would be tried again
    assert server.wait(job, "done", "failed")["state"] == "done"
    assert len(server.get(f"/strands/{strand}/fits")["fits"]) == 1


def test_a_record_that_could_not_be_written_is_written_when_there_is_room(server: Server, tmp_path: Path) -> None:
    _, job, _ = fitting(server, tmp_path, 20_000)
    server.http.post(f"/jobs/{job}/cancel")
    assert server.wait(job, "cancelled", "failed", "done")["state"] == "cancelled"
    fill(server, -1)
    time.sleep(3)
    server.kill()
    server.__init__(tmp_path / "data")  # type: ignore[misc]
    assert server.wait(job, "cancelled", "interrupted")["state"] == "cancelled"
