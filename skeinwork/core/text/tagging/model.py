"""The weights of the tagger, and what they say of types."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from itertools import accumulate
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.text.tagging import kernel, words

PATH = Path(__file__).parents[1] / "data" / "tagger_english.npz"
Floats = NDArray[np.float32]
EDGE = "edge"  # what the neighbours of a sentence's ends are
Word = tuple[str, bool]  # a word, and whether it is the first of its sentence


@dataclass(frozen=True)
class Model:
    """An averaged perceptron.

    Attributes
    ----------
    own, near : the number of each feature of a word, for its own tag and for its neighbours'
    own_weights, near_weights : float32[n_own, 19], float32[4, n_near, 19]
    tri : float32[20, 20, 19], of a tag after two others
    pair_words : the words that say of a tag after another; row 1 and on of ``pair``
    pair : float32[n_rows, 20, 19]
    heat : what scores are divided by, so that confidences are as often right as they say, of sentences
        like those learnt from
    elsewhere : what the log-odds of confidences are divided by, so that they are so of other people's
        texts too: found on such texts, whose tags did not serve to learn
    """

    own: dict[str, int]
    near: dict[str, int]
    own_weights: Floats
    near_weights: Floats
    tri: Floats
    pair_words: dict[str, int]
    pair: Floats
    heat: float
    elsewhere: float = 1.6

    def confidence(self, shares: Floats) -> Floats:
        """How surely a tag is right that so much of all ways to tag a sentence gives."""
        if self.elsewhere == 1.0:
            return shares
        apart = np.clip(shares.astype(np.float64), 1e-9, 1 - 1e-9)
        return (1 / (1 + ((1 - apart) / apart) ** (1 / self.elsewhere))).astype(np.float32)

    def of_types(self, types: Sequence[Word]) -> Types:
        """What the model says of each type, and of the edge of a sentence."""
        told = [words.features(*each) for each in types]
        own = kernel.pooled(*rows([each for each, _ in told], self.own), self.own_weights)
        said = rows([*(each for _, each in told), [EDGE]], self.near)
        near = np.stack([kernel.pooled(*said, weights) for weights in self.near_weights])
        pairs = [self.pair_words.get(word.lower(), 0) for word, _ in types]
        return Types(own, near, *choices(types), np.array(pairs, dtype=np.int32))

    def save(self, path: Path) -> None:
        """Write the weights, rounded to halves of two bytes."""
        np.savez_compressed(
            path,
            own=np.array(list(self.own)),
            near=np.array(list(self.near)),
            own_weights=self.own_weights.astype(np.float16),
            near_weights=self.near_weights.astype(np.float16),
            tri=self.tri.astype(np.float16),
            pair_words=np.array(list(self.pair_words)),
            pair=self.pair.astype(np.float16),
            heat=np.float64(self.heat),
        )


@dataclass(frozen=True)
class Types:
    """What the model says of types; see ``kernel.word_scores`` and ``kernel.best_tags``."""

    own: Floats
    near: Floats
    choices: NDArray[np.int8]
    sizes: NDArray[np.int8]
    pairs: NDArray[np.int32]


def rows(told: Sequence[Sequence[str]], numbered: dict[str, int]) -> tuple[NDArray[np.int32], NDArray[np.int64]]:
    """The known features of types, int32[n], one after another, and where those of each begin, int64[n_types + 1]."""
    found = [[numbered[name] for name in each if name in numbered] for each in told]
    pointer = np.array([0, *accumulate(map(len, found))], dtype=np.int64)
    return np.array([each for one in found for each in one], dtype=np.int32), pointer


def choices(types: Sequence[Word]) -> tuple[NDArray[np.int8], NDArray[np.int8]]:
    """The tags that each type can have, int8[n_types, 19], and how many."""
    found = [sorted(words.state_of(word, tag) for tag in words.candidates(word, first)) for word, first in types]
    listed = np.zeros((len(types), kernel.N_STATES), dtype=np.int8)
    for at, each in enumerate(found):
        listed[at, : len(each)] = each
    return listed, np.array([len(each) for each in found], dtype=np.int8)


def read(path: Path) -> Model:
    """The weights of a file."""
    with np.load(path, allow_pickle=False) as data:

        def numbered(name: str, first: int = 0) -> dict[str, int]:
            return {str(each): at for at, each in enumerate(data[name], start=first)}

        return Model(
            numbered("own"),
            numbered("near"),
            data["own_weights"].astype(np.float32),
            data["near_weights"].astype(np.float32),
            data["tri"].astype(np.float32),
            numbered("pair_words", 1),
            data["pair"].astype(np.float32),
            float(data["heat"]),
        )


@cache
def english() -> Model:
    """The model that ships with the program, read once."""
    return read(PATH)
