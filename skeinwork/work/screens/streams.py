"""Streams: topics through periods, of one fit or of a model for each period, with what became of them."""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.corpus.grouping import units_of
from skeinwork.core.corpus.periods import said as period_said
from skeinwork.core.errors import BadInputError
from skeinwork.core.in_words import percent
from skeinwork.core.prevalence.breakdown import placed
from skeinwork.core.said import count, counted, listed
from skeinwork.core.topics.alignment import Thread
from skeinwork.core.topics.model import ENOUGH
from skeinwork.core.topics.part_models import dealt_parts
from skeinwork.core.topics.streams import LEAST_LEFT, Link
from skeinwork.core.topics.words import top_words
from skeinwork.work.results.view import View
from skeinwork.work.screens.models_apart import HELD, own_topics
from skeinwork.work.steps import PART_FIT
from skeinwork.work.steps.part_fit import PartFit, Parting
from skeinwork.work.topics.partings import DEAL, fits_of, links_of, parts_of, settings_of

_WORDS = 10
# Of threads between documents dealt out at random this share grows or shrinks less than what is called growth.
_SURELY = 0.95
# Of the topics of documents dealt out so many may end, be born, split or merge by what is named.
_RATE = 0.05
_LEAST_THREADS = 20
_KINDS = {"born": "born", "ended": "ending", "split": "splitting", "merged": "merged"}


class StreamPeriod(BaseModel):
    """A period; ``identity`` is that of its own model, empty where topics are of the one fit."""

    name: str
    said: str
    identity: str
    documents: int
    tokens: float
    why: str


class StreamTopic(BaseModel):
    """A topic in a period.

    Attributes
    ----------
    whole : the topic of the fit that most of its tokens are of
    shown : whether it has enough tokens there to say anything of
    """

    period: int
    own: int
    title: str
    words: list[str]
    tokens: float
    share: float
    whole: int
    shown: bool


class StreamThread(BaseModel):
    """From a topic of one period to one of the next.

    Attributes
    ----------
    of_before, of_after : the share of both topics' tokens that is in both
    held, sure : the share of seeds that have it, and whether these are enough
    times : the later share over the earlier; ``grew`` whether that is beyond what documents dealt out show
    """

    period: int
    before: int
    after: int
    of_before: float
    of_after: float
    held: float
    sure: bool
    times: float
    grew: bool


class Happening(BaseModel):
    """What happens to a topic of a period, in words."""

    period: int
    own: int
    kind: str
    held: float
    says: str


class Streams(BaseModel):
    """All periods; ``made`` is whether their models are there, and there is nothing to show before."""

    made: bool
    n_periods: int
    topics_each: int
    smallest: int
    periods: list[StreamPeriod]
    topics: list[StreamTopic]
    threads: list[StreamThread]
    happenings: list[Happening]
    says: str
    rests: str


@dataclass(frozen=True)
class _Period:
    shown: StreamPeriod
    topics: list[StreamTopic]


def streams(view: View, parting: Parting, whole: bool, labels: Mapping[int, str]) -> Streams:
    """Topics through periods; ``whole`` of the one fit, which takes no job.

    Raises
    ------
    BadInputError
        where the documents are not parted by time, or not in two periods.
    """
    if parting.by.group:
        raise BadInputError("Streams run through periods. Choose a period instead of a field.")
    chosen = parts_of(view, parting)
    if whole:
        periods, links, dealt = _of_one_fit(view, parting, labels)
    else:
        fits, found = fits_of(view, parting), links_of(view, parting)
        by_chance = links_of(view, parting, dealt=True)
        links, dealt = [each for each in found if each], [each for each in by_chance if each]
        if not all(fits) or len(links) < len(found) or len(dealt) < len(by_chance):
            return Streams(
                made=False,
                n_periods=len(chosen.names),
                topics_each=chosen.topics,
                smallest=chosen.smallest,
                periods=[],
                topics=[],
                threads=[],
                happenings=[],
                says="",
                rests=_rests(view, parting, whole),
            )
        periods = _of_models(view, parting, [each for each in fits if each])
    most = _most_growth(dealt)
    least = _least_held(dealt)
    threads = [_threads(at, link, most) for at, link in enumerate(links)]
    happenings = _happenings(periods, links, threads, least)
    return Streams(
        made=True,
        n_periods=len(periods),
        topics_each=chosen.topics,
        smallest=chosen.smallest,
        periods=[each.shown for each in periods],
        topics=[topic for each in periods for topic in each.topics],
        threads=[thread for each in threads for thread in each],
        happenings=happenings,
        says=_says(periods, links, dealt, least, most),
        rests=_rests(view, parting, whole),
    )


