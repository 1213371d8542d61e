"""Stop word lists that ship with the product, written for it."""

from __future__ import annotations

from functools import cache
from pathlib import Path


@cache
def english() -> frozenset[str]:
    """English function words, their contractions with either apostrophe, and bare letters."""
    path = Path(__file__).parent / "data" / "stopwords_english.txt"
    words = path.read_text(encoding="utf-8").split()
    return frozenset(words) | {word.replace("'", "’") for word in words}
