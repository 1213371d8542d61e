"""Dates, roles, and bringing files together."""

from __future__ import annotations

from datetime import date
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from skeinwork.core.corpus.corpus import encode_column
from skeinwork.core.corpus.gather import GatherSettings, gather, preview
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import dates
from skeinwork.core.formats.readers import detect_settings
from skeinwork.core.formats.roles import guess_roles
from skeinwork.demo.generator import Entry, write_files

DAYS = st.dates(date(1000, 1, 1), date(9999, 12, 31))


@given(DAYS)
def test_a_day_reads_back_in_every_way_of_writing_it(day: date) -> None:
    number = dates.to_days(day)
    assert dates.from_days(number) == day
    for form in (
        "%Y-%m-%d",
        "%Y/%m/%d",
        "%Y%m%d",
        "%d.%m.%Y",
        "%d %B %Y",
        "%B %d, %Y",
        "%a, %d %b %Y",
        "%Y-%m-%dT%H:%M:%S",
    ):
        text = day.strftime(form).replace(day.strftime("%Y"), f"{day.year:04d}")
        assert dates.parse(text) == (number, "day"), text


@pytest.mark.parametrize(
    ("text", "order", "expected"),
    [
        ("03/04/2014", "day-first", date(2014, 4, 3)),
        ("03/04/2014", "month-first", date(2014, 3, 4)),
        ("2014", "day-first", date(2014, 1, 1)),
        ("2014-03", "day-first", date(2014, 3, 1)),
        ("Mar 2014", "day-first", date(2014, 3, 1)),
        ("1st Mar. 2014", "day-first", date(2014, 3, 1)),
    ],
)
def test_ways_of_writing_dates(text: str, order: Any, expected: date) -> None:
    found = dates.parse(text, order)
    assert found is not None
    assert dates.from_days(found[0]) == expected


@pytest.mark.parametrize(
    "text", ["31 February 2013", "2016-13-04", "last Tuesday", "0000-00-00", "", "13/13/2013", "12"]
)
def test_what_is_no_date(text: str) -> None:
    assert dates.parse(text) is None


@pytest.mark.parametrize(
    ("texts", "expected"),
    [
        (["13/02/2014", "01/02/2014"], ("day-first", True)),
        (["02/13/2014", "01/02/2014"], ("month-first", True)),
        (["01/02/2014"], ("day-first", False)),
        (["13/02/2014", "02/13/2014"], ("day-first", False)),
        (["2014-01-02"], ("day-first", True)),
    ],
)
def test_the_order_of_day_and_month_is_asked_when_it_is_open(texts: list[str], expected: Any) -> None:
    assert dates.guess_order(texts) == expected


def test_roles_are_guessed_from_names_and_values() -> None:
    columns = {
        "ID": [str(n) for n in range(60)],
        "created_at": ["2014-01-02"] * 60,
        "harbour": ["Kelpwick", "Quellan"] * 30,
        "note": [f"A long text about the gale and the ferry, number {n}, and more" for n in range(60)],
        "blank": [""] * 60,
        "code": [f"x{n}" for n in range(60)],
    }
    assert guess_roles(columns) == {
        "ID": "identifier",
        "created_at": "date",
        "harbour": "group",
        "note": "text",
        "blank": "ignored",
        "code": "kept",
    }


def test_a_column_named_text_is_the_text_even_when_another_is_longer() -> None:
    assert guess_roles({"text": ["short"], "log": ["much longer than that"]})["text"] == "text"


def test_columns_sort_without_regard_to_case_and_blanks_last() -> None:
    column = encode_column("x", "group", ["beta", None, "Alpha", "beta"])
    assert column.codes.tolist() == [0, -1, 1, 0]
    assert np.argsort(column.order(), kind="stable").tolist() == [2, 0, 3, 1]
    assert column.value(1) is None


def gathered(tmp_path: Path, text: str, **changes: Any) -> Any:
    path = tmp_path / "entries.csv"
    path.write_text(text, encoding="utf-8")
    found = detect_settings(path.read_bytes(), path.name)
    roles = changes.pop("roles", None) or preview(path.read_bytes(), path.name, found).roles
    settings = GatherSettings.model_validate({"files": [found.model_copy(update={"roles": roles})], **changes})
    return gather([(path, path.name)], settings)


