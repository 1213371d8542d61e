"""Label: candidates, words, passages, topics taken together, company they keep, checks by people."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import Path, Query, Response
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.corpus.periods import Period
from skeinwork.core.errors import BadInputError
from skeinwork.core.prevalence.breakdown import Breakdown
from skeinwork.core.working import Working
from skeinwork.server.records import Made, saves, streamed
from skeinwork.server.routing import Routes
from skeinwork.server.starting import start
from skeinwork.server.state import RecordNumber, State, StateOf, StrandOf, ViewOf
from skeinwork.store.models import Strand, TopicCheck
from skeinwork.work.checks import files as check_files
from skeinwork.work.checks import kind_of
from skeinwork.work.checks.base import CheckSettings
from skeinwork.work.checks.hand_coding import HandCoding
from skeinwork.work.jobs.plans import Fit, Reading
from skeinwork.work.results.view import View
from skeinwork.work.screens import (
    fit_working,
    kept_labels,
    label,
    merging_topics,
    passages,
    topic_checks,
    topic_words,
    topics_together,
)
from skeinwork.work.screens.fit_working import FitWorking
from skeinwork.work.screens.kept_labels import LabelTable, LostLabel, TableLabel
from skeinwork.work.screens.label import CandidateList
from skeinwork.work.screens.merging_topics import MergePreview, MergeRequest, MergingTopics
from skeinwork.work.screens.passages import PassagesQuery, TopicContexts, TopicPassages
from skeinwork.work.screens.topic_checks import CheckQuestions, StoredCheck, TopicChecks
from skeinwork.work.screens.topic_words import SheetQuery, SheetTopic, TopicWords, TopicWordsQuery
from skeinwork.work.screens.topics_together import TopicsTogether
from skeinwork.work.steps import CO_OCCURRENCE, FIT, LABEL_CANDIDATES
from skeinwork.work.steps.co_occurrence import CoOccurrenceSettings
from skeinwork.work.strands import checks, strands, topic_notes
from skeinwork.work.strands.checks import Given, RaterName
from skeinwork.work.topics import fits
from skeinwork.work.topics.corrected import CorrectedPrevalence, corrected_prevalence

Topic = Annotated[int, Path(ge=0, le=10_000)]
router = Routes(prefix="/api/strands/{strand_id}", tags=["label"])


class CorrectedBy(BaseModel):
    """By what a corrected prevalence is broken down."""

    group: str | None = Field(None, max_length=200)
    period: Period | None = None
    unit: str | None = Field(None, max_length=200)


class ReadingWanted(BaseModel):
    """What topics are to be read by: label candidates, and which of them documents hold together."""

    model_config = ConfigDict(extra="forbid")
    candidates: bool = False
    together: CoOccurrenceSettings | None = None


@router.post("/reading", status_code=202)
def make_reading(state: StateOf, strand: StrandOf, view: ViewOf, wanted: ReadingWanted) -> Made:
    """Make what topics are read by, in a job."""
    asked: dict[str, dict[str, Any]] = {}
    if wanted.candidates or wanted.together is None:
        asked[LABEL_CANDIDATES.name] = {}
    if wanted.together is not None:
        asked[CO_OCCURRENCE.name] = wanted.together.model_dump(mode="json")
    with state.store.connection():
        plan = Reading(fit=view.fit_record.identity, base=strands.wanted(strand).base, wanted=asked)
        return Made.of(strand, state.runner.start(plan, strand))


@router.get("/label-candidates")
def list_candidates(view: ViewOf) -> CandidateList:
    """Phrases to call topics by, with what speaks for each."""
    return label.candidates(view)


@router.get("/topics/{topic}/words")
def list_topic_words(view: ViewOf, topic: Topic, query: Annotated[TopicWordsQuery, Query()]) -> TopicWords:
    """The words of a topic by one of the ways to rank them."""
    return topic_words.topic_words(view, topic, query)


@router.get("/topic-sheet")
def get_sheet(view: ViewOf, query: Annotated[SheetQuery, Query()]) -> list[SheetTopic]:
    """Every topic with its words, to be printed on one sheet."""
    return topic_words.sheet(view, query)


@router.get("/topics/{topic}/passages")
def list_passages(view: ViewOf, topic: Topic, query: Annotated[PassagesQuery, Query()]) -> TopicPassages:
    """The strongest sentences or paragraphs of a topic."""
    return passages.passages(view, topic, query)


@router.get("/topics/{topic}/contexts")
def list_contexts(view: ViewOf, topic: Topic, term: Annotated[str, Query(max_length=400)]) -> TopicContexts:
    """Where a word stands as the topic's own."""
    return passages.contexts(view, topic, term)


