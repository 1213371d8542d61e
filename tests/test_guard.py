"""Who is answered: hosts in every spelling, tokens, and how much may be sent."""

from __future__ import annotations

import asyncio
import socket
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from skeinwork.cli import main
from skeinwork.core.errors import BadInputError
from skeinwork.server.app import make_app
from skeinwork.server.guard import check_token, host_of, is_loopback
from skeinwork.server.limits import BodyLimit
from skeinwork.server.run import _addresses, _free_port
from tests.on_thread import open_on_thread


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    state = open_on_thread(tmp_path_factory.mktemp("guard"), upload_limit_mb=1)
    app = make_app(state, ("workbench.example",))
    with TestClient(app, base_url="http://localhost", raise_server_exceptions=False) as client:
        yield client


@pytest.mark.parametrize(
    ("host", "status"),
    [
        ("localhost", 200),
        ("LOCALHOST:8642", 200),
        ("localhost.", 200),
        ("127.0.0.1:1", 200),
        ("127.0.0.53", 200),
        ("[::1]:8642", 200),
        ("[0:0:0:0:0:0:0:1]", 200),
        ("me.localhost", 200),
        ("[::ffff:127.0.0.1]", 200),
        ("Workbench.Example:8642", 200),
        ("testserver", 421),
        ("localhost.evil.example", 421),
        ("127.0.0.1.evil.example", 421),
        ("192.0.2.7", 421),
        ("", 421),
        ("[", 421),
        ("evil.example", 421),
        ("workbench.example.evil.example", 421),
    ],
)
def test_hosts_in_every_spelling(client: TestClient, host: str, status: int) -> None:
    assert client.get("/api/skeins", headers={"host": host}).status_code == status


def test_the_address_that_a_request_came_to_is_ours(client: TestClient) -> None:
    for reached, named, status in (
        ("192.0.2.7", "192.0.2.7:8642", 200),
        ("2001:db8::7", "[2001:db8:0::7]", 200),
        ("192.0.2.7", "192.0.2.8", 421),
    ):
        assert asked(client, "/api/skeins", named, server=(reached, 8642))[0] == status


def asked(client: TestClient, path: str, host: str = "localhost", method: str = "GET", **more: Any) -> tuple[int, int]:
    """The status of a raw request, and how often its body was asked for."""
    status, taken = [], 0
    headers = [(b"host", host.encode()), *more.pop("headers", [])]

    async def receive() -> dict[str, Any]:
        nonlocal taken
        taken += 1
        body = PART if taken == 1 else b"x" * 500_000
        return {"type": "http.request", "body": body, "more_body": True}

    async def send(message: dict[str, Any]) -> None:
        if message["type"] == "http.response.start":
            status.append(message["status"])

    scope = {
        "type": "http",
        "asgi": {"version": "3.0"},
        "http_version": "1.1",
        "scheme": "http",
        "method": method,
        "path": path,
        "raw_path": path.encode(),
        "query_string": b"",
        "root_path": "",
        "client": ("testclient", 1),
        "server": ("127.0.0.1", 80),
        "headers": headers,
        **more,
    }
    assert client.portal
    client.portal.call(client.app, scope, receive, send)
    return status[0], taken


PART = b'--b\r\nContent-Disposition: form-data; name="files"; filename="a.csv"\r\n\r\n'
FORM = (b"content-type", b"multipart/form-data; boundary=b")


@pytest.mark.parametrize("path", ["/api/uploads", "/api/uploads/folder", "/api/skeins/open"])
def test_what_is_too_long_is_refused_before_it_is_taken(client: TestClient, path: str) -> None:
    stated = [FORM, (b"content-length", b"3000000")]
    assert asked(client, path, method="POST", headers=stated) == (413, 0)
    chunked, taken = asked(client, path, method="POST", headers=[FORM])
    assert chunked == 413 and taken <= 6
    file = {"files" if "folder" in path else "file": ("a.csv", b"id,text\n" + b"1,ice\n" * 400_000)}
    answer = client.post(path, files=file)
    assert answer.status_code == 413 and "limit of 1 MB" in answer.json()["detail"]


