"""Topic intrusion: which of a document's topics it does not hold."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.topics.checks.intrusion import found_by_topic, log_odds_of_topics, topic_intrusion
from skeinwork.core.topics.words import top_words
from skeinwork.work.checks.base import Answers, CheckKind, CheckResult, CheckSettings, TopicFigures, agreement
from skeinwork.work.checks.intruders import in_words, questions_of
from skeinwork.work.checks.reading import reading_text
from skeinwork.work.results.view import View
from skeinwork.work.strands.checks import QuestionRecord

_WORDS = 8
# Documents that questions are drawn from at most.
_FROM = 50_000


class TopicIntrusion(CheckKind):
    name = "topic intrusion"
    title = "Topic intrusion"
    about = "whether documents are about the topics that they are said to hold: people find the topic that was added"
    prompt = "All but one of these lists of words fit the text. Which one does not?"

    def questions(self, view: View, settings: CheckSettings) -> list[QuestionRecord]:
        some = self._some(view, settings.seed)
        drawn = topic_intrusion(
            view.assigned.tocsr()[some].toarray(), view.fit_summary.empty, settings.each, settings.seed
        )
        asked = [replace(each, document=int(some[each.document])) for each in drawn]
        words = top_words(np.asarray(view.model.topic_word), _WORDS)
        shown = [", ".join(view.fit_matrix.display[term] for term in row) for row in words]
        return [
            QuestionRecord(
                topic=each.topic,
                document=each.document,
                text=reading_text(view, each.document),
                options=[shown[k] for k in each.options],
                topics=list(each.options),
                right=each.intruder,
            )
            for each in asked
        ]

    def _some(self, view: View, seed: int) -> NDArray[np.int64]:
        """Documents that questions are drawn from: of many, some at random."""
        n = len(view.corpus)
        return np.sort(np.random.default_rng([seed, 67]).permutation(n)[:_FROM]).astype(np.int64)

    def result(
        self, view: View, settings: CheckSettings, questions: Sequence[QuestionRecord], answers: Answers
    ) -> CheckResult:
        asked, given = questions_of(questions), list(answers.values())
        found = found_by_topic(asked, given, len(view.model.topic_word))
        alpha, said = agreement(answers)
        odds = log_odds_of_topics(asked, given, np.asarray(view.model.doc_topic))
        says = [in_words(found, "topics"), said]
        if odds is not None:
            says.append(f"The mean topic log odds are {odds:.2f}: 0 where every intruder was found.")
        topics = [TopicFigures.of(k, each) for k, each in enumerate(found) if each.answers]
        return CheckResult(alpha=alpha, topics=topics, log_odds=odds, says=says)
