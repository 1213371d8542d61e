"""Starting a server: the demo once, ports, addresses, and what a browser is sent."""

from __future__ import annotations

import argparse
import gzip
import json
import re
import socket
import time
from pathlib import Path
from typing import Any

import httpx
import pytest
from fastapi.testclient import TestClient

from skeinwork.core.errors import BadInputError
from skeinwork.demo import DEMO
from skeinwork.server import run
from skeinwork.server.app import make_app
from skeinwork.server.demo import ensure_demo
from skeinwork.server.run import open_state
from skeinwork.store.models import Event, Skein
from tests.conftest import wait_for
from tests.shared import Server


def options(**changes: Any) -> argparse.Namespace:
    given = {
        "data": None,
        "host": "127.0.0.1",
        "port": 0,
        "token": None,
        "workers": 1,
        "upload_limit": 10,
        "scheduler": None,
    }
    return argparse.Namespace(**{**given, **changes})


def test_the_demo_is_brought_in_once(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """From its generator, where it was not worked through at set-up."""
    monkeypatch.setattr("skeinwork.server.demo.WORKED", "absent.zip")
    state = open_state(tmp_path, workers=1)
    with TestClient(make_app(state), base_url="http://localhost") as client:
        first = ensure_demo(state.store, state.runner)
        assert ensure_demo(state.store, state.runner) == first
        (skein,) = client.get("/api/skeins").json()
        assert skein["name"] == DEMO
        wait_for(client, client.get("/api/jobs").json()[0]["id"])
        record = client.get(f"/api/strands/{skein['strands'][0]}").json()
        assert [ply["state"] for ply in record["plies"]] == ["ready", "ready", "ready", "empty"]
        assert 2300 < record["summaries"]["corpus"]["documents"] < 2500
        with state.store.connection():
            assert Skein.select().count() == 1
            assert [event.label for event in Event.select().order_by(Event.day)] == [
                "storm winter",
                "line closed",
                "seabird rule",
            ]


def test_a_port_in_use_is_said(tmp_path: Path) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        with pytest.raises(BadInputError, match="can't be used"):
            run.serve(options(port=taken.getsockname()[1], data=tmp_path), demo=False)


def test_an_interface_that_was_not_built_is_said(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(run, "STATIC", tmp_path)
    with pytest.raises(BadInputError, match="has not been built"):
        run.serve(options(), demo=False)


@pytest.fixture(scope="module")
def server(tmp_path_factory: pytest.TempPathFactory) -> Any:
    running = Server(tmp_path_factory.mktemp("serving"))
    yield running
    running.stop()


def test_it_listens_on_this_machine_only(server: Server) -> None:
    port = int(server.base.rsplit(":", 1)[1].split("/")[0])
    addresses = set()
    for line in Path("/proc/net/tcp").read_text().splitlines()[1:]:
        local, state = line.split()[1], line.split()[3]
        if state == "0A" and int(local.split(":")[1], 16) == port:
            addresses.add(local.split(":")[0])
    assert addresses == {"0100007F"}  # 127.0.0.1


def test_the_page_and_its_parts_are_sent_compressed_with_a_nonce(server: Server) -> None:
    base = server.base.removesuffix("/api")
    one, two = (httpx.get(base) for _ in range(2))
    nonces = [re.search(r'name="style-nonce" content="([^"]+)"', page.text).group(1) for page in (one, two)]  # type: ignore[union-attr]
    assert nonces[0] != nonces[1]
    assert f"'nonce-{nonces[0]}'" in one.headers["content-security-policy"]
    script = re.search(r'src="(/assets/[^"]+\.js)"', one.text).group(1)  # type: ignore[union-attr]
    raw = httpx.get(base + script, headers={"accept-encoding": "gzip"})
    assert raw.headers["content-encoding"] == "gzip"
    assert raw.headers["content-type"].startswith("text/javascript")
    assert len(gzip.compress(raw.content)) < len(raw.content)


def test_computation_does_not_keep_the_server_from_answering(server: Server, tmp_path: Path) -> None:
    """While a fit is at work, every kind of request still gets its answer."""
    words = "gale quay ferry surge wall ledge chick engine valve ticket crane salt".split()
    lines = "".join(f"{words[n % 12]} {words[n % 7]} {words[n % 5]} late\n" for n in range(5000))
    preview = server.http.post("/uploads", files={"file": ("lines.txt", lines.encode())}).json()
    file = {name: preview[name] for name in ("sha256", "name", "settings")}
    made = server.post("/skeins", name="x", gather={"files": [file]})
    server.wait(made["job"], "done")
    job = server.post(f"/strands/{made['strand']}/fits", topics=2, iterations=20000)["job"]
    server.wait(job, "running")
    for path in ("documents?sort=-words", "documents?find=gale", "vocabulary", "overview", "specimen"):
        server.get(f"/strands/{made['strand']}/{path}")
    assert server.wait(job, "running", "done")["state"] == "running"
    server.post(f"/jobs/{job}/cancel")
    server.wait(job, "cancelled")


def test_the_stream_of_jobs_says_each_change_once(server: Server) -> None:
    seen = []
    with server.http.stream("GET", "/jobs/stream") as stream:
        end = time.monotonic() + 3
        for line in stream.iter_lines():
            if line.startswith("data: "):
                seen.append(line)
                json.loads(line[6:])
                break
            assert time.monotonic() < end
    assert len(seen) == 1


def test_a_large_upload_is_stopped_at_the_limit(tmp_path: Path) -> None:
    state = open_state(tmp_path, workers=1, upload_limit_mb=1)
    with TestClient(make_app(state), base_url="http://localhost") as client:
        answer = client.post("/api/uploads", files={"file": ("big.csv", b"text\n" + b"x" * 1_100_000)})
        assert answer.status_code == 400
        assert "larger than the limit of 1 MB" in answer.json()["detail"]
        assert "--upload-limit" in answer.json()["detail"]
        assert not list((tmp_path / "uploads").iterdir())


def test_a_full_disk_is_said_and_leaves_nothing(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    state = open_state(tmp_path, workers=1)

    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    with TestClient(make_app(state), base_url="http://localhost") as client:
        monkeypatch.setattr("skeinwork.store.store.os.fsync", full)
        answer = client.post("/api/uploads", files={"file": ("a.csv", b"text\na\n")})
        assert answer.status_code == 507
        assert "MB are free" in answer.json()["detail"]
        monkeypatch.undo()
        assert not list((tmp_path / "uploads").iterdir())
        assert client.post("/api/uploads", files={"file": ("a.csv", b"text\na\nb\n")}).status_code == 200
