"""What is guessed of files as people have them: titles above tables, odd quoting, other scripts."""

from __future__ import annotations

import csv
import io
import json
from typing import Any

import openpyxl
import pytest
from hypothesis import given
from hypothesis import strategies as st

from skeinwork.core.corpus.gather import preview
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import dates, delimited, readers
from skeinwork.core.formats.encoding import decode
from skeinwork.core.formats.heading import guess_begin, guess_header
from skeinwork.core.formats.records import FileSettings, Noted, Row

ENTRY = "The gale blew over the outer mooring and the ferry stayed in the harbour all night."
WORDS = st.text("abcdefg", min_size=1, max_size=6)


def rows_of(name: str, data: bytes) -> list[dict[str, str]]:
    """The rows of a file as they are read with what is guessed of it."""
    found = readers.read_records(data, name, readers.detect_settings(data, name))
    return [record.cells for record in found if isinstance(record, Row)]


def test_a_title_above_a_table_is_passed_over_and_noted() -> None:
    table = "id,when,text\n" + "".join(f"{n},2014-03-0{n},{ENTRY}\n" for n in range(1, 8))
    data = b"Export of the log\nmade 2014\n\n" + table.encode()
    settings = readers.detect_settings(data, "x.csv")
    assert (settings.begin, settings.header) == (4, True)
    records = list(readers.read_records(data, "x.csv", settings))
    assert isinstance(records[0], Noted) and "line 4" in records[0].reason
    assert records[1] == Row(5, {"id": "1", "when": "2014-03-01", "text": ENTRY})
    assert len(records) == 8


def test_a_title_above_the_heading_of_a_spreadsheet_is_passed_over() -> None:
    book = openpyxl.Workbook()
    sheet: Any = book.active
    for row in [["Export of the log"], [], ["id", "text"], *([n, ENTRY] for n in range(5))]:
        sheet.append(row)
    out = io.BytesIO()
    book.save(out)
    found = rows_of("x.xlsx", out.getvalue())
    assert found == [{"id": str(n), "text": ENTRY} for n in range(5)]


@given(
    st.lists(WORDS, max_size=3),
    st.integers(2, 5).flatmap(
        lambda width: st.lists(st.lists(WORDS, min_size=width, max_size=width), min_size=4, max_size=8)
    ),
)
def test_where_a_table_begins(above: list[str], table: list[list[str]]) -> None:
    rows = [[title] for title in above] + table
    assert guess_begin(list(enumerate(rows, start=1))) == len(above) + 1


def test_sentences_with_commas_under_a_heading_are_no_table_below_a_title() -> None:
    lines = ["text", *(("Ice, fog" if n % 3 else "Ice on the ramp") for n in range(30))]
    assert guess_begin([(n, line.split(",")) for n, line in enumerate(lines, start=1)]) == 1


def test_a_long_table_with_the_line_ends_of_old_macs() -> None:
    data = b"id;text\r" + b"".join(f"{n};{ENTRY}\r".encode() for n in range(3000))
    found = readers.detect_settings(data, "x.csv")
    assert (found.delimiter, found.begin, found.header) == (";", 1, True)
    assert len(rows_of("x.csv", data)) == 3000


@given(st.integers(1, 6), st.lists(st.lists(WORDS, min_size=2, max_size=2), min_size=6, max_size=9))
def test_beginning_at_a_line_is_reading_the_file_without_those_above(begin: int, table: list[list[str]]) -> None:
    text = "".join(f"{a},{b}\n" for a, b in table)
    below = "".join(f"{a},{b}\n" for a, b in table[begin - 1 :])
    whole = [each for each in delimited.read(text, FileSettings(begin=begin)) if isinstance(each, Row)]
    alone = [each for each in delimited.read(below, FileSettings()) if isinstance(each, Row)]
    assert [each.cells for each in whole] == [each.cells for each in alone]
    assert [each.line for each in whole] == [each.line + begin - 1 for each in alone]


@pytest.mark.parametrize(
    ("first", "names"),
    [
        (["id", "harbour", "text"], True),
        (["1", "Kelpwick", ENTRY], False),
        (["a7", "Kelpwick", "Ice"], False),  # the harbour comes again below
        (["id", "harbour", "What did you think of the ferry in the winter of 2014?"], True),
        (["2011", "2012", "2013"], True),
    ],
)
def test_whether_the_first_row_names_the_fields(first: list[str], names: bool) -> None:
    below = [[str(n), ("Kelpwick", "Quellan")[n % 2], f"{ENTRY} {n}"] for n in range(2, 12)]
    assert guess_header([first, *below]) is names


def test_a_table_without_a_heading_keeps_its_first_row() -> None:
    data = "".join(f"{n},Kelpwick,{ENTRY}\n" for n in range(8)).encode()
    found = rows_of("x.csv", data)
    assert len(found) == 8 and found[0] == {"column 1": "0", "column 2": "Kelpwick", "column 3": ENTRY}


@given(st.lists(st.text(st.sampled_from('ab ",'), min_size=1).filter(str.strip), min_size=4, max_size=8))
def test_quotes_after_a_backslash(texts: list[str]) -> None:
    out = io.StringIO()
    writer = csv.writer(out, escapechar="\\", doublequote=False, quoting=csv.QUOTE_ALL)
    writer.writerows([["id", "text"], *([str(n), text] for n, text in enumerate(texts))])
    records = list(delimited.read(out.getvalue(), FileSettings(escaped=True)))
    assert [each.cells["text"] for each in records if isinstance(each, Row)] == texts


