"""Topics taken together: which might be one, which two, which a family, and what merging changes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Annotated

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.errors import BadInputError
from skeinwork.core.in_words import percent
from skeinwork.core.said import counted
from skeinwork.core.topics.merging import alike, families
from skeinwork.core.topics.methods.base import MethodSettings
from skeinwork.core.topics.words import telling_words
from skeinwork.store.models import Result, TopicNote
from skeinwork.work.evidence.topic import held as holds
from skeinwork.work.results.view import View
from skeinwork.work.steps import FIT
from skeinwork.work.steps.fit import members
from skeinwork.work.topics import fits
from skeinwork.work.topics.comparison import compare

# Pairs that are suggested to be merged, and fits that topics are looked for in.
_PAIRS, _OTHERS = 8, 6
_WORDS = 4


class MergeRequest(BaseModel):
    """Topics of the present fit that are to be one; ``fit`` guards against another one."""

    model_config = ConfigDict(extra="forbid")
    fit: str = Field(pattern="^[0-9a-f]{64}$")
    topics: list[Annotated[int, Field(ge=0, lt=500)]] = Field(min_length=2, max_length=100)


class AlikePair(BaseModel):
    """Two topics whose words are alike: one less their Jensen-Shannon divergence; and what speaks for it in words."""

    one: int
    other: int
    alike: float
    says: str


class SplitHint(BaseModel):
    """A topic that other fits tell apart into several; ``parts`` are the words of these in one of them."""

    topic: int
    says: str
    parts: list[str]


class FamilyHint(BaseModel):
    """Topics that go together by their words, and what to call them."""

    topics: list[int]
    name: str


class MergingTopics(BaseModel):
    """What speaks for taking topics together, or for more of them; ``looked_in`` how many other fits were looked at.

    ``before`` is the fit whose topics were merged, where that was done.
    """

    pairs: list[AlikePair]
    splits: list[SplitHint]
    families: list[FamilyHint]
    looked_in: int
    before: str | None


class MergePreview(BaseModel):
    """What merging changes, in sentences."""

    says: list[str]


def merged_settings(view: View, request: MergeRequest) -> MethodSettings:
    """The settings of the fit in which topics are one.

    Raises
    ------
    BadInputError
        where there are no such topics, or one would be left.
    """
    if request.fit != view.fit_record.identity:
        raise BadInputError("These are topics of a fit before. Choose them again.")
    of, settings = members(view.fit_record), FIT.parse(view.fit_record.making.settings)
    wanted = sorted(set(request.topics))
    if len(wanted) < 2 or wanted[-1] >= len(of):
        raise BadInputError("Two or more topics of this fit can be merged. Choose them again.")
    if len(of) - len(wanted) + 1 < 2:
        raise BadInputError("Merging these would leave one topic. Leave out at least one.")
    together = sorted(topic for each in wanted for topic in of[each])
    kept = [each for each in settings.merged if not set(each) & set(together)]
    merged = tuple(sorted((*kept, tuple(together))))
    return settings.model_copy(update={"merged": merged})


def preview(view: View, request: MergeRequest, notes: Mapping[int, TopicNote]) -> MergePreview:
    """What becomes of shares, labels and Track."""
    merged_settings(view, request)
    topics = sorted(set(request.topics))
    names = [(notes[k].label if k in notes and notes[k].label else view.topic_words(k)) for k in topics]
    share = view.fit_shares[topics]
    parts = " and ".join(percent(float(each)) for each in share)
    held = np.stack([holds(view, k) > 0 for k in topics], axis=1)
    both, any_of = int((held.sum(axis=1) > 1).sum()), int(held.any(axis=1).sum())
    first = topics[int(np.argmax(share))]
    called = notes[first].label if first in notes and notes[first].label else view.topic_words(first)
    likeness = alike(np.asarray(view.model.topic_word)[topics])
    nearest = float(likeness[~np.eye(len(topics), dtype=bool)].max())
    return MergePreview(
        says=[
            f"One topic with {percent(float(share.sum()))} of the tokens in place of {parts}.",
            f"It keeps the name and the dye of its largest, “{called}”; the notes of all stand below each other.",
            f"{counted(any_of, 'document')} hold {'one' if len(topics) == 2 else 'some'} of {', '.join(names)} with "
            f"10 % or more, {both} of them {'both' if len(topics) == 2 else 'several'}; their words are {nearest:.2f} "
            "alike (1 less the Jensen-Shannon divergence).",
            "Track draws one line for it, and estimates its shares, intervals and differences anew from the counts "
            "added up. All other topics stay as they are; the fit before stays, and can be taken back.",
        ]
    )


def merging(view: View, rows: Sequence[Result]) -> MergingTopics:
    """Pairs, splits and families.

    Parameters
    ----------
    rows : the fits of the same matrix
    """
    others, whole = _others(view, rows), fits.whole_of(view)
    return MergingTopics(
        pairs=_pairs(view, others),
        splits=_splits(view, others),
        families=_families(view),
        looked_in=len(others),
        before=None if whole == view.fit_record.identity else whole,
    )


def _others(view: View, rows: Sequence[Result]) -> list[str]:
    """Fits of the same matrix by the same method: those of other seeds and counts, the nearest counts first."""
    mine = view.fit_record.making.settings
    count = len(view.model.topic_word)
    alike_made = [
        row
        for row in fits.distinct(view, rows)
        if row.identity != view.fit_record.identity
        and row.settings["method"] == mine["method"]
        and not row.settings.get("merged")
        and row.settings["topics"] >= count
    ]
    alike_made.sort(key=lambda row: (row.settings["topics"] - count, row.settings["seed"]))
    return fits.readable(view, [row.identity for row in alike_made[:_OTHERS]])


def _pairs(view: View, others: list[str]) -> list[AlikePair]:
    live = view.fit_summary.live
    likeness = alike(np.asarray(view.model.topic_word)[live])
    upper = np.triu_indices(len(live), 1)
    order = np.argsort(-likeness[upper], kind="stable")[:_PAIRS]
    found = []
    for at in order.tolist():
        i, j = live[upper[0][at]], live[upper[1][at]]
        one = [each for each in others if _in_one(view, each, i, j)]
        said = (
            f"in {len(one)} of {counted(len(others), 'other fit')} most of both goes into one topic" if others else ""
        )
        found.append(AlikePair(one=i, other=j, alike=float(likeness[upper][at]), says=said))
    return found


def _in_one(view: View, other: str, i: int, j: int) -> bool:
    """Whether most tokens of both topics are of one topic in another fit."""
    flow = compare(view, other).alignment.flow.T  # from topics here to topics there
    shares = flow / np.maximum(flow.sum(axis=1, keepdims=True), 1e-300)
    return bool((np.minimum(shares[i], shares[j]) >= 0.5).any())


def _splits(view: View, others: list[str]) -> list[SplitHint]:
    """Topics whose tokens go in large part to two topics or more, in half of the other fits or more."""
    found = []
    for topic in view.fit_summary.live:
        parts = {each: _parts(view, each, topic) for each in others}
        several = {each: mine for each, mine in parts.items() if len(mine) > 1}
        if others and 2 * len(several) >= len(others):
            first = min(several, key=lambda each: len(several[each]))
            words = _words_of(view, first, several[first])
            said = f"in {len(several)} of {counted(len(others), 'other fit')} its tokens are those of several topics"
            found.append(SplitHint(topic=topic, says=said, parts=words))
    return found


def _parts(view: View, other: str, topic: int) -> list[int]:
    """Topics of another fit that come mostly from this one, and hold a fifth of it or more."""
    flow = compare(view, other).alignment.flow
    of_theirs = flow[:, topic] / np.maximum(flow.sum(axis=1), 1e-300)
    of_mine = flow[:, topic] / max(float(flow[:, topic].sum()), 1e-300)
    return [int(each) for each in np.flatnonzero((of_theirs >= 0.5) & (of_mine >= 0.2))]


def _words_of(view: View, other: str, topics: list[int]) -> list[str]:
    then = compare(view, other).then
    telling = telling_words(np.asarray(then.model.topic_word), _WORDS)
    return [" ".join(then.fit_matrix.display[term] for term in telling[each]) for each in topics]


def _families(view: View) -> list[FamilyHint]:
    """Families by likeness, called by the words that their topics have most in common."""
    phi, matrix = np.asarray(view.model.topic_word), view.fit_matrix
    found = []
    for group in families(phi, view.fit_summary.empty):
        rest = [k for k in range(len(phi)) if k not in group]
        common = phi[group].min(axis=0) - (phi[rest].max(axis=0) if rest else 0.0)
        best = np.argsort(-common, kind="stable")[:3]
        words = [matrix.display[term] for term in best if common[term] > 0] or [view.topic_words(group[0])]
        found.append(FamilyHint(topics=group, name=" ".join(words)))
    return found
