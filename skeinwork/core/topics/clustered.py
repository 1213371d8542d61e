"""What a fit that groups documents keeps of them: centres, the topic of each, how near it is."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.content import expect, expect_array
from skeinwork.core.relate.neighbours import unit_vectors

# The topic of a document that is in none, and of one that has no vector.
OUTLIER, WITHOUT = -1, -2


@dataclass(frozen=True)
class Clustered:
    """Documents in topics, or near them.

    Attributes
    ----------
    centres : float32[n_topics, n_dimensions] of length 1
    found : int32[n_docs], the topic that each was found in; ``OUTLIER``, or ``WITHOUT`` a vector
    nearest : int32[n_docs], its own topic, or the one whose centre is nearest; ``WITHOUT`` a vector
    cosine : float32[n_docs], with the centre of that
    """

    centres: NDArray[np.float32]
    found: NDArray[np.int32]
    nearest: NDArray[np.int32]
    cosine: NDArray[np.float32]

    def check(self, n_docs: int, topics: int) -> None:
        """Raise ``ContentError`` unless they can be of documents in so many topics."""
        centres = expect_array("centres", self.centres, np.float32, (topics, None))
        expect(centres.shape[1], "centres are empty")
        found = expect_array("found", self.found, np.int32, (n_docs,), WITHOUT, topics - 1)
        nearest = expect_array("nearest", self.nearest, np.int32, (n_docs,), WITHOUT, topics - 1)
        expect(((found == WITHOUT) == (nearest == WITHOUT)).all(), "nearest topics are of other documents")
        expect((nearest != OUTLIER).all() and ((found < 0) | (found == nearest)).all(), "nearest topics are not those")
        expect_array("cosine", self.cosine, np.float32, (n_docs,), -1.0001, 1.0001)

    def within(self, reach: float | None) -> NDArray[np.int64]:
        """The topic of each document with those that lie within reach of a centre, int64[n_docs]; below 0 for none.

        Parameters
        ----------
        reach : the largest cosine distance to a centre; None for found ones alone
        """
        found = self.found.astype(np.int64)
        if reach is None:
            return found
        comes_in = (found == OUTLIER) & (1.0 - self.cosine <= reach + 1e-7)
        return np.where(comes_in, self.nearest, found)

    def renumbered(self, place: NDArray[np.int64], centres: NDArray[np.float32]) -> Clustered:
        """The same with topics by other numbers, int64[n_topics], and their centres."""

        def by(topic: NDArray[np.int32]) -> NDArray[np.int32]:
            return np.where(topic >= 0, place[np.maximum(topic, 0)], topic).astype(np.int32)

        return replace(self, centres=centres, found=by(self.found), nearest=by(self.nearest))

    def ordered(self, order: NDArray[np.int64]) -> Clustered:
        """The same with the topics in another order, int64[n_topics]."""
        return self.renumbered(np.argsort(order), self.centres[order])

    def merged(self, members: Sequence[Sequence[int]], sizes: NDArray[np.float64]) -> Clustered:
        """The same with topics taken together; how near documents are to the centres before stays.

        Parameters
        ----------
        members : of each topic those that it is made of; sizes : float64[n_topics], documents of each before
        """
        place = np.empty(len(self.centres), np.int64)
        for after, before in enumerate(members):
            place[before] = after
        centres = [(self.centres[each] * sizes[each, None]).sum(axis=0) for each in map(list, members)]
        return self.renumbered(place, unit_vectors(np.array(centres)))


def centres_of(unit: NDArray[np.float32], topic: NDArray[np.int64], topics: int) -> NDArray[np.float32]:
    """The directions that documents of each topic have in the middle, float32[n_topics, n_dimensions].

    Parameters
    ----------
    unit : float32[n_items, n_dimensions] of length 1; topic : int64[n_items], below 0 for none
    """
    sums = np.zeros((topics, unit.shape[1]))
    for each in range(topics):
        sums[each] = unit[topic == each].astype(np.float64).sum(axis=0)
    return unit_vectors(sums)