@router.get("/topics/{topic}/working")
def get_topic_working(view: ViewOf, topic: Topic) -> FitWorking:
    """How the figures of a topic as a whole came about."""
    return fit_working.topic_working(view, topic)


@router.get("/topics-together")
def get_together(view: ViewOf, settings: Annotated[CoOccurrenceSettings, Query()]) -> TopicsTogether:
    """Which topics documents hold together, more or less often than by chance."""
    return topics_together.together(view, settings)


@router.get("/topics-together/{one}/{other}")
def get_pair_working(
    view: ViewOf, one: Topic, other: Topic, settings: Annotated[CoOccurrenceSettings, Query()]
) -> Working:
    """How the figures of two topics came about."""
    return topics_together.pair_working(view, settings, one, other)


@router.get("/merging")
def get_merging(state: StateOf, view: ViewOf) -> MergingTopics:
    """Which topics might be one, which several, which a family."""
    with state.store.connection():
        rows = fits.of_matrix(view.fit_record.making.inputs[0])
    return merging_topics.merging(view, rows)


@router.post("/merging/preview")
def preview_merging(state: StateOf, strand: StrandOf, view: ViewOf, request: MergeRequest) -> MergePreview:
    """What merging topics would change."""
    with state.store.connection():
        notes = topic_notes.notes(strand)
    return merging_topics.preview(view, request, notes)


@router.post("/merging", status_code=202)
def merge_topics(state: StateOf, strand: StrandOf, view: ViewOf, request: MergeRequest) -> Made:
    """Take topics together: a fit of its own, with the one before kept."""
    settings = merging_topics.merged_settings(view, request)
    if strands.standing(state.store, strand)[FIT.name] != "ready":
        raise BadInputError("What this fit was made from has changed since. Rebuild (r), then merge its topics.")
    wanted = strands.wanted(strand).model_copy(update={"fit": settings})
    return start(state, strand, Fit(wanted=wanted), [])


@router.get("/lost-labels")
def list_lost_labels(state: StateOf, strand: StrandOf, view: ViewOf) -> list[LostLabel]:
    """Labels of earlier fits that no topic has now."""
    with state.store.connection():
        notes = topic_notes.all_notes(strand)
    return kept_labels.lost_labels(view, notes)


@router.post("/label-table")
def read_label_table(state: StateOf, strand: StrandOf, view: ViewOf, given: LabelTable) -> list[TableLabel]:
    """Labels of a table for the topics whose words it has: looked at, or given to the topics."""
    found = kept_labels.labels_of_table(view, given)
    if given.apply:
        rows = [
            (each.topic, each.label, each.note, each.family, each.found / each.words)
            for each in found
            if each.topic is not None and each.label
        ]
        with state.store.connection():
            topic_notes.take_labels(strand, given.fit, rows)
    return found


class NewCheck(CheckSettings):
    """A check to be drawn."""

    kind: str = Field(max_length=40)


def _stored(check: TopicCheck) -> StoredCheck:
    return StoredCheck(
        check.id,
        check.kind,
        CheckSettings.model_validate(check.settings),
        checks.questions_of(check),
        checks.answers_of(check),
    )


def _all_checks(state: State, strand: Strand, view: View) -> TopicChecks:
    with state.store.connection():
        stored = [_stored(each) for each in checks.of_fit(strand, view.fit_record.identity)]
    return topic_checks.topic_checks(view, stored)


def _one_check(state: State, strand: Strand, number: int) -> StoredCheck:
    with state.store.connection():
        return _stored(checks.get(strand, number))


@router.get("/checks")
def list_checks(state: StateOf, strand: StrandOf, view: ViewOf) -> TopicChecks:
    """Checks of the fit's topics by people, and what they tell."""
    return _all_checks(state, strand, view)


