"""Label: the topics of a fit, and what a person says of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import get_args

import numpy as np
from pydantic import BaseModel

from skeinwork.core.said import count
from skeinwork.core.topics.methods import method_of
from skeinwork.core.topics.words import ownness, top_words
from skeinwork.store.models import Result, TopicNote
from skeinwork.work.evidence.topic import held, over_documents
from skeinwork.work.results.view import View
from skeinwork.work.screens.choose import MeasureKind, measure_kinds
from skeinwork.work.steps import FIT, LABEL_CANDIDATES
from skeinwork.work.steps.fit import empty_said
from skeinwork.work.steps.fitted import Interval
from skeinwork.work.steps.label_candidates import LabelCandidate, LabelCandidatesSettings
from skeinwork.work.strands.schemas import Came
from skeinwork.work.topics import fits
from skeinwork.work.topics.prevalence import overall

WORDS = 14
# Weight of a candidate's strongest word, of the topic's strongest, from which it is one of these.
_STRONG = 0.33


class TopicWord(BaseModel):
    term: str
    display: str
    share: float
    own: float


class Topic(BaseModel):
    """A topic with its identity (dye), label, share with interval, measures and words.

    ``came`` is how its label came from elsewhere, with how alike (``likeness``) the two topics are.
    ``title`` is what to call it: its label, or the words that set it apart; an empty one has next
    to no tokens; ``marked_by`` are the seed words that it was asked for by; ``documents`` have a tenth of
    their words in it or more, in ``leads`` it is the largest, ``by_documents`` is its mean share of all.
    """

    topic: int
    dye: int
    label: str
    title: str
    confirmed: bool
    note: str
    set_aside: bool
    family: str
    later: bool
    came: Came
    likeness: float | None
    revision: int
    share: Interval
    measures: dict[str, float | None]
    empty: bool
    marked_by: str
    candidates: list[str]
    words: list[TopicWord]
    documents: int
    leads: int
    by_documents: float
    found_again: int
    seeds: int


class TopicList(BaseModel):
    """The topics of a fit; ``notes`` say what there is to say of them as a whole, ``shares_of`` what shares are of."""

    fit: str
    shares_of: str
    measures: list[MeasureKind]
    topics: list[Topic]
    notes: list[str]


def came_of(note: TopicNote) -> Came:
    """How its label came to a topic."""
    known: dict[str, Came] = {each: each for each in get_args(Came)}
    return known.get(note.came, "")


def _candidates(view: View, topic: int, top: Sequence[str]) -> list[str]:
    """Labels to begin with: the words that set a topic apart, fewer of them, its most probable ones."""
    telling = view.topic_words(topic)
    first = telling.split(" ")
    return list(dict.fromkeys([telling, " ".join(first[:2]), first[0], " ".join(top[:3])]))


class LabelCandidateSeen(LabelCandidate):
    """A candidate with its reasons in words."""

    says: str


class CandidateList(BaseModel):
    """Of every topic its candidates, the best first; ``says`` what was looked at. Not made yet where there are none."""

    made: bool
    topics: list[list[LabelCandidateSeen]]
    says: str


def candidates(view: View) -> CandidateList:
    """Phrases to call topics by, with what speaks for each."""
    making = LABEL_CANDIDATES.making(view.fit_record.identity, LabelCandidatesSettings())
    found = view.made(LABEL_CANDIDATES, making)
    if found is None:
        return CandidateList(made=False, topics=[], says="")
    what = "noun phrases" if found.nouns else "phrases"
    return CandidateList(
        made=True,
        topics=[[_seen(each) for each in mine] for mine in found.topics],
        says=f"Out of {count(found.phrases)} {what} of this corpus.",
    )


def _seen(each: LabelCandidate) -> LabelCandidateSeen:
    return LabelCandidateSeen(**each.model_dump(), says=_reasons(each))


def _reasons(each: LabelCandidate) -> str:
    """What speaks for a candidate, in words with its numbers."""
    strong = "the topic's strongest own words" if each.weight >= _STRONG else "weaker words of the topic"
    own = "all" if each.tokens > each.places - 0.5 else f"{each.tokens:.0f}"
    return (
        f"{own} of its {count(each.places)} places are the topic's; C-value {each.c_value:.0f}; words around it "
        f"{each.close:.2f} like the topic's; made of {strong}"
    )


def _title(view: View, topic: int) -> str:
    return "empty" if topic in view.fit_summary.empty else view.topic_words(topic)


def topics(view: View, notes: Mapping[int, TopicNote], rows: Sequence[Result]) -> TopicList:
    """The topics of the view's fit, largest first.

    Parameters
    ----------
    notes : what was said of them; rows : the fits of the same matrix
    """
    matrix, summary = view.fit_matrix, view.fit_summary
    phi = np.asarray(view.model.topic_word)
    own, top = ownness(phi), top_words(phi, WORDS)
    again, seeds = fits.recurrence(view, rows)
    share = overall(view, fits.seeds_let_in(view, rows))
    lines, line = view.fit_record.making.settings.get("seed_words", ()), view.model.by_topic.get("seeded", ())
    leads, by_documents = over_documents(view)
    found = []
    for k in range(len(phi)):
        note = notes.get(k) or TopicNote(topic=k, dye=k)
        found.append(
            Topic(
                topic=k,
                dye=note.dye,
                label=note.label,
                title=note.label or _title(view, k),
                empty=k in summary.empty,
                marked_by=lines[int(line[k]) - 1] if len(line) and line[k] else "",
                confirmed=note.confirmed,
                note=note.note,
                set_aside=note.set_aside,
                family=note.family,
                later=note.later,
                came=came_of(note),
                likeness=note.likeness,
                revision=note.revision,
                share=share[k],
                measures={key: said.topics[k] for key, said in summary.measured.items() if said.topics},
                documents=int(np.count_nonzero(held(view, k))),
                leads=leads[k],
                by_documents=by_documents[k],
                found_again=again[k],
                seeds=seeds,
                candidates=_candidates(view, k, [matrix.display[t] for t in top[k]]),
                words=[
                    TopicWord(
                        term=matrix.terms[t], display=matrix.display[t], share=float(phi[k, t]), own=float(own[k, t])
                    )
                    for t in top[k]
                ],
            )
        )
    kinds = [each for each in measure_kinds() if any(each.key in topic.measures for topic in found)]
    remarks = [empty_said(len(summary.empty), summary.topics)] if summary.empty else []
    made = view.fit_record
    return TopicList(
        fit=made.identity,
        shares_of=method_of(FIT.parse(made.making.settings)).shares_of,
        measures=kinds,
        topics=found,
        notes=remarks,
    )
