"""Label candidates: phrases of the topics of a fit, as labels to begin with."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import ClassVar

import numpy as np
from pydantic import BaseModel, ConfigDict

from skeinwork.core.content import expect
from skeinwork.core.matrix.matrix import Matrix
from skeinwork.core.progress import Report
from skeinwork.core.text import stopwords
from skeinwork.core.text.clean import Cleaning
from skeinwork.core.text.language import LANGUAGES, detect_languages
from skeinwork.core.text.phrase_places import places_of
from skeinwork.core.text.phrases import Phrase, find_phrases, suggested_least
from skeinwork.core.text.segment import Segments
from skeinwork.core.text.tagging import tag_segments
from skeinwork.core.topics import label_candidates
from skeinwork.core.topics.alignment import Fitted
from skeinwork.core.topics.label_candidates import Candidate, Places, Stream
from skeinwork.core.topics.words import telling_words
from skeinwork.store.artefacts import Making
from skeinwork.work.steps.cleaning import CLEANING
from skeinwork.work.steps.fit import FIT
from skeinwork.work.steps.matrix import MATRIX
from skeinwork.work.steps.step import Arrays, Documents, Earlier, Said, Step, Stored, counted
from skeinwork.work.steps.tokens import TOKENS

# Words in a phrase at most.
_LONGEST = 4
# Single words of a topic that stand in for phrases, where it has none.
_SINGLE = 5
# A language counts where so large a share of the documents is in it.
_SPOKEN = 0.05


class LabelCandidatesSettings(BaseModel):
    """There is nothing to set."""

    model_config = ConfigDict(extra="forbid", frozen=True)


class LabelCandidatesSummary(BaseModel):
    """Phrases held against the topics, whether they are noun phrases, and topics that have candidates."""

    phrases: int
    nouns: bool
    topics: int


class LabelCandidate(BaseModel):
    """A candidate of a topic, with its figures; ``word`` where it is a single one."""

    words: str
    word: bool
    tokens: float
    places: int
    c_value: float
    distinct: float
    close: float
    weight: float


class LabelCandidates(BaseModel):
    """Of every topic its candidates, the best first; whether they are noun phrases, and how many were looked at."""

    topics: list[list[LabelCandidate]]
    nouns: bool
    phrases: int


class LabelCandidatesStep(Step[LabelCandidatesSettings, LabelCandidates, LabelCandidatesSummary]):
    name: ClassVar[str] = "label_candidates"
    called: ClassVar[str] = "the label candidates"
    kept: ClassVar[bool] = False
    beside: ClassVar[bool] = True
    VERSION: ClassVar[int] = 1
    settings: ClassVar[type[BaseModel]] = LabelCandidatesSettings
    summary: ClassVar[type[BaseModel]] = LabelCandidatesSummary
    needs = (FIT, MATRIX, CLEANING, TOKENS)

    def parts(self, settings: LabelCandidatesSettings) -> dict[str, int]:
        return {"label candidates": label_candidates.VERSION}

    def seconds(self, making: Making, size: int) -> float:
        return 4e-7 * size

    def compute(
        self, earlier: Earlier, settings: LabelCandidatesSettings, report: Report
    ) -> tuple[LabelCandidates, LabelCandidatesSummary]:
        fit, matrix, cleaning = earlier.stored(FIT), earlier.load(MATRIX), earlier.load(CLEANING)
        report("Finding phrases", 0.0)
        tokens = cleaning.tokens
        phrases, nouns = phrases_of(tokens)
        report("Holding phrases against topics", 0.5)
        fitted = Fitted(np.asarray(fit.array("doc_topic")), np.asarray(fit.array("topic_word")))
        skip = FIT.summarised(fit).empty
        stream = stream_of(cleaning, matrix)
        places = places_in(tokens, phrases)
        found = label_candidates.label_candidates(places, stream, fitted, skip)
        bare = [k for k, mine in enumerate(found) if not mine and k not in skip]
        made = [[_said(phrases[each.phrase].words, False, each) for each in mine] for mine in found]
        if bare:
            _fill_with_words(made, bare, fitted, stream, matrix)
        value = LabelCandidates(topics=made, nouns=nouns, phrases=len(phrases))
        return value, _summary(value)

    def save(self, value: LabelCandidates) -> tuple[Arrays, Documents]:
        return {}, {"candidates": value.model_dump(mode="json")}

    def load(self, stored: Stored, earlier: Earlier) -> LabelCandidates:
        return LabelCandidates.model_validate(stored.document("candidates"))

    def check(self, stored: Stored, earlier: Earlier) -> LabelCandidatesSummary:
        value = self.load(stored, earlier)
        expect(len(value.topics) == FIT.summarised(earlier.stored(FIT)).topics, "it has candidates of other topics")
        for each in (one for mine in value.topics for one in mine):
            expect(0 < len(each.words) <= 400, "a candidate has no words")
            numbers = (each.tokens, each.c_value, each.distinct, each.close, each.weight)
            expect(all(map(math.isfinite, numbers)), "a candidate has no figures")
        return _summary(value)

    def said(self, settings: LabelCandidatesSettings, summary: LabelCandidatesSummary) -> Said:
        return Said(name="label candidates", size=counted(summary.phrases, "phrase"))


LABEL_CANDIDATES = LabelCandidatesStep()


def _summary(value: LabelCandidates) -> LabelCandidatesSummary:
    return LabelCandidatesSummary(phrases=value.phrases, nouns=value.nouns, topics=sum(map(bool, value.topics)))


def stream_of(cleaning: Cleaning, matrix: Matrix) -> Stream:
    """All tokens as one-word terms of a matrix."""
    columns = matrix.columns_of((*cleaning.forms, ""))
    return Stream(columns[cleaning.token_forms()], np.asarray(cleaning.tokens.doc_ptr))


def phrases_of(tokens: Segments) -> tuple[list[Phrase], bool]:
    """Noun phrases where the texts are English, by their parts of speech; else all runs that hold together."""
    found = detect_languages(tokens)
    documents = np.bincount(found[found >= 0], minlength=len(LANGUAGES)) / max(len(found), 1)
    shares = dict(zip(LANGUAGES, documents.tolist(), strict=True))
    spoken = [name for name, share in shares.items() if share >= _SPOKEN] or ["English"]
    nouns = max(shares, key=lambda name: shares[name]) == "English"
    stop = frozenset[str]().union(*(stopwords.words_of(each) for each in spoken if each in stopwords.languages()))
    tags = tag_segments(tokens).tags if nouns else None
    return find_phrases(tokens, stop, suggested_least(len(tokens.ids)), _LONGEST, False, tags), nouns


def places_in(tokens: Segments, phrases: list[Phrase]) -> Places:
    phrase, start = places_of(tokens, phrases)
    number = {each.words: at for at, one in enumerate(phrases) for each in one.variants}
    inside: list[set[int]] = [set() for _ in phrases]
    for at, one in enumerate(phrases):
        for part in _parts(one.words.split(" ")):
            if number.get(part, at) != at:
                inside[number[part]].add(at)
    length = np.array([each.words.count(" ") + 1 for each in phrases], dtype=np.int64)
    return Places(phrase, start, length, [sorted(each) for each in inside])


def _parts(words: list[str]) -> Iterable[str]:
    """The shorter runs of a phrase's words, from two on."""
    for length in range(2, len(words)):
        for first in range(len(words) - length + 1):
            yield " ".join(words[first : first + length])


