"""Topics of models of successive periods as streams: born, the same, split, merged, ended.

Each model is held against the next on the documents of both periods: by both models their tokens have topics. A topic
has ended where the model that has it finds next to nothing of it in the documents of the period after; it is born where
the period before has next to nothing of it. What lies between is told by where most of its tokens go
(``alignment.align``), over seeds.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.topics.model import ENOUGH
from skeinwork.core.topics.part_models import Apart

VERSION = 1
Fate = Literal["same", "split", "merged", "ended", "unclear"]
Origin = Literal["same", "split", "merged", "born", "unclear"]
# Of a topic's share in its own period, up to which the next one holds next to nothing of it.
LEAST_LEFT = 0.25


@dataclass(frozen=True)
class Link:
    """The models of a period and of the one after it, one of each for every seed.

    Parameters
    ----------
    of_before, of_after : float64[n_seeds, n_before, n_after], tokens of the documents of the one period, and of the
        other, by topic of the one model and by topic of the other
    before : float64[n_seeds - 1, n_before, n_before], tokens by topic of the first seed's model of the one period and
        of each further seed's; after : the same of the other, float64[n_seeds - 1, n_after, n_after]
    """

    of_before: NDArray[np.float64]
    of_after: NDArray[np.float64]
    before: NDArray[np.float64]
    after: NDArray[np.float64]

    @cached_property
    def apart(self) -> Apart:
        """What became of topics by their tokens in the documents of both periods."""
        return Apart(self.of_before + self.of_after, self.after, self.before)

    @cached_property
    def ended(self) -> NDArray[np.bool_]:
        """Of which the later documents hold next to nothing, by the earlier model, bool[n_seeds, n_before]."""
        return _left(self.of_before.sum(axis=2), self.of_after.sum(axis=2))

    @cached_property
    def born(self) -> NDArray[np.bool_]:
        """Of which the earlier documents hold next to nothing, by the later model, bool[n_seeds, n_after]."""
        return _left(self.of_after.sum(axis=1), self.of_before.sum(axis=1))

    @property
    def fates(self) -> list[Fate]:
        """What becomes of each topic of the earlier model, by the first seed."""
        named: dict[str, Fate] = {"same": "same", "split": "split", "merged": "merged"}
        threads = self.apart.alignment.before
        return [
            "ended" if ended else named.get(each, "unclear")
            for each, ended in zip(threads, self.ended[0].tolist(), strict=True)
        ]

    @property
    def origins(self) -> list[Origin]:
        """Where each topic of the later model comes from, by the first seed."""
        named: dict[str, Origin] = {"same": "same", "split": "split", "merged": "merged"}
        threads = self.apart.alignment.after
        return [
            "born" if born else named.get(each, "unclear")
            for each, born in zip(threads, self.born[0].tolist(), strict=True)
        ]

    @cached_property
    def held_fates(self) -> NDArray[np.float64]:
        """The share of seeds that say the same of each topic of the earlier model, float64[n_before]."""
        counterparts = [before for _, before, _ in self.apart.by_seed()]
        ends = _held(self.ended, counterparts)
        return np.where(self.ended[0], ends, self.apart.held_before)

    @cached_property
    def held_origins(self) -> NDArray[np.float64]:
        """The share of seeds that say the same of each topic of the later model, float64[n_after]."""
        counterparts = [after for _, _, after in self.apart.by_seed()]
        return np.where(self.born[0], _held(self.born, counterparts), self.apart.held_after)

    @property
    def shown(self) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
        """Topics with enough tokens in their own period to say anything of, bool[n_before], bool[n_after]."""
        return self.of_before[0].sum(axis=1) >= ENOUGH, self.of_after[0].sum(axis=0) >= ENOUGH

    @property
    def grew(self) -> NDArray[np.float64]:
        """Log of the ratio of shares along each thread of the first seed, float64[n_threads]."""
        one, other = self.of_before[0].sum(axis=1), self.of_after[0].sum(axis=0)
        threads = self.apart.alignment.threads
        before = np.array([one[each.before] for each in threads]) / max(one.sum(), 1e-300)
        after = np.array([other[each.after] for each in threads]) / max(other.sum(), 1e-300)
        return np.log(np.maximum(after, 1e-12) / np.maximum(before, 1e-12))


def _left(here: NDArray[np.float64], there: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Whether next to nothing of each topic's share is left elsewhere, bool[n_seeds, n_topics]."""
    mine, others = (each / np.maximum(each.sum(axis=1, keepdims=True), 1e-300) for each in (here, there))
    return np.asarray(others <= LEAST_LEFT * mine)


def _held(found: NDArray[np.bool_], counterparts: list[dict[int, int]]) -> NDArray[np.float64]:
    """The share of seeds in which what was found of a topic is found of its counterpart too, float64[n_topics]."""
    size = found.shape[1]
    each = [
        [k in again and bool(found[seed, again[k]]) for k in range(size)] for seed, again in enumerate(counterparts)
    ]
    return np.asarray(np.array(each, dtype=np.float64).reshape(len(each), size).mean(axis=0))
