"""The command line under careless use: a sentence and exit code 2, before anything starts."""

from __future__ import annotations

import csv
import json
import os
import signal
import sqlite3
import subprocess
import sys
import time
from pathlib import Path
from typing import Any

import pytest

from skeinwork import cli
from skeinwork.core.prevalence.breakdown import Breakdown
from skeinwork.server.run import open_state
from skeinwork.work.exports import exports
from skeinwork.work.exports.pattern import FORMAT_VERSION, Pattern
from skeinwork.work.weighting import matrix_files

TABLE = "entry,harbour,date,text\n" + "".join(
    f"{at},Kelpwick,2014-0{1 + at % 9}-01,ice on the outer ramp and fog {at}\n" for at in range(40)
)


def pattern(**changes: Any) -> dict[str, Any]:
    roles = {"entry": "identifier", "date": "date", "harbour": "group", "text": "text"}
    return {
        "skeinwork_pattern": 3,
        "gather": {"files": [{"roles": roles}]},
        "clean": {},
        "weigh": {"min_documents": 1, "max_share": 1.0},
        "fit": {"topics": 2, "iterations": 20},
        **changes,
    }


class Weave:
    """Runs ``weave`` on a table, and says what it said."""

    def __init__(self, folder: Path, capsys: pytest.CaptureFixture[str]) -> None:
        self.folder, self.capsys = folder, capsys
        self.documents = folder / "entries.csv"
        self.documents.write_text(TABLE)

    def __call__(self, written: Any, out: Path) -> tuple[int, str]:
        path = self.folder / "pattern.json"
        path.write_bytes(written if isinstance(written, bytes) else json.dumps(written).encode())
        given = ["weave", str(path), "--documents", str(self.documents), "--out", str(out)]
        code = cli.main([*given, "--quiet"])
        return code, self.capsys.readouterr().err


