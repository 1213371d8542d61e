"""Replacements: spelling variants, abbreviations, synonyms."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field, field_validator

from skeinwork.core.errors import BadInputError
from skeinwork.core.text import expressions
from skeinwork.core.text.passes.base import BasePass, Forms, Mask, TypePass, named_words, tidy_words

Lines = Annotated[
    tuple[str, ...], Field(max_length=100_000, json_schema_extra={"words": True, "lines": True})
]
_SECONDS = 20.0


def halves(line: str) -> tuple[str, str]:
    """What is replaced and by what; the last sign counts, since expressions may hold one."""
    old, sign, new = line.rpartition("=")
    if not sign or not old.strip():
        raise ValueError(f"“{line[:60]}” is not of the form old = new")
    return old.strip(), "_".join(new.split())


def tidy_lines(given: Sequence[str]) -> tuple[str, ...]:
    """Lines of the form old = new, each once."""
    for line in (lines := tidy_words(given)):
        halves(line)
    return lines


class ReplacementsPass(TypePass):
    r"""Write words of a list in another way: plain pairs, then expressions.

    A pair replaces a whole word, in any case; an expression what it matches within a word. What
    becomes of several words is one term. In what an expression becomes, ``\1`` stands for its first group.
    """

    title = "Replacements"
    about = "spelling variants, abbreviations, synonyms"
    rewrites: ClassVar[bool] = True
    kind: Literal["replacements"] = "replacements"
    pairs: Lines = Field((), description="old = new, a line each")
    patterns: Lines = Field(
        (),
        description=r"regular expressions within a word, expression = new; \1 is what the first group holds",
    )

    _lines = field_validator("pairs", "patterns")(tidy_lines)

    def said(self) -> str:
        return named_words([*self.pairs, *self.patterns], "none yet")

    def hint(self, before: Sequence[BasePass]) -> str:
        for line in self.patterns:
            try:
                old, new = halves(line)
                expressions.check(old, template=new)
            except BadInputError as fault:
                return str(fault)
        several = [old for old, _ in map(halves, self.pairs) if " " in old]
        if not several:
            return ""
        return (
            f"“{several[0]}” is of several words, and matches only where a pass Multiword terms before "
            "this one joins them."
        )

    def apply(self, forms: Forms) -> Mask:
        pairs = {"_".join(old.casefold().split()): new for old, new in map(halves, self.pairs)}
        if pairs:
            forms.rewrite(lambda word: pairs.get(word.casefold(), word))
        for line in self.patterns:
            old, new = halves(line)
            self._expression(forms, old, new)
        return forms.none()

    def _expression(self, forms: Forms, expression: str, new: str) -> None:
        wanted = np.flatnonzero(forms.alive & forms.open & ~forms.apart).tolist()
        words = list(dict.fromkeys(forms.current[at] for at in wanted))
        written = dict[str, str]()
        for word, places in zip(
            words, expressions.places(expression, words, limit=_SECONDS, template=new), strict=True
        ):
            for place in reversed(places):
                at = written.get(word, word)
                written[word] = at[: place.begin] + place.written + at[place.end :]
        forms.rewrite(lambda word: written.get(word, word))
