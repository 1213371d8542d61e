"""Split documents into a training and a test part: seeded, and alike in an outcome."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, model_validator
from pydantic.config import JsonDict

# What the description says of the two sizes: neither both nor none.
_ONE_SIZE: JsonDict = {
    "not": {
        "anyOf": [
            {
                "properties": {"share": {"type": "number"}, "count": {"type": "integer"}},
                "required": ["share", "count"],
            },
            {"properties": {"share": {"type": "null"}, "count": {"type": "null"}}},
        ]
    }
}


class Split(BaseModel):
    """How many documents are held out for a test, and by which outcome both parts are alike."""

    model_config = ConfigDict(extra="forbid", frozen=True, json_schema_extra=_ONE_SIZE)

    share: float | None = Field(
        None, strict=True, gt=0, lt=1, description="of the documents, to be held out"
    )
    count: int | None = Field(
        None, strict=True, ge=1, le=10**9, description="the same as a number of them"
    )
    outcome: str | None = Field(None, max_length=500, description="field to be alike in both parts")
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
    """``total`` dealt to groups in proportion to their sizes, by the largest remainders.

    >>> apportioned(np.array([50, 30, 1]), 8).tolist()
    [5, 3, 0]
    """
    exact = sizes * (total / max(int(sizes.sum()), 1))
    dealt = np.floor(exact).astype(np.int64)
    rest = total - int(dealt.sum())
    order = np.argsort(-(exact - dealt), kind="stable")
    dealt[order[:rest]] += 1
    return dealt


def held_out(
    split: Split, n_docs: int, outcome: NDArray[np.int64] | None = None
) -> NDArray[np.bool_]:
    """Which documents are held out, bool[n_docs].

    Each value of the outcome, and the documents without one, give their share, to a document.

    Parameters
    ----------
    outcome : int64[n_docs], the value of each document, -1 for none

    >>> held_out(Split(share=0.5), 4, np.array([0, 0, 1, 1])).tolist()
    [True, False, True, False]
    """
    values = np.zeros(n_docs, dtype=np.int64) if outcome is None else outcome
    _, stratum, sizes = np.unique(values, return_inverse=True, return_counts=True)
    dealt = apportioned(sizes, split.size(n_docs))
    drawn = np.random.default_rng([split.seed, 16]).permutation(n_docs)
    order = drawn[np.argsort(stratum[drawn], kind="stable")]
    rank = np.empty(n_docs, dtype=np.int64)
    rank[order] = np.arange(n_docs) - np.repeat(np.cumsum(sizes) - sizes, sizes)
    return np.asarray(rank < dealt[stratum])
