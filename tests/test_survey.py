"""Roles, flags, fields and places: what Gather says of a corpus before anything is done."""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from skeinwork.core.corpus.corpus import encode_column
from skeinwork.core.corpus.gather import preview
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import nested
from skeinwork.core.formats.encoding import decode, detect
from skeinwork.core.formats.readers import detect_settings
from skeinwork.core.formats.roles import guess_roles
from skeinwork.store.artefacts import ArtefactStore
from skeinwork.work.results import documents
from skeinwork.work.results.finding import find_unindexed
from skeinwork.work.results.flags import flag_of
from skeinwork.work.results.view import View
from skeinwork.work.steps import corpus as corpus_step
from tests import files
from tests.making import read


@pytest.mark.parametrize(
    ("columns", "roles"),
    [
        ({"text": ["gale", "ice"], "year": ["2014", "2015"]}, {"text": "text", "year": "date"}),
        (
            {"abstract": ["a long one", "b"], "title": ["x", "y"], "journal": ["J", "J"]},
            {"abstract": "text", "title": "title", "journal": "source"},
        ),
        (
            {"from": ["a@x", "b@x"], "body": ["gale", "ice"], "language": ["en", "de"]},
            {"from": "author", "body": "text", "language": "language"},
        ),
        (
            {"date": ["2014-01-01", ""], "when": ["2014-01-01", "2015-01-01"], "text": ["a", "b"]},
            {"date": "kept", "when": "date", "text": "text"},
        ),
        (
            {"harbours.name": ["Quellan"] * 9 + ["Kelpwick"] * 9, "text": [f"gale {n}" for n in range(18)]},
            {"harbours.name": "group", "text": "text"},
        ),
        (
            {"part": [str(n) for n in range(9)], "text": [f"gale {n}" for n in range(9)]},
            {"part": "kept", "text": "text"},
        ),
        ({"date": ["1", "2"], "text": ["a", "b"]}, {"date": "group", "text": "text"}),
    ],
)
def test_roles_are_guessed_from_names_and_values(columns: dict[str, list[str]], roles: dict[str, str]) -> None:
    assert guess_roles(columns) == roles


@given(
    st.dictionaries(
        st.sampled_from(["text", "date", "id", "title", "n", "by"]),
        st.lists(st.sampled_from(["", "2014", "gale", "12"]), min_size=3, max_size=3),
        min_size=1,
    )
)
def test_exactly_one_field_is_the_text_and_few_roles_are_given_twice(columns: dict[str, list[str]]) -> None:
    roles = list(guess_roles(columns).values())
    assert roles.count("text") == 1
    assert all(roles.count(role) <= 1 for role in ("date", "identifier", "title"))


@pytest.mark.parametrize(
    ("data", "encoding"),
    [
        ("Fähre".encode(), "utf-8"),
        ("Fähre".encode("cp1252"), "cp1252"),
        ("ab".encode("utf-16"), "utf-16-le"),
        ("abcdef".encode("utf-16-be"), "utf-16-be"),
        ('<meta charset="koi8-r">Лёд'.encode("koi8-r"), "koi8-r"),
        ('<?xml version="1.0" encoding="ISO-8859-2"?><a>ł</a>'.encode("iso-8859-2"), "iso8859-2"),
        ('<meta charset="klingon">é'.encode("cp1252"), "cp1252"),
        ('<meta charset="iso-8859-1">é'.encode(), "utf-8"),
    ],
)
def test_the_encoding_is_told_by_mark_content_or_declaration(data: bytes, encoding: str) -> None:
    assert detect(data) == encoding
    assert decode(data).doubtful == 0


def test_an_encoding_that_does_not_exist_is_refused() -> None:
    for name in ("klingon", "base64", "rot13"):
        with pytest.raises(BadInputError, match=f"no encoding “{name}”"):
            decode(b"abc", name)


@given(st.dictionaries(st.text("ab", min_size=1), st.dictionaries(st.sampled_from("xyz"), st.integers())))
def test_many_alike_objects_become_records_with_their_key(value: dict[str, Any]) -> None:
    found = nested.unkeyed(value)
    names = {name for each in value.values() for name in each}
    alike = len(value) >= 8 and len(names) <= 3 * max(map(len, value.values()))
    expected = [{"key": key, **each} for key, each in value.items()] if alike else value
    assert found == expected


