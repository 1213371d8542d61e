"""Intruders: words among a topic's, topics among a document's, that people find where topics mean something.

J. Chang, J. Boyd-Graber, S. Gerrish, C. Wang and D. Blei, *Reading tea leaves: how humans interpret topic models*,
NIPS 2009. What stands among the others must not be told by anything else: the order is drawn, an intruding word is
as often the longest, the shortest or in between as any other, and a topic intrudes as often as it is shown otherwise.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.topics.words import top_words

# Words of a topic beside the intruder, and the words of another that it may come from.
WORDS, _FROM = 5, 25
# A document is shown with topics that hold so much of it at least, as many at most; an intruder holds next to nothing.
_HELD, _SHOWN, _NOT_HELD = 0.1, 3, 0.01


@dataclass(frozen=True)
class Question:
    """Options in the order in which they are shown, one of which does not belong.

    Attributes
    ----------
    topic : that is asked about; document : that is shown, -1 for none
    options : terms or topics; intruder : its place among them
    """

    topic: int
    document: int
    options: tuple[int, ...]
    intruder: int


def _shuffled(
    own: Sequence[int], intruder: int, random: np.random.Generator, topic: int, document: int = -1
) -> Question:
    options = [*own, intruder]
    order = random.permutation(len(options))
    place = int(np.flatnonzero(order == len(own))[0])
    return Question(topic, document, tuple(int(options[at]) for at in order), place)


def _by_length(candidates: list[int], own: list[int], length: NDArray[np.int64], random: np.random.Generator) -> int:
    """One that is so manieth longest among the words shown, the place drawn by chance."""
    place = int(random.integers(len(own) + 1))
    noise = random.random(len(length)) * 0.5  # among words as long, chance says which counts as the longer
    ranks = np.array(
        [sum(length[each] + noise[each] < length[word] + noise[word] for each in own) for word in candidates]
    )
    near = np.abs(ranks - place)
    fitting = [word for word, apart in zip(candidates, near.tolist(), strict=True) if apart == near.min()]
    return fitting[int(random.integers(len(fitting)))]


def word_intrusion(
    topic_word: NDArray[np.float64], displayed: Sequence[str], skip: Sequence[int] = (), sets: int = 1, seed: int = 1
) -> list[Question]:
    """For every topic its strongest words and one that is strong in another but not in it, in an order drawn.

    Parameters
    ----------
    topic_word : float64[n_topics, n_terms]; displayed : how each term is shown
    skip : topics that nobody is asked about, nor takes an intruder from, as empty ones
    sets : questions a topic: the first has its words of rank 1, 3, 5 … where there are two, so that none is seen twice
    """
    random, length = np.random.default_rng([seed, 47]), np.array([len(each) for each in displayed], dtype=np.int64)
    live = [k for k in range(len(topic_word)) if k not in skip]
    top = top_words(topic_word, max(_FROM, WORDS * sets))
    found = []
    for topic in live:
        weak = topic_word[topic] <= np.median(topic_word[topic])
        shown = set(top[topic].tolist())
        others = {int(term) for other in live if other != topic for term in top[other, :_FROM] if weak[term]} - shown
        for number in range(sets):
            own = top[topic][number::sets][:WORDS].tolist()
            if len(own) == WORDS and others:
                intruder = _by_length(sorted(others), own, length, random)
                others.discard(intruder)
                found.append(_shuffled(own, intruder, random, topic))
    return [found[at] for at in random.permutation(len(found))]


def topic_intrusion(
    tokens: NDArray[np.float64], skip: Sequence[int] = (), each: int = 2, seed: int = 1
) -> list[Question]:
    """For every topic some documents that it leads: the topics that such a document holds, and one that it does not.

    A topic intrudes about as often as it stands among those that belong, so that nothing is told by having been
    seen before.

    Parameters
    ----------
    tokens : float64[n_docs, n_topics], of each topic in each document
    skip : topics that are not shown; each : documents of a topic at most
    """
    random = np.random.default_rng([seed, 53])
    share = tokens / np.maximum(tokens.sum(axis=1, keepdims=True), 1e-300)
    share[:, list(skip)] = 0.0
    several = np.flatnonzero((share >= _HELD).sum(axis=1) >= 2)
    leading = share[several].argmax(axis=1)
    chosen = [
        (topic, document)
        for topic in range(share.shape[1])
        for document in random.permutation(several[leading == topic])[:each].tolist()
    ]
    held = {document: np.argsort(-share[document], kind="stable")[:_SHOWN] for _, document in chosen}
    own = {document: [int(k) for k in top if share[document, k] >= _HELD] for document, top in held.items()}
    shown = np.bincount([k for topics in own.values() for k in topics], minlength=share.shape[1]).astype(np.float64)
    # How often each is still to intrude, so that it does as often as it is shown among those that belong.
    due = shown * len(chosen) / max(float(shown.sum()), 1.0)
    found = []
    for at in random.permutation(len(chosen)).tolist():
        topic, document = chosen[at]
        free = share[document] <= _NOT_HELD
        weight = np.where(free, np.maximum(due, 0.0), 0.0)
        weight = weight if weight.sum() > 0 else np.where(free, shown, 0.0)
        if weight.sum() > 0:
            intruder = int(random.choice(len(weight), p=weight / weight.sum()))
            due[intruder] -= 1.0
            found.append(_shuffled(own[document], intruder, random, topic, document))
    return found


@dataclass(frozen=True)
class Found:
    """How often an intruder was found: ``right`` of ``answers``, and by chance ``chance`` of them."""

    right: int
    answers: int
    chance: float

    @property
    def share(self) -> float | None:
        return self.right / self.answers if self.answers else None

    def interval(self) -> tuple[float, float] | None:
        """95 % interval of the share (E. Wilson, Journal of the American Statistical Association 22, 1927)."""
        if not self.answers:
            return None
        z2 = 1.959963984540054**2
        middle = (self.right + z2 / 2) / (self.answers + z2)
        p = self.right / self.answers
        half = (z2 * (p * (1 - p) + z2 / (4 * self.answers)) / self.answers) ** 0.5 / (1 + z2 / self.answers)
        return max(0.0, middle - half), min(1.0, middle + half)


def found_by_topic(questions: Sequence[Question], answers: Sequence[Sequence[int | None]], topics: int) -> list[Found]:
    """Of every topic how often its intruders were found; ``answers`` has for each rater an option of each question."""
    right, given, chance = np.zeros(topics, np.int64), np.zeros(topics, np.int64), np.zeros(topics)
    for rater in answers:
        for question, answer in zip(questions, rater, strict=True):
            if answer is not None:
                given[question.topic] += 1
                right[question.topic] += answer == question.intruder
                chance[question.topic] += 1 / len(question.options)
    return [Found(int(right[k]), int(given[k]), float(chance[k]) / max(int(given[k]), 1)) for k in range(topics)]


def log_odds_of_topics(
    questions: Sequence[Question], answers: Sequence[Sequence[int | None]], shares: NDArray[np.float64]
) -> float | None:
    """Topic log odds: ln of the intruder's share less that of the topic taken for it, the mean over answers.

    0 where every intruder was found, the lower the more of a document the topics hold that were taken for it.

    Parameters
    ----------
    shares : float64[n_docs, n_topics], above 0
    """
    found = [
        float(np.log(shares[each.document, each.options[each.intruder]] / shares[each.document, each.options[answer]]))
        for rater in answers
        for each, answer in zip(questions, rater, strict=True)
        if answer is not None
    ]
    return float(np.mean(found)) if found else None
