"""The tagger's sums in compiled code: learning, the best tags, and how sure each is.

Tags stand here as states (``tags.STATES``). A state's score is what the word and its neighbours say
(one row a type, made beforehand) and what the two states before say. The score of a sentence is the
sum; the best sequence is found exactly, over the states that each word can have.
"""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

# Tags, some of them in two kinds, and the beginning of a sentence.
N_STATES = 19
EDGE = N_STATES  # the state before the first word
Floats = NDArray[np.float32]
Numbers = NDArray[np.int32]


@njit(cache=True)
def word_scores(ids: Numbers, own: Floats, near: Floats, first: int, after: int, out: Floats) -> None:
    """What words say of the tags of tokens first..after (float32[n, 19]).

    ``own`` is float32[n_types, 19], ``near`` float32[4, n_types + 1, 19] of what a word says of the
    tag behind it, before it, two behind and two before; its last row is the edge of a sentence.
    """
    edge = near.shape[1] - 1
    for at in range(first, after):
        behind = ids[at - 1] if at > first else edge
        before = ids[at + 1] if at + 1 < after else edge
        behind2 = ids[at - 2] if at > first + 1 else edge
        before2 = ids[at + 2] if at + 2 < after else edge
        for tag in range(N_STATES):
            out[at - first, tag] = (
                own[ids[at], tag]
                + near[0, behind, tag]
                + near[1, before, tag]
                + near[2, behind2, tag]
                + near[3, before2, tag]
            )


@njit(cache=True)
def _choices_before(
    at: int, ids: Numbers, first: int, choices: NDArray[np.int8], sizes: NDArray[np.int8]
) -> tuple[NDArray[np.int8], int]:
    """The tags that the token may have, and how many; before a sentence its edge alone."""
    if at < 0:
        return np.full(1, EDGE, dtype=np.int8), 1
    return choices[ids[first + at]], sizes[ids[first + at]]


@njit(cache=True)
def best_tags(
    scores: Floats,
    ids: Numbers,
    first: int,
    choices: NDArray[np.int8],
    sizes: NDArray[np.int8],
    pairs: Numbers,
    tri: Floats,
    pair: Floats,
    found: NDArray[np.int8],
) -> None:
    """The tags of a sentence with the highest score (Viterbi over pairs of tags), put into ``found``.

    Parameters
    ----------
    scores : float32[n, 19]; the sentence begins at ``ids[first]``
    choices, sizes : int8[n_types, 19], int8[n_types], the tags that each type can have, and how many
    pairs : int32[n_types], the row of ``pair`` that a type has, or 0
    tri : float32[20, 20, 19], of a tag after two others
    pair : float32[n_rows, 20, 19], of a tag after another where a certain word stands; row 0 is nought
    """
    n = len(scores)
    came = np.zeros((n, N_STATES + 1, N_STATES), dtype=np.int8)
    best = np.zeros((N_STATES + 1, N_STATES + 1), dtype=np.float32)
    now = np.zeros((N_STATES + 1, N_STATES + 1), dtype=np.float32)
    for at in range(n):
        olds, n_old = _choices_before(at - 2, ids, first, choices, sizes)
        lasts, n_last = _choices_before(at - 1, ids, first, choices, sizes)
        kind = ids[first + at]
        row = pair[pairs[kind]]
        for b in range(n_last):
            last = lasts[b]
            for c in range(sizes[kind]):
                tag = choices[kind, c]
                most, by = np.float32(-np.inf), 0
                for a in range(n_old):
                    score = best[olds[a], last] + tri[olds[a], last, tag]
                    if score > most:
                        most, by = score, olds[a]
                now[last, tag] = most + row[last, tag] + scores[at, tag]
                came[at, last, tag] = by
        best, now = now, best
    lasts, n_last = _choices_before(n - 2, ids, first, choices, sizes)
    old, tag, top = 0, 0, np.float32(-np.inf)
    for b in range(n_last):
        for c in range(sizes[ids[first + n - 1]]):
            here = choices[ids[first + n - 1], c]
            if best[lasts[b], here] > top:
                old, tag, top = lasts[b], here, best[lasts[b], here]
    for at in range(n - 1, -1, -1):
        found[at] = tag
        old, tag = came[at, old, tag], old


