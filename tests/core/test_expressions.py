"""Regular expressions: what they match, and that none takes more time or memory than it may."""

from __future__ import annotations

import re
import time

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import cut
from skeinwork.core.formats.records import Cut, Row
from skeinwork.core.text.expressions import check, found, places

TEXTS = ["A gale at the quay", "", "ice, ice; Gales", "naïve ☂ gale 🛟 gale"]
COSTLY = [
    "x{1000000000}",
    "x{5000000}",
    "(?:(?:(?:a{100}){100}){100}){100}",
    "(?R)",
    "(?:z|zz)+$",
    "(z+z+)+!!",
    "((?:z{1,60}){1,60}){1,60}!!",
]


@settings(max_examples=40, deadline=None)
@given(st.lists(st.text("aZü1☂ \n🛟", max_size=30), max_size=5))
def test_places_are_those_of_the_standard_engine(texts: list[str]) -> None:
    pattern = re.compile(r"^[az]+|[üa]+$|\d|☂", re.I | re.M)
    wanted = [[each.span() for each in pattern.finditer(text)] for text in texts]
    asked = list(places(pattern.pattern, texts))
    assert [[(place.begin, place.end) for place in each] for each in asked] == wanted


def test_letter_case_groups_and_empty_matches() -> None:
    assert list(found("gale", TEXTS)) == [True, False, True, True]
    assert [len(each) for each in places("gale", TEXTS)] == [1, 0, 1, 2]
    assert [len(each) for each in places("gale", TEXTS, ignore_case=False)] == [1, 0, 0, 2]
    assert not any(places("x*", TEXTS))
    (one,) = places(r"(?P<what>i.e)|(?P<other>\d)", ["ice"])
    assert one[0].groups == {"what": "ice", "other": None}
    assert list(found("a", [])) == []


@pytest.mark.parametrize("expression", ["(a", "[", "(?P<x", "*", "(?P<a>x)(?P<a", "\\p{nothing}"])
def test_what_is_no_expression_is_said(expression: str) -> None:
    with pytest.raises(BadInputError, match="can't be read"):
        check(expression)


@pytest.mark.parametrize("expression", COSTLY)
def test_a_costly_expression_is_stopped_and_the_next_one_works(expression: str) -> None:
    with pytest.raises(BadInputError, match=r"took more than (2 s|512 MB) on one document"):
        list(found(expression, ["z" * 20_000 + "!"]))
    assert list(found("gale", TEXTS)) == [True, False, True, True]


def test_all_texts_together_have_a_limit_too() -> None:
    begun = time.monotonic()
    with pytest.raises(BadInputError, match=r"more than 1 s; \d+ documents were looked at"):
        list(found("(?:z|zz)+$", ["z" * 26 + "!"] * 2000, limit=1.0))
    assert time.monotonic() - begun < 10


def test_an_expression_that_gives_more_places_than_can_be_held_is_stopped() -> None:
    with pytest.raises(BadInputError, match="took more than"):
        list(places(".", ["z" * 600_000]))


def test_cutting_at_a_costly_expression_is_stopped() -> None:
    row = Row(1, {"text": "z" * 60 + "!"})
    for expression in ("x{1000000000}", "(?:z|zz)+$"):
        wanted = Cut(by="expression", expression=expression)
        with pytest.raises(BadInputError, match="took more than"):
            list(cut.pieces([row], "text", wanted))
