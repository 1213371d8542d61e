"""Where given phrases stand in a stream of tokens."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.text.phrases import Phrase, runs_of
from skeinwork.core.text.segment import Segments


def places_of(tokens: Segments, phrases: Sequence[Phrase]) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """The places of phrases, in whichever way they are written.

    All tokens are followed at once through the tree of the phrases' words, one word deeper at a time.

    Returns
    -------
    phrase : int64[n_places], ascending; start : int64[n_places], the first token, ascending within a phrase

    Examples
    --------
    >>> from skeinwork.core.text.phrases import find_phrases
    >>> from skeinwork.core.text.segment import segment
    >>> tokens = segment(["The pilot launch left. Pilot launches came."])
    >>> phrase, start = places_of(tokens, find_phrases(tokens, frozenset({"the"}), 2, 2))
    >>> phrase.tolist(), start.tolist()
    ([0, 0], [1, 5])
    """
    runs = runs_of(tokens)
    number = {word: at for at, word in enumerate(runs.words)}
    edges: dict[tuple[int, int], int] = {}  # from a node by a word to a node
    ends: dict[int, int] = {}  # the phrase that ends with a node
    for at, phrase in enumerate(phrases):
        for variant in phrase.variants:
            node = 0
            for word in variant.words.split(" "):
                node = edges.setdefault((node, number.get(word, -1)), len(edges) + 1)
            ends[node] = at
    size = len(runs.words) + 1
    keys = np.array([node * size + word for node, word in edges], dtype=np.int64)
    order = np.argsort(keys, kind="stable")
    keys, nodes = keys[order], np.array(list(edges.values()), dtype=np.int64)[order]
    end = np.full(len(edges) + 1, -1, dtype=np.int64)
    for node, at in ends.items():
        end[node] = at
    found_phrase, found_start = [], []
    start, node_of = np.flatnonzero(runs.ids >= 0), np.zeros(int((runs.ids >= 0).sum()), dtype=np.int64)
    depth = 0
    while len(start) and len(keys):
        wanted = node_of * size + runs.ids[start + depth]
        place = np.minimum(np.searchsorted(keys, wanted), len(keys) - 1)
        there = keys[place] == wanted
        start, node_of = start[there], nodes[place[there]]
        done = end[node_of] >= 0
        found_phrase.append(end[node_of[done]])
        found_start.append(start[done])
        depth += 1
        goes_on = start + depth < len(runs.ids)
        goes_on[goes_on] = (runs.ids[start[goes_on] + depth] >= 0) & runs.joined[start[goes_on] + depth]
        start, node_of = start[goes_on], node_of[goes_on]
    phrase_at = np.concatenate([*found_phrase, np.zeros(0, np.int64)])
    start_at = np.concatenate([*found_start, np.zeros(0, np.int64)])
    by = np.lexsort((start_at, phrase_at))
    return phrase_at[by], start_at[by]
