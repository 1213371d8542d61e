"""Models of parts of the documents, each fitted over several seeds: what became of the topics of one in another."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.corpus.grouping import with_own_units
from skeinwork.core.topics.alignment import Alignment, Became, align
from skeinwork.core.topics.model import ENOUGH

VERSION = 1
Counterparts = dict[int, int]


@dataclass(frozen=True)
class Apart:
    """The topics of one model against those of another, once for each seed.

    Parameters
    ----------
    flow : float64[n_seeds, n_before, n_after], tokens by topic of the one and by topic of the other
    between : float64[n_seeds - 1, n_after, n_after], of the other's documents, tokens by topic of its first seed's
        model and of each further seed's
    before : float64[n_seeds - 1, n_before, n_before], the same of the one; None where it is the same for all seeds
    """

    flow: NDArray[np.float64]
    between: NDArray[np.float64]
    before: NDArray[np.float64] | None = None

    @cached_property
    def _alignments(self) -> list[Alignment]:
        return [align(each) for each in self.flow]

    @property
    def alignment(self) -> Alignment:
        """By the first seed."""
        return self._alignments[0]

    @property
    def shown(self) -> NDArray[np.bool_]:
        """Topics of the one that have enough tokens to show their words, bool[n_before]."""
        return np.asarray(self.flow[0].sum(axis=1) >= ENOUGH)

    def by_seed(self) -> Iterator[tuple[Alignment, Counterparts, Counterparts]]:
        """Every seed's alignment, with the topics that those of the first seed's models are found again as."""
        n_before, n_after = self.flow.shape[1:]
        alone = {k: k for k in range(n_before)}
        yield self.alignment, alone, {k: k for k in range(n_after)}
        for at, between in enumerate(self.between):
            yield self._alignments[at + 1], alone if self.before is None else _again(self.before[at]), _again(between)

    @cached_property
    def held_before(self) -> NDArray[np.float64]:
        """Of each topic of the one, the share of seeds by which the same became of it, float64[n_before]."""
        first = self.alignment.before
        return _share([_same(first, each.before, again) for each, again, _ in self.by_seed()], len(first))

    @cached_property
    def held_after(self) -> NDArray[np.float64]:
        """Of each topic of the other, the share of seeds by which it came from the same, float64[n_after]."""
        first = self.alignment.after
        return _share([_same(first, each.after, again) for each, _, again in self.by_seed()], len(first))

    @cached_property
    def held_threads(self) -> NDArray[np.float64]:
        """Of each thread of the first seed, the share of seeds that have it too, float64[n_threads]."""
        threads = [(each.before, each.after) for each in self.alignment.threads]
        found = []
        for alignment, before, after in self.by_seed():
            there = {(each.before, each.after) for each in alignment.threads}
            found.append([(before.get(i, -1), after.get(j, -1)) in there for i, j in threads])
        return _share(found, len(threads))

    def became(self, kind: Became, held: float = 0.5) -> NDArray[np.bool_]:
        """Topics of the one, shown, of which that became by such a share of the seeds, bool[n_before]."""
        return np.asarray((np.array(self.alignment.before) == kind) & self.shown & (self.held_before >= held))


def _again(flow: NDArray[np.float64]) -> Counterparts:
    return {each.before: each.after for each in align(flow).threads if each.became == "same"}


def _same(first: list[Became], there: list[Became], again: Counterparts) -> list[bool]:
    return [k in again and there[again[k]] == kind for k, kind in enumerate(first)]


def _share(found: list[list[bool]], size: int) -> NDArray[np.float64]:
    return np.asarray(np.array(found, dtype=np.float64).reshape(len(found), size).mean(axis=0))


def dealt_parts(part: NDArray[np.int64], unit: NDArray[np.int64] | None, deal: int) -> NDArray[np.int64]:
    """Documents dealt out at random over the same parts, of the same sizes, units kept together.

    A unit that reaches over the end of a part goes on in the next.

    Parameters
    ----------
    part : int64[n_docs], -1 for none; unit : int64[n_docs], -1 for one of its own; None where every document is one
    deal : the seed

    >>> dealt = dealt_parts(np.array([0, 0, 1, 1, -1]), None, 1)
    >>> sorted(dealt.tolist())
    [-1, 0, 0, 1, 1]
    """
    known = np.flatnonzero(part >= 0)
    _, whose = np.unique(with_own_units(unit, len(part))[known], return_inverse=True)
    place = np.random.default_rng([deal, 71]).permutation(whose.max(initial=-1) + 1)[whose]
    dealt = np.full(len(part), -1, dtype=np.int64)
    dealt[known[np.argsort(place, kind="stable")]] = np.sort(part[known])
    return dealt
