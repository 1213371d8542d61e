"""Reading files: encodings, tables that are broken in places, JSON Lines, plain text."""

from __future__ import annotations

import json

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import delimited, json_records, plain_text
from skeinwork.core.formats.encoding import decode, detect
from skeinwork.core.formats.readers import detect_settings, guess_format, read_records
from skeinwork.core.formats.records import FileSettings, Record, Rejected, Row

TABLE = FileSettings()


def read(text: str, **settings: object) -> list[Record]:
    return list(delimited.read(text, FileSettings.model_validate(settings)))


def rows(records: list[Record]) -> list[list[str]]:
    return [list(each.cells.values()) for each in records if isinstance(each, Row)]


def rejected(records: list[Record]) -> list[tuple[int, str]]:
    return [(each.line, each.reason) for each in records if isinstance(each, Rejected)]


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "utf-16-le", "utf-16-be", "cp1252"])
def test_encodings_are_told_apart(encoding: str) -> None:
    text = "entry,text\n1,Fähre über Nacht, señor\n" * 3
    found = decode(text.encode(encoding))
    assert found.text == text
    assert found.doubtful == 0
    assert found.guessed == (encoding == "cp1252")


def test_a_wrong_encoding_counts_what_it_could_not_read() -> None:
    found = decode("Fähre über".encode("cp1252"), "utf-8")
    assert found.doubtful == 2
    assert "�" in found.text


def test_a_replacement_character_of_the_author_is_not_doubtful() -> None:
    assert decode("broken � sign".encode()).doubtful == 0


def test_a_long_utf8_file_with_one_broken_byte_stays_utf8() -> None:
    data = "Fähre über die Förde\n".encode() * 20 + b"\xff\n"
    assert detect(data) == "utf-8"
    assert decode(data).doubtful == 1


def test_a_table_without_heading_names_its_columns() -> None:
    found = read("1,x\n2,y\n", header=False)
    assert isinstance(found[0], Row)
    assert found[0].cells == {"column 1": "1", "column 2": "x"}
    assert len(found) == 2


@pytest.mark.parametrize("ending", ["\n", "\r\n", "\r"])
def test_all_line_endings(ending: str) -> None:
    assert rows(read(ending.join(["a,b", "1,2", "3,4", ""]))) == [["1", "2"], ["3", "4"]]


def test_other_separators_of_lines_stay_in_their_cell() -> None:
    assert rows(read("a,b\n1,x\u2028y\x0bz\x1cq\n")) == [["1", "x\u2028y\x0bz\x1cq"]]


@pytest.mark.parametrize("delimiter", delimited.DELIMITERS)
def test_the_delimiter_is_found(delimiter: str) -> None:
    text = "\n".join(delimiter.join(row) for row in (["id", "when", "text"], ["1", "2014", "a, b"], ["2", "2015", "c"]))
    if delimiter != ",":
        assert delimited.sniff_delimiter(text) == delimiter


def test_json_lines_are_flattened_and_bad_lines_rejected() -> None:
    text = '{"text": "a", "by": {"name": "Osk", "age": 40}, "tags": ["x"]}\n\n[1]\n{"text": \nnull\n{"text": "ü"}'
    found = list(json_records.read_lines(text))
    assert [each.cells for each in found if isinstance(each, Row)] == [
        {"text": "a", "by.name": "Osk", "by.age": "40", "tags": "x"},
        {"text": "ü"},
    ]
    assert [line for line, _ in rejected(found)] == [3, 4, 5]


@settings(max_examples=100, deadline=None)
@given(st.lists(st.dictionaries(st.sampled_from("abc"), st.text(max_size=8)), max_size=5))
def test_json_lines_read_back(objects: list[dict[str, str]]) -> None:
    text = "\n".join(json.dumps(each) for each in objects)
    assert [each.cells for each in json_records.read_lines(text) if isinstance(each, Row)] == objects


def test_json_nested_beyond_reason_is_rejected_not_fatal() -> None:
    assert rejected(list(json_records.read_lines("[" * 100_000)))


def test_plain_text_by_line_and_by_file() -> None:
    assert [r.cells["text"] for r in plain_text.read_lines("a\r\n\n b \n") if isinstance(r, Row)] == ["a", " b "]
    assert [r.cells for r in plain_text.read_file("a\nb", "x.txt") if isinstance(r, Row)] == [
        {"text": "a\nb", "file": "x.txt"}
    ]


@pytest.mark.parametrize(
    ("name", "text", "kind"),
    [
        ("a.csv", "x,y\n1,2\n", "delimited"),
        ("a.txt", "x\ty\n1\t2\n3\t4\n", "delimited"),
        ("a.txt", '{"text": "a"}\n', "json-lines"),
        ("a.csv", '{"text": "a"}\n{"text": "b"}\n', "json-lines"),
        ("a.txt", "A gale, all night.\nQuiet.\nThe ferry, late, came in.\n", "text-lines"),
    ],
)
def test_the_format_is_found_by_content(name: str, text: str, kind: str) -> None:
    assert guess_format(text, name) == kind


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "is empty"),
        (b" \n\t\n", "is empty"),
        (b"PK\x03\x04rest", "damaged or breaks off"),
        (b"%PDF-1.7 rest", "not a PDF document"),
        (b"\x7fELF" + bytes(200), "a program"),
        (b"text" + bytes(200), "not text"),
    ],
)
def test_what_is_no_text_is_refused_with_the_reason(data: bytes, words: str) -> None:
    with pytest.raises(BadInputError, match=words):
        list(read_records(data, "file.csv", detect_settings(data, "file.csv")))
