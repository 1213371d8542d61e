"""Find a topic again in a fit of other words: by the documents that it is in."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

VERSION = 1
# Correlation over documents from which a topic is found again: below it most of how its shares scatter,
# 1 - .5² = .75, is something else.
LEAST = 0.5


class Again(NamedTuple):
    """The most alike topic of another fit, how alike it is, and the first's topic again; -1 where another is liker."""

    topic: int
    likeness: float
    back: int

    @property
    def own(self) -> bool:
        """Whether it is found, and is no more of any other topic."""
        return self.likeness >= LEAST and self.back >= 0


def found_in(topic: int, mine: NDArray[np.float64], other: NDArray[np.float64]) -> Again:
    """Which topic of another fit is in the same documents as one of a first.

    Parameters
    ----------
    mine : float64[n_docs, n_topics]; other : float64[n_docs, n_others], shares of the same documents

    Returns
    -------
    ``back`` is -1 where the topic of the other is more like another one of the first. The correlation is Pearson's,
    over documents that have shares in both; rounded, since the last bits of sums differ between machines.

    >>> shares = np.array([[0.9, 0.1], [0.2, 0.8], [0.1, 0.9]])
    >>> found_in(0, shares, shares[:, ::-1])
    Again(topic=1, likeness=1.0, back=0)
    """
    known = (mine.sum(axis=1) > 0) & (other.sum(axis=1) > 0)
    mine, other = mine[known], other[known]
    there = np.round(_correlation(mine[:, topic], other), 6)
    best = int(np.argmax(there))
    back = np.round(_correlation(other[:, best], mine), 6)
    return Again(best, float(there[best]), topic if back[topic] >= back.max() else -1)


def _correlation(one: NDArray[np.float64], others: NDArray[np.float64]) -> NDArray[np.float64]:
    """Pearson's, float64[n_others], of one column with each of others; 0 where one of them is the same throughout."""
    if not len(one):
        return np.zeros(others.shape[1])
    left, right = one - one.mean(), others - others.mean(axis=0)
    sizes = np.sqrt((left * left).sum() * (right * right).sum(axis=0))
    return np.asarray(np.einsum("d,dk->k", left, right) / np.where(sizes > 0, sizes, np.inf))