def test_records_kept_under_their_keys_are_found() -> None:
    held = {f"e{n}": {"text": f"gale and ice {n}", "by": {"name": "Orrin"}} for n in range(12)}
    data = json.dumps({"about": {"made": "2014"}, "entries": held}).encode()
    found = detect_settings(data, "a.json")
    rows = preview(data, "a.json", found).rows
    assert found.records == "entries" and len(rows) == 12
    assert rows[3].cells["key"] == "e3" and rows[3].cells["by.name"] == "Orrin"


@pytest.mark.parametrize(
    ("cells", "holds"),
    [
        (["1", "2.5", "-3"], "number"),
        (["2014-01-01", "3 Mar 2015"], "date"),
        (["a", "b", "a", "a", "b", "a"], "category"),
        (["a", "b", "c", "d"], "text"),
        (["", ""], "nothing"),
    ],
)
def test_a_field_says_what_it_holds(cells: list[str], holds: str) -> None:
    assert documents.holds(encode_column("x", "kept", cells)) == holds


TEXTS = (
    "The ferry was late and the fog was on the water all the night long, as it had been before.",
    "the ferry was late, and the fog was on the water all the night long as it had been before",
    "The ferry was late and the fog was on the water all the night long, as it had been then.",
    "Die Fähre war spät und der Nebel lag die ganze Nacht auf dem Wasser, wie es vorher war.",
    "â€™tis cold on the ramp and there is ice in the harbour and on the wall of the quay today",
    "",
)


@pytest.fixture
def view(tmp_path: Path) -> View:
    """A corpus of an archive and a table, made by the steps alone."""
    table = tmp_path / "log.csv"
    table.write_text("n,text\n" + "".join(f'{n},"{text}"\n' for n, text in enumerate(TEXTS)))
    archive = tmp_path / "more.zip"
    archive.write_bytes(files.zipped({"in/a.txt": "Quiet on the water and no ice.", "in/b.csv": "text\nfog\nice\n"}))
    store = ArtefactStore(tmp_path / "results")
    return View(store, {"corpus": read(store, [table, archive])})


def test_flags_point_at_repeats_other_languages_and_broken_letters(view: View) -> None:
    for flag, expected in (("same", [1]), ("near", [2]), ("foreign", [3]), ("garbled", [4])):
        assert np.flatnonzero(flag_of(flag).mask(view)).tolist() == expected, flag
    assert view.survey.words.tolist()[:2] == [20, 20] and view.survey.words[5] == 0


def test_every_document_knows_its_place(view: View) -> None:
    places = [documents.place(view, at) for at in range(len(view.corpus))]
    assert places[:2] == ["log.csv, line 2", "log.csv, line 3"]
    assert places[6:] == ["more.zip/in/a.txt", "more.zip/in/b.csv, at 2", "more.zip/in/b.csv, at 3"]


def test_a_corpus_of_an_earlier_version_is_surveyed_when_asked(view: View) -> None:
    """Results stored before there were surveys and numbers are still read."""
    stored = view.corpus_record
    later = {name for name in stored.checksums if name.startswith(("survey_", "numbers", "done"))}
    before = {name: value for name, value in stored.checksums.items() if name not in later}
    older = replace(stored, checksums=before)
    assert corpus_step.load_corpus(older).numbers.tolist() == list(range(len(view.corpus)))
    assert np.array_equal(corpus_step.load_survey(older).near, view.survey.near)
    assert corpus_step.load_done(older) == []


@pytest.mark.parametrize(
    ("query", "found"),
    [
        ("fog", {0, 1, 2, 7}),
        ("n:3 Wasser", {3}),
        ("n:3 fog", set()),
        ("source:b.csv ice", {8}),
        ("wasser", {3}),
        ("FAHRE", {3}),
        ("", set(range(9))),
    ],
)
def test_a_query_asks_words_and_fields_together(view: View, query: str, found: set[int]) -> None:
    assert set(find_unindexed(view.corpus, query).tolist()) == found
