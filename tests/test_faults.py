"""kill -9 at random moments: the data folder opens, nothing finished is lost, work continues."""

from __future__ import annotations

import os
import random
import signal
import time
from pathlib import Path
from typing import Any

import pytest

from skeinwork.demo.generator import write_files
from skeinwork.store.artefacts import ArtefactStore
from tests.shared import Server, children


@pytest.fixture(scope="module")
def entries_file(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return write_files(tmp_path_factory.mktemp("demo"), size=300)


def upload(server: Server, name: str, data: bytes) -> dict[str, Any]:
    return chosen(server.http.post("/uploads", files={"file": (name, data)}).json())


def chosen(preview: dict[str, Any]) -> dict[str, Any]:
    """A file as it is asked for, from its preview."""
    return {name: preview[name] for name in ("sha256", "name", "settings")}


def begin(server: Server, path: Path) -> dict[str, int]:
    file = upload(server, path.name, path.read_bytes())
    made: dict[str, int] = server.post("/skeins", name="x", gather={"files": [file]})
    return made


def fits(server: Server, strand: int) -> set[str]:
    return {fit["identity"] for fit in server.get(f"/strands/{strand}/fits")["fits"]}


def killed(server: Server, folder: Path, job: int) -> tuple[Server, str]:
    """Kill the server; a new one on its folder, and what has become of a job."""
    server.kill()
    new = Server(folder)
    state: str = new.wait(job, "interrupted", "done")["state"]
    return new, state


def killed_and_continued(server: Server, folder: Path, path: str, job: int, counts: tuple[int, int]) -> Server:
    """Kill the server while a strand's documents change, and go on.

    In between all results are of the documents before or after, as many as one of the counts.
    """
    server, state = killed(server, folder, job)
    record = server.get(path)
    assert {ply["state"] for ply in record["plies"][:3]} in ({"ready"}, {"stale"})
    made = record["summaries"]
    assert made["corpus"]["documents"] == made["matrix"]["documents"]
    assert made["corpus"]["documents"] in counts
    if state == "interrupted":
        server.post(f"/jobs/{job}/continue")
        server.wait(job, "done")
    return server


@pytest.mark.long
def test_killed_in_a_sweep_nothing_finished_is_lost(
    tmp_path: Path, entries_file: Path, pytestconfig: pytest.Config
) -> None:
    chance = random.Random(11)
    folder = tmp_path / "data"
    server = Server(folder)
    made = begin(server, entries_file)
    server.wait(made["job"], "done")
    sweep = {"counts": [3, 4, 5, 6], "seeds": [1, 2], "iterations": 100}
    job = server.post(f"/strands/{made['strand']}/sweeps", **sweep)["job"]
    for _ in range(pytestconfig.getoption("--rounds")):
        time.sleep(chance.uniform(0.05, 2.5))
        kept = fits(server, made["strand"])
        server, state = killed(server, folder, job)
        assert kept <= fits(server, made["strand"])
        for identity in ArtefactStore(folder / "results").identities():
            ArtefactStore(folder / "results").open(identity).verify()
        if state == "interrupted":
            server.post(f"/jobs/{job}/continue")
        else:
            job = server.post(f"/strands/{made['strand']}/sweeps", **{**sweep, "seeds": [chance.randrange(9999)]})[
                "job"
            ]
    server.wait(job, "done")
    server.stop()


def test_killed_in_the_middle_of_an_import_nothing_half_made_is_shown(
    tmp_path: Path, entries_file: Path, pytestconfig: pytest.Config
) -> None:
    chance = random.Random(12)
    for number in range(max(1, pytestconfig.getoption("--rounds") // 2)):
        folder = tmp_path / str(number)
        server = Server(folder)
        made = begin(server, entries_file)
        time.sleep(chance.uniform(0, 3))
        server, state = killed(server, folder, made["job"])
        if state == "interrupted":
            server.post(f"/jobs/{made['job']}/continue")
            server.wait(made["job"], "done")
        found = server.get(f"/strands/{made['strand']}/documents?find=gale&limit=200")
        assert 0 < found["total"] == len({row["document"] for row in found["rows"]})
        record = server.get(f"/strands/{made['strand']}")
        assert [ply["state"] for ply in record["plies"]] == ["ready", "ready", "ready", "empty"]
        server.stop()


@pytest.mark.long
def test_killed_while_shaping_the_strand_stays_of_one_corpus(
    tmp_path: Path, entries_file: Path, pytestconfig: pytest.Config
) -> None:
    """The documents, the cleaning and the matrix are always of one version, old or new."""
    chance = random.Random(13)
    folder = tmp_path / "data"
    server = Server(folder)
    made = begin(server, entries_file)
    server.wait(made["job"], "done")
    path = f"/strands/{made['strand']}"
    total = server.get(path)["summaries"]["corpus"]["documents"]
    for number in range(max(1, pytestconfig.getoption("--rounds") // 2)):
        record = server.get(path)
        sample = {"kind": "sample", "size": 200, "seed": number}
        shape = [{"kind": "duplicates", "near": True}, sample]
        body = {"revision": record["revision"], "wanted": {**record["wanted"], "shape": shape}}
        assert server.http.put(f"{path}/wanted", json=body).status_code == 200
        job = server.post(f"{path}/rebuild")["job"]
        time.sleep(chance.uniform(0, 1.2))
        server = killed_and_continued(server, folder, path, job, (200, total))
        assert server.get(f"{path}/documents?find=gale")["total"] <= 200
        assert server.get(path)["summaries"]["corpus"]["documents"] == 200
    server.stop()


@pytest.mark.long
def test_killed_while_files_come_in_again_the_earlier_documents_are_there(
    tmp_path: Path, entries_file: Path, pytestconfig: pytest.Config
) -> None:
    chance = random.Random(14)
    folder = tmp_path / "data"
    server = Server(folder)
    made = begin(server, entries_file)
    server.wait(made["job"], "done")
    path = f"/strands/{made['strand']}"
    for number in range(max(1, pytestconfig.getoption("--rounds") // 2)):
        total = server.get(path)["summaries"]["corpus"]["documents"]
        found = server.get(f"{path}/files")
        table = f"entry,text\nmore{number},A gale at the quay\n".encode()
        files = [*map(chosen, found["files"]), upload(server, f"{number}.csv", table)]
        job = server.post(f"{path}/gather?base={found['base']}", files=files)["job"]
        time.sleep(chance.uniform(0, 1.5))
        server = killed_and_continued(server, folder, path, job, (total, total + 1))
        record = server.get(path)
        assert record["summaries"]["corpus"]["documents"] == total + 1
        assert record["undo"] == number + 1
    server.stop()


def test_a_killed_worker_does_not_break_the_server(tmp_path: Path, entries_file: Path) -> None:
    server = Server(tmp_path / "data")
    made = begin(server, entries_file)
    server.wait(made["job"], "done")
    job = server.post(f"/strands/{made['strand']}/sweeps", counts=[4, 5], seeds=[1, 2], iterations=150)["job"]
    time.sleep(0.5)
    workers = children(server.process.pid)
    assert workers
    os.kill(workers[0], signal.SIGKILL)
    server.wait(job, "done")
    assert len(fits(server, made["strand"])) == 4
    server.stop()


@pytest.mark.long
def test_workers_leave_with_their_server(tmp_path: Path, entries_file: Path) -> None:
    server = Server(tmp_path / "data")
    made = begin(server, entries_file)
    server.wait(made["job"], "done")
    workers = children(server.process.pid)
    server.kill()
    end = time.monotonic() + 5
    while any(Path(f"/proc/{pid}/cmdline").exists() and Path(f"/proc/{pid}/cmdline").read_bytes() for pid in workers):
        assert time.monotonic() < end, "a worker outlived its server"
        time.sleep(0.1)
