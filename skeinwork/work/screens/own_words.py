"""Own words: what a topic is said with in each group or at each time, and where it drifts into another."""

from __future__ import annotations

import math

from pydantic import BaseModel

from skeinwork.core.prevalence.breakdown import Breakdown
from skeinwork.core.prevalence.movement import SURE
from skeinwork.core.said import count, counted, decimal
from skeinwork.core.topics.own_words import DEALS, LEAST_OCCURRENCES, OwnWords
from skeinwork.core.topics.own_words import OwnWord as Told
from skeinwork.work.evidence.topic import topic_of
from skeinwork.work.results.view import View
from skeinwork.work.screens.contrasts import chance
from skeinwork.work.topics.own_words import own_words_of

# Tokens of the prior beyond which groups don't differ.
_ALL_ALIKE = 500_000


class OwnWord(BaseModel):
    """A word of the topic there: its share of the topic's words, how many times as often as elsewhere, 95 %.

    ``low`` and ``high`` are missing where a side has none of it; ``working`` is the ratio with its own numbers.
    """

    term: str
    display: str
    inside: int
    outside: int
    weight: float
    times: float
    low: float | None
    high: float | None
    p: float
    adjusted: float
    sure: bool
    working: str


class Weighed(BaseModel):
    """One of the most probable words of the topic there."""

    term: str
    display: str
    weight: float


class GroupOfTopic(BaseModel):
    """A topic in one group: its words, those that are more or less its there, and how far it drifts."""

    name: str
    said: str
    tokens: int
    units: int
    words: list[Weighed]
    more: list[OwnWord]
    less: list[OwnWord]
    drift: float | None
    by_chance: float | None
    another: bool
    nearest: int
    apart: float | None


class OwnWordsTable(BaseModel):
    """A topic in all groups; ``says`` is what was found, ``rests`` on what."""

    topic: int
    field: str | None
    groups: list[GroupOfTopic]
    says: list[str]
    rests: str


def own_words_table(view: View, by: Breakdown, topic: int, halves: bool, labels: dict[int, str]) -> OwnWordsTable:
    """What a topic is said with in each group.

    Raises
    ------
    BadInputError
        where there are no groups, or no two hold anything of it.
    """
    topic_of(view, topic)
    parted, found = own_words_of(view, by, topic, halves)
    groups = [_group(view, found, at, parted.names[at], parted.said[at]) for at in range(len(found.tokens))]
    return OwnWordsTable(
        topic=topic,
        field=parted.field,
        groups=groups,
        says=_says(view, groups, labels),
        rests=_rests(found, by, parted.left),
    )


def _group(view: View, found: OwnWords, at: int, name: str, said: str) -> GroupOfTopic:
    terms, display = view.fit_matrix.terms, view.fit_matrix.display

    def word(one: Told) -> OwnWord:
        inside, outside = int(found.tokens[at]), int(found.tokens.sum() - found.tokens[at])
        return OwnWord(
            term=terms[one.term],
            display=display[one.term],
            inside=one.inside,
            outside=one.outside,
            weight=one.weight,
            times=2.0**one.ratio,
            low=_times(one.low),
            high=_times(one.high),
            p=one.p,
            adjusted=one.adjusted,
            sure=one.adjusted < SURE,
            working=f"({count(one.inside)} + ½) / {count(inside)} over ({count(one.outside)} + ½) / {count(outside)} = "
            f"{decimal(2.0**one.ratio)}; p {chance(one.p)}, adjusted {chance(one.adjusted)}",
        )

    return GroupOfTopic(
        name=name,
        said=said,
        tokens=int(found.tokens[at]),
        units=int(found.units[at]),
        words=[Weighed(term=terms[k], display=display[k], weight=weight) for k, weight in found.words[at]]
        if found.tokens[at]
        else [],
        more=[word(each) for each in found.more[at]],
        less=[word(each) for each in found.less[at]],
        drift=_number(found.drift[at]),
        by_chance=_number(found.by_chance[at]),
        another=bool(found.another[at]),
        nearest=int(found.nearest[at]),
        apart=_number(found.apart[at]),
    )


def _times(log_ratio: float) -> float | None:
    return 2.0**log_ratio if math.isfinite(log_ratio) else None


def _number(value: float) -> float | None:
    return float(value) if math.isfinite(value) else None


def _says(view: View, groups: list[GroupOfTopic], labels: dict[int, str]) -> list[str]:
    """What was found, the outcome first."""
    words = sum(each.sure for group in groups for each in (*group.more, *group.less))
    held = [group for group in groups if any(each.sure for each in (*group.more, *group.less))]
    said = [
        f"{counted(words, 'word')} surely {'is' if words == 1 else 'are'} more or less its own, in {count(len(held))} "
        f"of {counted(len(groups), 'part')}"
        if words
        else f"No word is surely more or less its own in any of {counted(len(groups), 'part')}"
    ]
    drifting = [each for each in groups if each.drift is not None and each.drift > (each.by_chance or 0.0)]
    if drifting:
        most = max(drifting, key=lambda each: each.drift or 0.0)
        said.append(
            f"its words drift further than by chance in {count(len(drifting))}, most {_where(most.said)}: "
            f"{decimal(most.drift or 0.0)} of 1, where units dealt out anew stay under {decimal(most.by_chance or 0.0)}"
        )
    for each in groups:
        if each.another:
            other = labels.get(each.nearest) or view.topic_words(each.nearest)
            said.append(
                f"{_where(each.said)} it is another topic: its words there lie nearer to “{other}” "
                f"({decimal(each.apart or 0.0)}) than to its own elsewhere ({decimal(each.drift or 0.0)})"
            )
    return said


def _where(said: str) -> str:
    return said if said.split(" ")[0] in ("from", "before", "in") else f"in {said}"


def _rests(found: OwnWords, by: Breakdown, left: int) -> str:
    whole = int(found.tokens.sum())
    beyond = f" {counted(left, 'smaller group')} beyond these are left out." if left else ""
    drawn = (
        f"by a prior of {count(round(found.prior))} words, the most probable for these"
        if found.prior < _ALL_ALIKE
        else "so strongly, as is the most probable for these, that they are the same in all parts"
    )
    unit, compared = by.unit or "document", counted(found.compared, "comparison")
    return (
        f"Of {count(whole)} words that most probably are this topic’s in their documents; words with "
        f"{LEAST_OCCURRENCES} or more. Shares are drawn towards those of the topic {drawn}. p by {unit}, adjusted over "
        f"{compared} of words and parts. Drift is the Jensen-Shannon divergence from elsewhere; of {DEALS} deals of "
        f"the units 95 in 100 have no part beyond what is called chance.{beyond}"
    )
