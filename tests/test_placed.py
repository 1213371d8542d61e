"""New text among the topics of a fit: typed, from a file, held out; and from the command line, with the saved fit."""

from __future__ import annotations

import csv
import io
import json
import zipfile
from pathlib import Path
from typing import Any

import jsonschema
import numpy as np
import pytest
from fastapi.testclient import TestClient

from skeinwork.cli import main
from skeinwork.core.errors import BadInputError
from skeinwork.demo.generator import write_entries, write_files
from skeinwork.work.topics.model_file import read_model
from tests.conftest import bring_in, wait_for

STORM = "Storm surge at the breakwater; the swell broke over the wall, and the ladder is gone. Zzyx!"


@pytest.fixture(scope="module")
def strand(served: TestClient, tmp_path_factory: pytest.TempPathFactory) -> int:
    """Twelve topics of the demo, of which 60 entries were held out."""
    path = write_files(tmp_path_factory.mktemp("demo"), size=600)
    number = bring_in(served, "entries.csv", path.read_bytes())
    now = served.get(f"/api/strands/{number}").json()
    wanted = {**now["wanted"], "weigh": {"split": {"count": 60}, "min_documents": 3}}
    answer = served.put(f"/api/strands/{number}/wanted", json={"revision": now["revision"], "wanted": wanted})
    assert answer.status_code == 200, answer.text
    wait_for(served, served.post(f"/api/strands/{number}/rebuild").json()["job"])
    fit = {"method": "lda", "topics": 12, "iterations": 100, "seed": 2}
    wait_for(served, served.post(f"/api/strands/{number}/fits", json=fit).json()["job"])
    return number


