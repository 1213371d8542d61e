"""What word and topic intrusion have in common."""

from __future__ import annotations

from collections.abc import Sequence

from skeinwork.core.in_words import percent
from skeinwork.core.topics.checks.intrusion import Found, Question
from skeinwork.work.strands.checks import QuestionRecord


def questions_of(records: Sequence[QuestionRecord]) -> list[Question]:
    """Questions as they are kept."""
    return [
        Question(each.topic, each.document, tuple(each.topics or range(len(each.options))), each.right)
        for each in records
    ]


def in_words(found: Sequence[Found], what: str) -> str:
    """How often intruders were found, beside chance."""
    right, answers = sum(each.right for each in found), sum(each.answers for each in found)
    if not answers:
        return "Nobody has answered yet."
    chance = sum(each.chance * each.answers for each in found) / answers
    return (
        f"The intruder among the {what} was found in {right} of {answers} answers ({percent(right / answers)}); by "
        f"chance it would be in {percent(chance)}."
    )
