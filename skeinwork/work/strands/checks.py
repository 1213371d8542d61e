"""Checks of topics by people: the questions asked, and what each of them answered."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.errors import BadInputError, NotFoundError
from skeinwork.store.models import CheckAnswers, Strand, TopicCheck

RaterName = Annotated[str, Field(min_length=1, max_length=100, pattern=r"\S")]
# The place of the option that was chosen of each question, None where nothing was.
Given = Annotated[list[Annotated[int, Field(ge=0, lt=100)] | None], Field(max_length=5000)]


class QuestionRecord(BaseModel):
    """A question as it is kept: what it shows, and what of it is not shown.

    Attributes
    ----------
    text : that is read; options : to choose from, in their order
    topic : asked about; document : shown, -1 for none; right : the place of the option that is right, -1 for none
    topics : of the options, where they are topics
    """

    model_config = ConfigDict(extra="forbid")
    text: str = Field("", max_length=100_000)
    options: list[Annotated[str, Field(max_length=2000)]] = Field(min_length=2, max_length=20)
    topic: int = Field(ge=0, lt=500)
    document: int = Field(-1, ge=-1)
    right: int = Field(-1, ge=-1, lt=20)
    topics: list[Annotated[int, Field(ge=0, lt=500)]] = Field([], max_length=20)


class AnswersRecord(BaseModel):
    model_config = ConfigDict(extra="forbid")
    rater: RaterName
    answers: Given


class CheckRecord(BaseModel):
    model_config = ConfigDict(extra="forbid")
    fit: str = Field(pattern="^[0-9a-f]{64}$")
    kind: str = Field(max_length=40)
    settings: dict[str, Any] = Field(max_length=50)
    questions: list[QuestionRecord] = Field(min_length=1, max_length=5000)
    answers: list[AnswersRecord] = Field([], max_length=200)


def check_answers(answers: Sequence[int | None], questions: Sequence[QuestionRecord]) -> None:
    """Raise ``BadInputError`` unless there is an option, or none, for each question."""
    if len(answers) != len(questions):
        raise BadInputError(f"There are {len(answers)} answers, and {len(questions)} questions.")
    for at, (answer, question) in enumerate(zip(answers, questions, strict=True), start=1):
        if answer is not None and not 0 <= answer < len(question.options):
            raise BadInputError(f"Question {at} has {len(question.options)} options; the answer names none of them.")


def begin(
    strand: Strand, fit: str, kind: str, settings: dict[str, Any], questions: Iterable[QuestionRecord]
) -> TopicCheck:
    """Keep questions; call inside a connection."""
    asked = [each.model_dump(mode="json") for each in questions]
    made: TopicCheck = TopicCheck.create(strand=strand, fit=fit, kind=kind, settings=settings, questions=asked)
    return made


def get(strand: Strand, number: int) -> TopicCheck:
    """A check of a strand; call inside a connection."""
    found: TopicCheck | None = TopicCheck.get_or_none((TopicCheck.strand == strand) & (TopicCheck.id == number))
    if found is None:
        raise NotFoundError("There is no such check of topics any more.")
    return found


def of_fit(strand: Strand, fit: str | None) -> list[TopicCheck]:
    """The checks of a fit, the latest last; call inside a connection."""
    mine = (TopicCheck.strand == strand) & (TopicCheck.fit == fit)
    return list(TopicCheck.select().where(mine).order_by(TopicCheck.id))


def questions_of(check: TopicCheck) -> list[QuestionRecord]:
    return [QuestionRecord.model_validate(each) for each in check.questions]


def answers_of(check: TopicCheck) -> dict[str, list[int | None]]:
    """What each rater answered, by name; call inside a connection."""
    rows = CheckAnswers.select().where(CheckAnswers.check == check).order_by(CheckAnswers.created, CheckAnswers.rater)
    return {row.rater: row.answers for row in rows}


def answer(check: TopicCheck, rater: str, answers: list[int | None]) -> None:
    """Keep what somebody answered, in place of what they had; call inside a connection."""
    row = {"check": check, "rater": rater.strip(), "answers": answers}
    CheckAnswers.insert(**row).on_conflict_replace().execute()


def forget(check: TopicCheck) -> None:
    """Let a check go with its answers; call inside a connection."""
    TopicCheck.delete().where(TopicCheck.id == check.id).execute()


def record_of(check: TopicCheck) -> CheckRecord:
    """A check as it stands in the file of a skein; call inside a connection."""
    given = [AnswersRecord(rater=rater, answers=answers) for rater, answers in answers_of(check).items()]
    return CheckRecord(
        fit=check.fit, kind=check.kind, settings=check.settings, questions=questions_of(check), answers=given
    )


def keep(strand: Strand, record: CheckRecord) -> None:
    """The same, brought in; call inside a connection."""
    check = begin(strand, record.fit, record.kind, record.settings, record.questions)
    for each in record.answers:
        answer(check, each.rater, each.answers)