@pytest.fixture
def weave(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> Weave:
    return Weave(tmp_path, capsys)


@pytest.mark.parametrize(
    ("options", "words"),
    [
        (["--port", "65536"], "0 to 65535"),
        (["--port", "-1"], "0 to 65535"),
        (["--port", "9" * 5000], "0 to 65535"),
        (["--workers", "0"], "1 to 1024"),
        (["--workers", "٣"], "1 to 1024"),
        (["--upload-limit", "0"], "1 to 10000000"),
        (["--archive-limit", "x"], "1 to 10000000"),
        (["--host", "not a host"], "no address"),
        (["--host", "host.invalid"], "--token"),
        (["--host", "::1::2"], "--token"),
    ],
)
def test_options_out_of_range(
    options: list[str], words: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    serve = ["serve", "--data", str(tmp_path / "data"), *options]
    if words == "no address":
        serve += ["--token", "a-long-random-word-7"]
    try:
        code = cli.main(serve)
    except SystemExit as left:
        code = int(left.code or 0)
    said = capsys.readouterr().err
    assert code == 2 and words in said and said.count("\n") == 1
    assert not (tmp_path / "data").exists()


@pytest.mark.parametrize(
    ("written", "words"),
    [
        (json.dumps(pattern()).encode("utf-16"), "not UTF-8"),
        (b"\xff{}", "not UTF-8"),
        (b"[" * 100_000, "nested too deep"),
        (b'{"a":' * 50_000 + b"1" + b"}" * 50_000, "too deep"),
        (b"", "is not JSON"),
        (b"[]", "not a pattern"),
        (b'"x"', "not a pattern"),
        (pattern(track=[{"group": "colour"}]), "tracks by “colour”"),
        (pattern(track=[{"group": "harbour", "unit": "who"}]), "tracks by “who”"),
    ],
)
def test_patterns_that_cannot_be_used_leave_nothing(weave: Weave, written: Any, words: str, tmp_path: Path) -> None:
    code, said = weave(written, tmp_path / "out")
    assert code in (1, 2) and words in said and said.startswith("skeinwork: ")
    assert sorted(path.name for path in tmp_path.iterdir()) == ["entries.csv", "pattern.json"]


def test_a_pattern_may_begin_with_a_byte_order_mark_and_results_come_whole(weave: Weave, tmp_path: Path) -> None:
    marked = b"\xef\xbb\xbf" + json.dumps(pattern()).encode()
    code, said = weave(marked, tmp_path / "deep" / "out")
    assert code == 0, said
    assert (tmp_path / "deep" / "out" / "README.txt").exists()
    assert [path.name for path in (tmp_path / "deep").iterdir()] == ["out"]


def test_results_go_nowhere_but_into_a_new_folder(weave: Weave, tmp_path: Path) -> None:
    file, full = tmp_path / "file", tmp_path / "full"
    file.write_text("mine")
    full.mkdir()
    (full / "mine.txt").write_text("mine")
    for out, words in ((file, "is a file"), (full, "is not empty"), (file / "in", "can't be written")):
        code, said = weave(pattern(), out)
        assert code == 2 and words in said
    assert file.read_text() == "mine" and [path.name for path in full.iterdir()] == ["mine.txt"]


def test_a_fault_in_the_middle_leaves_no_half_of_the_results(
    weave: Weave, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def fails(*_: Any) -> Any:
        yield exports.Written("documents.csv", "", lambda: [b"x"])
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(exports, "files", fails)
    code, said = weave(pattern(), tmp_path / "out")
    assert code == 1 and "No space left on device" in said
    assert sorted(path.name for path in tmp_path.iterdir()) == ["entries.csv", "pattern.json"]


def test_fields_of_any_name_get_files_of_their_own() -> None:
    fields = ["harbour", "ハーバー", "Country?", "a#b", "a b", "a-b", "a\nb", "x" * 300, "../up", "A B"]
    track = [Breakdown(group=field) for field in fields]
    made = Pattern.model_validate({**pattern(), "track": track})
    names = list(exports._prevalences(made))
    assert len(set(names)) == len(fields) and names[0] == "prevalence-by-harbour.csv"
    assert all(len(name.encode()) < 200 and name.isprintable() for name in names)
    assert not any(sign in name for name in names for sign in "/\\?#% :")


def test_damaged_databases_and_records_are_said(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    folder = tmp_path / "data"
    open_state(folder, workers=1).store.close()
    with sqlite3.connect(folder / "skeinwork.db") as database:
        database.execute(
            "INSERT INTO result (identity, number, step, settings, summary, seconds, created, inputs,"
            " version) VALUES ('x', 1, 'corpus', '{', '{}', 0, '2026-01-01', '[', 1)"
        )
    database.close()
    (folder / "skeinwork.db").write_bytes((folder / "skeinwork.db").read_bytes()[:3000] + b"x" * 9000)
    serve = ["serve", "--port", "0", "--data", str(folder)]
    assert cli.main(serve) == 2
    said = capsys.readouterr().err
    assert "database" in said and "move the folder away" in said


def test_a_cache_that_cannot_be_written_is_said(tmp_path: Path) -> None:
    words = "raise RuntimeError(\"cannot cache function 'f': no locator available for file 'x'\")"
    (tmp_path / "numba.py").write_text(words)
    done = subprocess.run(
        [sys.executable, "-m", "skeinwork.cli", "tokens"],
        input="ice\n",
        capture_output=True,
        text=True,
        env={"PYTHONPATH": str(tmp_path)},
    )
    assert done.returncode == 2 and "NUMBA_CACHE_DIR" in done.stderr


def weigh(folder: Path, out: Path, *more: str) -> int:
    documents = folder / "entries.csv"
    documents.write_text(TABLE)
    return cli.main(["weigh", "--documents", str(documents), "--out", str(out), "--quiet", *more])


def test_weigh_writes_the_matrix_as_it_is_suggested_or_as_a_pattern_says(tmp_path: Path) -> None:
    assert weigh(tmp_path, tmp_path / "a", "--outcome", "harbour") == 0
    assert {each.name for each in (tmp_path / "a").iterdir()} == {
        "pattern.json",
        *(each.name for each in matrix_files.FILES),
    }
    suggested = json.loads((tmp_path / "a" / "pattern.json").read_text())
    assert suggested["weigh"]["min_documents"] == 2 and suggested["skeinwork_pattern"] == FORMAT_VERSION
    again = ["--pattern", str(tmp_path / "a" / "pattern.json"), "--outcome", "harbour"]
    assert weigh(tmp_path, tmp_path / "b", *again) == 0
    for each in (tmp_path / "a").iterdir():
        assert each.read_bytes() == (tmp_path / "b" / each.name).read_bytes(), each.name
    told = pattern(
        weigh={"min_documents": 1, "max_share": 1.0, "split": {"share": 0.25}},
        weighting={"global_weight": "smooth-plus-one"},
    )
    (tmp_path / "told.json").write_text(json.dumps(told))
    assert weigh(tmp_path, tmp_path / "c", "--pattern", str(tmp_path / "told.json")) == 0
    rows = list(csv.DictReader((tmp_path / "c" / "documents.csv").open()))
    assert [each["part"] for each in rows].count("test") == 10
    dictionary = csv.DictReader((tmp_path / "c" / "dictionary.csv").open())
    idf = {each["term"]: float(each["global weight"]) for each in dictionary}
    assert set(idf.values()) == {1.0}  # every term is in every document


@pytest.mark.parametrize(
    ("more", "words"),
    [(["--outcome", "nowhere"], "no field “nowhere”"), (["--pattern", "missing.json"], "missing.json")],
)
def test_weigh_says_what_is_wrong_and_writes_nothing(
    more: list[str], words: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    code = weigh(tmp_path, tmp_path / "out", *more)
    said = capsys.readouterr().err
    assert code in (1, 2) and words in said and said.count("\n") == 1
    assert not (tmp_path / "out").exists()


@pytest.mark.parametrize("command", ["tokens", "names", "phrases", "tag", "sentences", "forms"])
def test_a_closed_stream_is_a_sentence(command: str) -> None:
    for closed, name in (("<&-", "input"), (">&-", "output")):
        run = subprocess.run(
            ["sh", "-c", f"exec {sys.executable} -m skeinwork.cli {command} {closed}"],
            input=b"a gale\n",
            stderr=subprocess.PIPE,
            check=False,
        )
        said = run.stderr.decode()
        assert run.returncode == 2 and f"Standard {name} is closed" in said, said
        assert "Traceback" not in said


@pytest.mark.parametrize("command", ["weigh", "weave"])
def test_a_tool_that_is_ended_leaves_nothing(command: str, tmp_path_factory: pytest.TempPathFactory) -> None:
    tmp_path = tmp_path_factory.mktemp("t")  # whose path is short enough for what lies below
    documents, place, own = tmp_path / "entries.csv", tmp_path / "out", tmp_path / "own"
    documents.write_text("entry,harbour,date,text\n" + TABLE.partition("\n")[2] * 400)
    written = tmp_path / "pattern.json"
    written.write_text(json.dumps(pattern(fit={"topics": 2, "iterations": 20_000})))
    own.mkdir()
    given = [str(written)] if command == "weave" else ["--pattern", str(written)]
    run = subprocess.Popen(
        [sys.executable, "-m", "skeinwork.cli", command, *given, "--documents", str(documents), "--out", str(place)],
        env={**os.environ, "TMPDIR": str(own)},
        stderr=subprocess.PIPE,
    )
    end = time.monotonic() + 60
    while not list(own.glob("*/results/??")) and time.monotonic() < end and run.poll() is None:
        time.sleep(0.02)
    run.terminate()
    code, said = run.wait(60), run.stderr.read() if run.stderr else b""
    assert (code, said) == (128 + signal.SIGTERM, b""), said.decode()
    assert not list(own.iterdir())
    assert {path.name for path in tmp_path.iterdir()} == {"entries.csv", "own", "pattern.json"}


def test_a_folder_for_temporary_files_that_lies_too_deep_is_said(tmp_path: Path) -> None:
    own, written, documents = tmp_path / ("x" * 120), tmp_path / "pattern.json", tmp_path / "entries.csv"
    own.mkdir()
    written.write_text(json.dumps(pattern()))
    documents.write_text(TABLE)
    given = [str(written), "--documents", str(documents), "--out", str(tmp_path / "out")]
    done = subprocess.run(
        [sys.executable, "-m", "skeinwork.cli", "weave", *given],
        env={**os.environ, "TMPDIR": str(own)},
        capture_output=True,
        text=True,
    )
    assert done.returncode == 2 and "temporary files is too long" in done.stderr and "Set TMPDIR" in done.stderr
    assert not list(own.iterdir()) and not (tmp_path / "out").exists()


def test_a_number_of_thousands_of_digits_is_named(weave: Weave, tmp_path: Path) -> None:
    written = json.dumps(pattern(), indent=1).replace('"topics": 2', f'"topics": {"9" * 5000}')
    code, said = weave(written.encode(), tmp_path / "out")
    assert code == 2 and "a number of thousands of digits, in line" in said
