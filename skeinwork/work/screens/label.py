"""Label: the topics of a fit, and what a person says of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from pydantic import BaseModel

from skeinwork.core.topics.words import ownness, top_words
from skeinwork.store.models import Result, TopicNote
from skeinwork.work.evidence.topic import held, over_documents
from skeinwork.work.results.view import View
from skeinwork.work.screens.choose import MeasureKind, measure_kinds
from skeinwork.work.steps.fit import Interval, empty_said
from skeinwork.work.topics import fits
from skeinwork.work.topics.prevalence import overall

WORDS = 14


class TopicWord(BaseModel):
    term: str
    display: str
    share: float
    own: float


class Topic(BaseModel):
    """A topic with its identity (dye), label, share with interval, measures and words.

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
    """The topics of a fit; ``notes`` say what there is to say of them as a whole."""

    fit: str
    measures: list[MeasureKind]
    topics: list[Topic]
    notes: list[str]


def _candidates(view: View, topic: int, top: Sequence[str]) -> list[str]:
    """Labels to begin with: the words that set a topic apart, fewer of them, its most probable ones."""
    telling = view.topic_words(topic)
    first = telling.split(" ")
    return list(dict.fromkeys([telling, " ".join(first[:2]), first[0], " ".join(top[:3])]))


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
    return TopicList(fit=view.fit_record.identity, measures=kinds, topics=found, notes=remarks)