def test_backslashes_before_quotes_are_noticed_where_they_escape_them() -> None:
    escaped = "id,text\n" + "".join(f'{n},"said \\"go\\", {ENTRY}"\n' for n in range(6))
    assert rows_of("x.csv", escaped.encode())[0]["text"] == f'said "go", {ENTRY}'
    plain = "id,text\n" + "".join(f'{n},"kept in C:\\log\\"\n' for n in range(6))
    assert rows_of("x.csv", plain.encode())[5]["text"] == "kept in C:\\log\\"


def test_a_delimiter_that_the_first_line_declares() -> None:
    data = b"sep=;\r\nid;text\r\n" + b"".join(f"{n};Ice, fog, {n}\r\n".encode() for n in range(5))
    assert rows_of("x.csv", data)[0] == {"id": "0", "text": "Ice, fog, 0"}


@pytest.mark.parametrize(
    ("encoding", "text"),
    [
        ("cp1251", "Сильный ветер в гавани, паром не вышел. Волна заливала причал всю ночь."),
        ("koi8-r", "Сильный ветер в гавани, паром не вышел. Волна заливала причал всю ночь."),
        ("cp1253", "Δυνατός άνεμος στο λιμάνι, το πλοίο δεν έφυγε και οι βάρκες έμειναν."),
        ("shift_jis", "港に強い風が吹いて船は出なかった。夜のあいだ見張りをした。"),
        ("gb18030", "港口风很大，渡船没有出海，人们在岸上等了一夜。这是今年最大的风。"),
        ("euc-kr", "항구에 강한 바람이 불어 배가 나가지 못했다. 밤새 선원들은 부두에서 기다렸다."),
        ("cp1252", "Der Sturm wütete über dem äußeren Hafen, die Fähre blieb; größte Böe nachts."),
        ("cp1252", "Été à l'île, où ça ? La mer était grosse, le bac est resté à quai."),
    ],
)
def test_the_likeliest_encoding_is_a_guess_and_says_so(encoding: str, text: str) -> None:
    decoded = decode(f"id,text\n1,{text}\n2,{text}\n".encode(encoding))
    assert (decoded.encoding, decoded.guessed, decoded.doubtful) == (encoding, True, 0)
    assert text in decoded.text


def test_json_as_it_is_dumped() -> None:
    several = json.dumps({"text": ENTRY}, indent=1) * 2
    assert rows_of("x.json", several.encode()) == [{"text": ENTRY}] * 2
    assert rows_of("x.json", f'[{{"text": "{ENTRY}", "depth": NaN}}]'.encode()) == [{"text": ENTRY}]
    lines = f'{{"text": "{ENTRY}", "depth": NaN}}\n' * 2
    assert rows_of("x.jsonl", lines.encode()) == [{"text": ENTRY}] * 2
    rows = [{"text": f"{ENTRY} {n}", "place": "Quellan"} for n in range(9)]
    by_field = {name: [row[name] for row in rows] for name in ("text", "place")}
    keyed = {name: {str(n): row[name] for n, row in enumerate(rows)} for name in ("text", "place")}
    for value in (rows, by_field, keyed, {"export": {"log": by_field}}):
        found = rows_of("x.json", json.dumps(value).encode())
        assert [{key: row[key] for key in ("text", "place")} for row in found] == rows


def test_a_list_that_lacks_a_comma_is_read_up_to_there() -> None:
    data = f'[{{"text": "{ENTRY}"}}, {{"text": "b"}} {{"text": "c"}}]'.encode()
    found = preview(data, "x.json", FileSettings(format="json"))
    assert [row.cells["text"] for row in found.rows] == [ENTRY, "b"]
    assert [(each.line, "not JSON" in each.reason) for each in found.rejected] == [(3, True)]


@pytest.mark.parametrize("line", ["[05/03/2014, 10:00] Ann: ", "[1] ", "[fog] ", "[] "])
def test_a_text_in_brackets_is_no_json(line: str) -> None:
    data = "".join(f"{line}{ENTRY}\n" for _ in range(4)).encode()
    assert rows_of("x.txt", data) == [{"text": f"{line}{ENTRY}"}] * 4


def test_seconds_since_1970_are_dates_where_a_field_is_called_so() -> None:
    assert dates.parse("1394000000") == dates.parse("2014-03-05")
    assert dates.parse("1394000000123") == dates.parse("2014-03-05")
    assert dates.parse("9999999999") is None
    lines = [f"{n},{1394000000 + 86_400 * n},{1394000000 + n},{ENTRY}" for n in range(9)]
    data = ("id,created_at,phone,text\n" + "\n".join(lines)).encode()
    roles = preview(data, "x.csv", readers.detect_settings(data, "x.csv")).roles
    assert roles["created_at"] == "date" and roles["phone"] != "date"


def test_what_is_told_by_its_name_or_refused_by_its_beginning() -> None:
    bare = b"From: ann@quay.example\nContent-Type: text/plain\n\n" + ENTRY.encode()
    assert readers.detect_format(bare, "x.eml") == "mail"
    assert readers.detect_format(bare, "x.txt") == "text-lines"
    with pytest.raises(BadInputError, match="RTF"):
        readers.detect_format(b"{\\rtf1 " + ENTRY.encode(), "x.rtf")
