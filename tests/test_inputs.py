"""Other kinds of input, from file to topics without the server."""

from __future__ import annotations

import csv
import io
import json
from pathlib import Path
from typing import Any

import pytest

from skeinwork.core.corpus.gather import preview
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.readers import detect_settings
from skeinwork.work.batch import weave
from skeinwork.work.exports.pattern import Pattern

SAID = ("Storm surge at the breakwater wall again", "The late ferry and its ticket queue")


def pattern_for(*paths: Path, **changes: Any) -> Pattern:
    """A pattern whose files are read as they are detected."""
    files = []
    for path in paths:
        found = detect_settings(path.read_bytes(), path.name)
        roles = preview(path.read_bytes(), path.name, found).roles
        files.append({**found.model_dump(), "roles": roles})
    return Pattern.model_validate(
        {
            "skeinwork_pattern": 1,
            "gather": {"files": files},
            "clean": {},
            "weigh": {"min_documents": 2},
            "fit": {"topics": 2, "iterations": 40},
            "track": [{}],
            **changes,
        }
    )


def documents(out: Path) -> list[dict[str, str]]:
    return list(csv.DictReader(io.StringIO((out / "documents.csv").read_text(encoding="utf-8"))))


def test_json_lines_plain_text_and_tables_come_together(tmp_path: Path) -> None:
    table = tmp_path / "a.tsv"
    table.write_text("text\tharbour\n" + "".join(f"{SAID[n % 2]}\tQuellan\n" for n in range(20)), encoding="utf-16")
    objects = tmp_path / "b.jsonl"
    objects.write_text("".join(json.dumps({"text": SAID[n % 2], "by": {"name": "Osk"}}) + "\n" for n in range(10)))
    lines = tmp_path / "c.txt"
    lines.write_text("".join(f"{SAID[n % 2]}\n" for n in range(10)))
    weave.run(pattern_for(table, objects, lines), [table, objects, lines], tmp_path / "out")
    rows = documents(tmp_path / "out")
    assert [row["file"] for row in rows] == ["a.tsv"] * 20 + ["b.jsonl"] * 10 + ["c.txt"] * 10
    assert {row["by.name"] for row in rows} == {"", "Osk"}
    leading = {(row["leading topic"], at % 2) for at, row in enumerate(rows)}
    assert len(leading) == 2


def test_a_file_can_be_one_document(tmp_path: Path) -> None:
    paths = []
    for number in range(12):
        paths.append(tmp_path / f"letter-{number}.txt")
        paths[-1].write_text(f"{SAID[number % 2]}.\n\n{SAID[number % 2]}, he writes.\n")
    one = pattern_for(*paths)
    files = [
        each.model_copy(update={"format": "text-file", "roles": {"text": "text", "file": "title"}})
        for each in one.gather.files
    ]
    whole = one.model_copy(update={"gather": one.gather.model_copy(update={"files": tuple(files)})})
    weave.run(whole, paths, tmp_path / "out")
    rows = documents(tmp_path / "out")
    assert [row["file"] for row in rows] == [path.name for path in paths]
    assert all(row["line"] == "1" for row in rows)


def test_as_many_files_as_the_pattern_reads(tmp_path: Path) -> None:
    paths = []
    for name in ("a.txt", "b.txt", "c.txt"):
        paths.append(tmp_path / name)
        paths[-1].write_text("\n".join(SAID * 5))
    with pytest.raises(BadInputError, match="reads 2 files, but 3 were given"):
        weave.run(pattern_for(*paths[:2]), paths, tmp_path / "out")
    with pytest.raises(BadInputError, match="can't be read"):
        weave.run(pattern_for(paths[0]), [tmp_path / "none.txt"], tmp_path / "out")
