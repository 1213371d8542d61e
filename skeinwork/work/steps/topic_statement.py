"""Topic statement: what is said of a topic of one fit, tested on another, in which the topic is found again."""

from __future__ import annotations

import math
from abc import abstractmethod
from typing import Annotated, Any, ClassVar, TypeVar

import numpy as np
from pydantic import BaseModel, Field

from skeinwork.core.content import expect
from skeinwork.core.errors import BadInputError
from skeinwork.core.prevalence import differences, statements
from skeinwork.core.prevalence.statements import Outcome, Statement, topic_outcome
from skeinwork.core.progress import Report
from skeinwork.core.relate import significance
from skeinwork.core.said import decimal
from skeinwork.core.topics import same_documents
from skeinwork.core.topics.same_documents import found_in
from skeinwork.core.topics.words import titles
from skeinwork.store.artefacts import Making
from skeinwork.work.steps.cleaning import CLEANING
from skeinwork.work.steps.corpus import CORPUS
from skeinwork.work.steps.fit import FIT
from skeinwork.work.steps.fitted import document_sizes
from skeinwork.work.steps.matrix import MATRIX
from skeinwork.work.steps.step import Arrays, Documents, Earlier, Inputs, Link, Reads, Said, Step, Stored
from skeinwork.work.steps.tokens import TOKENS

Identity = Annotated[str, Field(pattern="^[0-9a-f]{64}$")]


class TopicStatement(Statement):
    """What is said of a topic of a fit."""

    fit: Identity
    topic: int = Field(ge=0, lt=500)


class OutcomeSummary(BaseModel):
    """How it came out."""

    verdict: str


Of = TypeVar("Of", bound=Statement)


class StatementStep(Step[Of, Outcome, OutcomeSummary]):
    """A statement tested on the results that it is made from; ``first`` are those that it is of."""

    kept: ClassVar[bool] = False
    beside: ClassVar[bool] = True
    summary: ClassVar[type[BaseModel]] = OutcomeSummary

    def parts(self, settings: Of) -> dict[str, int]:
        return {
            "statements": statements.VERSION,
            "differences": differences.VERSION,
            "significance": significance.VERSION,
            "same documents": same_documents.VERSION,
        }

    @abstractmethod
    def of(self, settings: Of) -> str:
        """The result that the statement is of."""

    @abstractmethod
    def read_of(self) -> tuple[Link[Any, Any, Any], ...]:
        """What is loaded of it."""

    @abstractmethod
    def test(self, earlier: Earlier, first: Earlier, settings: Of, report: Report) -> Outcome:
        """Find what the statement is of again, and test it."""

    def reads(self, making: Making, inputs: Inputs) -> Reads:
        own, first = super().reads(making, inputs), Earlier(inputs, [self.of(self.parse(making.settings))])
        others = [first.identity(each) for each in self.read_of()]
        return Reads(list(dict.fromkeys([*own.results, *others])), own.files)

    def seconds(self, making: Making, size: int) -> float:
        return 5e-7 * size

    def compute(self, earlier: Earlier, settings: Of, report: Report) -> tuple[Outcome, OutcomeSummary]:
        report("Trials what was said", 0.0)
        if not earlier.inputs.has(self.of(settings)):
            raise BadInputError("What was said is of a result that is not there any more. Pin it anew.")
        try:
            made = self.test(earlier, Earlier(earlier.inputs, [self.of(settings)]), settings, report)
        except BadInputError as fault:  # a group that is not there without repeats
            made = Outcome(why=str(fault))
        return made, OutcomeSummary(verdict=made.verdict)

    def save(self, value: Outcome) -> tuple[Arrays, Documents]:
        return {}, {"outcome": value.model_dump(mode="json")}

    def load(self, stored: Stored, earlier: Earlier) -> Outcome:
        return Outcome.model_validate(stored.document("outcome"))

    def check(self, stored: Stored, earlier: Earlier) -> OutcomeSummary:
        made, settings = self.load(stored, earlier), self.parse(stored.making.settings)
        figures = (made.estimate, made.low, made.high, made.likeness)
        expect(all(each is None or math.isfinite(each) for each in figures), "a figure is no number")
        for p in (made.p, made.adjusted):
            expect(p is None or 0 <= p <= 1, "p is no chance")
            expect((p is None) == (made.estimate is None), "an estimate has no p")
        expect(0 <= made.pair < max(len(settings.sides) - 1, 1), "it is of no step of the statement")
        expect(made.place >= -1, "it is of no place")
        return OutcomeSummary(verdict=made.verdict)


class TopicStatementStep(StatementStep[TopicStatement]):
    name: ClassVar[str] = "topic_statement"
    called: ClassVar[str] = "what is said of a topic"
    VERSION: ClassVar[int] = 1
    settings: ClassVar[type[BaseModel]] = TopicStatement
    needs = (FIT, MATRIX, CLEANING, TOKENS, CORPUS)

    def of(self, settings: TopicStatement) -> str:
        return settings.fit

    def read_of(self) -> tuple[Link[Any, Any, Any], ...]:
        return (FIT, MATRIX, CLEANING, TOKENS, CORPUS)

    def test(self, earlier: Earlier, first: Earlier, settings: TopicStatement, report: Report) -> Outcome:
        model, corpus, matrix = earlier.load(FIT), earlier.load(CORPUS), earlier.load(MATRIX)
        other, others = first.load(FIT), first.load(CORPUS)
        if settings.topic >= other.doc_topic.shape[1]:
            raise BadInputError(f"The fit has no topic {settings.topic + 1}.")
        _, here, there = np.intersect1d(corpus.numbers, others.numbers, assume_unique=True, return_indices=True)
        again = found_in(settings.topic, np.asarray(other.doc_topic)[there], np.asarray(model.doc_topic)[here])
        name = titles(np.asarray(model.topic_word), matrix.display)[again.topic]
        if not again.own:
            why = (
                f"no topic is in the same documents, the nearest is “{name}” (correlation {decimal(again.likeness, 3)})"
                if again.likeness < same_documents.LEAST
                else f"its documents are in “{name}”, which is more of another topic"
            )
            return Outcome(name=name, likeness=again.likeness, why=why)
        tokens = document_sizes(model, matrix)
        return topic_outcome(settings, again.topic, model.drawn, corpus, tokens, name, again.likeness)

    def said(self, settings: TopicStatement, summary: OutcomeSummary) -> Said:
        return Said(name="what is said of a topic", size=summary.verdict)


TOPIC_STATEMENT = TopicStatementStep()