def test_a_long_request_is_no_file(client: TestClient) -> None:
    kind = (b"content-type", b"application/json")
    stated = [kind, (b"content-length", b"61000000")]
    assert asked(client, "/api/uploads/paste", method="POST", headers=stated) == (413, 0)
    status, taken = asked(client, "/api/skeins", method="POST", headers=[kind])
    assert status == 413 and taken <= 122


def test_other_messages_pass_the_limit() -> None:
    seen = []

    async def app(scope: Any, *_: Any) -> None:
        seen.append(scope["type"])

    asyncio.run(BodyLimit(app, 1)({"type": "lifespan"}, None, None))  # type: ignore[arg-type]
    assert seen == ["lifespan"]


@pytest.mark.parametrize("origin", ["http://[", "http://evil.example", "null", "http://localhost.evil.example"])
def test_other_sites_are_refused_however_they_are_written(client: TestClient, origin: str) -> None:
    assert client.get("/api/skeins", headers={"origin": origin}).status_code == 403


@pytest.mark.parametrize(
    "path",
    [
        "/%00",
        "/api/%00",
        "/a" * 2500,
        "/" + "a" * 300,
        "/assets/" + "a" * 300,
        "/assets/%00",
        "/api/strands/%00",
        "/api/uploads/" + "b" * 5000 + "/preview",
        "/api/jobs/1/%0a",
    ],
)
def test_odd_addresses_are_not_there_or_open_the_interface(client: TestClient, path: str) -> None:
    assert client.get(path).status_code in (200, 404, 405)


def test_guessable_tokens_are_refused_before_anything_starts(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    for token in ("secret", "aaaaaaaaaaaaaaaaaaaa", "abab" * 9, "ä" * 5 + "abcdefghijklm"):
        with pytest.raises(BadInputError, match="--token"):
            check_token(token)
    check_token("a-long-random-word-7")
    serve = ["serve", "--host", "0.0.0.0", "--data", str(tmp_path / "data")]
    assert main([*serve, "--token", "x"]) == main(serve) == 2
    assert "too easy to guess" in capsys.readouterr().err
    assert not (tmp_path / "data").exists()


def test_served_to_others_its_addresses_are_found_and_printed() -> None:
    found = _addresses("0.0.0.0")
    assert socket.gethostname() in found and "0.0.0.0" not in found
    assert _addresses("127.0.0.1") == ["127.0.0.1"]
    assert host_of("[::1]:80") == "::1" and is_loopback("::1") and not is_loopback("192.0.2.1")


def test_requests_of_other_sites_are_told_by_the_browser(client: TestClient) -> None:
    for site, status in (("same-origin", 200), ("none", 200), ("same-site", 403), ("cross-site", 403)):
        answer = client.get("/api/skeins", headers={"sec-fetch-site": site})
        assert answer.status_code == status, site
    link = client.get("/", headers={"sec-fetch-site": "cross-site"})
    assert link.status_code in (200, 503)  # a link from anywhere opens the page


def test_cookies_of_two_servers_on_one_host_do_not_disturb_each_other(tmp_path: Path) -> None:
    state = open_on_thread(tmp_path)
    with TestClient(make_app(state, token="own & only"), base_url="http://localhost:8001") as mine:
        mine.cookies.set("skeinwork-8002", "of another", domain="localhost.local")
        assert mine.get("/api/skeins").status_code == 401
        opened = mine.get("/api/skeins", params={"token": "own & only"})
        assert opened.status_code == 200
        assert mine.get("/api/skeins").status_code == 200
        assert sum(each.name.startswith("skeinwork-") for each in mine.cookies.jar) == 2


def test_answers_do_not_wait_for_an_acknowledgement() -> None:
    """A socket that is not named as TCP sends small answers 40 ms late."""
    with _free_port("127.0.0.1", 0) as listener:
        assert listener.proto == socket.IPPROTO_TCP
