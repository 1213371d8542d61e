"""Markup, tokenising batches, and the passes."""

from __future__ import annotations

import html
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from skeinwork.core.matrix.counting import count
from skeinwork.core.text import markup, tokenise
from skeinwork.core.text.clean import CleanSettings, clean, told
from skeinwork.core.text.passes import SUGGESTED
from skeinwork.core.text.passes.domain_words import DomainWordsPass
from skeinwork.core.text.passes.multiword import MultiwordPass
from tests.conftest import Prepared

PLAIN = CleanSettings().tokenising()


def cleaned(texts: list[str], *passes: dict[str, Any]) -> list[list[str]]:
    """The forms that are left of each text after these passes."""
    chosen = CleanSettings.model_validate({"passes": passes})
    tokens = tokenise.tokenise(texts, chosen.tokenising())
    made = clean(tokens, chosen)
    return [[made.forms[f] for f in made.token_forms(d) if f >= 0] for d in range(len(texts))]


def test_markup_goes_and_blocks_become_breaks() -> None:
    found = markup.strip("<div><p>Salt &amp; <b>tim</b>ber</p><!-- x --><script>var a</script>a<br/>b</div>")
    assert found.text.split() == ["Salt", "&", "timber", "a", "b"]


@pytest.mark.parametrize("text", ["a < b and c > d", "R & D", "&nosuchthing", "<3", "if a<b then", ""])
def test_what_is_no_markup_stays(text: str) -> None:
    assert markup.strip(text).text == text


@settings(max_examples=200, deadline=None)
@given(
    st.lists(st.sampled_from(["<p>", "</p>", "<b>", "</b>", "&amp;", "&eacute;", "gale", "é", " ", "🚀"]), max_size=16)
)
def test_spans_found_in_stripped_text_lie_on_the_original(parts: list[str]) -> None:
    text = "".join(parts)
    found = tokenise.tokenise([text], PLAIN)
    data = text.encode()
    for start, end, word in zip(found.starts, found.ends, found.words(0), strict=True):
        piece = data[start:end].decode()
        assert html.unescape(piece.replace("<b>", "").replace("</b>", "")) == word


def test_batches_give_the_same_stream_as_one_call(monkeypatch: pytest.MonkeyPatch, demo: Prepared) -> None:
    texts = demo.texts[:60]
    whole = tokenise.tokenise(texts, PLAIN)
    monkeypatch.setattr(tokenise, "_BATCH", 7)
    parts = tokenise.tokenise(texts, PLAIN)
    for name in ("ids", "starts", "ends", "doc_ptr", "classes"):
        assert np.array_equal(getattr(whole, name), getattr(parts, name)), name
    assert whole.types == parts.types


TEXT = "The Harbour's 3 gales: moorings and 12kn, mailto office@kelpwick.example #storm"


@pytest.mark.parametrize(
    ("passes", "left"),
    [
        ([], TEXT.replace(":", " :").replace(",", " ,").split()),
        (
            [{"kind": "case"}, {"kind": "punctuation"}, {"kind": "numbers"}, {"kind": "addresses", "hashtags": True}],
            ["the", "harbour", "gales", "moorings", "and", "mailto"],
        ),
        (
            [{"kind": "case", "possessives": False}, {"kind": "stop-words"}, {"kind": "punctuation"}],
            ["harbour's", "3", "gales", "moorings", "12kn", "mailto", "office@kelpwick.example", "#storm"],
        ),
        (
            [{"kind": "numbers", "keep_with_letters": True}, {"kind": "short-words", "under": 5}],
            ["Harbour's", "gales", "moorings", "mailto", "office@kelpwick.example", "#storm"],
        ),
        (
            [
                {"kind": "case"},
                {"kind": "short-words", "under": 4},
                {"kind": "word-forms"},
                {"kind": "domain-words", "words": ["mooring", "storm"]},
            ],
            ["harbour", "gale", "12kn", "mailto", "office@kelpwick.example", "#storm"],
        ),
    ],
)
def test_what_each_pass_leaves(passes: list[dict[str, Any]], left: list[str]) -> None:
    assert cleaned([TEXT], *passes) == [left]


def test_a_stop_list_after_stemming_is_stemmed_itself() -> None:
    """*having* becomes *have* under Porter, *because* becomes *becaus*: the list still matches."""
    words = {"kind": "word-forms"}, {"kind": "stop-words"}
    assert cleaned(["having a gale because moorings"], {"kind": "case"}, *words) == [["gale", "moor"]]


