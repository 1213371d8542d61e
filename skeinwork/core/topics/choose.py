"""How many topics? A suggestion from a sweep over counts and seeds, with its reasons.

Candidates are the counts within one standard error of the best coherence. Those that foretell words of documents held
out surely worse than the best of them fall out; of the others the one that seeds agree on most is suggested. In
scripts/simulate_choice.py this finds planted numbers of topics, and none in words dealt out at random.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.said import decimal, listed, signed
from skeinwork.core.topics.gain import SURE, Foretold, Gain

# Agreements of seeds that differ by less are taken as one; and held-out fits within so many standard errors.
_ALIKE, _AS_GOOD = 0.05, 0.5


@dataclass(frozen=True)
class CountFigures:
    """What the fits of one count say.

    Attributes
    ----------
    topics : how many were asked for
    coherence : of every fit, float64[n_live] of its topics that are not empty
    stability : of every fit, its agreement with other seeds; empty with one seed
    foretold : of every fit, what it foretells of the same documents held out; empty where that is not known
    empty : of every fit, how many topics stayed empty
    """

    topics: int
    coherence: Sequence[NDArray[np.float64]]
    stability: Sequence[float] = ()
    foretold: Sequence[Foretold] = ()
    empty: Sequence[int] = ()

    @property
    def coherent(self) -> float:
        return float(np.mean([fit.mean() for fit in self.coherence]))

    @property
    def error(self) -> float:
        """Standard error of the mean coherence, over its topics and its seeds.

        A few seeds alone would make it look surer than it is.
        """
        topics = float(np.mean([np.var(fit, ddof=1) / len(fit) if len(fit) > 1 else 0.0 for fit in self.coherence]))
        means = [fit.mean() for fit in self.coherence]
        seeds = float(np.var(means, ddof=1) / len(means)) if len(means) > 1 else 0.0
        return float(np.sqrt(topics + seeds))

    @property
    def steady(self) -> float | None:
        return float(np.mean(self.stability)) if len(self.stability) else None

    @property
    def bare(self) -> float:
        """Topics that stayed empty, the mean over its fits."""
        return float(np.mean(self.empty)) if len(self.empty) else 0.0

    @property
    def gain(self) -> float | None:
        """Nats a token by which it foretells better than one topic for all."""
        return float(np.mean([each.gain.mean for each in self.foretold])) if len(self.foretold) else None

    def foretells_over(self, other: CountFigures) -> Gain | None:
        """Nats a token by which it foretells the same documents better; with the error of documents and of seeds."""
        sizes = {len(each.tokens) for each in (*self.foretold, *other.foretold)}
        if not self.foretold or not other.foretold or len(sizes) > 1:
            return None
        tokens = self.foretold[0].tokens
        mine, theirs = (np.mean([fit.better for fit in each.foretold], axis=0) for each in (self, other))
        found = Foretold(mine, tokens).over(Foretold(theirs, tokens))
        seeds = sum(_error_of_seeds(each.foretold) ** 2 for each in (self, other))
        return Gain(found.mean, float(np.sqrt(found.error**2 + seeds)), found.documents)


def _error_of_seeds(fits: Sequence[Foretold]) -> float:
    means = [each.gain.mean for each in fits]
    return float(np.sqrt(np.var(means, ddof=1) / len(means))) if len(means) > 1 else 0.0


@dataclass(frozen=True)
class Chance:
    """What measures come to where words were dealt out at random, one value a fit.

    Attributes
    ----------
    coherence : of every such fit, with the error that it has over its topics
    stability : its agreement with another such fit; empty where there is one seed
    """

    coherence: Sequence[tuple[float, float]] = ()
    stability: Sequence[float] = ()


@dataclass(frozen=True)
class Suggestion:
    """A count, the other candidates, and why.

    Attributes
    ----------
    topics : None where nothing can be suggested
    candidates : within one standard error of the best coherence
    worse : of these, those that foretell surely worse, with how much
    reasons : sentences
    widen : counts to try where no optimum is in sight
    refine : counts to try between those that were
    """

    topics: int | None
    candidates: list[int]
    reasons: list[str]
    worse: dict[int, Gain] = field(default_factory=dict)
    widen: list[int] = field(default_factory=list)
    refine: list[int] = field(default_factory=list)


def suggest(counts: Sequence[CountFigures], chance: Chance | None = None, called: str = "Coherence") -> Suggestion:
    """Of the most coherent counts, within the error, the one that seeds agree on most.

    The best at the edge of what was tried is no optimum, and where nothing is above chance there is nothing to choose.

    Parameters
    ----------
    counts : each with one fit at least, in rising order
    chance : of the same words dealt out at random, where that was tried
    called : the measure of coherence, for the sentences
    """
    nothing = _nothing(counts, chance)
    if nothing:
        return Suggestion(None, [], [nothing])
    best = max(counts, key=lambda each: (each.coherent, -each.topics))
    candidates = [each for each in counts if each.coherent >= best.coherent - best.error]
    left, worse = _that_foretell(candidates)
    filled = [each for each in left if each.bare < 1] or _with_least_empty(left)
    chosen = _steadiest(filled)
    names = [each.topics for each in candidates]
    if edge := _at_the_edge(best, chosen, counts, candidates, called):
        return Suggestion(None, names, [edge[0]], worse, edge[1])
    reasons = [
        _coherence_said(best, candidates, called),
        *_worse_said(worse, left),
        *_steady_said(chosen, left),
        *_empty_said(candidates),
        *_steadier_said(chosen, names, counts),
    ]
    return Suggestion(chosen.topics, names, reasons, worse, [], _between(chosen, best, counts))


def _that_foretell(candidates: list[CountFigures]) -> tuple[list[CountFigures], dict[int, Gain]]:
    """The candidates that don't foretell surely worse than the best of them, and by how much the others do."""
    known = [each for each in candidates if each.gain is not None]
    if not known:
        return candidates, {}
    best = max(known, key=lambda each: each.gain or 0.0)
    lost = {each.topics: best.foretells_over(each) for each in candidates if each is not best}
    worse = {topics: gain for topics, gain in lost.items() if gain is not None and gain.low > 0}
    return [each for each in candidates if each.topics not in worse], worse


