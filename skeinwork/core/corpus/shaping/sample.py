"""Keep some documents, drawn at random."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from skeinwork.core.corpus.corpus import Corpus
from skeinwork.core.corpus.shaping.base import Done, Keeping, Mask, Sources


class Sample(Keeping):
    """Keep some documents, drawn at random."""

    title: ClassVar[str] = "Sample"
    action: ClassVar[str] = "Draw"
    kind: Literal["sample"] = "sample"
    size: int = Field(1000, ge=1, le=100_000_000, description="documents drawn at random")
    seed: int = Field(1, ge=0, le=2**31, description="seed")

    def in_words(self) -> str:
        return f"draw {self.size} at random, seed {self.seed}"

    def kept(self, corpus: Corpus, sources: Sources, done: Done) -> Mask:
        drawn = np.random.default_rng(self.seed).permutation(len(corpus))[: self.size]
        return np.isin(np.arange(len(corpus)), drawn)
