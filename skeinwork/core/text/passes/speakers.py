"""Who speaks, where that stands at the beginning of lines."""

from __future__ import annotations

import re
from collections import Counter
from typing import Literal

from pydantic import Field

from skeinwork.core.in_words import percent
from skeinwork.core.text.mapped import Mapped, mapped
from skeinwork.core.text.passes.base import BasePass, TextPass
from skeinwork.core.text.sample import Sample

_TIME = r"[\[(]?\d\d?:\d\d(?::\d\d)?(?:[.,]\d+)?[\])]?"
_LABEL = re.compile(
    rf"[ \t]*(?:{_TIME}[ \t]+)?(?P<who>[^\W\d_][\w.'’\- ]{{0,39}}?)(?:[ \t]+\([^)\n]{{1,30}}\))?"
    rf"(?:[ \t]+{_TIME})?[ \t]*:(?=\s|$)"
)
# Of the lines of a text, those that have to begin with who speaks.
_LINES = 0.25
# Of the texts, those that have to be of this kind for the pass to be suggested.
_TEXTS = 0.3


class SpeakersPass(TextPass):
    """Remove who speaks, and when, from the beginning of lines.

    A name there counts as one where it stands at the beginning of so many lines of the text.
    """

    title = "Speakers"
    about = "who speaks at the beginning of lines goes"
    kind: Literal["speakers"] = "speakers"
    least: int = Field(2, ge=1, le=100, description="lines that have to begin with the name")

    def said(self) -> str:
        return f"names before {self.least} lines or more"

    def change(self, text: str) -> Mapped | None:
        lines = text.splitlines(keepends=True)
        ends = _labels(lines, self.least)
        if not any(ends):
            return None
        halves = ((line[:end], line[end:]) for line, end in zip(lines, ends, strict=True))
        return mapped(piece for label, said in halves for piece in ((label, ""), (said, said)))

    @classmethod
    def suggested(cls, sample: Sample) -> tuple[tuple[BasePass, str], ...]:
        def is_talk(text: str) -> bool:
            lines = [line for line in text.splitlines() if line.strip()]
            return len(lines) > 1 and sum(map(bool, _labels(lines, 2))) >= _LINES * len(lines)

        share = sample.share(is_talk)
        return ((cls(), f"lines begin with who speaks in {percent(share)} of the texts"),) if share >= _TEXTS else ()


def _labels(lines: list[str], least: int) -> list[int]:
    """Where the name at the beginning of each line ends; 0 where there is none."""
    found = [_LABEL.match(line) for line in lines]
    often = Counter(each["who"].casefold() for each in found if each)
    return [each.end() if each and often[each["who"].casefold()] >= least else 0 for each in found]
