"""Questions as one page that opens in any browser, and the file of answers that comes back.

The page holds what people see and nothing of what is right: neither intruders, topics nor shares. ``answers.json``
is an object with ``format`` (``skeinwork-answers``), ``version`` (1), ``check`` (which questions), ``rater`` and
``answers``: for each question the place of an option from 0, or null.
"""

from __future__ import annotations

import json
from collections.abc import Sequence
from pathlib import Path
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from skeinwork.core.errors import BadInputError
from skeinwork.work.checks.base import fingerprint
from skeinwork.work.strands.checks import Given, QuestionRecord, RaterName, check_answers
from skeinwork.work.strands.schemas import problems_in_words

_PAGE = Path(__file__).parent / "page.html"


class AnswersFile(BaseModel):
    """What one person answered, as a file."""

    model_config = ConfigDict(extra="forbid")
    format: Literal["skeinwork-answers"]
    version: Literal[1]
    check: Annotated[str, Field(pattern="^[0-9a-f]{16}$")]
    rater: RaterName
    answers: Given


def page(kind: str, prompt: str, questions: Sequence[QuestionRecord]) -> str:
    """The questions as HTML."""
    shown = {
        "check": fingerprint(kind, questions),
        "prompt": prompt,
        "questions": [{"text": each.text, "options": each.options} for each in questions],
    }
    # Nothing in a text may end the script that holds it.
    told = json.dumps(shown, ensure_ascii=False).replace("<", "\\u003c").replace("\u2028", "\\u2028")
    return _PAGE.read_text(encoding="utf-8").replace("__QUESTIONS__", told, 1)


def read_answers(text: str, kind: str, questions: Sequence[QuestionRecord]) -> AnswersFile:
    """Answers that came back.

    Raises
    ------
    BadInputError
        where it is no such file, or of other questions.
    """
    try:
        found = AnswersFile.model_validate_json(text.removeprefix("\ufeff"))
    except ValidationError as fault:
        raise BadInputError(f"This is not a file of answers ({problems_in_words(fault)}).") from fault
    if found.check != fingerprint(kind, questions):
        raise BadInputError(f"The answers of {found.rater} are to other questions than these.")
    check_answers(found.answers, questions)
    return found
