"""What a setting of a method may be for a corpus: a value, why, and what less and more of it look like there."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Advice:
    """On one setting, worked out from a corpus.

    Attributes
    ----------
    value : to begin with; None to leave it open
    why : what the value follows from, in a sentence
    low, high : ends of what is safe; None where there is none
    little, much : what less and more come to in this corpus, a sentence each; empty where that means nothing
    """

    value: int | float | str | None
    why: str
    low: float | None = None
    high: float | None = None
    little: str = ""
    much: str = ""
