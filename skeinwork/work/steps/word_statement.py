"""Word statement: what is said of a word of one cleaning, tested on another, in which its tokens are found again."""

from __future__ import annotations

from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, Field

from skeinwork.core.errors import BadInputError
from skeinwork.core.prevalence.statements import Outcome, Statement, word_outcome
from skeinwork.core.progress import Report
from skeinwork.core.text.clean import Cleaning
from skeinwork.work.steps.cleaning import CLEANING
from skeinwork.work.steps.corpus import CORPUS
from skeinwork.work.steps.matrix import MATRIX
from skeinwork.work.steps.step import Earlier, Link, Said
from skeinwork.work.steps.tokens import TOKENS
from skeinwork.work.steps.topic_statement import Identity, OutcomeSummary, StatementStep


class WordStatement(Statement):
    """What is said of a word, or an n-gram, of a cleaning."""

    cleaning: Identity
    word: str = Field(min_length=1, max_length=400)


class WordStatementStep(StatementStep[WordStatement]):
    name: ClassVar[str] = "word_statement"
    called: ClassVar[str] = "what is said of a word"
    VERSION: ClassVar[int] = 1
    settings: ClassVar[type[BaseModel]] = WordStatement
    needs = (MATRIX, CLEANING, TOKENS, CORPUS)

    def of(self, settings: WordStatement) -> str:
        return settings.cleaning

    def read_of(self) -> tuple[Link[Any, Any, Any], ...]:
        return (CLEANING, TOKENS)

    def test(self, earlier: Earlier, first: Earlier, settings: WordStatement, report: Report) -> Outcome:
        matrix, corpus = earlier.load(MATRIX), earlier.load(CORPUS)
        form, likeness = found_again(settings.word, first.load(CLEANING), earlier.load(CLEANING))
        column = int(matrix.columns_of((form,))[0])
        if column < 0:
            raise BadInputError(f"“{form}” is no term of the matrix: a limit or a pass leaves it out")
        return word_outcome(settings, column, matrix.counts, corpus, matrix.display[column], likeness, report)

    def said(self, settings: WordStatement, summary: OutcomeSummary) -> Said:
        return Said(name="what is said of a word", size=summary.verdict)


WORD_STATEMENT = WordStatementStep()


def found_again(word: str, first: Cleaning, other: Cleaning) -> tuple[str, float]:
    """The form that most tokens of a form have in another cleaning, and how alike the two are.

    Returns
    -------
    the form itself where it is none of the first (an n-gram); the likeness is the share of tokens with either
    form that have both (Jaccard)
    """
    if word not in first.forms:
        return word, 1.0
    own = first.form_of == first.forms.index(word)
    types = {first.tokens.types[at] for at in np.flatnonzero(own).tolist()}
    mine = np.array([each in types for each in other.tokens.types], dtype=bool)
    tokens: NDArray[np.int64] = np.bincount(other.tokens.ids, minlength=len(mine))
    kept = mine & (other.form_of >= 0)
    if not kept.any():
        return word, 0.0
    by_form = np.bincount(other.form_of[kept], tokens[kept], len(other.forms))
    form = int(np.argmax(by_form))
    either = float(tokens[mine | (other.form_of == form)].sum())
    return other.forms[form], float(by_form[form]) / max(either, 1.0)
