"""Word segmentation against the regular-expression engine's own word boundaries, and by example."""

from __future__ import annotations

import numpy as np
import pytest
import regex
from hypothesis import given, settings
from hypothesis import strategies as st

from skeinwork.core.text import segment as seg
from skeinwork.core.text import unicode_classes as uc
from skeinwork.core.text.segment import segment

# Every Word_Break class, pictographs, and plain letters; the texts are made of what rules look at.
SIGNS = (
    "ab9_ .,:;'’\"-\r\n\t\u0308\u200d\u00ad\u30a2\u05d0\u05d1\u0660\u3042\u6f22"
    "👩🚀🏽❤\ufe0f🇫🇷🇩\u2028\u00b7\u2024\uff0e\u037e\u1160\u0e01é한"
)


def reference(text: str) -> list[str]:
    """UAX #29 segments that hold a letter or digit, written rule by rule over a list of classes."""
    kinds = [_kind(sign) for sign in text]
    cuts = [at for at in range(1, len(text)) if _break(text, kinds, at)]
    parts = [text[a:b] for a, b in zip([0, *cuts], [*cuts, len(text)], strict=True)]
    return [part for part in parts if regex.search(r"[\p{L}\p{N}]", part)]


NAMES = (
    "CR LF Newline Extend ZWJ Format Katakana Hebrew_Letter ALetter Single_Quote Double_Quote "
    "MidNumLet MidLetter MidNum Numeric ExtendNumLet Regional_Indicator WSegSpace"
).split()


def _kind(sign: str) -> str:
    return next((n for n in NAMES if regex.match(rf"\p{{Word_Break={n}}}", sign)), "Other")


SKIPPED = {"Extend", "Format", "ZWJ"}
LETTERS = {"ALetter", "Hebrew_Letter"}
BREAKS = {"CR", "LF", "Newline"}


def _break(text: str, kinds: list[str], at: int) -> bool:
    left, right = kinds[at - 1], kinds[at]
    if left == "CR" and right == "LF":
        return False
    if left in BREAKS or right in BREAKS:
        return True
    if left == "ZWJ" and regex.match(r"\p{Extended_Pictographic}", text[at]):
        return False
    if left == right == "WSegSpace":
        return False
    if right in SKIPPED:
        return False
    before = [k for i, k in enumerate(kinds[:at]) if k not in SKIPPED or _alone(kinds, i)]
    after = [k for k in kinds[at:] if k not in SKIPPED]
    one, two = before[-1], before[-2] if len(before) > 1 else ""
    nxt = after[1] if len(after) > 1 else ""
    return not _kept(one, two, right, nxt, before)


def _alone(kinds: list[str], at: int) -> bool:
    """An Extend that WB4 can't attach, because a line ends or the text begins before it."""
    while at > 0 and kinds[at - 1] in SKIPPED:
        at -= 1
    return at == 0 or kinds[at - 1] in BREAKS


def _kept(one: str, two: str, right: str, nxt: str, before: list[str]) -> bool:
    mid_letter = {"MidLetter", "MidNumLet", "Single_Quote"}
    mid_number = {"MidNum", "MidNumLet", "Single_Quote"}
    number, joiner = "Numeric", "ExtendNumLet"
    runs = 0
    for kind in reversed(before):
        if kind != "Regional_Indicator":
            break
        runs += 1
    return any(
        (
            one in LETTERS and right in LETTERS,
            one in LETTERS and right in mid_letter and nxt in LETTERS,
            two in LETTERS and one in mid_letter and right in LETTERS,
            one == "Hebrew_Letter" and right == "Single_Quote",
            one == "Hebrew_Letter" and right == "Double_Quote" and nxt == "Hebrew_Letter",
            two == "Hebrew_Letter" and one == "Double_Quote" and right == "Hebrew_Letter",
            one in LETTERS | {number} and right in LETTERS | {number},
            two == number and one in mid_number and right == number,
            one == number and right in mid_number and nxt == number,
            one == right == "Katakana",
            one in LETTERS | {number, "Katakana", joiner} and right == joiner,
            one == joiner and right in LETTERS | {number, "Katakana"},
            one == right == "Regional_Indicator" and runs % 2 == 1,
        )
    )


@settings(max_examples=400, deadline=None)
@given(st.text(st.sampled_from(SIGNS), max_size=14))
def test_uax29_follows_the_rules_of_the_standard(text: str) -> None:
    assert segment([text], "uax29").words(0) == reference(text)


