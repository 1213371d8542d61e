"""A topic's own words in the groups or at the times of a breakdown."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.corpus.grouping import units_of
from skeinwork.core.corpus.periods import said
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.dates import MISSING, from_days
from skeinwork.core.prevalence.breakdown import Breakdown, placed
from skeinwork.core.topics.own_words import MOST_GROUPS, OwnWords, most_probable_topics, of_topic, own_words
from skeinwork.work.results.view import View


@dataclass(frozen=True)
class Parted:
    """Documents in groups, or in stretches of time.

    Attributes
    ----------
    names : as they are asked for; said : in words; field : of the groups, None for times
    group : int64[n_docs], -1 for none; left : groups beyond the largest ones
    """

    names: list[str]
    said: list[str]
    field: str | None
    group: NDArray[np.int64]
    left: int


def parted(view: View, by: Breakdown, topic: int, halves: bool) -> Parted:
    """The largest groups, or the periods; or the time parted where half of the topic's tokens lie before.

    Raises
    ------
    BadInputError
        where there is neither a group nor a time.
    """
    if halves:
        return _halves(view, topic)
    names, place = placed(view.corpus, by)
    sizes = np.bincount(place[place >= 0], minlength=len(names))
    kept = np.sort(np.argsort(-sizes, kind="stable")[: min(MOST_GROUPS, int((sizes > 0).sum()))])
    renamed = np.full(len(names) + 1, -1, dtype=np.int64)
    renamed[kept] = np.arange(len(kept))
    shown = [names[at] for at in kept]
    spoken = shown if by.group else [said(each) for each in shown]
    return Parted(shown, spoken, by.group, renamed[place], int((sizes > 0).sum()) - len(kept))


def _halves(view: View, topic: int) -> Parted:
    days = view.corpus.days
    known = days != MISSING
    held = np.asarray(tokens_of(view, topic).sum(axis=1)).ravel()[known]
    if not held.sum():
        raise BadInputError("No document with a date holds this topic.")
    order = np.argsort(days[known], kind="stable")
    middle = days[known][order][int(np.searchsorted(np.cumsum(held[order]), held.sum() / 2.0))]
    first, last = (from_days(int(each)).isoformat() for each in (days[known].min(), days[known].max()))
    start, before = from_days(int(middle)).isoformat(), from_days(int(middle) - 1).isoformat()
    group = np.where(known, np.where(days >= middle, 0, 1), -1).astype(np.int64)
    names = [f"{start}..{last}", f"{first}..{before}"]
    return Parted(names, [f"from {start} on", f"before {start}"], None, group, 0)


def tokens_of(view: View, topic: int) -> scipy.sparse.csr_matrix:
    """Occurrences that count for a topic, int[n_docs, n_terms]."""
    counts = view.fit_matrix.counts
    topics = view.cached(
        "most probable topics", lambda: most_probable_topics(counts, view.model.topic_word, view.model.doc_topic)
    )
    return of_topic(counts, topics, topic)


def own_words_of(view: View, by: Breakdown, topic: int, halves: bool = False) -> tuple[Parted, OwnWords]:
    """What a topic is said with in each group, kept while it is looked at."""

    def made() -> tuple[Parted, OwnWords]:
        found = parted(view, by, topic, halves)
        unit = units_of(view.corpus, by.unit)
        return found, own_words(tokens_of(view, topic), found.group, unit, view.model.topic_word, topic)

    return view.cached("own words", made, by, topic, halves)