def _fill_with_words(
    made: list[list[LabelCandidate]], bare: list[int], fitted: Fitted, stream: Stream, matrix: Matrix
) -> None:
    """Topics that no phrase stands for get those of their words that set them apart."""
    single = np.flatnonzero(matrix.lengths == 1)
    words = telling_words(np.asarray(fitted.topic_word)[:, single], _SINGLE)
    chosen = np.unique(single[words[bare]])
    starts = np.flatnonzero(np.isin(stream.terms, chosen))
    word = np.searchsorted(chosen, stream.terms[starts])
    order = np.argsort(word, kind="stable")
    places = Places(word[order], starts[order], np.ones(len(chosen), np.int64), [[] for _ in chosen])
    found = label_candidates.label_candidates(places, stream, fitted, [k for k in range(len(made)) if k not in bare])
    for topic in bare:
        made[topic] = [_said(matrix.display[chosen[each.phrase]], True, each) for each in found[topic]]


def _said(words: str, word: bool, each: Candidate) -> LabelCandidate:
    return LabelCandidate(
        words=words,
        word=word,
        tokens=round(each.tokens, 4),
        places=each.places,
        c_value=round(each.c_value, 4),
        distinct=round(each.distinct, 4),
        close=round(each.close, 4),
        weight=round(each.weight, 4),
    )
