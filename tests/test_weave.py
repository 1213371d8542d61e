"""The pattern file and the command line."""

from __future__ import annotations

import io
import json
import re
import subprocess
import sys
import zipfile
from pathlib import Path
from typing import Any

import jsonschema
import pytest
from fastapi.testclient import TestClient

from skeinwork import filters
from skeinwork.core.errors import BadInputError
from skeinwork.demo.generator import write_files
from skeinwork.work.exports.pattern import FORMAT_VERSION, Pattern, read_pattern, schema
from tests.conftest import bring_in, choose, wait_for

ROOT = Path(__file__).parent.parent


def run(*arguments: str, text: str | None = None) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-m", "skeinwork.cli", *arguments], input=text, capture_output=True, text=True, timeout=120
    )


@pytest.fixture(scope="module")
def entries_file(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return write_files(tmp_path_factory.mktemp("demo"), size=300)


def minimal(**changes: Any) -> dict[str, Any]:
    roles = {"entry": "identifier", "date": "date", "harbour": "group", "text": "text"}
    return {
        "skeinwork_pattern": 1,
        "gather": {"files": [{"roles": roles}]},
        "clean": {},
        "weigh": {},
        "fit": {"topics": 4, "iterations": 60},
        "track": [{"group": "harbour", "period": "year"}],
        **changes,
    }


def test_weave_reproduces_the_servers_results_byte_for_byte(
    client: TestClient, entries_file: Path, tmp_path: Path
) -> None:
    strand = bring_in(client, entries_file.name, entries_file.read_bytes())
    sweep = {"counts": [5], "seeds": [1, 2, 3], "iterations": 60}
    wait_for(client, client.post(f"/api/strands/{strand}/sweeps", json=sweep).json()["job"])
    fits = client.get(f"/api/strands/{strand}/fits").json()["fits"]
    choose(client, strand, next(each["identity"] for each in fits if each["settings"]["seed"] == 3))
    for step, settings in (
        ("tree", {"most": 60, "resamples": 3}),
        ("groups", {"groups": 5}),
        ("group_counts", {"most": 4, "seeds": 2}),
        ("group_words", {"field": "harbour"}),
        ("word_map", {}),
        ("document_vectors", {"dimensions": 20}),
        ("document_map", {"neighbours": 10}),
        ("topic_map", {}),
    ):
        wait_for(client, client.post(f"/api/strands/{strand}/beside/{step}", json=settings).json()["job"])
    for work, wanted in (
        ("regression", {"factor": ["harbour"], "time": True}),
        ("apart", {"group": "harbour", "seeds": 1}),
        ("apart", {"period": "year", "seeds": 1}),
    ):
        wait_for(client, client.post(f"/api/strands/{strand}/{work}", json=wanted).json()["job"])
    said = {"by": {"group": "harbour"}, "sides": [{"value": "Ossingby"}]}
    word = client.get(f"/api/strands/{strand}/relate/group-words/words", params={"group": 0}).json()["words"][0]["term"]
    numbers = [
        client.post(f"/api/strands/{strand}/pins", json={**said, **about}).json()["pin"]
        for about in ({"topic": 1}, {"word": word, "less": True})
    ]
    over = {"pins": numbers, "over": ["seed-1", "topics-4", "forms-none", "unit-documents"]}
    wait_for(client, client.post(f"/api/strands/{strand}/pins/trials", json=over).json()["job"])
    archive = zipfile.ZipFile(io.BytesIO(client.get(f"/api/strands/{strand}/export.zip").content))
    pattern = tmp_path / "pattern.json"
    pattern.write_bytes(client.get(f"/api/strands/{strand}/pattern.json").content)
    done = run("weave", str(pattern), "--documents", str(entries_file), "--out", str(tmp_path / "out"))
    assert done.returncode == 0, done.stderr
    written = {path.name: path.read_bytes() for path in (tmp_path / "out").iterdir()}
    assert written == {name: archive.read(name) for name in archive.namelist()}
    assert json.loads(written["pattern.json"])["other_seeds"] == [1, 2]
    assert {"tree.nwk", "clusters.csv", "document-groups.csv", "group-counts.csv", "group-words.csv"} <= set(written)
    assert {"map-of-documents.csv", "map-of-topics.csv", "map-of-words.csv"} <= set(written)
    assert {"word-vectors.txt", "document-vectors.npy"} <= set(written)
    assert {"regression-on-harbour-date.csv", "models-by-harbour.csv", "models-by-year.csv"} <= set(written)
    assert {"streams-by-year.csv", "streams-by-year.graphml"} <= set(written)
    assert written["statements.csv"].count(b"There is") >= 5 and b"seed 1" in written["statements.csv"]
    assert b"with seeds 1 and 2 stand apart" in written["README.txt"]
    shown = client.get(f"/api/strands/{strand}/prevalence").json()["cells"][0]["values"]
    assert [each["share_of_tokens"] for each in json.loads(written["topics.json"])["topics"]] == shown
    assert [each["share"] for each in client.get(f"/api/strands/{strand}/topics").json()["topics"]] == shown


def test_one_files_settings_serve_many(entries_file: Path, tmp_path: Path) -> None:
    other = tmp_path / "more.csv"
    other.write_bytes(entries_file.read_bytes())
    pattern = tmp_path / "p.json"
    pattern.write_text(json.dumps(minimal()))
    done = run("weave", str(pattern), "--documents", str(entries_file), str(other), "--out", str(tmp_path / "out"))
    assert done.returncode == 0, done.stderr
    rows = (tmp_path / "out" / "documents.csv").read_text().splitlines()
    assert len(rows) == 1 + 2 * 311 or len(rows) > 600


def test_the_schema_is_published_and_holds_for_what_is_written() -> None:
    published = json.loads((ROOT / "docs" / "pattern.schema.json").read_text())
    assert published == schema()
    pattern = Pattern.model_validate(minimal())
    jsonschema.validate(json.loads(pattern.to_json()), published)
    jsonschema.Draft202012Validator.check_schema(published)
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate(minimal(colour=1), published)


def test_a_pattern_reads_back() -> None:
    pattern = Pattern.model_validate(minimal())
    assert read_pattern(pattern.to_json()) == pattern


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("{", "not JSON: line 1"),
        ("[]", "skeinwork_pattern is missing"),
        (json.dumps(minimal(skeinwork_pattern=FORMAT_VERSION + 1)), f"format version {FORMAT_VERSION + 1}"),
        (json.dumps(minimal(colour=1)), "colour: Extra inputs"),
        (json.dumps(minimal(other_seeds=[2, 1])), "other seeds are those that the fit does not have"),
        (json.dumps(minimal(fit={"topics": 1})), "fit.lda.topics: Input should be greater than or equal to 2"),
        (json.dumps(minimal(clean={"passes": [{"kind": "case", "key": "a"}] * 2})), "two passes have the same key"),
        (json.dumps(minimal(weigh={"max_share": 3, "min_documents": 0})), "weigh.min_documents"),
    ],
)
def test_a_pattern_that_cannot_be_used_names_its_fields(text: str, words: str) -> None:
    with pytest.raises(BadInputError, match=re.escape(words)):
        read_pattern(text)


