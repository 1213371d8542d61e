"""Lists of words over the API: nothing is cut, changed or half kept."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from skeinwork import cli
from skeinwork.server.app import make_app
from tests.conftest import bring_in
from tests.on_thread import open_on_thread

WORDS = ["1,000", "=sum", "c#", "ferry", "“quay”"]


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    state = open_on_thread(tmp_path_factory.mktemp("lists"), upload_limit_mb=1)
    with TestClient(make_app(state), base_url="http://localhost", raise_server_exceptions=False) as client:
        yield client


def bring(client: TestClient, file: str, data: bytes, **said: str) -> Any:
    return client.post("/api/lists/file", files={"file": (file, data)}, data=said)


def test_a_list_over_the_limit_is_refused_whole(client: TestClient) -> None:
    answer = bring(client, "long.txt", b"".join(b"word%06d\n" % n for n in range(100_000)))
    assert answer.status_code == 422 and "over the limit" in answer.text.replace("larger than", "over")
    assert client.get("/api/lists").json() == []


@pytest.mark.parametrize("kind", ["words", "table"])
@pytest.mark.parametrize("form", ["txt", "csv", "json"])
def test_what_is_saved_is_read_again_as_the_same(
    client: TestClient, tmp_path: Path, capsysbinary: pytest.CaptureFixture[bytes], kind: str, form: str
) -> None:
    lines = WORDS if kind == "words" else [f"{word}\tlemma" for word in WORDS]
    text = json.dumps(lines) if kind == "words" else "\n".join(lines)
    ending = "json" if kind == "words" else "tsv"
    made = bring(client, f"own.{ending}", text.encode(), kind=kind).json()
    assert made["words"] == len(WORDS), made
    saved = client.get(f"/api/lists/{made['id']}/file", params={"form": form}).content
    again = bring(client, f"again.{form}", saved, kind=kind).json()
    assert again["sha256"] == made["sha256"]
    (tmp_path / f"saved.{form}").write_bytes(saved)
    ref = {key: made[key] for key in ("sha256", "name", "words")}
    step = (
        {"kind": "own-list", "lists": [ref]}
        if kind == "words"
        else {"kind": "word-forms", "method": "table", "table": ref}
    )
    pattern = {"skeinwork_pattern": 7, "gather": {"files": [{}]}, "clean": {"passes": [step]}, "weigh": {}, "fit": {}}
    (tmp_path / "pattern.json").write_text(json.dumps(pattern))
    given = ["clean", "--pattern", str(tmp_path / "pattern.json"), "--lists", str(tmp_path / f"saved.{form}")]
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("sys.stdin", open("/dev/null"))  # noqa: SIM115
        assert cli.main(given) == 0, capsysbinary.readouterr().err


def test_long_names_are_no_trouble(client: TestClient) -> None:
    name = "w" * 240
    made = bring(client, f"{name}.txt", b"ferry\n")
    assert made.status_code == 200 and made.json()["name"] == name[:200]
    lists = [bring(client, "x.txt", b"gale\n", name=f"{n}" * 200).json()["id"] for n in range(8)]
    merged = client.post("/api/lists", json={"name": "all", "merged": lists})
    assert merged.status_code == 200 and merged.json()["origin"].endswith(" …")
    assert len(merged.json()["origin"]) <= 500


def test_tables_that_are_brought_back_are_read_or_refused_with_their_line(client: TestClient) -> None:
    strand = bring_in(client, "a.txt", b"Anna Holt saw Anna Holt.\nThe gale in Quellan. Quellan!\n")
    for path, row in (("names", "name;kind"), ("phrases", "phrase;variants")):
        first = row.partition(";")[0]
        read = client.post(f"/api/strands/{strand}/{path}/read", json={"text": f"{row}\nferry;\n"})
        assert read.status_code == 200, read.text
        for text, said in (
            (f'{first}\n"open\n', "Line 2"),
            (f"{first}\n{'x' * 140_000}\n", "140,000 letters"),
            ("other\nx\n", "no column"),
        ):
            answer = client.post(f"/api/strands/{strand}/{path}/read", json={"text": text})
            if path == "phrases" or "140,000" not in said:
                assert answer.status_code == 422 and said in answer.text, answer.text
            assert answer.status_code < 500


def test_a_corrected_expression_leaves_nothing_behind(client: TestClient) -> None:
    strand = bring_in(client, "b.txt", b"a gale and a fog\nthe ferry and the quay\n" * 5)
    at = f"/api/strands/{strand}"
    for step, status in (
        ({"kind": "replacements", "patterns": ["( = y"]}, 422),
        ({"kind": "replacements", "patterns": ["(a) = y"]}, 200),
        ({"kind": "own-list", "lists": [{"sha256": "0" * 64, "name": "gone"}]}, 422),
        ({"kind": "own-list", "words": ["gale"]}, 200),
        ({"kind": "case", "within": {"field": "none", "values": ["x"]}}, None),
        ({"kind": "case"}, 200),
    ):
        record = client.get(at).json()
        record["wanted"]["clean"]["passes"] = [step]
        put = client.put(f"{at}/wanted", json={"revision": record["revision"], "wanted": record["wanted"]})
        if put.status_code != 200:
            continue
        for quick in ("true", "false"):
            answer = client.get(f"{at}/survivors?quick={quick}")
            assert status is None or answer.status_code == status, (step, answer.text)
            assert answer.status_code < 500
