"""Contractions: *don't*, *we'll*, *l'eau*."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from skeinwork.core.text import segment
from skeinwork.core.text.about import Within
from skeinwork.core.text.passes.base import BasePass, Forms, Joined, Mask, StreamPass, TypePass
from skeinwork.core.text.passes.splitting import split_forms
from skeinwork.core.text.sample import Sample
from skeinwork.core.text.segment import Segments
from skeinwork.core.text.splitting import Piece

_ENDINGS = {"n't": "not", "'ll": "will", "'re": "are", "'ve": "have", "'m": "am", "'d": "would"}
_IRREGULAR = {"ca": "can", "wo": "will", "sha": "shall", "ai": "be"}
# After these an 's is a verb, not a possessive.
_BEFORE_IS = frozenset(
    "it he she that this there here what who where when how why everything nothing something".split()
)
_ELIDED = frozenset(
    "l d j m n s t c qu jusqu lorsqu puisqu quoiqu quelqu dell nell all sull dall coll un quest quell "
    "bell sant anch".split()
)
_ELIDING = ("French", "Italian", "Catalan")
_VOWELS = "aeiouhyàâäéèêëìîïòôöùûüæœ"


class ContractionsPass(StreamPass, TypePass):
    """Spell contracted words out, or cut off what is contracted.

    English endings and the elided words of French and Italian; a possessive ’s is left to Case.
    """

    title = "Contractions"
    about = "don’t, we’ll, l’eau: spelt out, or cut"
    rewrites: ClassVar[bool] = True
    kind: Literal["contractions"] = "contractions"
    become: Literal["spell out", "cut"] = Field("spell out", description="don’t becomes do and not, or do alone")
    elisions: bool = Field(True, description="French and Italian too: l’eau, dell’acqua")

    @classmethod
    def suggested(cls, sample: Sample) -> tuple[tuple[BasePass, str], ...]:
        """Where the article stands at the word it belongs to, as in l’eau."""
        eliding = tuple(name for name in sample.languages if name in _ELIDING)
        if not eliding:
            return ()
        within = None if len(eliding) == len(sample.languages) else Within(values=eliding)
        why = f"words are joined, as in l’eau, in {sample.counted(eliding)} documents"
        return ((cls(within=within), why),)

    def said(self) -> str:
        return self.become + ("" if self.elisions else ", without elisions")

    def join(self, tokens: Segments, forms: Forms) -> Joined | None:
        if self.become == "cut":
            return None
        wanted = forms.alive & forms.open & (forms.classes == segment.WORD)
        parts = {
            at: pieces
            for at in np.flatnonzero(wanted).tolist()
            if (pieces := contracted(tokens.types[at], self.elisions))
        }
        return split_forms(tokens, forms, parts)

    def apply(self, forms: Forms) -> Mask:
        if self.become == "cut":
            forms.rewrite(self._cut, words_only=True)
        return forms.none()

    def _cut(self, word: str) -> str:
        pieces = contracted(word, self.elisions)
        if not pieces:
            return word
        kept = pieces[1] if pieces[0].word.endswith(("'", "’")) else pieces[0]
        return kept.form or kept.word


def contracted(word: str, elisions: bool = True) -> list[Piece]:
    """The two words of a contraction; none of any other word.

    >>> [(p.word, p.form) for p in contracted("Can't")]
    [('Ca', 'Can'), ("n't", 'not')]
    """
    plain = word.replace("’", "'")
    if "'" not in plain:
        return []
    folded = plain.casefold()
    size = len(word.encode())
    for ending, full in _ENDINGS.items():
        if folded.endswith(ending) and len(folded) > len(ending):
            return _two(word, len(word) - len(ending), size, full)
    if folded == "let's":
        return _two(word, len(word) - 2, size, "us")
    if folded.endswith("'s") and folded[:-2] in _BEFORE_IS:
        return _two(word, len(word) - 2, size, "is")
    before, _, after = folded.partition("'")
    if elisions and before in _ELIDED and after[:1] and after[0] in _VOWELS:
        cut = len(before) + 1
        middle = len(word[:cut].encode())
        return [Piece(word[:cut], 0, middle, word[: cut - 1]), Piece(word[cut:], middle, size)]
    return []


def _two(word: str, cut: int, size: int, full: str) -> list[Piece]:
    first, middle = word[:cut], len(word[:cut].encode())
    whole = _IRREGULAR.get(first.casefold()) if full == "not" else None
    if whole:
        whole = first[0] + whole[1:] if first[0].casefold() == whole[0] else whole
    return [Piece(first, 0, middle, whole), Piece(word[cut:], middle, size, full)]