@pytest.mark.parametrize(
    ("pattern", "table", "words"),
    [
        (
            minimal(),
            "entry,when,text\n1,2014,a gale\n",
            "lacks fields that the pattern uses: date (date), harbour (group)",
        ),
        (
            minimal(regress=[{"factors": ["quay"]}]),
            "entry,date,harbour,text\n1,2014,Quellan,a gale\n",
            "regresses on “quay”, which the documents lack",
        ),
        (
            minimal(track=[], apart=[{"by": {"period": "year"}}]),
            "entry,date,harbour,text\n1,,Quellan,a gale\n",
            "fits models by time, but no document has a date",
        ),
        (minimal(), "", "is empty"),
        (minimal(), "entry,date,harbour,text\n1,2014,Quellan,a\n", "vocabulary is empty"),
    ],
)
def test_weave_says_what_is_wrong_with_documents(pattern: Any, table: str, words: str, tmp_path: Path) -> None:
    (tmp_path / "p.json").write_text(json.dumps(pattern))
    (tmp_path / "d.csv").write_text(table)
    done = run(
        "weave", str(tmp_path / "p.json"), "--documents", str(tmp_path / "d.csv"), "--out", str(tmp_path / "out")
    )
    assert done.returncode in (1, 2)
    assert words in done.stderr
    assert "Traceback" not in done.stderr