@njit(cache=True)
def _learn_word(
    rows: Numbers,
    ptr: NDArray[np.int64],
    kind: int,
    weights: NDArray[np.float64],
    sums: NDArray[np.float64],
    tag: int,
    step: float,
    count: float,
) -> None:
    for at in range(ptr[kind], ptr[kind + 1]):
        weights[rows[at], tag] += step
        sums[rows[at], tag] += step * count


@njit(cache=True)
def _pool(rows: Numbers, ptr: NDArray[np.int64], kind: int, weights: NDArray[np.float64], out: Floats) -> None:
    for at in range(ptr[kind], ptr[kind + 1]):
        for tag in range(N_STATES):
            out[tag] += np.float32(weights[rows[at], tag])


@njit(cache=True)
def learn(
    ids: Numbers,
    gold: NDArray[np.int8],
    sentences: NDArray[np.int64],
    order: NDArray[np.int64],
    choices: NDArray[np.int8],
    sizes: NDArray[np.int8],
    pairs: Numbers,
    own_rows: Numbers,
    own_ptr: NDArray[np.int64],
    near_rows: Numbers,
    near_ptr: NDArray[np.int64],
    own: NDArray[np.float64],
    near: NDArray[np.float64],
    tri: NDArray[np.float64],
    pair: NDArray[np.float64],
) -> None:
    """The averaged structured perceptron (M. Collins, EMNLP 2002); the weights are put in place.

    Parameters
    ----------
    order : int64[n_steps], the sentences in the order in which they are learnt
    own, near, tri, pair : float64[n_features, 19], [4, n_features, 19], [20, 20, 19], [n_rows, 20, 19]
    """
    own_sum, near_sum = np.zeros_like(own), np.zeros_like(near)
    tri_sum, pair_sum = np.zeros_like(tri), np.zeros_like(pair)
    edge = len(near_ptr) - 2
    count = 1.0
    for sentence in order:
        first, after = sentences[sentence], sentences[sentence + 1]
        n = after - first
        scores = np.zeros((n, N_STATES), dtype=np.float32)
        around = np.full((n, 4), edge, dtype=np.int32)
        for at in range(n):
            for place, step in enumerate((-1, 1, -2, 2)):
                if 0 <= at + step < n:
                    around[at, place] = ids[first + at + step]
                _pool(near_rows, near_ptr, around[at, place], near[place], scores[at])
            _pool(own_rows, own_ptr, ids[first + at], own, scores[at])
        found, wanted = np.zeros(n, dtype=np.int8), gold[first:after]
        best_tags(scores, ids, first, choices, sizes, pairs, tri.astype(np.float32), pair.astype(np.float32), found)
        if (found != wanted).any():
            for sign, tags in ((1.0, wanted), (-1.0, found)):
                old, last = EDGE, EDGE
                for at in range(n):
                    tag, kind = tags[at], ids[first + at]
                    tri[old, last, tag] += sign
                    tri_sum[old, last, tag] += sign * count
                    if pairs[kind]:
                        pair[pairs[kind], last, tag] += sign
                        pair_sum[pairs[kind], last, tag] += sign * count
                    if wanted[at] != found[at]:
                        _learn_word(own_rows, own_ptr, kind, own, own_sum, tag, sign, count)
                        for place in range(4):
                            _learn_word(
                                near_rows, near_ptr, around[at, place], near[place], near_sum[place], tag, sign, count
                            )
                    old, last = last, tag
        count += 1.0
    own -= own_sum / count
    near -= near_sum / count
    tri -= tri_sum / count
    pair -= pair_sum / count