@pytest.fixture(scope="module")
def saved(served: TestClient, strand: int, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The fit as a file, as the exports have it."""
    archive = served.get(f"/api/strands/{strand}/export.zip").content
    path = tmp_path_factory.mktemp("saved") / "model.skeinwork.zip"
    path.write_bytes(zipfile.ZipFile(io.BytesIO(archive)).read("model.skeinwork.zip"))
    return path


def test_a_text_is_placed_with_the_words_that_decided(served: TestClient, strand: int) -> None:
    answer = served.post(f"/api/strands/{strand}/placed", json={"text": STORM}).json()
    (text,) = answer["texts"]
    first, second = text["topics"][:2]
    assert first["share"] > 0.5 > second["share"]
    assert first["low"] < first["share"] < first["high"]
    assert sum(each["share"] for each in text["topics"]) == pytest.approx(1)
    assert {"storm", "breakwater", "surge"} <= {word["display"] for word in first["words"]}
    for word in first["words"]:
        assert word["tokens"] <= word["n"]
    assert [each["word"] for each in text["unknown"] if each["why"] == "not in the corpus"] == ["Zzyx"]
    assert 0 < text["unknown_share"] < 0.3
    assert "".join(piece["text"] for piece in text["pieces"]) == STORM
    drawn = {piece["text"].lower() for piece in text["pieces"] if piece["form"] == str(first["topic"])}
    assert {"storm", "surge"} <= drawn


def test_without_a_known_word_the_answer_says_so(served: TestClient, strand: int) -> None:
    (text,) = served.post(f"/api/strands/{strand}/placed", json={"text": "qwrt plmk"}).json()["texts"]
    assert text["counted"] == 0
    assert text["unknown_share"] == 1
    assert served.post(f"/api/strands/{strand}/placed", json={"text": ""}).status_code == 422


def test_documents_held_out_are_placed_as_the_fit_placed_them(served: TestClient, strand: int) -> None:
    answer = served.get(f"/api/strands/{strand}/placed/held-out").json()
    assert answer["total"] == 60
    assert len(answer["texts"]) == 20
    rest = served.get(f"/api/strands/{strand}/placed/held-out?offset=40").json()["texts"]
    assert len(rest) == 20
    assert {text["document"] for text in rest}.isdisjoint(text["document"] for text in answer["texts"])
    table = zipfile.ZipFile(io.BytesIO(served.get(f"/api/strands/{strand}/export.zip").content)).read("documents.csv")
    rows = list(csv.DictReader(io.StringIO(table.decode())))
    close = []
    for text in [*answer["texts"], *rest]:
        row = rows[text["document"]]
        shares = [float(value) for name, value in row.items() if name.startswith("share: ") and value]
        close.append(abs(max(shares) - text["topics"][0]["share"]))
    assert np.median(close) < 0.05


def test_the_trace_tells_of_documents_held_out(served: TestClient, strand: int) -> None:
    plies = served.get(f"/api/strands/{strand}").json()["plies"]
    identity = next(each["identity"] for each in plies if each["step"] == "fit")
    detail = served.get(f"/api/strands/{strand}/fits/{identity}").json()
    assert len(detail["watches"]) == 4
    assert {len(row) for row in detail["trace"]} == {5}
    told = [row[4] for row in detail["trace"]]
    assert told[-1] > told[0]
    assert -8 < told[-1] < -3


def test_a_file_is_placed_as_typed_text_is(served: TestClient, strand: int) -> None:
    upload = served.post(
        "/api/uploads", files={"file": ("new.csv", f"id,text\na,{STORM.replace(',', ' ')}\n".encode())}
    )
    answer = served.get(f"/api/strands/{strand}/placed/files/{upload.json()['sha256']}").json()
    typed = served.post(f"/api/strands/{strand}/placed", json={"text": STORM}).json()
    assert answer["texts"][0]["topics"] == typed["texts"][0]["topics"]


def place(saved: Path, documents: Path, out: Path) -> list[dict[str, str]]:
    assert main(["place", str(saved), "--documents", str(documents), "--out", str(out), "--quiet"]) == 0
    return list(csv.DictReader(io.StringIO(out.read_text(encoding="utf-8"))))


def test_the_saved_fit_places_documents_as_the_screen_does(
    served: TestClient, strand: int, saved: Path, tmp_path: Path
) -> None:
    documents = tmp_path / "new.jsonl"
    lines = [{"id": "n1", "text": STORM}, {"id": "n2", "text": ""}, {"id": "n3", "text": "qwrt"}]
    lines += [{"id": f"e{n}", "text": entry.row["text"]} for n, entry in enumerate(write_entries()[:40])]
    documents.write_text("".join(json.dumps(line) + "\n" for line in lines))
    rows = place(saved, documents, tmp_path / "out.csv")
    names = [row["document"] for row in rows]
    assert names[0] == "n1"
    (typed,) = served.post(f"/api/strands/{strand}/placed", json={"text": STORM}).json()["texts"]
    fit = read_model(saved)
    for topic in typed["topics"]:
        name = fit.names()[topic["topic"]]
        assert float(rows[0][name]) == pytest.approx(topic["share"], abs=1e-7)
        assert float(rows[0][f"{name}, high 95 %"]) == pytest.approx(topic["high"], abs=1e-7)
    unread = rows[names.index("n3")]
    assert unread["counted"] == "0"
    assert unread[fit.names()[0]] == ""
    assert unread["share of kept words unknown"] == "1"


def test_nothing_is_overwritten_and_what_is_missing_is_said(
    saved: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    out = tmp_path / "out.csv"
    out.write_text("mine")
    new = tmp_path / "new.txt"
    new.write_text(STORM)
    for arguments, said in (
        ([str(saved), "--documents", str(new), "--out", str(out)], "already there"),
        ([str(saved), "--documents", str(tmp_path / "none.txt"), "--out", str(tmp_path / "b.csv")], "can't be read"),
        ([str(new), "--documents", str(new), "--out", str(tmp_path / "b.csv")], "is no saved fit"),
    ):
        assert main(["place", *arguments]) == 2
        assert said in capsys.readouterr().err
    assert out.read_text() == "mine"
    assert not (tmp_path / "b.csv").exists()


def altered(saved: Path, path: Path, **parts: Any) -> Path:
    """The saved fit with parts of ``model.json`` or arrays set otherwise."""
    with zipfile.ZipFile(saved) as before, zipfile.ZipFile(path, "w") as after:
        for name in before.namelist():
            data = before.read(name)
            if name == "model.json":
                record = json.loads(data)
                data = json.dumps({**record, **{k: v for k, v in parts.items() if k in record or k == "more"}}).encode()
            elif (array := parts.get(name.removesuffix(".npy"))) is not None:
                out = io.BytesIO()
                np.save(out, array)
                data = out.getvalue()
            if parts.get("without") != name:
                after.writestr(name, data)
    return path


@pytest.mark.parametrize(
    ("parts", "said"),
    [
        ({"skeinwork_model": 2}, "version"),
        ({"more": 1}, "more"),
        ({"terms": ["a", "a"]}, "topic_word"),
        ({"topics": []}, "topics"),
        ({"by_topic": []}, "alpha is missing"),
        ({"by_topic": ["../x"]}, "by_topic"),
        ({"displays": ["a"]}, "shown as"),
        ({"without": "alpha.npy"}, "no saved fit"),
        ({"without": "model.json"}, "no saved fit"),
        ({"alpha": np.full(12, -1.0)}, "alpha"),
        ({"alpha": np.full(12, np.nan)}, "alpha"),
        ({"topic_word": np.zeros((12, 3))}, "topic_word"),
        ({"topic_word": np.array([{}], dtype=object)}, "topic_word"),
    ],
)
def test_what_is_read_from_a_saved_fit_is_checked(
    saved: Path, tmp_path: Path, parts: dict[str, Any], said: str
) -> None:
    with pytest.raises(BadInputError, match=said):
        read_model(altered(saved, tmp_path / "other.zip", **parts))


def test_the_saved_fit_fits_its_published_schema(saved: Path) -> None:
    schema = json.loads((Path(__file__).parent.parent / "docs" / "model.schema.json").read_text())
    jsonschema.validate(json.loads(zipfile.ZipFile(saved).read("model.json")), schema)
