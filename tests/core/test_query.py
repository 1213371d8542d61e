"""The query language against SQLite's full-text search, and key words in context."""

from __future__ import annotations

import sqlite3

from hypothesis import example, given, settings
from hypothesis import strategies as st

from skeinwork.core.text.concordance import concordance, ordered
from skeinwork.core.text.query import fold, parse, spans
from skeinwork.store.search import expression
from skeinwork.work.results.finding import bytes_of, spans_of

WORDS = st.lists(st.sampled_from(["gale", "Ice", "fog", "ramp", "är", "ar", "-", "."]), max_size=10)
PART = st.sampled_from(
    [
        "gale",
        "ice*",
        "ra*",
        '"gale ice"',
        '"fog ram"*',
        "gale NEAR/1 ice",
        "ice NEAR/0 fog",
        "fog NEAR ramp NEAR/2 gale",
        "är",
        "ice-fog",
    ]
)


def found_by_sqlite(text: str, query: str) -> bool:
    memory = sqlite3.connect(":memory:")
    memory.execute("CREATE VIRTUAL TABLE t USING fts5(x, tokenize='unicode61')")
    memory.execute("INSERT INTO t VALUES (?)", (text,))
    rows = memory.execute("SELECT 1 FROM t WHERE t MATCH ?", (expression(parse(query)),))
    return rows.fetchone() is not None


@settings(max_examples=300, deadline=None)
@example(["gale", "fog", "Ice"], "gale NEAR/1 ice")
@given(WORDS, PART)
def test_places_are_found_in_the_documents_that_the_index_finds(words: list[str], query: str) -> None:
    text = " ".join(words)
    places = spans(text, parse(query))
    if query.count("NEAR") < 2:
        assert bool(places) == found_by_sqlite(text, query)
    for begin, end in places:
        assert fold(text[begin:end]).split()[0][:2] in fold(query)


@given(st.text(max_size=80))
def test_folding_keeps_every_place(text: str) -> None:
    assert len(fold(text)) == len(text)
    assert fold(fold(text)) == fold(text)


def test_fields_stand_before_a_colon_only_where_there_is_such_a_field() -> None:
    fields = ["harbour", "entry number"]
    assert parse('ice harbour:"Little Marre"', fields).fields == (("harbour", "Little Marre"),)
    assert parse('"Entry Number":12*', fields).fields == (("entry number", "12"),)
    assert parse("seen: ice", fields).fields == ()
    assert [part.words for part in parse("watch:day", fields).parts] == [("watch",), ("day",)]  # type: ignore[union-attr]


TEXTS = [(3, "Ice on the ramp. Then the gale came, and ice again."), (8, "No ice, but fog")]


def test_lines_stand_in_context_and_are_sorted_by_their_neighbours() -> None:
    lines, whole = concordance(TEXTS, spans_of("ice", False))
    assert whole and [(line.document, line.hit) for line in lines] == [(3, "Ice"), (3, "ice"), (8, "ice")]
    assert lines[1].left == "Ice on the ramp. Then the gale came, and " and lines[1].right == " again."
    assert [line.right for line in ordered(lines, "right")] == [
        " again.",
        ", but fog",
        " on the ramp. Then the gale came, and ice again.",
    ]
    assert [line.left for line in ordered(lines, "left")] == ["", lines[1].left, "No "]


@settings(deadline=None)
@given(st.text("ab é\n", max_size=400))
def test_a_line_holds_what_stands_in_the_text(text: str) -> None:
    lines, _ = concordance([(0, text)], spans_of("a+", True))
    assert sum(len(line.hit) for line in lines) == text.count("a")
    plain = " ".join(text.split())
    for line in lines:
        assert " ".join(f"{line.left}{line.hit}{line.right}".split()) in plain


def test_places_in_characters_become_places_in_bytes() -> None:
    text = "äö ice é"
    assert bytes_of(text, [(3, 6), (7, 8)]) == [(5, 8), (9, 11)]
