"""Segmentation against Unicode's own test files.

The tables state version 17, the files are those of version 15: no rule of word and sentence breaks
changed between them, and GB9c, which came in between, is tested by example. U+2701, which the files
take for a pictograph, is none in version 17.
"""

from __future__ import annotations

from itertools import pairwise
from pathlib import Path

import pytest
import regex

from skeinwork.core.text.graphemes import clusters
from skeinwork.core.text.segment import segment
from skeinwork.core.text.sentences import sentence_starts


def cases(name: str) -> list[tuple[str, list[int]]]:
    """Texts, and where each is to be cut, from one of the files."""
    found = []
    path = Path(__file__).parent / "data" / f"{name}BreakTest.txt"
    for line in path.read_text(encoding="utf-8").splitlines()[1:]:
        if "200D ÷ 2701" in line or "200D × 2701" in line:
            continue
        text, cuts = "", []
        for part in line.split():
            if part == "÷":
                cuts.append(len(text))
            elif part != "×":
                text += chr(int(part, 16))
        found.append((text, cuts))
    return found


def test_sentences() -> None:
    wrong = [text for text, cuts in cases("Sentence") if sentence_starts(text, "uax29") != cuts[:-1]]
    assert not wrong


def test_grapheme_clusters() -> None:
    wrong = [
        text
        for text, cuts in cases("Grapheme")
        if clusters(text) != [text[first:last] for first, last in pairwise(cuts)]
    ]
    assert not wrong


def test_words() -> None:
    """Segments without letter or digit are no tokens under the rule, all others are."""
    wrong = []
    for text, cuts in cases("Word"):
        parts = [text[first:last] for first, last in pairwise(cuts)]
        wanted = [part for part in parts if regex.search(r"[\p{L}\p{N}]", part)]
        if segment([text], "uax29").words(0) != wanted:
            wrong.append(text)
    assert not wrong


@pytest.mark.parametrize(("text", "number"), [("क्त", 1), ("क्‍त", 1), ("कत", 2), ("क्a", 2), ("ก้า", 2), ("한국", 2)])
def test_clusters_that_the_files_are_too_old_for(text: str, number: int) -> None:
    assert len(clusters(text)) == number
