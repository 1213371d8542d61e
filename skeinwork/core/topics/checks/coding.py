"""A topic held against what people say documents are about.

Documents are drawn from strata of the topic's share and read blind. What is not known of a stratum is taken from
those of it that were coded (W. Cochran, *Sampling Techniques*, 1977, chapter 5).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

# Lower ends of the strata of a topic's share: none of it, under a tenth, and three above.
EDGES = (0.0, 1e-9, 0.1, 0.3, 0.6)
HOLDS = 2  # the first stratum whose documents count as having the topic
# Documents of a stratum that are drawn at least: fewer tell nothing of it.
LEAST = 5
# Of a yes and of a no, beside those coded: with less, strata that nobody said yes in seem too sure.
_BESIDE = 0.35


@dataclass(frozen=True)
class Coded:
    """What coding tells of each stratum.

    Attributes
    ----------
    size : int64[n_strata], documents of each stratum in the corpus
    coded : int64[n_strata], documents coded
    yes, squares : float64[n_strata], sum over these of the share of coders who say yes, and of its square
    """

    size: NDArray[np.int64]
    coded: NDArray[np.int64]
    yes: NDArray[np.float64]
    squares: NDArray[np.float64]

    @property
    def rate(self) -> NDArray[np.float64]:
        """Share of each stratum about the concept, float64[n_strata]; half where none was coded."""
        return np.where(self.coded > 0, self.yes / np.maximum(self.coded, 1), 0.5)

    @property
    def variance(self) -> NDArray[np.float64]:
        """Of these shares, float64[n_strata]; part of a yes and of a no beside those seen keep it off zero.

        Coded documents are part of the stratum: where all are coded there is nothing to be unsure of.
        """
        added = self.coded + 2 * _BESIDE
        spread = (self.squares + _BESIDE) / added - ((self.yes + _BESIDE) / added) ** 2
        left = 1.0 - np.minimum(self.coded / np.maximum(self.size, 1), 1.0)
        return np.asarray(spread / np.maximum(self.coded, 1) * left)


def strata_of(share: NDArray[np.float64], known: NDArray[np.bool_]) -> NDArray[np.int64]:
    """The stratum of each document by its share of a topic, int64[n_docs]; -1 where it has no words."""
    return np.where(known, np.searchsorted(EDGES, share, side="right") - 1, -1).astype(np.int64)


def allotted(size: NDArray[np.int64], total: int) -> NDArray[np.int64]:
    """How many documents of each stratum are drawn, int64[n_strata]: by the root of its size.

    So that large strata, whose documents weigh most, are known best, and small ones, which tell of the topic, are
    known at all.
    """
    root = np.sqrt(size.astype(np.float64))
    found = np.minimum(np.maximum(np.round(total * root / max(float(root.sum()), 1e-300)), LEAST), size)
    return found.astype(np.int64)


def coding_sample(stratum: NDArray[np.int64], total: int, seed: int = 1) -> NDArray[np.int64]:
    """Documents to be coded, int64[n], in an order that tells nothing of their strata.

    Parameters
    ----------
    stratum : int64[n_docs], -1 for documents that are not drawn; total : documents wanted
    """
    random = np.random.default_rng([seed, 59])
    size = np.bincount(stratum[stratum >= 0], minlength=len(EDGES))
    chosen = [
        random.choice(np.flatnonzero(stratum == at), size=each, replace=False)
        for at, each in enumerate(allotted(size, total).tolist())
    ]
    return random.permutation(np.concatenate(chosen)).astype(np.int64)


def coded_strata(stratum: NDArray[np.int64], documents: Sequence[int], answers: Sequence[Mapping[int, bool]]) -> Coded:
    """What coders say of each stratum.

    Parameters
    ----------
    documents : those of the sample; answers : of each coder, by document; one that is not sure of it says nothing
    """
    coded, yes, squares = (np.zeros(len(EDGES)) for _ in range(3))
    for document in documents:
        said = [each[document] for each in answers if document in each]
        if said and stratum[document] >= 0:
            share = sum(said) / len(said)
            coded[stratum[document]] += 1
            yes[stratum[document]] += share
            squares[stratum[document]] += share**2
    size = np.bincount(stratum[stratum >= 0], minlength=len(EDGES))
    return Coded(size, coded.astype(np.int64), yes, squares)


@dataclass(frozen=True)
class Rate:
    """A share with its 95 % interval; None where nothing is known."""

    value: float | None
    low: float | None
    high: float | None


def precision_and_recall(coded: Coded, seed: int = 1) -> tuple[Rate, Rate]:
    """Of the documents that have the topic those about the concept, and of those about it those that have the topic.

    Intervals are those of draws of every stratum's share, beta distributed with its mean and variance.
    """
    size, rate = coded.size.astype(np.float64), np.clip(coded.rate, 0.0, 1.0)
    mean = (coded.yes + _BESIDE) / (coded.coded + 2 * _BESIDE)
    spread = np.maximum(coded.variance, 1e-9)
    weight = np.maximum(mean * (1.0 - mean) / spread - 1.0, 1e-3)
    random = np.random.default_rng([seed, 61])
    drawn = random.beta(mean * weight, (1.0 - mean) * weight, (4000, len(size)))

    def figures(rates: NDArray[np.float64]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        about = rates * size
        held = about[..., HOLDS:].sum(axis=-1)
        return held / max(float(size[HOLDS:].sum()), 1e-300), held / np.maximum(about.sum(axis=-1), 1e-300)

    known = coded.coded[size > 0].all() and bool(coded.coded.sum())
    values, draws = figures(rate), figures(drawn)
    if not known or not size[HOLDS:].sum():
        return Rate(None, None, None), Rate(None, None, None)

    def rate_of(value: NDArray[np.float64], of: NDArray[np.float64]) -> Rate:
        low, high = np.percentile(of, [2.5, 97.5])
        return Rate(float(value), float(min(low, value)), float(max(high, value)))

    return rate_of(values[0], draws[0]), rate_of(values[1], draws[1])
