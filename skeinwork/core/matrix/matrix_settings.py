"""What the columns of a matrix are to be."""

from __future__ import annotations

from typing import Literal

from pydantic import ConfigDict, Field, model_validator

from skeinwork.core.kinds import Numbers
from skeinwork.core.matrix.split import Split
from skeinwork.core.matrix.weighting import Weighting

# Beyond it a row of figures for each no longer fits in memory.
MOST_TERMS = 5_000_000
LONGEST = 4  # words in an n-gram
Pins = tuple[str, ...]


class MatrixSettings(Numbers):
    """Which terms make the columns of the matrix, and which documents they are learnt from."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    longest: int = Field(1, strict=True, ge=1, le=LONGEST, description="longest n-gram, in words")
    bridge: bool = Field(False, strict=True, description="n-grams may go over a removed word")
    min_documents: int = Field(5, strict=True, ge=1, le=10**9, description="keep a term found in at least this many")
    min_share: float = Field(
        0.0, strict=True, ge=0, lt=1, description="and in at least this share: 1 less the sparsity limit"
    )
    max_documents: int | None = Field(None, strict=True, ge=1, le=10**9, description="in at most this many")
    max_share: float = Field(0.5, strict=True, gt=0, le=1, description="and in at most this share of documents")
    min_count: int = Field(1, strict=True, ge=1, le=10**9, description="that occurs at least this often")
    min_letters: int = Field(1, strict=True, ge=1, le=1000, description="letters in each of its words, at least")
    max_letters: int | None = Field(None, strict=True, ge=1, le=1000, description="and at most")
    keep_top: int | None = Field(None, strict=True, ge=1, description="then the first this many")
    keep_share: float | None = Field(None, strict=True, gt=0, le=1, description="or this share of them")
    top_by: Weighting = Field(Weighting(), description="by the sum of these weights")
    stay: Pins = Field((), max_length=10_000, description="terms that stay whatever the limits")
    go: Pins = Field((), max_length=10_000, description="terms that go whatever the limits")
    order: Literal["count", "appearance"] = Field("count", description="of the columns")
    split: Split | None = Field(None, description="documents held out from all that is learnt")

    @model_validator(mode="after")
    def _possible(self) -> MatrixSettings:
        if self.keep_top is not None and self.keep_top > MOST_TERMS:
            raise ValueError("keep_top can be at most 5 000 000")
        if any(len(term) > 400 for term in (*self.stay, *self.go)):
            raise ValueError("a pinned term has at most 400 characters")
        if both := set(self.stay) & set(self.go):
            raise ValueError(f"“{min(both)}” can't be pinned both to stay and to go")
        return self
