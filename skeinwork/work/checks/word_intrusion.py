"""Word intrusion: which of six words does not belong to the topic of the others."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from skeinwork.core.topics.checks.intrusion import Question, found_by_topic, word_intrusion
from skeinwork.work.checks.base import Answers, CheckKind, CheckResult, CheckSettings, TopicFigures, agreement
from skeinwork.work.checks.intruders import in_words, questions_of
from skeinwork.work.results.view import View
from skeinwork.work.strands.checks import QuestionRecord


class WordIntrusion(CheckKind):
    name = "word intrusion"
    title = "Word intrusion"
    about = "whether a topic's strongest words say one thing: people find the word that was put among them"
    prompt = "Five of these words go together. Which one does not belong?"

    def questions(self, view: View, settings: CheckSettings) -> list[QuestionRecord]:
        matrix, phi = view.fit_matrix, np.asarray(view.model.topic_word)
        single = np.flatnonzero(np.asarray(matrix.lengths) == 1)
        single = single if len(single) > 20 else np.arange(len(matrix.terms))
        shown = [matrix.display[term] for term in single]
        asked = word_intrusion(phi[:, single], shown, view.fit_summary.empty, settings.sets, settings.seed)
        return [
            QuestionRecord(topic=each.topic, options=[shown[at] for at in each.options], right=each.intruder)
            for each in asked
        ]

    def result(
        self, view: View, settings: CheckSettings, questions: Sequence[QuestionRecord], answers: Answers
    ) -> CheckResult:
        asked: list[Question] = questions_of(questions)
        found = found_by_topic(asked, list(answers.values()), len(view.model.topic_word))
        alpha, said = agreement(answers)
        topics = [TopicFigures.of(k, each) for k, each in enumerate(found) if each.answers]
        return CheckResult(alpha=alpha, topics=topics, says=[in_words(found, "words"), said])
