"""Every address of the API under odd values: an answer with a sentence, never a fault."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any
from urllib.parse import unquote

import pytest
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from skeinwork.server.app import make_app
from tests.conftest import bring_in, wait_for
from tests.on_thread import open_on_thread
from tests.shared import TABLE


@pytest.fixture(scope="module")
def made(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    state = open_on_thread(tmp_path_factory.mktemp("contract"))
    with TestClient(make_app(state), base_url="http://localhost", raise_server_exceptions=False) as client:
        strand = bring_in(client, "entries.csv", TABLE)
        job = client.post(f"/api/strands/{strand}/fits", json={"topics": 2, "iterations": 20}).json()
        wait_for(client, job["job"])
        yield client


SCHEMA = make_app(None).openapi()
READS = sorted(path for path, verbs in SCHEMA["paths"].items() if "get" in verbs and not path.endswith("/stream"))
WITHOUT_BODY = ("/rebuild", "/fork", "/continue", "/cancel", "/undo")
WRITES = sorted(
    (path, verb)
    for path, verbs in SCHEMA["paths"].items()
    for verb in verbs
    if verb in ("post", "put", "delete") and not path.endswith(WITHOUT_BODY)
)
ODD = st.one_of(
    st.text(max_size=12),
    st.integers(-(2**70), 2**70).map(str),
    st.sampled_from(["", "0", "-1", "1e9", "null", "true", "NaN", "%00", "'; DROP TABLE skein; --", "../..", "𝔘" * 40]),
)
JSON = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats(allow_nan=False, allow_infinity=False) | st.text(max_size=6),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=6), inner, max_size=3),
    max_leaves=6,
)


def fill(path: str, values: list[str]) -> str:
    """The path with its parameters filled; the strand is the real one half of the time."""
    rest = iter(values)

    def value(match: re.Match[str]) -> str:
        given = next(rest, "1")
        if match.group(1) == "strand_id" and len(given) % 2 == 0:
            return "1"
        return re.sub(r"[^A-Za-z0-9_.~-]", "_", given) or "0"

    return re.sub(r"\{(\w+)\}", value, path)


def declared(path: str, verb: str) -> list[str]:
    return [p["name"] for p in SCHEMA["paths"][path][verb].get("parameters", []) if p["in"] == "query"]


def fine(answer: Any) -> None:
    assert answer.status_code < 500, answer.text
    if answer.status_code >= 400:
        body = answer.json()
        assert body["detail"]
        assert body["status"] == answer.status_code


relaxed = settings(
    max_examples=12, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow]
)


@pytest.mark.parametrize("path", READS)
def test_reading_with_odd_values(made: TestClient, path: str) -> None:
    names = declared(path, "get")

    @relaxed
    @given(st.lists(ODD, min_size=4, max_size=4), st.dictionaries(st.sampled_from([*names, "odd"]), ODD, max_size=4))
    def attempt(values: list[str], query: dict[str, str]) -> None:
        fine(made.get(fill(path, values), params=query))

    attempt()


@pytest.mark.parametrize(("path", "verb"), WRITES)
def test_writing_with_odd_bodies(made: TestClient, path: str, verb: str) -> None:
    @relaxed
    @given(st.lists(ODD, min_size=4, max_size=4), JSON)
    def attempt(values: list[str], body: Any) -> None:
        fine(made.request(verb.upper(), fill(path, values), json=body))

    attempt()


@pytest.mark.parametrize("dots", ["..", "%2e%2e", "..%2f..", "0" * 63 + "%2f"])
def test_dots_in_any_place_of_an_address_reach_nothing(made: TestClient, dots: str) -> None:
    store = made.app.state.skeinwork.store  # type: ignore[attr-defined]
    (store.folder / "made.json").write_text("unreadable")
    before = sorted(path for path in store.folder.rglob("*") if "skeinwork.db" not in path.name)
    for path, verbs in SCHEMA["paths"].items():
        names = re.findall(r"\{(\w+)\}", path)
        for place in names if not path.endswith("/stream") else []:
            address = re.sub(r"\{(\w+)\}", lambda m, p=place: dots if m[1] == p else "1", path)
            for verb in {"get", "delete", "put"} & set(verbs):
                answer = raw(made, verb, address)
                assert 400 <= answer < 500, f"{verb} {address}"
    after = sorted(path for path in store.folder.rglob("*") if "skeinwork.db" not in path.name)
    assert after == before


def raw(client: TestClient, verb: str, address: str) -> int:
    """The status of a request whose address reaches the server as it stands."""
    status = []

    async def receive() -> dict[str, Any]:
        return {"type": "http.request", "body": b"{}", "more_body": False}

    async def send(message: dict[str, Any]) -> None:
        if message["type"] == "http.response.start":
            status.append(message["status"])

    scope = {
        "type": "http",
        "asgi": {"version": "3.0"},
        "http_version": "1.1",
        "scheme": "http",
        "method": verb.upper(),
        "path": unquote(address),
        "raw_path": address.encode(),
        "query_string": b"",
        "root_path": "",
        "client": ("testclient", 1),
        "server": ("127.0.0.1", 80),
        "headers": [(b"host", b"localhost"), (b"content-type", b"application/json")],
    }
    assert client.portal
    client.portal.call(client.app, scope, receive, send)
    return status[0]


def test_every_operation_is_named_and_described() -> None:
    names = []
    for path, verbs in SCHEMA["paths"].items():
        for verb, operation in verbs.items():
            assert operation.get("description"), f"{verb} {path}"
            names.append(operation["operationId"])
    assert len(names) == len(set(names))


def test_tables_are_read_a_page_at_a_time() -> None:
    for path in ("documents", "vocabulary", "evidence"):
        names = declared(f"/api/strands/{{strand_id}}/{path}", "get")
        assert {"offset", "limit"} <= set(names)
