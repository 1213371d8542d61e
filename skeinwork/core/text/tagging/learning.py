"""Learning a tagger from sentences whose tags are known."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from itertools import accumulate
from pathlib import Path

import numpy as np

from skeinwork.core.text.tagging import kernel, words
from skeinwork.core.text.tagging.model import EDGE, Model, Word, choices, rows
from skeinwork.core.text.tagging.tags import NUMBER_OF, closed_classes

Tagged = list[tuple[str, str]]  # words and tags of a sentence
# Passes over the sentences.
ROUNDS = 12
_LEAST = 2  # a feature seen less often is not learnt
_LEAST_PAIR = 4  # a word seen less often says nothing of pairs of tags


def read_tagged(path: Path) -> list[Tagged]:
    """The sentences of a file, one a line, ``word/TAG`` by space; lines with ``#`` before them are notes.

    Raises
    ------
    ValueError : for a tag that is none, with its line
    """
    found = []
    for number, line in enumerate(path.read_text(encoding="utf-8").splitlines(), start=1):
        if line.strip() and not line.startswith("# "):
            pairs = [each.rpartition("/") for each in line.split()]
            if wrong := [each for each in pairs if each[2] not in NUMBER_OF or not each[0]]:
                raise ValueError(f"{path.name}, line {number}: “{''.join(wrong[0])}” has no tag")
            found.append([(word, tag) for word, _, tag in pairs])
    return found


def _counted(features: Iterable[str], least: int = _LEAST) -> dict[str, int]:
    counts = Counter(features)
    return {name: at for at, name in enumerate(sorted(n for n in counts if counts[n] >= least))}


def learn(sentences: Sequence[Tagged], seed: int = 1, heat: float = 1.0) -> Model:
    """A model of these sentences; the same for the same sentences and seed."""
    listed: list[Word] = []
    for sentence in sentences:
        first = words.first_word([word for word, _ in sentence])
        listed += [(word, at <= first) for at, (word, _) in enumerate(sentence)]
    types = {each: at for at, each in enumerate(dict.fromkeys(listed))}
    told = [words.features(*each) for each in types]
    ids = np.array([types[each] for each in listed], dtype=np.int32)
    own = _counted(name for at in ids.tolist() for name in told[at][0])
    near = _counted(name for at in ids.tolist() for name in told[at][1])
    near[EDGE] = len(near)
    common = Counter(word.lower() for word, _ in listed)
    several = {word for word, tags in closed_classes().items() if len(tags) > 1}
    frequent = sorted(each for each in several if common[each] >= _LEAST_PAIR)
    pair_words = {word: at for at, word in enumerate(frequent, start=1)}
    gold = np.array([words.state_of(*pair) for each in sentences for pair in each], dtype=np.int8)
    pairs = np.array([pair_words.get(word.lower(), 0) for word, _ in types], dtype=np.int32)
    bounds = np.array([0, *accumulate(map(len, sentences))], dtype=np.int64)
    random = np.random.default_rng(seed)
    order = np.concatenate([random.permutation(len(sentences)) for _ in range(ROUNDS)])
    tags = kernel.N_STATES
    weights = np.zeros((len(own), tags)), np.zeros((4, len(near), tags))
    tri, pair = np.zeros((tags + 1, tags + 1, tags)), np.zeros((len(frequent) + 1, tags + 1, tags))
    kernel.learn(
        ids,
        gold,
        bounds,
        order,
        *choices(list(types)),
        pairs,
        *rows([each for each, _ in told], own),
        *rows([*(each for _, each in told), [EDGE]], near),
        *weights,
        tri,
        pair,
    )
    return Model(
        own,
        near,
        weights[0].astype(np.float32),
        weights[1].astype(np.float32),
        tri.astype(np.float32),
        pair_words,
        pair.astype(np.float32),
        heat,
    )
