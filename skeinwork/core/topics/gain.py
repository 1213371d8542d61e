"""How much better topics foretell words than one topic for all does, and than other topics do."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.content import expect, expect_array

SURE = 1.96  # standard errors that an interval reaches on either side


@dataclass(frozen=True)
class Gain:
    """Nats a token by which topics foretell better than one topic, with its standard error.

    ``documents`` were foretold; ``low`` and ``high`` are the ends of its 95 % interval.
    """

    mean: float
    error: float
    documents: int

    @property
    def low(self) -> float:
        return self.mean - SURE * self.error

    @property
    def high(self) -> float:
        return self.mean + SURE * self.error


@dataclass(frozen=True)
class Foretold:
    """How documents were foretold.

    Attributes
    ----------
    better : float64[n_docs], nats by which the words of each were foretold better than by one topic for all
    tokens : float64[n_docs], how many these were
    """

    better: NDArray[np.float64]
    tokens: NDArray[np.float64]

    def check(self) -> None:
        """Raise ``ContentError`` unless they can be of documents."""
        tokens = expect_array("foretold_tokens", self.tokens, np.float64, (None,), 1)
        expect(len(tokens), "foretold_tokens is empty")
        expect_array("foretold_better", self.better, np.float64, (len(tokens),))

    @property
    def gain(self) -> Gain:
        """The mean of a token, with the error that it has for documents are units."""
        mean = float(self.better.sum() / self.tokens.sum())
        residual = self.better - mean * self.tokens
        error = float(np.sqrt((residual**2).sum()) / self.tokens.sum())
        return Gain(mean, error, len(self.tokens))

    def over(self, other: Foretold) -> Gain:
        """The same documents' gain over what others foretold of them."""
        return Foretold(self.better - other.better, self.tokens).gain