def _steadiest(counts: list[CountFigures]) -> CountFigures:
    """Of the counts on which seeds agree most the one that foretells best; the fewest topics that do so as well."""
    most = max(each.steady or 0.0 for each in counts)
    steady = [each for each in counts if (each.steady or 0.0) >= most - _ALIKE]
    best = max(steady, key=lambda each: (each.gain or 0.0, -each.topics))
    lost = {each.topics: best.foretells_over(each) for each in steady}
    return next(each for each in steady if (gain := lost[each.topics]) is None or gain.mean <= _AS_GOOD * gain.error)


def _with_least_empty(counts: list[CountFigures]) -> list[CountFigures]:
    least = max(1.0, min(each.bare for each in counts))
    return [each for each in counts if each.bare <= least]


def _nothing(counts: Sequence[CountFigures], chance: Chance | None) -> str | None:
    """What there is to say where no fit is above chance."""
    known = [each.gain for count in counts for each in count.foretold]
    if known:
        if any(each.low > 0 for each in known):
            return None
        best = max(each.mean for each in known)
        return (
            "No fit foretells the words of documents that it has not seen better than their plain frequencies do "
            f"(the best by {signed(best, 3)} nats a token): at these counts nothing was found that sets topics apart."
        )
    if chance is None or not chance.coherence:
        return None
    reached, error = max(chance.coherence)
    best_count = max(counts, key=lambda each: each.coherent)
    agreed = max(chance.stability, default=1.0)
    steadiest = max((each.steady for each in counts if each.steady is not None), default=0.0)
    apart = best_count.coherent - reached > SURE * float(np.hypot(best_count.error, error))
    if apart or steadiest > agreed + _ABOVE_CHANCE:
        return None
    return (
        f"No count is above the same words dealt out at random: coherence comes to {decimal(best_count.coherent, 3)} "
        f"at best, and to {decimal(reached, 3)} there. At these counts nothing was found that sets topics apart."
    )


# By so much seeds agree more than on words dealt out at random, where there is something that they agree on.
_ABOVE_CHANCE = 0.15
# What is tried where the best count is the largest, and where it is the smallest.
_WIDER, _NARROWER = (1.25, 1.6, 2.0), (0.8, 0.65, 0.5)
_LEVEL_OVER = 1.5  # the ratio of counts


def _at_the_edge(
    best: CountFigures,
    chosen: CountFigures,
    counts: Sequence[CountFigures],
    candidates: list[CountFigures],
    called: str,
) -> tuple[str, list[int]] | None:
    """What to try next where the most coherent count, or the one to suggest, is the first or the last that was tried.

    Unless coherence is level over a wide range up to there: then there are counts to choose from.
    """
    first, last = counts[0].topics, counts[-1].topics
    level = candidates[-1].topics / candidates[0].topics >= _LEVEL_OVER
    at_edge = [each.topics for each in (chosen, *(() if level else (best,))) if each.topics in (first, last)]
    if last in at_edge:
        where, way, factors = "most", "better still with more", _WIDER
    elif first in at_edge and first > LEAST_TOPICS:
        where, way, factors = "fewest", "better still with fewer", _NARROWER
    else:
        return None
    edge = last if where == "most" else first
    widen = sorted({max(LEAST_TOPICS, round(edge * factor)) for factor in factors} - {edge})
    which = best if best.topics == edge else chosen
    said = (
        f"{called} is highest at {edge} ({decimal(best.coherent, 3)} ± {best.error:.3f})"
        if which is best
        else f"{called} is as high at {edge} as anywhere, and seeds agree most there"
    )
    return f"{said}, the {where} topics that were tried, and may be {way}: no optimum is in sight yet.", widen


