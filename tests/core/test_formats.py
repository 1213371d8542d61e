"""Reading files: encodings, tables that are broken in places, JSON Lines, plain text."""

from __future__ import annotations

import csv
import io
import json

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import delimited, json_records, plain_text
from skeinwork.core.formats.encoding import decode, detect
from skeinwork.core.formats.readers import detect_settings, guess_format, read_records
from skeinwork.core.formats.records import FileSettings, Noted, Record, Rejected, Row

TABLE = FileSettings()


def read(text: str, **settings: object) -> list[Record]:
    return list(delimited.read(text, FileSettings.model_validate(settings)))


def rows(records: list[Record]) -> list[list[str]]:
    return [list(each.cells.values()) for each in records if isinstance(each, Row)]


def rejected(records: list[Record]) -> list[tuple[int, str]]:
    return [(each.line, each.reason) for each in records if isinstance(each, Rejected)]


@pytest.mark.parametrize(
    "encoding", ["utf-8", "utf-8-sig", "utf-16", "utf-16-le", "utf-16-be", "cp1252"]
)
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


cells = st.text(st.characters(exclude_characters="\0\r", exclude_categories=["Cs"]), max_size=12)


@settings(max_examples=200, deadline=None)
@given(
    st.lists(st.lists(cells, min_size=3, max_size=3), min_size=1, max_size=8),
    st.sampled_from(delimited.DELIMITERS),
)
def test_every_well_formed_table_reads_back(table: list[list[str]], delimiter: str) -> None:
    out = io.StringIO(newline="")
    writer = csv.writer(out, delimiter=delimiter)
    writer.writerow(["a", "b", "c"])
    writer.writerows(table)
    found = read(out.getvalue(), delimiter=delimiter)
    full = [row for row in table if any(cell.strip() for cell in row)]
    assert rows(found) == full
    assert len(rejected(found)) == len(table) - len(full)


def test_line_numbers_count_lines_not_rows() -> None:
    found = read('a,b\n1,"two\nlines"\n2,x\n')
    assert [each.line for each in found] == [2, 4]


def test_ragged_rows_are_rejected_with_their_line_and_the_rest_is_read() -> None:
    found = read("a,b\n1,2\n3\n4,5,6\n7,8\n")
    assert rows(found) == [["1", "2"], ["7", "8"]]
    assert rejected(found) == [
        (3, "has 1 cell where the heading has 2"),
        (4, "has 3 cells where the heading has 2"),
    ]


def test_a_quote_that_never_closes_costs_one_row() -> None:
    body = "".join(f"{n},text {n}\n" for n in range(600))
    found = read('id,text\n0,"never closed\n' + body)
    assert len(rows(found)) == 601
    assert rows(found)[0] == ["0", '"never closed']
    notes = [each for each in found if isinstance(each, Noted)]
    assert [(note.line, note.reason) for note in notes] == [
        (2, "a quote that never closes was read as text")
    ]


def test_a_quote_open_at_the_end_of_the_file_costs_one_row() -> None:
    found = read('id,text\n1,a\n2,"open\n3,b\n')
    assert rows(found) == [["1", "a"], ["2", '"open'], ["3", "b"]]


def test_long_quoted_cells_are_kept() -> None:
    cell = "line\n" * 150
    assert rows(read(f'id,text\n1,"{cell}"\n')) == [["1", cell]]


def test_quotes_inside_cells_are_read_leniently_and_noted() -> None:
    found = read('id,text\n1,"the "Alma Rose" came"\n2,x\n')
    assert rows(found)[1] == ["2", "x"]
    assert any(isinstance(each, Noted) for each in found)


def test_nul_bytes_and_enormous_cells_are_rejected(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(delimited, "LONGEST_FIELD", 1000)
    found = read(f"a,b\n1,x\0y\n2,{'z' * 1001}\n3,ok\n")
    assert rows(found) == [["3", "ok"]]
    assert [reason for _, reason in rejected(found)] == [
        "holds NUL bytes",
        "has a cell of over 1,000 characters",
    ]


def test_column_names_are_filled_and_made_unique() -> None:
    found = read("a,,a\n1,2,3\n")
    assert isinstance(found[0], Row)
    assert list(found[0].cells) == ["a", "column 2", "a_"]


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
    text = "\n".join(
        delimiter.join(row)
        for row in (["id", "when", "text"], ["1", "2014", "a, b"], ["2", "2015", "c"])
    )
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
    assert [
        each.cells for each in json_records.read_lines(text) if isinstance(each, Row)
    ] == objects


def test_json_nested_beyond_reason_is_rejected_not_fatal() -> None:
    assert rejected(list(json_records.read_lines("[" * 100_000)))


def test_plain_text_by_line_and_by_file() -> None:
    assert [
        r.cells["text"] for r in plain_text.read_lines("a\r\n\n b \n") if isinstance(r, Row)
    ] == ["a", " b "]
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
