"""The Snowball stemmers, as their published definitions of version 2 say.

M. F. Porter, *Snowball: a language for stemming algorithms*, 2001. A language is added by its file
and its entry here.
"""

from __future__ import annotations

from skeinwork.core.text.forms.base import Form, Method, Options
from skeinwork.core.text.forms.snowball import (
    danish,
    dutch,
    english,
    french,
    german,
    italian,
    norwegian,
    portuguese,
    russian,
    spanish,
    swedish,
)

STEMS = {
    "English": english.stem,
    "French": french.stem,
    "German": german.stem,
    "Spanish": spanish.stem,
    "Italian": italian.stem,
    "Portuguese": portuguese.stem,
    "Dutch": dutch.stem,
    "Swedish": swedish.stem,
    "Norwegian": norwegian.stem,
    "Danish": danish.stem,
    "Russian": russian.stem,
}
_ELIDING = ("French", "Italian")


def _by(options: Options) -> Form:
    """The stems of a language; words of languages that there are none for stay."""
    stem = STEMS.get(options.language)
    if stem is None:
        return str
    return _behind_elision(stem) if options.language in _ELIDING else stem


def _behind_elision(stem: Form) -> Form:
    """What stands before an apostrophe stays, and the word behind it is stemmed."""

    def formed(word: str) -> str:
        for sign in "'’":
            head, found, tail = word.rpartition(sign)
            if found:
                return head + found + stem(tail)
        return stem(word)

    return formed


METHOD = Method("snowball", "stems (Snowball)", tuple(STEMS), 1, _by)
