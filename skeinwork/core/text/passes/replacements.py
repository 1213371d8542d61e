"""Replacements: spelling variants, abbreviations, synonyms."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field, field_validator

from skeinwork.core.errors import BadInputError
from skeinwork.core.progress import PATIENCE
from skeinwork.core.text import expressions
from skeinwork.core.text.given_words import named_words, tidy_words
from skeinwork.core.text.passes.base import BasePass, Forms, Mask, TypePass

Lines = Annotated[tuple[str, ...], Field(max_length=100_000, json_schema_extra={"words": True, "lines": True})]
# Words that one set of expressions is remembered for.
_REMEMBERED = 1_000_000


def halves(line: str) -> tuple[str, str]:
    """What is replaced and by what; the last sign counts, since expressions may hold one.

    Raises
    ------
    ValueError
        where a line is not of the form old = new.
    """
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
        (), description=r"regular expressions within a word, expression = new; \1 is what the first group holds"
    )

    _lines = field_validator("pairs", "patterns")(tidy_lines)

    def said(self) -> str:
        return named_words([*self.pairs, *self.patterns], "none yet")

    def hint(self, before: Sequence[BasePass]) -> str:
        try:
            expressions.check_lines(self._lines_of_patterns())
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
        if self.patterns:
            self._expressions(forms)
        return forms.none()

    def _lines_of_patterns(self) -> list[tuple[str, str]]:
        return [halves(line) for line in self.patterns]

    def _expressions(self, forms: Forms) -> None:
        known = _known(self.patterns)
        wanted = np.flatnonzero(forms.alive & forms.open & ~forms.apart).tolist()
        words = list(dict.fromkeys(forms.current[at] for at in wanted))
        new = [word for word in words if word not in known]
        written = expressions.rewritten(self._lines_of_patterns(), new, PATIENCE.get())
        made = known | dict(zip(new, written, strict=True))
        if len(made) < _REMEMBERED:
            known.update(made)
        forms.rewrite(made.__getitem__)


@lru_cache(maxsize=4)
def _known(patterns: tuple[str, ...]) -> dict[str, str]:
    """What expressions make of words that they were asked about, so that each is asked about once."""
    return {}
