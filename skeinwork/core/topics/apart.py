"""A model of one part of the documents alone, beside the model of all: what each topic became in it, over seeds."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.corpus.grouping import with_own_units
from skeinwork.core.topics.alignment import Alignment, Became, align
from skeinwork.core.topics.model import ENOUGH

VERSION = 1


@dataclass(frozen=True)
class Apart:
    """The topics of models of one part, one for each seed, against those of the model of all.

    Parameters
    ----------
    flow : float64[n_seeds, n_whole, n_own], tokens of the part by topic of all and by the part's own
    between : float64[n_seeds - 1, n_own, n_own], the same by topic of the first seed's model and of the others'
    """

    flow: NDArray[np.float64]
    between: NDArray[np.float64]

    @cached_property
    def _alignments(self) -> list[Alignment]:
        return [align(each) for each in self.flow]

    @property
    def alignment(self) -> Alignment:
        """Of the first seed's model; before is the model of all, after the part's own."""
        return self._alignments[0]

    @property
    def shown(self) -> NDArray[np.bool_]:
        """Topics of all that have enough tokens in the part to show their words, bool[n_whole]."""
        return np.asarray(self.flow[0].sum(axis=1) >= ENOUGH)

    @cached_property
    def held_before(self) -> NDArray[np.float64]:
        """Of each topic of all, the share of seeds by which the same became of it, float64[n_whole]."""
        first = np.array(self.alignment.before)
        return np.mean([np.array(each.before) == first for each in self._alignments], axis=0)

    @cached_property
    def held_after(self) -> NDArray[np.float64]:
        """Of each topic of the first seed's model, the share of seeds where it is found again and came from the same.

        float64[n_own].
        """
        first = self.alignment.after
        found = np.ones((len(self.flow), len(first)), dtype=bool)
        for seed, between in enumerate(self.between, start=1):
            again = {each.before: each.after for each in align(between).threads if each.became == "same"}
            came = self._alignments[seed].after
            found[seed] = [k in again and came[again[k]] == first[k] for k in range(len(first))]
        return np.asarray(found.mean(axis=0))

    def became(self, kind: Became, held: float = 0.5) -> NDArray[np.bool_]:
        """Topics of all, shown in the part, of which that became by such a share of the seeds, bool[n_whole]."""
        return np.asarray((np.array(self.alignment.before) == kind) & self.shown & (self.held_before >= held))


def dealt_parts(part: NDArray[np.int64], unit: NDArray[np.int64] | None, rng: np.random.Generator) -> NDArray[np.int64]:
    """Documents dealt out at random over the same parts, of about the same sizes, units kept together.

    A unit that reaches over the end of a part goes on in the next.

    Parameters
    ----------
    part : int64[n_docs], -1 for none; unit : int64[n_docs], -1 for one of its own; None where every document is one

    >>> dealt = dealt_parts(np.array([0, 0, 1, 1, -1]), None, np.random.default_rng(1))
    >>> sorted(dealt.tolist())
    [-1, 0, 0, 1, 1]
    """
    known = np.flatnonzero(part >= 0)
    _, whose = np.unique(with_own_units(unit, len(part))[known], return_inverse=True)
    place = rng.permutation(whose.max(initial=-1) + 1)[whose]
    dealt = np.full(len(part), -1, dtype=np.int64)
    dealt[known[np.argsort(place, kind="stable")]] = np.sort(part[known])
    return dealt