@settings(max_examples=150, deadline=None)
@given(st.text(max_size=40))
def test_letters_are_runs_of_letters(text: str) -> None:
    text = text.encode("utf-8", "ignore").decode()
    assert segment([text], "letters").words(0) == regex.findall(r"\p{L}+", text)


@settings(max_examples=200, deadline=None)
@given(st.lists(st.text(st.sampled_from(SIGNS + " @#/x"), max_size=30), max_size=4))
def test_spans_lie_on_the_text_in_order_and_leave_only_white_space(texts: list[str]) -> None:
    found = segment(texts)
    for number, text in enumerate(texts):
        data = text.encode()
        rows = slice(found.doc_ptr[number], found.doc_ptr[number + 1])
        at = 0
        for start, end, word in zip(found.starts[rows], found.ends[rows], found.words(number), strict=True):
            assert data[start:end].decode() == word
            assert start >= at
            assert regex.fullmatch(r"\p{White_Space}*[\u0308\u200d\ufe0f\u00ad🏽]*", data[at:start].decode())
            at = int(end)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("See https://sollen.example/a?b=1). Then", ["See", "https://sollen.example/a?b=1", ")", ".", "Then"]),
        ("mail office@quellan.example.", ["mail", "office@quellan.example", "."]),
        ("#storm_2014 by @keeper", ["#storm_2014", "by", "@keeper"]),
        ("e.g. the U.S. coast", ["e.g.", "the", "U.S.", "coast"]),
        ("sea-wall, well\u2010made", ["sea-wall", ",", "well\u2010made"]),
        ("don't harbour’s", ["don't", "harbour’s"]),
        ("12kn 3.5% 20°C 1,000.50", ["12kn", "3.5%", "20°C", "1,000.50"]),
        ("👩\u200d🚀👍🏽 🇫🇷🇩🇪", ["👩\u200d🚀", "👍🏽", "🇫🇷", "🇩🇪"]),
        ("", []),
        (" \t\n", []),
        ("--", ["-", "-"]),
    ],
)
def test_the_default_rule_keeps_what_it_recognises_whole(text: str, words: list[str]) -> None:
    assert segment([text]).words(0) == words


def test_hyphens_can_be_split() -> None:
    assert segment(["sea-wall"], keep_hyphens=False).words(0) == ["sea", "-", "wall"]


def test_classes_say_what_a_token_is() -> None:
    found = segment(["Gale, 12kn! office@a.example #x @y 👍 +"])
    kinds = [seg.CLASSES[k] for k in found.classes]
    assert dict(zip(found.types, kinds, strict=True)) == {
        "Gale": "word",
        ",": "punctuation",
        "12kn": "number",
        "!": "punctuation",
        "office@a.example": "address",
        "#x": "hashtag",
        "@y": "mention",
        "👍": "emoji",
        "+": "symbol",
    }


def test_many_types_make_the_tables_grow() -> None:
    words = [f"w{number}x" for number in range(50_000)]
    found = segment([" ".join(words), " ".join(reversed(words))])
    assert found.types == words
    assert np.array_equal(found.ids, [*range(50_000), *range(49_999, -1, -1)])


def test_class_table_matches_the_engine_for_a_sample_of_every_block() -> None:
    index, blocks = uc.load()
    for point in range(0, 0x110000, 997):
        if 0xD800 <= point < 0xE000:
            continue
        entry = int(blocks[index[point >> 8] + (point & 255)])
        assert bool(entry & uc.LETTER) == bool(regex.match(r"\p{L}", chr(point)))
        assert bool(entry & uc.NUMBER) == bool(regex.match(r"\p{N}", chr(point)))


def test_a_document_does_not_depend_on_the_one_before() -> None:
    texts = ["ends in a word", "@keeper begins with a mention", "", "e.g. this", "half #", "#storm"]
    whole = segment(texts)
    assert [whole.words(at) for at in range(len(texts))] == [segment([text]).words(0) for text in texts]


def test_growing_in_the_middle_of_a_document_changes_nothing() -> None:
    """One-byte tokens outgrow every first guess of the arrays' sizes."""
    text = " ".join("ab,c.!?"[at % 7] for at in range(4000))
    assert segment([text, text]).words(1) == text.split()