@router.post("/checks")
def begin_check(state: StateOf, strand: StrandOf, view: ViewOf, new: NewCheck) -> TopicChecks:
    """Draw the questions of a check."""
    settings = CheckSettings(**new.model_dump(exclude={"kind"}))
    questions = topic_checks.drawn(view, new.kind, settings)
    with state.store.connection():
        checks.begin(strand, view.fit_record.identity, new.kind, settings.model_dump(mode="json"), questions)
    return _all_checks(state, strand, view)


@router.get("/checks/{check_id}/questions")
def get_questions(
    state: StateOf, strand: StrandOf, check_id: RecordNumber, rater: Annotated[str, Query(max_length=100)] = ""
) -> CheckQuestions:
    """What is asked, without what is kept back, and what somebody has answered already."""
    return topic_checks.public(_one_check(state, strand, check_id), rater)


class AnswersGiven(BaseModel):
    """What somebody answered, for each question the place of an option from 0, or nothing."""

    model_config = ConfigDict(extra="forbid")
    rater: RaterName
    answers: Given


@router.put("/checks/{check_id}/answers")
def put_answers(
    state: StateOf, strand: StrandOf, view: ViewOf, check_id: RecordNumber, given: AnswersGiven
) -> TopicChecks:
    """Keep what somebody answered, in place of what they had."""
    checks.check_answers(given.answers, _one_check(state, strand, check_id).questions)
    with state.store.connection():
        checks.answer(checks.get(strand, check_id), given.rater, given.answers)
    return _all_checks(state, strand, view)


class AnswersText(BaseModel):
    """The file of answers that came back."""

    text: str = Field(max_length=2_000_000)


@router.post("/checks/{check_id}/answers-file")
def read_answers_file(
    state: StateOf, strand: StrandOf, view: ViewOf, check_id: RecordNumber, given: AnswersText
) -> TopicChecks:
    """Take the answers of a file that came back."""
    check = _one_check(state, strand, check_id)
    found = check_files.read_answers(given.text, check.kind, check.questions)
    with state.store.connection():
        checks.answer(checks.get(strand, check_id), found.rater, found.answers)
    return _all_checks(state, strand, view)


@router.get("/checks/{check_id}/page.html", **saves("text/html"))
def get_page(state: StateOf, strand: StrandOf, check_id: RecordNumber) -> Response:
    """The questions as one file that opens in any browser."""
    check = _one_check(state, strand, check_id)
    text = check_files.page(check.kind, kind_of(check.kind).asked(check.settings), check.questions)
    return streamed([text.encode("utf-8", "replace")], f"questions-{check_id}.html", "text/html")


@router.get("/checks.csv", **saves("text/csv"))
def checks_csv(state: StateOf, strand: StrandOf) -> Response:
    """Every answer of every check of the fit, with what was right."""
    with state.store.connection():
        stored = [_stored(each) for each in checks.of_fit(strand, strand.results.get(FIT.name))]
    return streamed(topic_checks.answers_table(stored), "topic-checks.csv", "text/csv")


@router.get("/corrected")
def get_corrected(
    state: StateOf,
    strand: StrandOf,
    view: ViewOf,
    check: Annotated[int, Query(ge=1, le=2**31 - 1)],
    by: Annotated[CorrectedBy, Query()],
) -> CorrectedPrevalence:
    """How common a concept is by group or period, corrected by what people coded."""
    stored = _one_check(state, strand, check)
    if stored.kind != HandCoding.name or not stored.questions:
        raise BadInputError("Prevalence is corrected by documents that were coded by hand. Choose such a check.")
    settings = Breakdown(group=by.group, period=by.period, unit=by.unit)
    return corrected_prevalence(view, settings, stored.settings.concept, stored.questions, stored.answers)


@router.delete("/checks/{check_id}")
def forget_check(state: StateOf, strand: StrandOf, view: ViewOf, check_id: RecordNumber) -> TopicChecks:
    """Let a check go with its answers."""
    with state.store.connection():
        checks.forget(checks.get(strand, check_id))
    return _all_checks(state, strand, view)