@njit(cache=True)
def _shares(
    scores: Floats,
    ids: Numbers,
    first: int,
    choices: NDArray[np.int8],
    sizes: NDArray[np.int8],
    pairs: Numbers,
    tri: Floats,
    pair: Floats,
    found: NDArray[np.int8],
    out: Floats,
) -> None:
    """How much of all sequences, weighed by e^score, has the tag found for each word (forward-backward).

    ``tri`` and ``pair`` are e^score here, so that only words need the exponential.
    """
    n = len(scores)
    word = np.zeros((n, N_STATES))
    for at in range(n):
        kind = ids[first + at]
        top = -np.inf
        for c in range(sizes[kind]):
            top = max(top, scores[at, choices[kind, c]])
        for c in range(sizes[kind]):
            word[at, choices[kind, c]] = np.exp(scores[at, choices[kind, c]] - top)
    ahead = np.zeros((n + 1, N_STATES + 1, N_STATES + 1))
    ahead[0, EDGE, EDGE] = 1.0
    for at in range(n):
        olds, n_old = _choices_before(at - 2, ids, first, choices, sizes)
        lasts, n_last = _choices_before(at - 1, ids, first, choices, sizes)
        kind = ids[first + at]
        row, total = pair[pairs[kind]], 0.0
        for b in range(n_last):
            for c in range(sizes[kind]):
                tag, last, here = choices[kind, c], lasts[b], 0.0
                for a in range(n_old):
                    here += ahead[at, olds[a], last] * tri[olds[a], last, tag]
                ahead[at + 1, last, tag] = here * row[last, tag] * word[at, tag]
                total += ahead[at + 1, last, tag]
        for b in range(n_last):
            for c in range(sizes[kind]):
                ahead[at + 1, lasts[b], choices[kind, c]] /= total
    back = np.ones((N_STATES + 1, N_STATES + 1))
    for at in range(n - 1, -1, -1):
        olds, n_old = _choices_before(at - 2, ids, first, choices, sizes)
        lasts, n_last = _choices_before(at - 1, ids, first, choices, sizes)
        kind = ids[first + at]
        row, total, mine = pair[pairs[kind]], 0.0, 0.0
        for b in range(n_last):
            for c in range(sizes[kind]):
                here = ahead[at + 1, lasts[b], choices[kind, c]] * back[lasts[b], choices[kind, c]]
                total += here
                if choices[kind, c] == found[at]:
                    mine += here
        out[at] = mine / total
        earlier, top = np.zeros((N_STATES + 1, N_STATES + 1)), 0.0
        for a in range(n_old):
            for b in range(n_last):
                old, last, here = olds[a], lasts[b], 0.0
                for c in range(sizes[kind]):
                    tag = choices[kind, c]
                    here += tri[old, last, tag] * row[last, tag] * word[at, tag] * back[last, tag]
                earlier[old, last] = here
                top = max(top, here)
        back = earlier / top


@njit(cache=True)
def tag_all(
    ids: Numbers,
    sentences: NDArray[np.int64],
    own: Floats,
    near: Floats,
    choices: NDArray[np.int8],
    sizes: NDArray[np.int8],
    pairs: Numbers,
    tri: Floats,
    pair: Floats,
    heat: float,
    sure: bool,
) -> tuple[NDArray[np.int8], Floats]:
    """The tags of all sentences, and the confidence of each (1 where ``sure`` is not asked for).

    Parameters
    ----------
    ids : int32[n_tokens], types; sentences : int64[n_sentences + 1], where each begins
    own, near : float32[n_types, n_states], scores of a type for its own tag and for those beside it
    choices, sizes : int8[n_types, ...] and int8[n_types], the states that a type can have, and how many
    tri, pair : float32, scores of three states in a row and of pairs of types, by ``pairs``

    Returns
    -------
    int8[n_tokens], float32[n_tokens]
    """
    tags, shares = np.zeros(len(ids), dtype=np.int8), np.ones(len(ids), dtype=np.float32)
    longest = (sentences[1:] - sentences[:-1]).max() if len(sentences) > 1 else 0
    scores = np.zeros((longest, N_STATES), dtype=np.float32)
    tri_e, pair_e = np.exp(tri / heat), np.exp(pair / heat)
    for sentence in range(len(sentences) - 1):
        first, after = sentences[sentence], sentences[sentence + 1]
        if after == first:
            continue
        here = scores[: after - first]
        word_scores(ids, own, near, first, after, here)
        best_tags(here, ids, first, choices, sizes, pairs, tri, pair, tags[first:after])
        if sure:
            _shares(
                here / heat, ids, first, choices, sizes, pairs, tri_e, pair_e, tags[first:after], shares[first:after]
            )
    return tags, shares


@njit(cache=True)
def pooled(rows: Numbers, ptr: NDArray[np.int64], weights: Floats) -> Floats:
    """The sum of the weights of each type's features, float32[n_types, 19]."""
    out = np.zeros((len(ptr) - 1, N_STATES), dtype=np.float32)
    for kind in range(len(ptr) - 1):
        for at in range(ptr[kind], ptr[kind + 1]):
            for tag in range(N_STATES):
                out[kind, tag] += weights[rows[at], tag]
    return out
