"""How many topics? A suggestion from a sweep over counts and seeds, with its reason."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np


@dataclass(frozen=True)
class Suggestion:
    """A count, the other candidates within one standard error, and why.

    ``topics`` is None where nothing can be suggested; ``widen`` are counts to try then.
    """

    topics: int | None
    candidates: list[int]
    reason: str
    widen: list[int] = field(default_factory=list)


def suggest(
    coherence: Mapping[int, Sequence[Sequence[float]]],
    stability: Mapping[int, Sequence[float]],
    gain: Mapping[int, Sequence[tuple[float, float]]] | None = None,
    empty: Mapping[int, Sequence[int]] | None = None,
) -> Suggestion | None:
    """Candidates by the one-standard-error rule on coherence; among them the steadiest.

    A mean's error has two parts, the spread over topics and the spread over seeds: a few seeds
    alone would make it look surer than it is. The best at the edge of what was tried is no optimum,
    and where no fit foretells words better than one topic for all there is nothing to choose.

    Parameters
    ----------
    coherence : by topic count, for every fit the coherence of each of its topics
    stability : by topic count, the agreement of every fit with other seeds; counts with one seed
        may be missing
    gain : by topic count, for every fit the nats a token that it foretells better than one topic,
        and the lower end of their interval; where it is known
    empty : by topic count, for every fit how many topics stayed empty; candidates that leave one
        empty or more come after the others, and where all do, those that leave the fewest count
    """
    if not coherence:
        return None
    nothing = _nothing(coherence, gain or {})
    if nothing:
        return nothing
    means = {k: float(np.mean([np.mean(fit) for fit in fits])) for k, fits in coherence.items()}
    best = max(means, key=lambda k: (means[k], -k))
    error = _standard_error(coherence[best])
    candidates = sorted(k for k in means if means[k] >= means[best] - error)
    edge = _at_the_edge(best, sorted(means), candidates, means[best], error)
    if edge:
        return edge
    bare = {k: float(np.mean((empty or {}).get(k, [0]))) for k in candidates}
    least = max(1.0, min(bare.values()))
    filled = [k for k in candidates if bare[k] < 1] or [k for k in candidates if bare[k] <= least]
    steady = {k: float(np.nanmean(stability[k])) for k in filled if stability.get(k)}
    chosen = max(steady, key=lambda k: (round(steady[k], 2), -k)) if steady else min(filled)
    reason = _reason(chosen, best, candidates, means, error, steady)
    if left := [f"{bare[k]:.3g} at {k}" for k in candidates if bare[k] >= 1]:
        reason += f" Topics that stayed empty: {', '.join(left)}."
    return Suggestion(chosen, candidates, reason + _steadier(chosen, candidates, stability))


def _nothing(
    coherence: Mapping[int, Sequence[Sequence[float]]], gain: Mapping[int, Sequence[tuple[float, float]]]
) -> Suggestion | None:
    """What there is to say where no fit beats one topic for all."""
    known = [each for k in coherence for each in gain.get(k, ())]
    if not known or any(low > 0 for _, low in known):
        return None
    best = max(mean for mean, _ in known)
    return Suggestion(
        None,
        [],
        "No fit foretells the words of documents that it has not seen better than their plain "
        f"frequencies do (the best by {best:+.3f} nats a token): at these counts nothing was found "
        "that sets topics apart.".replace("-", "−"),
    )


# What is tried where the best count is the largest.
_WIDER = (1.25, 1.6, 2.0)
# What is tried where the best count is the smallest.
_NARROWER = (0.8, 0.65, 0.5)
_LEVEL_OVER = 1.5  # the ratio of counts


def _at_the_edge(best: int, counts: list[int], candidates: list[int], mean: float, error: float) -> Suggestion | None:
    """What to try next where the most coherent count is the first or the last that was tried.

    Unless coherence is level over a wide range up to there: then there are counts to choose from.
    """
    if max(best / candidates[0], candidates[-1] / best) >= _LEVEL_OVER:
        return None
    if best == counts[-1]:
        where, way, factors = "most", "higher still with more", _WIDER
    elif best == counts[0] and best > _LEAST_TOPICS:
        where, way, factors = "fewest", "higher still with fewer", _NARROWER
    else:
        return None
    widen = sorted({max(_LEAST_TOPICS, round(best * factor)) for factor in factors} - {best})
    return Suggestion(
        None,
        [],
        f"Coherence is highest at {best} ({mean:.3f} ± {error:.3f}), the {where} topics that were "
        f"tried, and may be {way}: no optimum is in sight yet.",
        widen,
    )


def _standard_error(fits: Sequence[Sequence[float]]) -> float:
    """Standard error of the mean coherence of one count, over its topics and its seeds."""
    topics = float(np.mean([np.var(fit, ddof=1) / len(fit) if len(fit) > 1 else 0.0 for fit in fits]))
    seeds = float(np.var([np.mean(fit) for fit in fits], ddof=1) / len(fits)) if len(fits) > 1 else 0.0
    return float(np.sqrt(topics + seeds))


def _steadier(chosen: int, candidates: list[int], stability: Mapping[int, Sequence[float]]) -> str:
    """A word on the count whose seeds agree best, where coherence alone passed it over."""
    means = {k: float(np.nanmean(values)) for k, values in stability.items() if len(values)}
    if not means or chosen not in means:
        return ""
    best = max(means, key=lambda k: (means[k], -k))
    if best in candidates or means[best] < means[chosen] + 0.02:
        return ""
    return f" Seeds agree best at {best} ({means[best]:.2f}); read its topics too before you decide."


def _reason(
    chosen: int, best: int, candidates: list[int], means: Mapping[int, float], error: float, steady: Mapping[int, float]
) -> str:
    if len(candidates) == 1:
        text = f"Coherence is highest at {best} ({means[best]:.3f} ± {error:.3f}); no other count comes within one standard error."  # noqa: E501
    else:
        listed = ", ".join(map(str, candidates))
        text = f"Coherence is highest at {best} ({means[best]:.3f} ± {error:.3f}); {listed} lie within one standard error of it."  # noqa: E501
    if chosen in steady:
        text += f" At {chosen} the topics of different seeds agree by {steady[chosen]:.2f}"
        rest = [f"{steady[k]:.2f} at {k}" for k in candidates if k != chosen and k in steady]
        text += f", against {', '.join(rest)}." if rest else "."
    else:
        text += " Only one seed was run, so nothing can be said about stability."
    return text


@dataclass(frozen=True)
class Grid:
    """Topic counts, seeds and iterations to compare."""

    counts: list[int]
    seeds: int
    iterations: int


# A row of counts that a chart holds, and that takes minutes, not hours.
_MOST_COUNTS = 8
_LEAST_TOPICS, _MOST_TOPICS = 2, 60
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
    least = max(_LEAST_TOPICS, round(most / 6))
    counts = sorted(set(np.geomspace(least, most, _MOST_COUNTS).round().astype(int).tolist()))
    settles = 400 if tokens < _SHORT * documents or documents < _FEW else 200
    return Grid(counts, 2 if tokens > _LARGE else 3, max(settles, 2 * unsettled))
