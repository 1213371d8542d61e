"""Multiword terms: joined in place, whatever their case and hyphens, and like any other term after."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from skeinwork.core.matrix.counting import count
from skeinwork.core.matrix.matrix import prune, term_stream
from skeinwork.core.matrix.matrix_settings import MatrixSettings
from skeinwork.core.text.clean import Cleaning, CleanSettings, clean
from skeinwork.core.text.tokenise import tokenise

TERMS = ["pilot launch", "South-westerly wind", "pilot launch crew"]


def made(texts: list[str], *passes: dict[str, Any]) -> Cleaning:
    chosen = CleanSettings.model_validate({"passes": passes})
    return clean(tokenise(texts, chosen.tokenising()), chosen)


def words(cleaning: Cleaning, document: int = 0) -> list[str]:
    kept = cleaning.token_forms(document)
    return [cleaning.forms[form] for form in kept if form >= 0]


@pytest.mark.parametrize(
    ("text", "left"),
    [
        ("Pilot Launch out", ["pilot_launch", "out"]),
        ("the pilot-launch", ["the", "pilot_launch"]),
        ("a SOUTH WESTERLY wind", ["a", "south-westerly_wind"]),
        ("pilot launch crews", ["pilot_launch", "crews"]),
        ("pilot launch crew", ["pilot_launch_crew"]),
        ("pilot pilot launch", ["pilot", "pilot_launch"]),
        ("the pilot. Launch it", ["the", "pilot", "launch", "it"]),
        ("launch the pilot", ["launch", "the", "pilot"]),
    ],
)
def test_listed_words_become_one_term_the_longest_first(text: str, left: list[str]) -> None:
    passes = {"kind": "case"}, {"kind": "multiword", "terms": TERMS}, {"kind": "punctuation"}
    assert words(made([text], *passes)) == left


def test_a_term_is_shown_as_it_was_written_and_its_span_is_the_whole() -> None:
    text = "Then a south-westerly\n wind rose"
    found = made([text], {"kind": "multiword", "terms": TERMS}, {"kind": "case"})
    assert found.display[found.forms.index("south-westerly_wind")] == "South-westerly wind"
    rows = found.rows(0)
    spans = list(zip(found.tokens.starts[rows], found.tokens.ends[rows], strict=True))
    assert [text[a:b] for a, b in spans] == ["Then", "a", "south-westerly\n wind", "rose"]
    assert found.fate(2) == ("changed", "south-westerly_wind", 1)
    assert found.decided(0).tolist() == [False] * 4  # the last change is that of the case pass


def test_hyphens_that_are_tokens_of_their_own_join_too() -> None:
    chosen = CleanSettings.model_validate(
        {"rule": {"hyphens": "split"}, "passes": [{"kind": "multiword", "terms": TERMS}]}
    )
    found = clean(tokenise(["South-westerly wind"], chosen.tokenising()), chosen)
    assert words(found) == ["South-westerly_wind"]


def test_after_passes_that_remove_words_these_stay_apart() -> None:
    list_ = {"kind": "multiword", "terms": ["port of call"]}
    stop = {"kind": "stop-words"}
    assert words(made(["port of call"], list_, stop)) == ["port_of_call"]
    assert words(made(["port of call"], stop, list_)) == ["port", "call"]


def test_later_passes_and_lists_see_a_joined_term_as_one() -> None:
    text = "pilot launches and the pilot launch"
    join = {"kind": "multiword", "terms": ["Pilot launch", "pilot launches"]}
    assert words(made([text], join, {"kind": "case"}, {"kind": "word-forms"})) == [
        "pilot_launches",
        "and",
        "the",
        "pilot_launch",
    ]
    gone = {"kind": "domain-words", "words": ["pilot launch"]}
    assert words(made([text], join, {"kind": "case"}, gone)) == ["pilot_launches", "and", "the"]
    twice = {"kind": "multiword", "terms": ["and the"]}
    assert words(made([text], join, twice)) == ["pilot_launches", "and_the", "Pilot_launch"]


def test_counts_n_grams_and_windows_take_it_as_one_word() -> None:
    texts = ["the pilot launch left", "a pilot launch left early", "pilot alone"]
    found = made(texts, {"kind": "multiword", "terms": TERMS})
    matrix = prune(count(found, 2), MatrixSettings(min_documents=1, max_share=1.0))
    at = matrix.terms.index("pilot_launch")
    assert matrix.lengths[at] == 1
    assert matrix.counts[:, at].toarray().ravel().tolist() == [1, 1, 0]
    pair = matrix.terms.index("pilot_launch left")
    assert (matrix.lengths[pair], matrix.display[pair]) == (2, "pilot launch left")
    assert matrix.counts[:, matrix.terms.index("pilot")].sum() == 1
    ids, doc_ptr = term_stream(found, matrix)
    assert doc_ptr.tolist() == [0, 3, 7, 9] and ids[1] == at


@settings(max_examples=100, deadline=None)
@given(
    st.lists(st.lists(st.sampled_from(["pilot", "launch", "-", "crew", "Ice", "."]), max_size=9), max_size=4),
    st.lists(st.sampled_from(["pilot launch", "launch crew", "crew pilot launch", "ice"]), max_size=4),
)
def test_no_word_is_lost_and_each_stays_in_its_document(documents: list[list[str]], terms: list[str]) -> None:
    texts = [" ".join(each) for each in documents]
    plain, found = made(texts), made(texts, {"kind": "multiword", "terms": terms})
    for document, text in enumerate(texts):
        rows = found.rows(document)
        spans = zip(found.tokens.starts[rows], found.tokens.ends[rows], strict=True)
        joined = " ".join(text[a:b] for a, b in spans)
        assert joined.replace(" ", "") == text.replace(" ", "")
        assert rows.stop - rows.start <= plain.rows(document).stop - plain.rows(document).start
    assert np.array_equal(np.diff(found.tokens.doc_ptr) > 0, np.diff(plain.tokens.doc_ptr) > 0)


def test_an_empty_list_is_the_same_stream() -> None:
    found = made(["pilot launch"], {"kind": "multiword", "terms": [" ", "-"]})
    assert not found.joined and words(found) == ["pilot", "launch"]