def _of_models(view: View, parting: Parting, fits: list[PartFit]) -> list[_Period]:
    asked, made = settings_of(view, parting, dealt=False), []
    for at, (settings, fit) in enumerate(zip(asked, fits, strict=True)):
        own = own_topics(view, fit)
        from_whole = fit.found.flow[0].argmax(axis=0).tolist() if own else []
        topics = [
            StreamTopic(
                period=at,
                own=each.own,
                title=each.title,
                words=each.words,
                tokens=each.tokens,
                share=each.share,
                whole=from_whole[each.own],
                shown=each.tokens >= ENOUGH,
            )
            for each in own
        ]
        identity = PART_FIT.making(view.fit_record.identity, settings).identity
        period = StreamPeriod(
            name=settings.part,
            said=period_said(settings.part),
            identity=identity,
            documents=fit.summary.documents,
            tokens=fit.summary.tokens,
            why=fit.summary.why,
        )
        made.append(_Period(period, topics))
    return made


def _of_one_fit(
    view: View, parting: Parting, labels: Mapping[int, str]
) -> tuple[list[_Period], list[Link], list[Link]]:
    """The fit's own topics in each period, linked to themselves; and with documents dealt out over the periods."""
    chosen = parts_of(view, parting)
    names, place = placed(view.corpus, parting.by, view.token_weights > 0)
    rows = [names.index(each) for each in chosen.names]
    dealt = dealt_parts(place, units_of(view.corpus, parting.by.unit), DEAL)
    tokens, by_chance = (_tokens(view, each, rows) for each in (place, dealt))
    top = top_words(np.asarray(view.model.topic_word), _WORDS)
    periods = []
    for at, (name, mine) in enumerate(zip(chosen.names, tokens, strict=True)):
        period = StreamPeriod(
            name=name,
            said=period_said(name),
            identity="",
            documents=int(chosen.documents[at]),
            tokens=float(mine.sum()),
            why="",
        )
        topics = [
            StreamTopic(
                period=at,
                own=k,
                title=labels.get(k) or view.topic_words(k),
                words=[view.fit_matrix.display[term] for term in top[k]],
                tokens=float(mine[k]),
                share=float(mine[k] / max(mine.sum(), 1e-300)),
                whole=k,
                shown=bool(mine[k] >= ENOUGH),
            )
            for k in range(len(mine))
        ]
        periods.append(_Period(period, topics))
    return periods, _to_themselves(tokens), _to_themselves(by_chance)


def _tokens(view: View, place: NDArray[np.int64], rows: list[int]) -> list[NDArray[np.float64]]:
    """Tokens of each topic in some periods."""
    assigned = view.assigned.tocsr()
    return [np.asarray(assigned[np.flatnonzero(place == row)].sum(axis=0), np.float64).ravel() for row in rows]


def _to_themselves(tokens: list[NDArray[np.float64]]) -> list[Link]:
    none = np.zeros((0, len(tokens[0]), len(tokens[0])))
    return [Link(np.diag(one)[None], np.diag(other)[None], none, none) for one, other in itertools.pairwise(tokens)]


def _threads(at: int, link: Link, most: float | None) -> list[StreamThread]:
    threads = zip(link.apart.alignment.threads, link.apart.held_threads, link.grew, strict=True)
    ended, born = link.ended[0], link.born[0]

    def surely(each: Thread, held: float, grew: float) -> bool:
        shown = link.shown[0][each.before] and link.shown[1][each.after]
        return bool(most is not None and shown and each.became == "same" and abs(grew) > most and held >= HELD)

    return [
        StreamThread(
            period=at,
            before=each.before,
            after=each.after,
            of_before=each.of_before,
            of_after=each.of_after,
            held=float(held),
            sure=bool(held >= HELD),
            times=float(np.exp(min(grew, 50.0))),
            grew=surely(each, held, grew),
        )
        for each, held, grew in threads
        if not ended[each.before] and not born[each.after]
    ]


def _most_growth(dealt: list[Link]) -> float | None:
    """What nearly all threads between documents dealt out grow or shrink less than, as a log; None with too few."""
    found = [
        abs(grew)
        for link in dealt
        for each, grew in zip(link.apart.alignment.threads, link.grew.tolist(), strict=True)
        if each.became == "same" and link.shown[0][each.before] and link.shown[1][each.after]
    ]
    return float(np.quantile(found, _SURELY)) if len(found) >= _LEAST_THREADS else None


def _named(link: Link, least: float = HELD) -> list[tuple[int, bool, str, float]]:
    """Topic, whether of the later period, what happens to it, and which share of seeds says so, ``least`` or more."""
    before, after = link.shown
    found: list[tuple[int, bool, str, float]] = [
        (k, False, kind, float(link.held_fates[k]))
        for k, kind in enumerate(link.fates)
        if before[k] and kind in ("ended", "split")
    ]
    found += [
        (k, True, kind, float(link.held_origins[k]))
        for k, kind in enumerate(link.origins)
        if after[k] and kind in ("born", "merged")
    ]
    return [each for each in found if each[3] >= least]


