"""Stop word lists that ship with the product: English of our own, others from an open collection."""

from __future__ import annotations

import json
from functools import cache
from pathlib import Path

_DATA = Path(__file__).parent / "data"


@cache
def english() -> frozenset[str]:
    """English function words, their contractions with either apostrophe, and bare letters."""
    words = (_DATA / "stopwords_english.txt").read_text(encoding="utf-8").split()
    return frozenset(words) | {word.replace("'", "’") for word in words}


@cache
def _collected() -> dict[str, str]:
    found: dict[str, str] = json.loads((_DATA / "stop_lists.json").read_text(encoding="utf-8"))
    return found


@cache
def languages() -> tuple[str, ...]:
    """The names of the languages that have a list."""
    return tuple(sorted(["English", *_collected()]))


@cache
def words_of(language: str) -> frozenset[str]:
    """The stop words of a language, by its English name; none where it has no list."""
    if language == "English":
        return english()
    words = _collected().get(language, "").split()
    return frozenset(words) | {word.replace("'", "’") for word in words if "'" in word}
