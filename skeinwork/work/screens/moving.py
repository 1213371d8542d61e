"""What the overview of Track shows: topics over time and between groups, and change points."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from skeinwork.work.steps.fitted import Interval
from skeinwork.work.steps.movement import Contrast

Kind = Literal["rises", "falls", "peaks", "dips", "more", "less"]


class Sure(BaseModel):
    """A contrast with where it is in words, what kind of change it is, and how far it is from none by its interval."""

    contrast: Contrast
    kind: Kind
    where: str
    sentence: str
    sure: bool
    strength: float


class MovingTopic(BaseModel):
    """A topic over time and between groups.

    Attributes
    ----------
    line : its share by period, None where there are no documents
    could_show : least change, and least difference of a group, that would have been found
    report : sentences of it for a report
    """

    topic: int
    share: Interval
    line: list[Interval | None]
    over_time: Sure | None
    between: Sure | None
    could_show: dict[str, float | None]
    report: list[str] = Field([])


class GroupRow(BaseModel):
    """A group: every topic's share in it against all others, and over its own time."""

    group: str
    documents: int
    units: int
    shares: list[Interval]
    each: list[Sure | None]
    within: list[Sure | None]
    lines: list[list[float | None]]


class ChangePointRow(BaseModel):
    """The period from which on a topic's share is another, within a stretch, in a group or all."""

    group: str
    topic: int
    period: str
    first: str
    last: str
    before: float
    after: float
    difference: float
    low: float
    high: float
    p: float
    sentence: str


class MovementTable(BaseModel):
    """All topics, those that move or differ most surely first.

    Attributes
    ----------
    made, judged : whether movement, and what could be shown, are worked out; else they are to be made
    groups : the largest of ``all_groups``
    says : what was found, in sentences; ``could`` what these documents could show
    rests : how many units of one weight the figures rest on, where these are much fewer than there are
    test : by what p is; of_changes : how often a series without a change point shows one
    """

    made: bool
    judged: bool
    group: str | None
    periods: list[str]
    topics: list[MovingTopic]
    groups: list[GroupRow]
    all_groups: int
    changes: list[ChangePointRow]
    says: list[str]
    could: list[str]
    rests: str
    test: str
    of_changes: str