def test_own_words_and_kept_words_of_a_stop_list() -> None:
    stop = {"kind": "stop-words", "own": ["gale", " gale ", ""], "keep": ["not"]}
    assert cleaned(["not the gale we saw"], stop) == [["not", "saw"]]


def test_a_pass_that_is_off_does_nothing() -> None:
    assert cleaned(["the gale"], {"kind": "stop-words", "on": False}) == [["the", "gale"]]


def test_a_display_form_is_the_most_frequent_member(demo: Prepared) -> None:
    tokens = tokenise.tokenise(["moorings Moorings mooring moored"], PLAIN)
    made = clean(tokens, CleanSettings.model_validate({}))
    assert (made.forms, made.display) == (["moor"], ["moorings"])
    by_form = dict(zip(demo.cleaning.forms, demo.cleaning.display, strict=True))
    assert by_form["engin"] == "engine"


def test_survivals_add_up(demo: Prepared) -> None:
    """Tokens counted one by one agree with the sums over types."""
    made, tokens = demo.cleaning, demo.tokens
    removed = made.removed_by[tokens.ids]
    left = len(tokens.ids)
    assert made.survivals[0].tokens == left
    for index, row in enumerate(made.survivals[1:]):
        left -= int((removed == index).sum())
        assert row.tokens == left
    assert left == int((made.form_of[tokens.ids] >= 0).sum())


@settings(max_examples=60, deadline=None)
@given(st.permutations(SUGGESTED), st.lists(st.booleans(), min_size=10, max_size=10))
def test_any_order_of_any_passes_is_defined(order: list[Any], on: list[bool]) -> None:
    passes = [each.model_copy(update={"on": flag}) for each, flag in zip(order, on, strict=True)]
    chosen = CleanSettings.model_validate({"passes": [p.model_dump() for p in passes]})
    texts = ["", "The <b>gale</b> at 3 o'clock", "x@y.example 12kn", "…"]
    tokens = tokenise.tokenise(texts, chosen.tokenising())
    made = clean(tokens, chosen)
    counts = [row.tokens for row in made.survivals]
    assert counts == sorted(counts, reverse=True)
    assert all(made.forms)
    assert ((made.form_of >= 0) == (made.removed_by < 0)).all()


def test_settings_out_of_range_are_refused_by_name() -> None:
    for passes, words in (
        ([{"kind": "short-words", "under": 1}], "under"),
        ([{"kind": "case", "key": "a"}, {"kind": "numbers", "key": "a"}], "same key"),
        ([{"kind": "shrink"}], "shrink"),
        ([{"kind": "case", "colour": 1}], "colour"),
    ):
        with pytest.raises(ValidationError, match=words):
            CleanSettings.model_validate({"passes": passes})


def test_the_same_kind_may_stand_twice_each_with_a_key_of_its_own() -> None:
    passes = [{"kind": "stop-words"}, {"kind": "case"}, {"kind": "stop-words", "own": ["gale"]}]
    chosen = CleanSettings.model_validate({"passes": passes})
    assert [each.key for each in chosen.passes] == ["stop-words", "case", "stop-words-2"]
    made = clean(tokenise.tokenise(["The gale rose"], chosen.tokenising()), chosen)
    assert [row.key for row in made.survivals] == ["tokens", "stop-words", "case", "stop-words-2"]
    assert [made.fate(at)[2] for at in range(3)] == [0, 2, -1]
    turned = CleanSettings(passes=chosen.passes[::-1])
    assert [each.key for each in turned.passes] == ["stop-words-2", "case", "stop-words"]


def test_keys_that_follow_from_the_order_make_no_other_cleaning() -> None:
    def said(*keys: str) -> Any:
        kinds = [{"kind": "stop-words", "key": key} for key in keys]
        return told(CleanSettings.model_validate({"passes": kinds}))

    assert said("", "") == said("stop-words", "stop-words-2") != said("stop-words-2", "stop-words")
    assert said("", "")[0] == {"kind": "stop-words", "versions": [2]}


STOP, STEM, CASE = {"kind": "stop-words"}, {"kind": "word-forms"}, {"kind": "case"}