ROLES = {"entry": "identifier", "date": "date", "harbour": "group", "text": "text"}
BROKEN = (
    "entry,date,harbour,text\n"
    "1,2014-01-02,Kelpwick,A gale all night\n"
    "1,2014-01-03,Quellan,The same number again\n"
    "2,nonsense,Kelpwick,No date here\n"
    "3,2014-01-05\n"
    "4,2014-01-06,Quellan,\n"
)


def test_what_could_not_be_used_is_listed_with_place_and_reason(tmp_path: Path) -> None:
    corpus, trouble = gathered(tmp_path, BROKEN, roles=ROLES)
    assert [corpus.text(at) for at in range(len(corpus))] == [
        "A gale all night",
        "The same number again",
        "No date here",
        "",
    ]
    assert [(each.line, each.raw is None) for each in trouble] == [(3, True), (4, True), (5, False)]
    assert corpus.column("entry").values == ["1", "1 (2)", "2", "4"]
    assert corpus.days.tolist()[2] == dates.MISSING


def test_repeated_identifiers_can_be_left_out_or_refused(tmp_path: Path) -> None:
    corpus, trouble = gathered(tmp_path, BROKEN, roles=ROLES, repeated="first")
    assert len(corpus) == 3
    assert any("occurred before" in each.reason and each.raw for each in trouble)
    with pytest.raises(BadInputError, match="line 3.*twice"):
        gathered(tmp_path, BROKEN, roles=ROLES, repeated="refuse")


@pytest.mark.parametrize("text", ["entry,text\n", "entry,text\n,\n,\n", "entry,text\n1,\n2,\n"])
def test_nothing_usable_is_refused(tmp_path: Path, text: str) -> None:
    with pytest.raises(BadInputError):
        gathered(tmp_path, text, roles={"entry": "identifier", "text": "text"})


def test_a_file_without_a_text_field_is_refused(tmp_path: Path) -> None:
    with pytest.raises(BadInputError, match="no field has the role text"):
        gathered(tmp_path, "a,b\n1,2\n", roles={"a": "kept", "b": "group"})


def test_the_texts_are_stored_as_they_were(tmp_path: Path, entries: list[Entry]) -> None:
    path = write_files(tmp_path)
    settings = detect_settings(path.read_bytes(), path.name)
    roles = preview(path.read_bytes(), path.name, settings).roles
    assert roles == {
        "entry": "identifier",
        "date": "date",
        "harbour": "group",
        "writer": "group",
        "watch": "group",
        "text": "text",
    }
    ready = GatherSettings(files=(settings.model_copy(update={"roles": roles}),))
    corpus, trouble = gather([(path, path.name)], ready)
    assert corpus.texts() == [entry.row["text"] for entry in entries]
    assert len(trouble) == 4
    assert {corpus.column("harbour").value(at) for at in range(len(corpus))} == {
        entry.row["harbour"] for entry in entries
    }


def test_the_demo_is_what_it_says(entries: list[Entry]) -> None:
    lengths = [len(entry.row["text"].split()) for entry in entries if entry.mixture]
    assert 2300 <= len(entries) <= 2500
    assert np.mean([(30 <= n <= 145) for n in lengths]) > 0.98
    assert sum(entry.row["text"] == "" for entry in entries) >= 2
    assert sum("<p>" in entry.row["text"] for entry in entries) >= 10
    assert len({entry.row["text"] for entry in entries}) > 0.98 * len(entries)


def test_a_field_that_is_the_text_of_another_file_is_kept(tmp_path: Path) -> None:
    first, second = tmp_path / "a.csv", tmp_path / "b.csv"
    first.write_text("entry,place\nIce on the ramp,Quellan\n")
    second.write_text("entry,body\n17,Fog over the quay\n")
    corpus, trouble = gather(
        [(first, "a.csv"), (second, "b.csv")],
        GatherSettings.model_validate(
            {"files": [{"roles": {"entry": "text", "place": "group"}}, {"roles": {"entry": "kept", "body": "text"}}]}
        ),
    )
    assert corpus.texts() == ["Ice on the ramp", "Fog over the quay"]
    values = {column.name: [column.value(n) for n in (0, 1)] for column in corpus.columns}
    assert values == {"place": ["Quellan", None], "entry": [None, "17"]} and trouble == []
