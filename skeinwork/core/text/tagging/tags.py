"""The universal part-of-speech tags and the words of English that belong to closed classes."""

from __future__ import annotations

from functools import cache
from pathlib import Path

TAGS = (
    *("ADJ", "ADP", "ADV", "AUX", "CCONJ", "DET", "INTJ", "NOUN", "NUM", "PART"),
    *("PRON", "PROPN", "PUNCT", "SCONJ", "SYM", "VERB", "X"),
)
NAMES = {
    "ADJ": "adjective",
    "ADP": "adposition",
    "ADV": "adverb",
    "AUX": "auxiliary",
    "CCONJ": "coordinating conjunction",
    "DET": "determiner",
    "INTJ": "interjection",
    "NOUN": "noun",
    "NUM": "numeral",
    "PART": "particle",
    "PRON": "pronoun",
    "PROPN": "proper noun",
    "PUNCT": "punctuation",
    "SCONJ": "subordinating conjunction",
    "SYM": "symbol",
    "VERB": "verb",
    "X": "other",
}
# What the model tells apart: the tags, and some of them by what their words look like. The tag after a
# possessive is another than that after a pronoun that stands alone.
STATES = (*TAGS, "PRON:possessive", "VERB:ing")
TAG_OF_STATE = tuple(TAGS.index(state.partition(":")[0]) for state in STATES)
OPEN = ("ADJ", "ADV", "NOUN", "PROPN", "VERB")
NUMBER_OF = {state: number for number, state in enumerate(STATES)}
PATH = Path(__file__).parents[1] / "data" / "closed_classes_english.txt"


@cache
def closed_classes() -> dict[str, tuple[str, ...]]:
    """The tags that each word of a closed class can have; it has no other."""
    found: dict[str, tuple[str, ...]] = {}
    for line in PATH.read_text(encoding="utf-8").splitlines():
        if line and not line.startswith("#"):
            tags, _, words = line.partition(":")
            for word in words.split():
                found[word] = (*found.get(word, ()), *tags.split())
    return found
