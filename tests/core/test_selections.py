"""Selections of documents against plain loops: who is meant, who is on neither side, what is refused."""

from __future__ import annotations

from datetime import date

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from skeinwork.core.corpus.corpus import Corpus
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.dates import MISSING
from skeinwork.core.prevalence.breakdown import Breakdown
from skeinwork.core.prevalence.selections import Selection, apart, selected
from tests.core.test_regression import corpus_of

BY = Breakdown(group="quay")
QUAYS = st.sampled_from(["A", "B", "C", None])
YEARS = st.sampled_from([2010, 2011, 2012, None])
ENTRIES = st.lists(st.tuples(QUAYS, YEARS, st.booleans()), min_size=1, max_size=25)
SIDES = st.builds(
    Selection, value=st.sampled_from(["A", "B", None]), at=st.sampled_from(["2010", "2011", "2010..2011", None])
)
Entry = tuple[str | None, int | None, bool]


def made(entries: list[Entry]) -> tuple[Corpus, NDArray[np.bool_]]:
    """Documents of quays and years, some without, and whether each has counted words."""
    days = [MISSING if year is None else (date(year, 6, 1) - date(1970, 1, 1)).days for _, year, _ in entries]
    corpus = corpus_of(np.array(days, dtype=np.int64), quay=[quay for quay, _, _ in entries])
    return corpus, np.array([counted for _, _, counted in entries])


def meant(entry: Entry, choice: Selection) -> bool:
    quay, year, _ = entry
    first, last = (int(each) for each in ((choice.at or "0..9999").split("..") * 2)[:2]) if choice.at else (0, 9999)
    if choice.at and ".." not in choice.at:
        first = last = int(choice.at)
    when = choice.at is None or (year is not None and first <= year <= last)
    return when and (choice.value is None or quay == choice.value)


@settings(max_examples=150, deadline=None)
@given(ENTRIES, SIDES, st.one_of(st.none(), SIDES))
def test_every_document_is_on_the_side_where_a_plain_look_puts_it(
    entries: list[Entry], one: Selection, other: Selection | None
) -> None:
    corpus, counted = made(entries)
    there = {quay for quay, _, _ in entries}
    wanted = {each.value for each in (one, other) if each and each.value}
    mine = [meant(each, one) for each in entries]
    if other:
        theirs = [meant(each, other) for each in entries]
    elif one.at:
        same = Selection(value=one.value)
        theirs = [
            meant(each, same) and each[1] is not None and not own for each, own in zip(entries, mine, strict=True)
        ]
    else:
        known = [one.value is None or quay is not None for quay, _, _ in entries]
        theirs = [each and not own for each, own in zip(known, mine, strict=True)]
    both = [a and b for a, b in zip(mine, theirs, strict=True)]
    sides = [-1 if shared else 0 if a else 1 if b else -1 for a, b, shared in zip(mine, theirs, both, strict=True)]
    on = {side for side, entry in zip(sides, entries, strict=True) if entry[2]}
    if not wanted <= there or not {0, 1} <= on:
        with pytest.raises(BadInputError, match="is no value of quay|No documents with counted words"):
            apart(corpus, BY, one, other, counted)
        return
    found, shared_by_both = apart(corpus, BY, one, other, counted)
    assert found.tolist() == sides and shared_by_both == sum(both)


def test_nothing_chosen_is_everything() -> None:
    corpus, _ = made([("A", 2010, True), (None, None, True)])
    assert selected(corpus, BY, Selection()).all() and Selection().said(BY) == "all documents"


def test_a_value_needs_a_field() -> None:
    corpus, counted = made([("A", 2010, True), ("B", 2011, True)])
    with pytest.raises(BadInputError, match="Choose a field"):
        apart(corpus, Breakdown(), Selection(value="A"), None, counted)


@pytest.mark.parametrize(
    ("choice", "said", "rest"),
    [
        (Selection(value="A"), "quay A", "all others"),
        (Selection(at="2010"), "2010", "all other dates"),
        (Selection(value="A", at="2010..2011"), "quay A, 2010 to 2011", "all other dates of quay A"),
    ],
)
def test_sides_are_called_by_what_they_are(choice: Selection, said: str, rest: str) -> None:
    assert (choice.said(BY), choice.rest_said(BY)) == (said, rest)