@pytest.mark.parametrize("order", [(CASE, STOP, STEM), (CASE, STEM, STOP), (STEM, CASE, STOP)])
def test_the_order_of_stems_case_and_stop_words_does_no_harm(order: tuple[dict[str, str]]) -> None:
    text = "They use the willing pilots; Mining lasts, and the Ship's moorings moored. USING us"
    assert cleaned([text], *order, {"kind": "punctuation"}) == [
        ["us", "will", "pilot", "mine", "last", "ship", "moor", "moor", "us"]
    ]


def test_words_that_go_for_their_form_alone_are_named() -> None:
    chosen = CleanSettings.model_validate({"passes": [CASE, STEM, {"kind": "domain-words", "words": ["ferry"]}]})
    made = clean(tokenise.tokenise(["ferry ferries ferries Ferry gale"], PLAIN), chosen)
    assert made.survivals[-1].concerned == ("ferries",) and made.survivals[-1].types == 1


def test_words_mostly_in_capitals_are_kept_apart_from_their_twins() -> None:
    texts = [f"The US sent it and the EU paid {n} AI tools" for n in range(4)]
    texts += ["WHO SAYS THAT THIS IS US OR THEM", "Who will say who it is? IT said so, NOT us. IT"]
    left = cleaned(texts, CASE, STOP, {"kind": "short-words"}, STEM)
    assert [word for word in left[0] if word.isupper()] == ["US", "EU", "AI"]
    assert "US" not in left[4] or left[4].count("US") == 1
    chosen = CleanSettings.model_validate({"passes": [CASE]})
    found = clean(tokenise.tokenise(texts, PLAIN), chosen).survivals[-1]
    assert set(found.concerned) == {"US", "EU", "AI"} and found.offered == ("IT",)
    kept = cleaned(texts, {**CASE, "keep": ["IT"]}, STOP)
    assert kept[5].count("IT") == 2
    assert "us" in cleaned(texts, {**CASE, "capitals": False})[0]
    assert "us" not in cleaned(texts, CASE)[0] and "us" in cleaned(texts, CASE)[5]


def test_a_heading_in_capitals_is_no_name() -> None:
    texts = ["STORM AT THE BREAKWATER\nA storm broke the wall", "GALE WARNING FOR QUELLAN\nA gale"]
    assert {word for text in cleaned(texts, CASE) for word in text if word.isupper()} == set()


def test_ways_to_write_one_word_are_one_word() -> None:
    texts = ["caf\u00e9s cafe\u0301s ca\u00adf\u00e9s CAF\u00c9S", "caf\u00e9"]
    assert cleaned(texts, CASE, STEM) == [["caf\u00e9"] * 4, ["caf\u00e9"]]


def test_an_entry_of_several_words_that_can_match_nothing_is_said() -> None:
    listed = DomainWordsPass(words=("north wind", "ferry"))
    assert "“north wind” can match nothing" in listed.hint([])
    assert listed.hint([MultiwordPass(terms=("North  wind",))]) == ""


def test_runs_of_words_break_at_lines_sentences_and_signs() -> None:
    texts = [
        "north wind\nwest quay",
        "<p>north</p><p>wind</p>",
        "north wind. West quay, east wall",
        "sea-wall, the pilot's boat",
        "caf\u00e9\u00a0noir\u2028north",
    ]
    for rule in ("unicode", "letters"):
        chosen = CleanSettings.model_validate(
            {"rule": {"rule": rule}, "passes": [{"kind": "markup"}, CASE, {"kind": "punctuation"}]}
        )
        tokens = tokenise.tokenise(texts, chosen.tokenising())
        counted = count(clean(tokens, chosen), 2)
        pairs = {term for term in counted.terms if " " in term}
        assert {"north wind", "west quay", "east wall", "caf\u00e9 noir"} <= pairs
        assert pairs.isdisjoint(
            {"wind west", "wind. west", "quay east", "wall the", "noir north", "quay north", "wind north"}
        )
        where = np.asarray(counted.counts[:, counted.terms.index("north wind")].todense()).ravel()
        assert where.tolist() == [1, 0, 1, 0, 0]
    without = CleanSettings.model_validate({"passes": [CASE]})
    counted = count(clean(tokenise.tokenise(["a gale. The quay"], PLAIN), without), 2)
    assert ". the" not in counted.terms and "a gale" in counted.terms
