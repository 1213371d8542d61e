"""Checks of topics by people: what was asked, what they answered, which topics fail."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from pydantic import BaseModel

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.export import csv_rows
from skeinwork.core.said import counted
from skeinwork.work.checks import KINDS, kind_of
from skeinwork.work.checks.base import Answers, CheckKind, CheckResult, CheckSettings, TopicFigures
from skeinwork.work.checks.topic_intrusion import TopicIntrusion
from skeinwork.work.checks.word_intrusion import WordIntrusion
from skeinwork.work.results.view import View
from skeinwork.work.strands.checks import QuestionRecord

# Under so large a share of answers an intruder counts as not found.
_HALF = 0.5


@dataclass(frozen=True)
class StoredCheck:
    """A check as its records have it."""

    id: int
    kind: str
    settings: CheckSettings
    questions: list[QuestionRecord]
    answers: Answers


class Rater(BaseModel):
    """Who answered how many of the questions."""

    rater: str
    answered: int


class TopicCheckSeen(BaseModel):
    """A check with what its answers tell so far."""

    id: int
    kind: str
    title: str
    prompt: str
    topic: int | None
    concept: str
    questions: int
    raters: list[Rater]
    result: CheckResult


class CheckKindSeen(BaseModel):
    name: str
    title: str
    about: str


class CheckedTopic(BaseModel):
    """A topic beside its coherence: how often its intruders were found, by the last check of each kind.

    ``fails`` says in which less than half of the answers found them.
    """

    topic: int
    coherence: float | None
    words: TopicFigures | None
    documents: TopicFigures | None
    fails: list[str]


class TopicChecks(BaseModel):
    """All checks of a fit, and what they say of its topics; ``says`` which fail."""

    kinds: list[CheckKindSeen]
    checks: list[TopicCheckSeen]
    topics: list[CheckedTopic]
    says: str


class CheckQuestion(BaseModel):
    """A question as people see it."""

    text: str
    options: list[str]


class CheckQuestions(BaseModel):
    """The questions of a check, without what is kept back, and what somebody has answered already."""

    prompt: str
    questions: list[CheckQuestion]
    answers: list[int | None]


def drawn(view: View, name: str, settings: CheckSettings) -> list[QuestionRecord]:
    """The questions of a new check.

    Raises
    ------
    BadInputError
        where nothing can be asked.
    """
    found = kind_of(name).questions(view, settings)
    if not found:
        raise BadInputError(
            "There is nothing to ask: no document holds two topics with a tenth of its words or more, or topics have "
            "too few words of their own. Other checks may still tell."
        )
    return found


def _seen(view: View, kind: CheckKind, check: StoredCheck) -> TopicCheckSeen:
    raters = [
        Rater(rater=rater, answered=sum(each is not None for each in given)) for rater, given in check.answers.items()
    ]
    return TopicCheckSeen(
        id=check.id,
        kind=check.kind,
        title=kind.title,
        prompt=kind.asked(check.settings),
        topic=check.settings.topic,
        concept=check.settings.concept,
        questions=len(check.questions),
        raters=raters,
        result=kind.result(view, check.settings, check.questions, check.answers),
    )


def topic_checks(view: View, stored: Sequence[StoredCheck]) -> TopicChecks:
    """What people said of the topics of the view's fit."""
    seen = [_seen(view, KINDS[each.kind], each) for each in stored if each.kind in KINDS]
    topics = _topics(view, seen)
    return TopicChecks(
        kinds=[CheckKindSeen(name=each.name, title=each.title, about=each.about) for each in KINDS.values()],
        checks=seen[::-1],
        topics=topics,
        says=_says(topics),
    )


def _topics(view: View, seen: Sequence[TopicCheckSeen]) -> list[CheckedTopic]:
    last = {each.kind: {one.topic: one for one in each.result.topics} for each in seen if each.result.topics}
    words, documents = last.get(WordIntrusion.name, {}), last.get(TopicIntrusion.name, {})
    coherence = view.fit_summary.npmi
    found = []
    for topic in range(len(coherence)):
        figures = {"words": words.get(topic), "documents": documents.get(topic)}
        fails = [name for name, each in figures.items() if each and each.found and each.found.mean < _HALF]
        if any(figures.values()):
            found.append(CheckedTopic(topic=topic, coherence=coherence[topic], fails=fails, **figures))
    return found


def _says(topics: Sequence[CheckedTopic]) -> str:
    if not topics:
        return "Nobody has answered yet."
    both = [each for each in topics if len(each.fails) > 1]
    one = [each for each in topics if len(each.fails) == 1]
    named = ", ".join(str(each.topic + 1) for each in both)
    said = f"{len(both)} of {counted(len(topics), 'topic')} fail both" + (f" ({named})" if both else "")
    return f"{said}, {len(one)} one of them: less than half of the answers found the intruder."


def answers_table(stored: Sequence[StoredCheck]) -> Iterator[bytes]:
    """Every answer, with what was right where something is."""
    rows = (
        [
            each.kind,
            each.settings.concept,
            each.id,
            rater,
            place + 1,
            question.topic + 1,
            question.document + 1 if question.document >= 0 else None,
            question.options[answer],
            question.options[question.right] if question.right >= 0 else None,
        ]
        for each in stored
        for rater, given in each.answers.items()
        for place, (question, answer) in enumerate(zip(each.questions, given, strict=True))
        if answer is not None
    )
    header = ["check", "concept", "number", "rater", "question", "topic", "document", "answer", "intruder"]
    return csv_rows(header, rows)


def public(check: StoredCheck, rater: str) -> CheckQuestions:
    """What somebody is asked, and what they have answered of it."""
    return CheckQuestions(
        prompt=kind_of(check.kind).asked(check.settings),
        questions=[CheckQuestion(text=each.text, options=each.options) for each in check.questions],
        answers=list(check.answers.get(rater, [None] * len(check.questions))),
    )
