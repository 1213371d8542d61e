"""Choose: what happens to topics from one count to the next, and which of them last."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from types import MappingProxyType

import numpy as np
from pydantic import BaseModel

from skeinwork.core.said import listed
from skeinwork.core.topics import matching
from skeinwork.core.topics.alignment import MOST, Alignment, Became
from skeinwork.core.topics.holding import LEAST_SHARE
from skeinwork.core.topics.words import top_words
from skeinwork.work.results import documents
from skeinwork.work.results.view import View
from skeinwork.work.steps.fitted import FitSummary
from skeinwork.work.strands.choices import Vote
from skeinwork.work.topics import fits, sweeps
from skeinwork.work.topics.comparison import compare, view_of_fit
from skeinwork.work.topics.sweeps import SweptFit

_WORDS = 8
_STRONGEST = 2
# Counts that stand side by side.
_MOST_COLUMNS = 4


class StrongDocument(BaseModel):
    document: int
    name: str
    brief: str
    share: float


class CountTopic(BaseModel):
    """A topic of the fit that stands for a count.

    ``found`` of ``fits`` other fits have it, from ``since`` topics on; ``since`` is None for one that no count finds
    in most of its seeds.
    """

    topic: int
    dye: int
    title: str
    words: list[str]
    share: float
    empty: bool
    found: int
    fits: int
    since: int | None
    strongest: list[StrongDocument]
    vote: Vote | None


class CountColumn(BaseModel):
    """The fit of a count that is most like all others of it, with its topics."""

    topics: int
    seed: int
    identity: str
    candidate: bool
    of: list[CountTopic]


class Ribbon(BaseModel):
    """Tokens that are of one topic of a column and of another of the next."""

    column: int
    was: int
    now: int
    of_was: float
    of_now: float
    became: Became


class BetweenCounts(BaseModel):
    """Columns of topics, the ribbons between each and the next, and what is gained and lost, in words."""

    columns: list[CountColumn]
    ribbons: list[Ribbon]
    said: list[str]


def columns_to_show(tried: Sequence[int], candidates: Sequence[int], suggested: int | None) -> list[int]:
    """The suggested count, the other candidates and the counts beside them, as many as have room."""
    if not tried:
        return []
    middle = suggested or (candidates[0] if candidates else tried[len(tried) // 2])
    wanted = [middle, *candidates]
    at = tried.index(middle)
    wanted += [*tried[at + 1 : at + 2], *tried[max(0, at - 1) : at], *tried[at + 2 : at + 3]]
    return sorted(list(dict.fromkeys(wanted))[:_MOST_COLUMNS])


def between_counts(
    view: View,
    made: Sequence[SweptFit],
    counts: Sequence[int],
    candidates: Sequence[int],
    votes: Mapping[tuple[str, int], Vote] = MappingProxyType({}),
) -> BetweenCounts:
    """The fits that stand for some counts, side by side.

    Parameters
    ----------
    made : of one series; candidates : counts that may be chosen
    votes : what was said of the topics of fits
    """
    chosen = [sweeps.steadiest([each for each in made if each.settings.topics == count]) for count in counts]
    views = [view_of_fit(view, each.identity) for each in chosen]
    pairs = [compare(views[at + 1], chosen[at].identity).alignment for at in range(len(chosen) - 1)]
    dyes = _dyes([each.settings.topics for each in chosen], pairs)
    columns = []
    for fit, seen, dye in zip(chosen, views, dyes, strict=True):
        columns.append(
            CountColumn(
                topics=fit.settings.topics,
                seed=fit.settings.seed,
                identity=fit.identity,
                candidate=fit.settings.topics in candidates,
                of=_topics(seen, fit, made, dye, votes),
            )
        )
    ribbons = [
        Ribbon(
            column=at, was=each.before, now=each.after, of_was=each.of_before, of_now=each.of_after, became=each.became
        )
        for at, pair in enumerate(pairs)
        for each in pair.threads
    ]
    said = [
        change_said(pair, columns[at], columns[at + 1], chosen[at].summary, chosen[at + 1].summary)
        for at, pair in enumerate(pairs)
    ]
    return BetweenCounts(columns=columns, ribbons=ribbons, said=said)


def _dyes(sizes: Sequence[int], pairs: Sequence[Alignment]) -> list[list[int]]:
    """Of the topics of each column: that of the topic that they were, else one that none beside them has."""
    found = [list(range(sizes[0]))] if sizes else []
    for size, pair in zip(sizes[1:], pairs, strict=True):
        came = {
            each.after: found[-1][each.before]
            for each in sorted(pair.threads, key=lambda each: each.of_before)
            if each.became == "same"
        }
        free = iter(dye for dye in range(size + sum(sizes)) if dye not in found[-1])
        found.append([came[k] if k in came else next(free) for k in range(size)])
    return found


def _topics(
    view: View, fit: SweptFit, made: Sequence[SweptFit], dyes: Sequence[int], votes: Mapping[tuple[str, int], Vote]
) -> list[CountTopic]:
    top = top_words(np.asarray(view.model.topic_word), _WORDS)
    display, empty = view.fit_matrix.display, set(fit.summary.empty)
    lasting = recurrence(view, fit, made)
    return [
        CountTopic(
            topic=k,
            dye=dyes[k],
            title="empty" if k in empty else view.topic_words(k),
            words=[display[t] for t in top[k]],
            share=fit.summary.share[k].mean,
            empty=k in empty,
            found=lasting[k].found if k in lasting else 0,
            fits=lasting[k].fits if k in lasting else 0,
            since=lasting[k].since if k in lasting else None,
            strongest=_strongest(view, k),
            vote=votes.get((fit.identity, k)),
        )
        for k in range(len(top))
    ]


def _strongest(view: View, topic: int) -> list[StrongDocument]:
    """The documents that hold most of a topic’s words, of those it has a good part of."""
    tokens = np.asarray(view.assigned[:, [topic]].todense()).ravel()
    share = tokens / np.where(view.assigned_sizes > 0, view.assigned_sizes, 1.0)
    score = np.where(share >= LEAST_SHARE, share * tokens, 0.0)
    best = [at for at in np.argsort(-score, kind="stable")[:_STRONGEST].tolist() if score[at] > 0]
    return [
        StrongDocument(
            document=at, name=documents.name(view, at), brief=documents.brief(view, at), share=float(share[at])
        )
        for at in best
    ]


class Lasting(BaseModel):
    """In how many of so many other fits, of counts from ``since`` on, a topic is found."""

    found: int
    fits: int
    since: int | None


def recurrence(view: View, fit: SweptFit, made: Sequence[SweptFit]) -> Mapping[int, Lasting]:
    """How far each topic of a fit that is not empty is found in the others of its series, of any count and seed."""
    others = [each for each in made if each.identity != fit.identity]

    def found() -> Mapping[int, Lasting]:
        own = fits.own_words(view, fit.identity)
        again = [matching.found_again(own, fits.own_words(view, each.identity)) >= 0 for each in others]
        return {
            k: _lasting([(each.settings.topics, bool(row[at])) for each, row in zip(others, again, strict=True)])
            for at, k in enumerate(fit.summary.live)
        }

    key = ("lasting", fit.identity, *sorted(each.identity for each in others))
    return view.cache.get(key, found)


def _lasting(found: Sequence[tuple[int, bool]]) -> Lasting:
    """From the first count on that finds it in more than half of its fits; of all where none does."""
    by_count: dict[int, list[bool]] = {}
    for topics, there in found:
        by_count.setdefault(topics, []).append(there)
    since = min((topics for topics, there in by_count.items() if 2 * sum(there) > len(there)), default=None)
    counted = [there for topics, there in found if since is None or topics >= since]
    return Lasting(found=sum(counted), fits=len(counted), since=since)


def change_said(
    pair: Alignment, before: CountColumn, after: CountColumn, summary: FitSummary, later: FitSummary
) -> str:
    """What is gained and lost from one count to the next, with the topics that appear and fall apart."""

    def was(k: int) -> str:
        return f"“{before.of[k].title}”"

    def now(k: int) -> str:
        return f"“{after.of[k].title}”"

    parts = []
    for k in range(len(before.of)):
        pieces = [each.after for each in pair.threads if each.before == k and each.of_after >= MOST]
        if len(pieces) > 1:
            parts.append(f"{was(k)} divides into {listed([now(j) for j in pieces])}")
    for j in range(len(after.of)):
        sources = [each.before for each in pair.threads if each.after == j and each.of_before >= MOST]
        if len(sources) > 1:
            parts.append(f"{listed([was(k) for k in sources])} become {now(j)}")
    new = [now(j) for j, kind in enumerate(pair.after) if kind == "new" and j not in later.empty]
    gone = [was(k) for k, kind in enumerate(pair.before) if kind == "gone" and k not in summary.empty]
    parts += [f"{listed(new)} {'is' if len(new) == 1 else 'are'} new"] if new else []
    parts += [f"{listed(gone)} {'is' if len(gone) == 1 else 'are'} gone"] if gone else []
    same = sum(kind == "same" for kind in pair.before)
    return f"From {before.topics} to {after.topics}: {same} stay; {'; '.join(parts) or 'no other change'}."
