"""Accents, Unicode forms, and the kinds of quotes and dashes."""

from __future__ import annotations

import unicodedata
from typing import ClassVar, Literal

from pydantic import Field

from skeinwork.core.text.passes.base import Forms, Mask, TypePass

_QUOTES = str.maketrans(
    {**dict.fromkeys("’‘‛ʼ＇′", "'"), **dict.fromkeys("“”„‟«»＂″", '"'), **dict.fromkeys("‐‑‒–—―−－", "-")}
)
_ACCENTED = ("LATIN", "GREEK")
_LETTERS = str.maketrans(
    {"ø": "o", "Ø": "O", "ł": "l", "Ł": "L", "đ": "d", "Đ": "D", "ß": "ss", "æ": "ae", "Æ": "AE", "œ": "oe", "Œ": "OE"}
)


class AccentsPass(TypePass):
    """Fold accents of Latin and Greek letters, compatibility forms, signs of one kind, vowel marks."""

    title = "Accents and signs"
    about = "accents, forms of letters, quotes and dashes become one"
    rewrites: ClassVar[bool] = True
    kind: Literal["accents"] = "accents"
    accents: bool = Field(True, description="é becomes e, in Latin and Greek letters")
    signs: bool = Field(True, description="curly quotes and long dashes become plain ones")
    compatibility: bool = Field(False, description="ﬁ, Ａ, ½ become fi, A, 1/2 (Unicode form NFKC)")
    marks: bool = Field(False, description="vowel marks of Arabic and Hebrew go, and the tatweel")

    def said(self) -> str:
        words = {"accents": self.accents, "signs": self.signs, "NFKC": self.compatibility}
        named = [name for name, chosen in {**words, "vowel marks": self.marks}.items() if chosen]
        return ", ".join(named) or "nothing chosen"

    def apply(self, forms: Forms) -> Mask:
        forms.rewrite(self._write)
        return forms.none()

    def _write(self, word: str) -> str:
        if word.isascii():
            return word
        if self.compatibility:
            word = unicodedata.normalize("NFKC", word).replace("⁄", "/")
        if self.signs:
            word = word.translate(_QUOTES)
        if self.accents:
            word = without_accents(word)
        return without_vowel_marks(word) if self.marks else word


def without_accents(word: str) -> str:
    """A word with plain Latin and Greek letters.

    >>> without_accents("Ærø élève"), without_accents("чай")
    ('AEro eleve', 'чай')
    """
    out = []
    for sign in unicodedata.normalize("NFC", word).translate(_LETTERS):
        plain = unicodedata.normalize("NFD", sign)
        folds = len(plain) > 1 and unicodedata.name(plain[0], "").startswith(_ACCENTED)
        out.append(plain[0] if folds else sign)
    return "".join(out)


def without_vowel_marks(word: str) -> str:
    """A word without the points and marks of Arabic and Hebrew, and without the tatweel.

    >>> without_vowel_marks("שָׁלוֹם"), without_vowel_marks("كِتَاب")
    ('שלום', 'كتاب')
    """
    return "".join(
        sign
        for sign in word
        if not (
            "\u0591" <= sign <= "\u05c7"
            or "\u0610" <= sign <= "\u061a"
            or "\u064b" <= sign <= "\u065f"
            or "\u06d6" <= sign <= "\u06ed"
            or sign in "\u0640\u0670"
        )
    )
