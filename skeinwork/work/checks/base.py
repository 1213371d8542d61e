"""What a check of topics by people is: questions, of which some is kept back, and what answers tell."""

from __future__ import annotations

import hashlib
from abc import ABC, abstractmethod
from collections.abc import Mapping, Sequence
from typing import ClassVar

from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.identity import canonical_json
from skeinwork.core.in_words import percent
from skeinwork.core.said import counted
from skeinwork.core.topics.checks.alpha import krippendorff_alpha
from skeinwork.core.topics.checks.coding import Rate
from skeinwork.core.topics.checks.intrusion import Found
from skeinwork.work.results.view import View
from skeinwork.work.steps.fitted import Interval
from skeinwork.work.strands.checks import QuestionRecord

Answers = Mapping[str, list[int | None]]


class CheckSettings(BaseModel):
    """How a check is drawn; each kind reads what it needs.

    Attributes
    ----------
    sets : questions on the words of a topic; each : documents of a topic; total : documents to code
    topic, concept : the topic that is held against coding, and what documents are asked to be about
    """

    model_config = ConfigDict(extra="forbid", frozen=True)
    sets: int = Field(1, ge=1, le=3)
    each: int = Field(2, ge=1, le=10)
    total: int = Field(100, ge=20, le=1000)
    topic: int | None = Field(None, ge=0, lt=500)
    concept: str = Field("", max_length=200)
    seed: int = Field(1, ge=0, le=2**31 - 1)


class TopicFigures(BaseModel):
    """How often a topic's intruders were found, with the share that chance would have."""

    topic: int
    right: int
    answers: int
    found: Interval | None
    chance: float

    @classmethod
    def of(cls, topic: int, each: Found) -> TopicFigures:
        share, ends = each.share, each.interval()
        found = Interval(mean=share, low=ends[0], high=ends[1]) if share is not None and ends else None
        return cls(topic=topic, right=each.right, answers=each.answers, found=found, chance=each.chance)


class Stratum(BaseModel):
    """Documents by a topic's share of them: how many, how many were coded, and how many of these are yes."""

    name: str
    documents: int
    coded: int
    yes: float


class CheckResult(BaseModel):
    """What the answers tell so far; each kind fills what it has.

    ``alpha`` is Krippendorff's, over raters; ``says`` are sentences.
    """

    alpha: float | None = None
    topics: list[TopicFigures] = []
    log_odds: float | None = None
    strata: list[Stratum] = []
    precision: Rate | None = None
    recall: Rate | None = None
    says: list[str] = []


class CheckKind(ABC):
    """One kind of check.

    Attributes
    ----------
    name, title : in records, and for people
    about : what it tells, in one line
    prompt : what people are asked of each question
    """

    name: ClassVar[str]
    title: ClassVar[str]
    about: ClassVar[str]
    prompt: ClassVar[str]

    def asked(self, settings: CheckSettings) -> str:
        """The prompt with what is set."""
        return self.prompt

    @abstractmethod
    def questions(self, view: View, settings: CheckSettings) -> list[QuestionRecord]:
        """Questions on the topics of a view's fit; none where none can be asked."""

    @abstractmethod
    def result(
        self, view: View, settings: CheckSettings, questions: Sequence[QuestionRecord], answers: Answers
    ) -> CheckResult:
        """What the answers tell."""


def agreement(answers: Answers) -> tuple[float | None, str]:
    """Krippendorff's alpha over the raters, and what there is to say of it."""
    units = [[each for each in row if each is not None] for row in zip(*answers.values(), strict=True)]
    both = sum(len(each) > 1 for each in units)
    if len(answers) < 2 or not both:
        return None, "Agreement is known from two people on who answer the same questions."
    alpha = krippendorff_alpha(units)
    if alpha is None:
        return None, f"All answers to {counted(both, 'question')} are the same: accord can't be told from chance."
    same = sum(len(set(each)) == 1 for each in units if len(each) > 1)
    return alpha, (
        f"{counted(len(answers), 'rater')} agree on {same} of {counted(both, 'question')} ({percent(same / both)}); "
        f"Krippendorff's alpha is {alpha:.2f} (1: always, 0: as by chance)."
    )


def fingerprint(kind: str, questions: Sequence[QuestionRecord]) -> str:
    """What tells questions from others, so that answers come back to those that were asked."""
    told = [kind, [[each.text, each.options] for each in questions]]
    return hashlib.sha256(canonical_json(told)).hexdigest()[:16]
