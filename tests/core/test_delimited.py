"""Delimited tables: every cell of a sound one, and as many rows as can be of a broken one."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from skeinwork.core.formats import delimited, quoting
from skeinwork.core.formats.records import FileSettings, Noted, Record, Rejected, Row


def read(text: str, **settings: object) -> list[Record]:
    return list(delimited.read(text, FileSettings.model_validate(settings)))


def rows(records: Sequence[Record]) -> list[list[str]]:
    return [list(each.cells.values()) for each in records if isinstance(each, Row)]


def rejected(records: Sequence[Record]) -> list[tuple[int, str]]:
    return [(each.line, each.reason) for each in records if isinstance(each, Rejected)]


def notes(records: Sequence[Record]) -> list[tuple[int, str]]:
    return [(each.line, each.reason) for each in records if isinstance(each, Noted)]


cells = st.text(st.characters(exclude_characters="\0\r", exclude_categories=["Cs"]), max_size=12)


@settings(max_examples=200, deadline=None)
@given(st.lists(st.lists(cells, min_size=3, max_size=3), min_size=1, max_size=8), st.sampled_from(delimited.DELIMITERS))
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
    assert rejected(found) == [(3, "has 1 cell where the heading has 2"), (4, "has 3 cells where the heading has 2")]


def test_a_quote_that_never_closes_costs_one_row() -> None:
    body = "".join(f"{n},text {n}\n" for n in range(600))
    found = read('id,text\n0,"never closed\n' + body)
    assert len(rows(found)) == 601
    assert rows(found)[0] == ["0", '"never closed']
    assert notes(found) == [(2, "a quote that never closes was read as text")]


def test_a_quote_open_at_the_end_of_the_file_costs_one_row() -> None:
    found = read('id,text\n1,a\n2,"open\n3,b\n')
    assert rows(found) == [["1", "a"], ["2", '"open'], ["3", "b"]]


def test_long_quoted_cells_are_kept() -> None:
    cell = "line\n" * 150
    assert rows(read(f'id,text\n1,"{cell}"\n')) == [["1", cell]]


def test_quotes_inside_cells_are_read_leniently_and_noted() -> None:
    found = read('id,text\n1,"the "Alma Rose" came"\n2,x\n')
    assert rows(found)[1] == ["2", "x"]
    assert rows(found)[0] == ["1", 'the "Alma Rose" came']
    assert notes(found) == [(2, "quotes inside a quoted cell were read leniently")]


def test_nul_bytes_and_enormous_cells_are_rejected(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(delimited, "LONGEST_FIELD", 1000)
    found = read(f"a,b\n1,x\0y\n2,{'z' * 1001}\n3,ok\n")
    assert rows(found) == [["3", "ok"]]
    assert [reason for _, reason in rejected(found)] == ["holds NUL bytes", "has a cell of over 1,000 characters"]


def test_column_names_are_filled_and_made_unique() -> None:
    found = read("a,,a\n1,2,3\n")
    assert isinstance(found[0], Row)
    assert list(found[0].cells) == ["a", "column 2", "a_"]


def table(*rows: list[str]) -> str:
    out = io.StringIO(newline="")
    csv.writer(out, quoting=csv.QUOTE_ALL).writerows([["id", "section", "text"], *rows])
    return out.getvalue()


LONG = "\n".join(f'{n} barrels, of "tar" and ,oakum' for n in range(3017))


def test_a_table_that_parses_strictly_is_read_so_however_long_its_cells() -> None:
    body = [[str(n), "quay", LONG if n % 7 == 3 else f"ice,\nfog {n}"] for n in range(40)]
    found = read(table(*body))
    assert rows(found) == body and len(found) == 40
    assert delimited.detect_table(table(*body), FileSettings()).delimiter == ","


@pytest.mark.parametrize("delimiter", delimited.DELIMITERS)
@pytest.mark.parametrize("escaped", [False, True])
def test_long_cells_are_found_in_for_every_delimiter(delimiter: str, escaped: bool) -> None:
    out = io.StringIO(newline="")
    escape = {"doublequote": False, "escapechar": "\\"} if escaped else {}
    writer = csv.writer(out, delimiter=delimiter, **escape)  # type: ignore[call-overload]
    body = [[str(n), "quay", LONG] for n in range(3)]
    writer.writerows([["id", "section", "text"], *body])
    settings_ = delimited.detect_table(out.getvalue(), FileSettings())
    assert (settings_.delimiter, settings_.escaped, settings_.begin) == (delimiter, escaped, 1)
    assert rows(list(delimited.read(out.getvalue(), settings_))) == body


def test_one_missing_quote_in_a_table_of_long_cells_costs_at_most_its_own_row() -> None:
    body = [[str(n), "quay", LONG if n % 5 == 3 else f"ice,\nfog {n}"] for n in range(40)]
    text = table(*body).replace('fog 20"', "fog 20")
    found = read(text)
    assert rows(found) == body
    assert notes(found) == [
        (1 + text[: text.index('"20"')].count("\n"), "a quote that never closes was closed at the end of the row")
    ]
    opened = table(*body).replace('"20","quay"', '"20,"quay"')
    ids = {row[0] for row in rows(read(opened))}
    assert ids >= {str(n) for n in range(40) if n != 20}


@settings(max_examples=150, deadline=None)
@given(
    st.lists(st.lists(cells, min_size=3, max_size=3), min_size=2, max_size=12),
    st.sampled_from(delimited.DELIMITERS),
    st.booleans(),
    st.data(),
)
def test_the_plan_for_a_sound_table_is_the_strict_reading(
    body: list[list[str]], delimiter: str, all_quoted: bool, data: st.DataObject
) -> None:
    out = io.StringIO(newline="")
    quoting_ = csv.QUOTE_ALL if all_quoted else csv.QUOTE_MINIMAL
    csv.writer(out, delimiter=delimiter, quoting=quoting_).writerows(body)
    dialect = quoting.Dialect(delimiter, escaped=False)
    planned = list(quoting.read(out.getvalue(), dialect, 3))
    assert [cells for _, cells, _, _ in planned] == body
    assert all(way is quoting.Way.STRICT for *_, way in planned)
    gone = data.draw(st.integers(0, len(out.getvalue()) - 1))
    broken = out.getvalue()[:gone] + out.getvalue()[gone + 1 :]
    assert "".join(raw for *_, raw, _ in quoting.read(broken, dialect, 3)) == broken


def test_rows_that_a_quote_swallowed_without_a_fault_are_given_back() -> None:
    body = "".join(f"{n},fog {n}\n" for n in range(30))
    found = read('id,text\n1,"open\n' + body + 'x,5",y\n2,"never closed\n')
    assert len(rows(found)) == 32
    assert rejected(found) == [(33, "has 3 cells where the heading has 2")]


def test_a_cell_over_the_limit_costs_its_row_and_is_passed_over_line_by_line(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(delimited, "LONGEST_FIELD", 1000)
    found = read('id,text\n1,a\n2,"' + 'so ""many"", words\n' * 500 + '"\n3,b\n')
    assert rows(found) == [["1", "a"], ["3", "b"]]
    assert rejected(found) == [(3, "has a cell of over 1,000 characters")]
    assert notes(found) == []
