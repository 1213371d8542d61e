"""Split documents into a training and a test part: seeded, alike in an outcome, kin on one side."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import ConfigDict, Field, model_validator
from pydantic.config import JsonDict

from skeinwork.core.kinds import Numbers

# What the description says of the two sizes: neither both nor none.
_ONE_SIZE: JsonDict = {
    "not": {
        "anyOf": [
            {"properties": {"share": {"type": "number"}, "count": {"type": "integer"}}, "required": ["share", "count"]},
            {"properties": {"share": {"type": "null"}, "count": {"type": "null"}}},
        ]
    }
}


VERSION = 2


class Split(Numbers):
    """How many documents are held out for a test, and by which outcome both parts are alike."""

    model_config = ConfigDict(extra="forbid", frozen=True, json_schema_extra=_ONE_SIZE)

    share: float | None = Field(None, strict=True, gt=0, lt=1, description="of the documents, to be held out")
    count: int | None = Field(None, strict=True, ge=1, le=10**9, description="the same as a number of them")
    outcome: str | None = Field(None, max_length=500, description="field to be alike in both parts")
    together: str | None = Field(
        None, max_length=500, description="field whose documents of one value stay on one side"
    )
    seed: int = Field(1, strict=True, ge=0, le=2**31 - 1)

    @model_validator(mode="after")
    def _one_size(self) -> Split:
        if (self.share is None) == (self.count is None):
            raise ValueError("give a share or a count of the documents to hold out, not both")
        return self

    def size(self, n_docs: int) -> int:
        """Documents that are held out of so many: at least one stays on either side, if there are two."""
        wanted = self.count if self.count is not None else round((self.share or 0.0) * n_docs)
        return int(np.clip(wanted, min(1, n_docs - 1), max(n_docs - 1, 0))) if n_docs else 0


def apportioned(sizes: NDArray[np.int64], total: int) -> NDArray[np.int64]:
    """``total`` dealt in proportion to ``sizes``, int64[n_groups], by the largest remainders, int64[n_groups].

    >>> apportioned(np.array([50, 30, 1]), 8).tolist()
    [5, 3, 0]
    """
    exact = sizes * (total / max(int(sizes.sum()), 1))
    dealt = np.floor(exact).astype(np.int64)
    rest = total - int(dealt.sum())
    order = np.argsort(-(exact - dealt), kind="stable")
    dealt[order[:rest]] += 1
    return dealt


def kin_of(near: NDArray[np.int32], group: NDArray[np.int64] | None) -> NDArray[np.int64]:
    """Which documents belong on one side: near-repeats of each other, and those of one group; int64[n_docs].

    Parameters
    ----------
    near : int32[n_docs], the first document of the chain of near-repeats that each is in
    group : int64[n_docs], -1 for none; None where groups may be parted
    """
    from scipy.sparse import coo_matrix  # slow to load, and seldom wanted
    from scipy.sparse.csgraph import connected_components

    own = np.arange(len(near))
    ways = [(own, near.astype(np.int64))]
    if group is not None:
        ways.append((own[group >= 0], len(near) + group[group >= 0]))
    begin, end = (np.concatenate(each) for each in zip(*ways, strict=True))
    size = int(end.max(initial=len(near) - 1)) + 1
    graph = coo_matrix((np.ones(len(begin), dtype=np.int8), (begin, end)), shape=(size, size))
    _, part = connected_components(graph, directed=False)
    return np.asarray(part[: len(near)], dtype=np.int64)


def pairs_of(near: NDArray[np.int32]) -> int:
    """Pairs of documents in one chain of near-repeats; ``near``, int32[n_docs], tells chains apart."""
    sizes = np.unique(near, return_counts=True)[1]
    return int((sizes * (sizes - 1) // 2).sum())


def held_out(
    split: Split, n_docs: int, outcome: NDArray[np.int64] | None = None, kin: NDArray[np.int64] | None = None
) -> NDArray[np.bool_]:
    """Which documents are held out, bool[n_docs].

    Each value of the outcome, and the documents without one, give their share, to a document where no
    documents belong together. Documents that do go with the first of them, as far as they fit.

    Parameters
    ----------
    outcome : int64[n_docs], the value of each document, -1 for none
    kin : int64[n_docs], the same for documents that stay on one side; None where all may be parted

    >>> held_out(Split(share=0.5), 4, np.array([0, 0, 1, 1])).tolist()
    [True, False, True, False]
    """
    values = np.zeros(n_docs, dtype=np.int64) if outcome is None else outcome
    _, stratum, sizes = np.unique(values, return_inverse=True, return_counts=True)
    dealt = apportioned(sizes, split.size(n_docs))
    drawn = np.random.default_rng([split.seed, 16]).permutation(n_docs)
    _, first, family, members = np.unique(
        np.arange(n_docs) if kin is None else kin, return_index=True, return_inverse=True, return_counts=True
    )
    turns = family[drawn][np.sort(np.unique(family[drawn], return_index=True)[1])]
    taken = _taken(turns, stratum[first], members, dealt, n_docs)
    return np.asarray(taken[family])


def _taken(
    turns: NDArray[np.int64],
    stratum: NDArray[np.int64],
    members: NDArray[np.int64],
    dealt: NDArray[np.int64],
    n_docs: int,
) -> NDArray[np.bool_]:
    """The families that are held out, bool[n_families]: in their turns, while they fit.

    Then, for each value, the smallest one left where that brings it nearer to its share; and the smallest
    of all where else none would be held out.
    """
    taken, left = np.zeros(len(members), dtype=bool), dealt.tolist()
    for each in turns.tolist():
        if members[each] <= left[stratum[each]]:
            taken[each] = True
            left[stratum[each]] -= members[each]
    held = int(members[taken].sum())
    for value in np.flatnonzero(np.array(left) > 0).tolist():
        rest = turns[(stratum[turns] == value) & ~taken[turns]]
        if not len(rest):
            continue
        least = rest[np.argmin(members[rest])]
        if members[least] < 2 * left[value] and held + members[least] < n_docs:
            taken[least] = True
            held += int(members[least])
    if not held and len(turns) > 1 and dealt.any():
        taken[turns[np.argmin(members[turns])]] = True
    return taken