def _least_held(dealt: list[Link]) -> float:
    """The share of seeds by which what is named happens to ``_RATE`` of the topics of documents dealt out, or fewer.

    Above 1 where there is none.
    """
    ends = sum(int(each.sum()) for link in dealt for each in link.shown)
    by_chance = np.array([held for link in dealt for _, _, _, held in _named(link)])
    levels = [HELD, *np.unique(by_chance[by_chance > HELD]).tolist(), 1.0 + 1e-9]
    return next((each for each in levels if (by_chance >= each).sum() <= _RATE * ends), 2.0)


def _happenings(
    periods: list[_Period], links: list[Link], threads: list[list[StreamThread]], least: float
) -> list[Happening]:
    found = []
    for at, link in enumerate(links):
        now, then = periods[at], periods[at + 1]
        for k, later, kind, held in _named(link, least):
            period = at + 1 if later else at
            title = (then if later else now).topics[k].title
            ends = [each for each in link.apart.alignment.threads if (each.after if later else each.before) == k]
            others = [f"“{(now.topics[each.before] if later else then.topics[each.after]).title}”" for each in ends]
            says = {
                "born": f"“{title}” is born in {then.shown.said}",
                "ended": f"“{title}” ends after {now.shown.said}",
                "split": f"“{title}” of {now.shown.said} splits into {listed(others)}",
                "merged": f"{listed(others)} of {now.shown.said} merge into “{title}”",
            }[kind]
            says += f", by {percent(held)} of the seeds" if len(link.of_before) > 1 else ""
            found.append(Happening(period=period, own=k, kind=kind, held=held, says=says))
        found += _growths(at, now, then, [each for each in threads[at] if each.grew])
    return found


def _growths(at: int, now: _Period, then: _Period, threads: list[StreamThread]) -> list[Happening]:
    """Topics whose shares change more than those of documents dealt out."""
    found = []
    for each in threads:
        kind = "grew" if each.times > 1 else "shrank"
        shares = f"{percent(now.topics[each.before].share)} to {percent(then.topics[each.after].share)}"
        title = then.topics[each.after].title
        says = f"“{title}” {'grows' if kind == 'grew' else 'shrinks'} in {then.shown.said}, from {shares}"
        found.append(Happening(period=at + 1, own=each.after, kind=kind, held=each.held, says=says))
    return found


def _counted(found: Counter[str]) -> str:
    there = [
        f"{count(found[kind])} {'is' if found[kind] == 1 else 'are'} {name}"
        for kind, name in _KINDS.items()
        if found[kind]
    ]
    return listed(there) if there else "none is born, ends, splits or merges"


def _says(periods: list[_Period], links: list[Link], dealt: list[Link], least: float, most: float | None) -> str:
    """What happens, beside what is found where documents are dealt out over the periods."""
    held = max(HELD, min(least, 1.0))
    here, by_chance = (Counter(each[2] for link in some for each in _named(link, held)) for some in (links, dealt))
    ends = sum(int(each.sum()) for link in dealt for each in link.shown)
    same = sum(sum(1 for kind in link.fates if kind == "same") for link in links)
    asked = sum(len(link.fates) for link in links)
    said = (
        f"Of the topics of {counted(len(periods), 'period')} {_counted(here)}; of {count(ends)} of documents dealt out "
        f"over the same periods at random {_counted(by_chance)}. From a period to the next {count(same)} of "
        f"{count(asked)} topics go on as they are."
    )
    if least > 1.0:
        said += " That is too many to tell what happens from chance: no birth, end, split or merge is named."
    if most is not None:
        said += (
            f" To grow or shrink is to come to more than {percent(np.exp(most))}, or less than "
            f"{percent(np.exp(-most))}, of the share before, as 5 in 100 of those dealt out do."
        )
    return said


def _rests(view: View, parting: Parting, whole: bool) -> str:
    chosen = parts_of(view, parting)
    if whole:
        said = "The topics of the one fit, by the tokens that they have in each period."
    else:
        said = (
            f"{counted(parting.seeds, 'fit')} of each period with the settings of the fit, "
            f"{counted(chosen.topics, 'topic')} each, and as many of documents dealt out; each model held against the "
            "next on the documents of both."
        )
    said += (
        f" Born, ended: the documents of the period before, or after, hold up to {percent(LEAST_LEFT)} of its share "
        f"here, or nothing. Said of topics with {count(int(ENOUGH))} words in a period."
    )
    if chosen.small:
        said += f" {counted(len(chosen.small), 'period')} under {count(chosen.smallest)} documents left out."
    return said