# Neighbours that are farther apart, as a ratio, may hide a better count between them.
_NEAR = 1.12


def _between(chosen: CountFigures, best: CountFigures, counts: Sequence[CountFigures]) -> list[int]:
    """Counts between the suggested one, the most coherent one and those beside them, where there is room."""
    tried = [each.topics for each in counts]
    found = set()
    for topics in {chosen.topics, best.topics}:
        at = tried.index(topics)
        for other in tried[max(0, at - 1) : at] + tried[at + 1 : at + 2]:
            low, high = sorted((topics, other))
            if high - low > 1 and high / low > _NEAR:
                found.add(round((low * high) ** 0.5))
    return sorted(found - set(tried))


def _coherence_said(best: CountFigures, candidates: list[CountFigures], called: str) -> str:
    highest = f"{called} is highest at {best.topics} ({decimal(best.coherent, 3)} ± {best.error:.3f})"
    if len(candidates) == 1:
        return f"{highest}; no other count comes within one standard error."
    others = listed([str(each.topics) for each in candidates if each is not best])
    return f"{highest}; {others} {'lies' if len(candidates) == 2 else 'lie'} within one standard error of it."


def _worse_said(worse: Mapping[int, Gain], left: list[CountFigures]) -> list[str]:
    if not worse:
        return []
    parts = [
        f"{topics} (by {decimal(gain.mean, 3)} ± {SURE * gain.error:.3f})" for topics, gain in sorted(worse.items())
    ]
    return [
        f"Words of documents held out are foretold surely worse, in nats a token, by {listed(parts)} than by "
        f"{listed([str(each.topics) for each in left])}."
    ]


def _steady_said(chosen: CountFigures, left: list[CountFigures]) -> list[str]:
    if chosen.steady is None:
        return ["Only one seed was run, so nothing can be said about stability."]
    rest = [f"{each.steady:.2f} at {each.topics}" for each in left if each is not chosen and each.steady is not None]
    against = f", against {', '.join(rest)}" if rest else ""
    return [f"At {chosen.topics} the topics of different seeds agree by {chosen.steady:.2f}{against}."]


def _empty_said(candidates: list[CountFigures]) -> list[str]:
    bare = [f"{each.bare:.3g} at {each.topics}" for each in candidates if each.bare >= 1]
    return [f"Topics that stayed empty: {', '.join(bare)}."] if bare else []


def _steadier_said(chosen: CountFigures, candidates: list[int], counts: Sequence[CountFigures]) -> list[str]:
    """A word on the count whose seeds agree best, where coherence alone passed it over."""
    known = [each for each in counts if each.steady is not None]
    if not known or chosen.steady is None:
        return []
    best = max(known, key=lambda each: (each.steady or 0.0, -each.topics))
    if best.topics in candidates or (best.steady or 0.0) < chosen.steady + _ALIKE:
        return []
    return [f"Seeds agree best at {best.topics} ({best.steady:.2f}); read its topics too before you decide."]


@dataclass(frozen=True)
class Grid:
    """Topic counts, seeds and iterations to compare."""

    counts: list[int]
    seeds: int
    iterations: int


# A row of counts that a chart holds, and that takes minutes, not hours.
_MOST_COUNTS = 8
LEAST_TOPICS, _MOST_TOPICS = 2, 60
_DOCUMENTS_A_TOPIC = 2.2
# Tokens of a document: short ones mix slowly.
_SHORT = 15
# Documents: few of them mix slowly.
_FEW = 300
# Tokens from which a third seed would take too long.
_LARGE = 2_000_000


def suggest_grid(documents: int, tokens: int, unsettled: int = 0) -> Grid:
    """What to compare for a corpus of this size, before anything is known of it.

    Counts reach to the square root of the number of documents over 2.2, evenly spread as ratios. In
    simulated corpora of 100 to 9,600 documents chains settled by 150 to 260 iterations where documents
    had some 45 counted words, by 260 to 390 where they had five or were few.

    Parameters
    ----------
    documents, tokens : that count
    unsettled : iterations after which fits of this matrix were still moving; 0 where none was

    >>> suggest_grid(2400, 110_000)
    Grid(counts=[4, 5, 7, 8, 11, 14, 17, 22], seeds=3, iterations=200)
    """
    most = int(np.clip(round(documents**0.5 / _DOCUMENTS_A_TOPIC), 3, _MOST_TOPICS))
    least = max(LEAST_TOPICS, round(most / 6))
    counts = sorted(set(np.geomspace(least, most, _MOST_COUNTS).round().astype(int).tolist()))
    settles = 400 if tokens < _SHORT * documents or documents < _FEW else 200
    return Grid(counts, 2 if tokens > _LARGE else 3, max(settles, 2 * unsettled))
