"""Hand coding: whether documents are about what a topic is said to be about, read blind."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.errors import BadInputError
from skeinwork.core.in_words import percent
from skeinwork.core.said import counted
from skeinwork.core.topics.checks.coding import (
    EDGES,
    HOLDS,
    Coded,
    coded_strata,
    coding_sample,
    precision_and_recall,
    strata_of,
)
from skeinwork.work.checks.base import Answers, CheckKind, CheckResult, CheckSettings, Stratum, agreement
from skeinwork.work.checks.reading import reading_text
from skeinwork.work.evidence.share_range import shares
from skeinwork.work.results.view import View
from skeinwork.work.strands.checks import QuestionRecord

YES, NO, UNSURE = range(3)
_OPTIONS = ["yes", "no", "not sure"]


class HandCoding(CheckKind):
    name = "hand coding"
    title = "Hand coding"
    about = "how far a topic is about what its label names: people read documents without seeing their shares"
    prompt = "Is this about {concept}?"

    def asked(self, settings: CheckSettings) -> str:
        return self.prompt.format(concept=settings.concept)

    def questions(self, view: View, settings: CheckSettings) -> list[QuestionRecord]:
        if settings.topic is None or settings.topic >= len(view.model.topic_word):
            raise BadInputError("Choose the topic that is held against what people say.")
        if not settings.concept.strip():
            raise BadInputError("Say what documents are to be about, as “storms and the damage they do”.")
        stratum = strata(view, settings.topic)
        chosen = coding_sample(stratum, settings.total, settings.seed)
        return [
            QuestionRecord(topic=settings.topic, document=document, text=reading_text(view, document), options=_OPTIONS)
            for document in chosen.tolist()
        ]

    def result(
        self, view: View, settings: CheckSettings, questions: Sequence[QuestionRecord], answers: Answers
    ) -> CheckResult:
        known = coded(view, questions, answers)
        precision, recall = precision_and_recall(known, settings.seed)
        alpha, said = agreement(_sure(answers))
        names = stratum_names()
        strata = [
            Stratum(name=names[at], documents=int(known.size[at]), coded=int(known.coded[at]), yes=float(known.yes[at]))
            for at in range(len(EDGES))
        ]
        says = [_in_words(known, len(questions)), said]
        return CheckResult(alpha=alpha, strata=strata, precision=precision, recall=recall, says=says)


def stratum_names() -> list[str]:
    """The strata in words."""
    named = ["none of it", f"under {percent(EDGES[HOLDS])}"]
    upper = [*(f" to {percent(each)}" for each in EDGES[HOLDS + 1 :]), " or more"]
    return named + [f"{percent(low)}{rest}" for low, rest in zip(EDGES[HOLDS:], upper, strict=True)]


def strata(view: View, topic: int) -> NDArray[np.int64]:
    """The stratum of every document by its share of a topic; -1 where it has no counted word."""
    share = shares(view, topic)
    return strata_of(np.nan_to_num(share), ~np.isnan(share))


def coded(view: View, questions: Sequence[QuestionRecord], answers: Answers) -> Coded:
    """What people said, by strata of the topic that was asked about."""
    documents = [each.document for each in questions]
    given = [_said(documents, each) for each in answers.values()]
    return coded_strata(strata(view, questions[0].topic), documents, given)


def _said(documents: Sequence[int], answers: Sequence[int | None]) -> Mapping[int, bool]:
    """What one person said of documents, where they were sure."""
    return {at: each == YES for at, each in zip(documents, answers, strict=True) if each in (YES, NO)}


def _sure(answers: Answers) -> dict[str, list[int | None]]:
    return {rater: [each if each in (YES, NO) else None for each in given] for rater, given in answers.items()}


def _in_words(known: Coded, asked: int) -> str:
    n = int(known.coded.sum())
    if not n:
        return f"None of {counted(asked, 'document')} is coded yet."
    held, yes = int(known.coded[HOLDS:].sum()), float(known.yes[HOLDS:].sum())
    missed = float(known.yes[:HOLDS].sum())
    return (
        f"{counted(n, 'document')} of {asked} are coded. Of {held} with {percent(EDGES[HOLDS])} or more of the topic "
        f"{yes:g} are about it, and of {n - held} with less {missed:g}."
    )