def test_wrong_use_is_one_sentence_and_code_2() -> None:
    for arguments in (
        (),
        ("unravel",),
        ("weave",),
        ("tokens", "--rule", "x"),
        ("forms", "--method", "x"),
        ("serve", "--port", "x"),
    ):
        done = run(*arguments)
        assert done.returncode == 2
        assert len(done.stderr.strip().splitlines()) == 1
        assert done.stderr.startswith("skeinwork: ")


def test_every_command_has_help_with_an_example() -> None:
    for command in ("serve", "demo", "weave", "tokens", "forms"):
        done = run(command, "--help")
        assert done.returncode == 0
        assert f"example: skeinwork {command}" in " ".join(done.stdout.split())


def filtered(rule: str, text: bytes, punctuation: bool = False) -> bytes:
    out = io.BytesIO()
    filters.tokens_filter(io.BytesIO(text), out, rule, punctuation)
    return out.getvalue()


@pytest.mark.parametrize(
    ("rule", "expected"),
    [
        ("unicode", b"Gale\tat\tthe\tsea-wall\te.g.\t12kn\n\n#x\toffice@a.example\n"),
        ("uax29", b"Gale\tat\tthe\tsea\twall\te.g\t12kn\n\nx\toffice\ta.example\n"),
        ("letters", b"Gale\tat\tthe\tsea\twall\te\tg\tkn\n\nx\toffice\ta\texample\n"),
    ],
)
def test_the_tokens_filter_keeps_lines_and_empty_lines(rule: str, expected: bytes) -> None:
    assert filtered(rule, b"Gale at the sea-wall, e.g. 12kn.\n\n#x office@a.example!\r\n") == expected


def test_the_tokens_filter_works_in_batches(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(filters, "_BATCH", 2)
    assert filtered("unicode", b"a b\n\nc, d\ne") == b"a\tb\n\nc\td\ne\n"
    assert filtered("unicode", b"c, d", punctuation=True) == b"c\t,\td\n"
    assert filtered("unicode", b"") == b""


def test_the_filters_in_a_pipeline() -> None:
    assert run("tokens", text="Wind\n\n\n").stdout == "Wind\n\n\n"
    assert run("forms", text="Moorings\ncarried\n\nas\n").stdout == "moor\ncarri\n\na\n"
    assert run("tokens", text="broken \udcff byte".encode("utf-8", "surrogateescape").decode("latin-1")).returncode == 0


def test_another_address_needs_a_token(tmp_path: Path) -> None:
    done = run("serve", "--host", "0.0.0.0", "--data", str(tmp_path))
    assert done.returncode == 2
    assert "access token" in done.stderr


def test_a_data_folder_that_cannot_be_written_is_said(tmp_path: Path) -> None:
    (tmp_path / "file").write_text("")
    done = run("serve", "--port", "0", "--data", str(tmp_path / "file" / "x"))
    assert done.returncode == 2
    assert "can't be written" in done.stderr


def test_the_component_library_stays_on_its_free_line() -> None:
    package = json.loads((ROOT / "web" / "package.json").read_text())["dependencies"]
    assert package["primevue"].startswith("4.")
    assert package["@primeuix/themes"].startswith("2.")
    assert package["primeicons"].startswith("7.")
    assert '"resolved"' not in (ROOT / "web" / "package-lock.json").read_text()


def test_the_first_load_is_small() -> None:
    """JavaScript of the start page, gzipped, stays under 350 kB."""
    import gzip

    static = ROOT / "skeinwork" / "server" / "static"
    page = (static / "index.html").read_text()
    scripts = re.findall(r'(?:src|href)="/(assets/[^"]+\.js)"', page)
    assert scripts
    assert sum(len(gzip.compress((static / script).read_bytes())) for script in scripts) < 350_000
