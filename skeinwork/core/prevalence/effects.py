"""Effects of a regression: where shares are predicted, and which of the predictions are held against each other."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.prevalence.design_matrix import MOMENTS, Design, Term

Array = NDArray[np.float64]
# Boundaries in time that a pair is looked at: at the quarters.
_QUARTERS = (MOMENTS // 4, MOMENTS // 2, 3 * MOMENTS // 4)


@dataclass(frozen=True)
class Effect:
    """A term, or a pair of terms: its points among all, and its contrasts among all.

    Attributes
    ----------
    terms : one name or two
    points, contrasts : slices
    """

    terms: tuple[str, ...]
    points: slice
    contrasts: slice


@dataclass(frozen=True)
class Effects:
    """All that is predicted and compared.

    Attributes
    ----------
    effects : with their places
    given : of every point, the term's point that it is set to
    documents : int64[n_points], rows of the design at it
    labels : of every contrast, what is held against the rest of it
    one, other : float64[n_contrasts, n_points], weights of the predictions on either side, that add up to 1
    times : float64[n_contrasts], by how much the difference of both sides is taken: 2 for differences of differences
    """

    effects: list[Effect]
    given: list[dict[str, int]]
    documents: NDArray[np.int64]
    labels: list[tuple[str, ...]]
    one: Array
    other: Array
    times: Array


_Side = tuple[str, Array, Array]


def _contrasts(term: Term, share: Array, crossed: bool) -> Iterator[_Side]:
    """What of a term is held against what, as weights of its points."""

    def mean(meant: NDArray[np.bool_]) -> Array:
        return np.where(meant, share, 0.0) / max(float(share[meant].sum()), 1e-300)

    at = np.arange(len(share))
    if term.kind == "number":
        yield f"{term.labels[-1]} against {term.labels[0]}", np.eye(len(at))[-1], np.eye(len(at))[0]
        return
    if term.kind == "time":
        for boundary in _QUARTERS if crossed else range(1, len(at)):
            if share[at >= boundary].sum() > 0 and share[at < boundary].sum() > 0:
                yield f"from {term.labels[boundary]} on", mean(at >= boundary), mean(at < boundary)
        return
    for level, label in enumerate(term.labels):
        if share[level] > 0 and share[at != level].sum() > 0:
            yield label, np.eye(len(at))[level], mean(at != level)


def effects_of(design: Design) -> Effects:
    """Each term at its points, and each pair at all of both."""
    effects: list[Effect] = []
    given: list[dict[str, int]] = []
    labels: list[tuple[str, ...]] = []
    sides: list[tuple[int, Array, Array, float]] = []
    documents: list[int] = []
    share = {name: design.share_at(name) for name in design.terms}
    for terms in [*((name,) for name in design.terms), *design.pairs]:
        shape = tuple(len(design.terms[name].labels) for name in terms)
        first, first_contrast = len(given), len(labels)
        given += [dict(zip(terms, map(int, at), strict=True)) for at in np.ndindex(*shape)]
        places = [design.terms[name].place[design.documents] for name in terms]
        flat = np.ravel_multi_index(places, shape)
        documents += np.bincount(flat, minlength=int(np.prod(shape))).tolist()
        own = [list(_contrasts(design.terms[name], share[name], len(terms) > 1)) for name in terms]
        for one in own[0]:
            if len(terms) == 1:
                labels.append((one[0],))
                sides.append((first, one[1], one[2], 1.0))
                continue
            for other in own[1]:
                labels.append((one[0], other[0]))
                up = (np.outer(one[1], other[1]) + np.outer(one[2], other[2])) / 2.0
                down = (np.outer(one[1], other[2]) + np.outer(one[2], other[1])) / 2.0
                sides.append((first, up.ravel(), down.ravel(), 2.0))
        effects.append(Effect(terms, slice(first, len(given)), slice(first_contrast, len(labels))))
    both = np.zeros((2, len(sides), len(given)))
    for row, (first, up, down, _) in enumerate(sides):
        both[0, row, first : first + len(up)], both[1, row, first : first + len(down)] = up, down
    times = np.array([each[3] for each in sides])
    return Effects(effects, given, np.array(documents, dtype=np.int64), labels, both[0], both[1], times)
