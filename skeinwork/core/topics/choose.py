"""How many topics? A suggestion from a sweep over counts and seeds, with its reason."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class Suggestion:
    """A count, the other candidates within one standard error, and why."""

    topics: int
    candidates: list[int]
    reason: str


def suggest(
    coherence: Mapping[int, Sequence[Sequence[float]]], stability: Mapping[int, Sequence[float]]
) -> Suggestion | None:
    """Candidates by the one-standard-error rule on coherence; among them the steadiest.

    A mean's error has two parts, the spread over topics and the spread over seeds: a few seeds
    alone would make it look surer than it is.

    Parameters
    ----------
    coherence : by topic count, for every fit the coherence of each of its topics
    stability : by topic count, the agreement of every fit with other seeds; counts with one seed
        may be missing
    """
    if not coherence:
        return None
    means = {k: float(np.mean([np.mean(fit) for fit in fits])) for k, fits in coherence.items()}
    best = max(means, key=lambda k: (means[k], -k))
    error = _standard_error(coherence[best])
    candidates = sorted(k for k in means if means[k] >= means[best] - error)
    steady = {k: float(np.nanmean(stability[k])) for k in candidates if stability.get(k)}
    chosen = max(steady, key=lambda k: (round(steady[k], 2), -k)) if steady else min(candidates)
    reason = _reason(chosen, best, candidates, means, error, steady)
    return Suggestion(chosen, candidates, reason + _steadier(chosen, candidates, stability))


def _standard_error(fits: Sequence[Sequence[float]]) -> float:
    """Standard error of the mean coherence of one count, over its topics and its seeds."""
    topics = float(
        np.mean([np.var(fit, ddof=1) / len(fit) if len(fit) > 1 else 0.0 for fit in fits])
    )
    seeds = (
        float(np.var([np.mean(fit) for fit in fits], ddof=1) / len(fits)) if len(fits) > 1 else 0.0
    )
    return float(np.sqrt(topics + seeds))


def _steadier(chosen: int, candidates: list[int], stability: Mapping[int, Sequence[float]]) -> str:
    """A word on the count whose seeds agree best, where coherence alone passed it over."""
    means = {k: float(np.nanmean(values)) for k, values in stability.items() if len(values)}
    if not means or chosen not in means:
        return ""
    best = max(means, key=lambda k: (means[k], -k))
    if best in candidates or means[best] < means[chosen] + 0.02:
        return ""
    return (
        f" Seeds agree best at {best} ({means[best]:.2f}); read its topics too before you decide."
    )


def _reason(
    chosen: int, best: int, candidates: list[int], means: Mapping[int, float], error: float,
    steady: Mapping[int, float],
) -> str:  # fmt: skip
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


_MOST_COUNTS = 8
_LEAST_TOPICS, _MOST_TOPICS = 2, 60
_DOCUMENTS_A_TOPIC = 2.2
_SHORT = 15
_FEW = 300
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
