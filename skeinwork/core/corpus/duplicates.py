"""Documents that are the same, or nearly.

Exact: equal after letter case, punctuation and white space are set aside. Near: Jaccard similarity
of the sets of three-word shingles at or above a threshold. Candidates are found by MinHash with
banding (Broder 1997, *On the resemblance and containment of documents*; Leskovec, Rajaraman & Ullman,
*Mining of Massive Datasets*, ch. 3) and every candidate pair is checked on the shingles themselves.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.text.segment import Tokens

# Words in a shingle: runs of three tell texts of a few sentences apart.
SHINGLE = 3
# Hashes in a signature: likeness of 0.8 is told with a standard error of 0.05.
HASHES = 64
# Documents of one bucket that each is compared with, so that one common line costs no square.
_WIDEST = 50
# Any number will do; the same one gives the same groups.
_SEED = 20110101


def folded_words(tokens: Tokens) -> tuple[NDArray[np.int32], NDArray[np.int64]]:
    """Words of every document as numbers that are equal where only letter case differs.

    Returns
    -------
    words : int32[n_tokens]
    pointer : int64[n_docs + 1], where the words of each document begin and end
    """
    index: dict[str, int] = {}
    fold = np.fromiter(
        (index.setdefault(word.casefold(), len(index)) for word in tokens.types),
        dtype=np.int32,
        count=len(tokens.types),
    )
    return fold[tokens.ids] if len(fold) else tokens.ids, tokens.doc_ptr


@njit(cache=True, nogil=True)
def _mix(value: Any) -> Any:
    """A 64-bit value scattered (the finaliser of SplitMix64)."""
    value = (value ^ (value >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    value = (value ^ (value >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    return value ^ (value >> np.uint64(31))


@njit(cache=True, nogil=True)
def _whole(words: Any, pointer: Any) -> Any:
    """One hash of all words of each document; 0 for an empty one."""
    out = np.zeros(len(pointer) - 1, dtype=np.uint64)
    for document in range(len(out)):
        value = np.uint64(1469598103934665603)
        for at in range(pointer[document], pointer[document + 1]):
            value = _mix(value + np.uint64(words[at]) + np.uint64(1))
        if pointer[document + 1] > pointer[document]:
            out[document] = value
    return out


@njit(cache=True, nogil=True)
def _shingles(words: Any, pointer: Any, size: int) -> Any:
    """Distinct shingle hashes of each document, sorted; a shorter document is one shingle."""
    hashes = np.empty(len(words), dtype=np.uint64)
    bounds = np.zeros(len(pointer), dtype=np.int64)
    filled = 0
    for document in range(len(pointer) - 1):
        begin, end = pointer[document], pointer[document + 1]
        first = filled
        for at in range(begin, max(end - size + 1, min(begin + 1, end))):
            value = np.uint64(0)
            for inner in range(at, min(at + size, end)):
                value = _mix(value + np.uint64(words[inner]) + np.uint64(1))
            hashes[filled] = value
            filled += 1
        part = np.unique(hashes[first:filled])
        hashes[first : first + len(part)] = part
        filled = first + len(part)
        bounds[document + 1] = filled
    return hashes[:filled], bounds


@njit(cache=True, nogil=True)
def _signatures(shingles: Any, bounds: Any, salts: Any) -> Any:
    """uint64[n_docs, n_hashes], the smallest salted hash of each document's shingles."""
    out = np.full((len(bounds) - 1, len(salts)), np.uint64(0xFFFFFFFFFFFFFFFF))
    for document in range(len(out)):
        for at in range(bounds[document], bounds[document + 1]):
            for number in range(len(salts)):
                value = _mix(shingles[at] ^ salts[number])
                if value < out[document, number]:
                    out[document, number] = value
    return out


@njit(cache=True, nogil=True)
def _jaccard(shingles: Any, bounds: Any, a: int, b: int) -> float:
    i, j, shared = bounds[a], bounds[b], 0
    while i < bounds[a + 1] and j < bounds[b + 1]:
        if shingles[i] == shingles[j]:
            shared += 1
            i += 1
            j += 1
        elif shingles[i] < shingles[j]:
            i += 1
        else:
            j += 1
    union = bounds[a + 1] - bounds[a] + bounds[b + 1] - bounds[b] - shared
    return shared / max(union, 1)


@njit(cache=True, nogil=True)
def _root(parents: Any, at: int) -> int:
    while parents[at] != at:
        parents[at] = parents[parents[at]]
        at = parents[at]
    return at


@njit(cache=True, nogil=True)
def _join_bucket(order: Any, keys: Any, shingles: Any, bounds: Any, parents: Any, least: float) -> None:
    """Join documents of equal key whose similarity is high enough; long runs look at the last few."""
    begin = 0
    for at in range(len(order)):
        if keys[order[at]] != keys[order[begin]]:
            begin = at
        for other in range(max(begin, at - _WIDEST), at):
            a, b = _root(parents, order[other]), _root(parents, order[at])
            if a != b and _jaccard(shingles, bounds, order[other], order[at]) >= least:
                parents[max(a, b)] = min(a, b)


def exact_groups(words: NDArray[np.int32], pointer: NDArray[np.int64]) -> NDArray[np.int32]:
    """The first document with the same words, for every document; its own number when alone.

    Parameters
    ----------
    words, pointer : from ``folded_words``

    Returns
    -------
    int32[n_docs]; empty documents are alone
    """
    hashes = _whole(words, pointer)
    own = np.arange(len(hashes), dtype=np.int32)
    _, first, inverse = np.unique(hashes, return_index=True, return_inverse=True)
    return np.where(hashes == 0, own, first[inverse].astype(np.int32)).astype(np.int32)


def near_groups(words: NDArray[np.int32], pointer: NDArray[np.int64], threshold: float = 0.8) -> NDArray[np.int32]:
    """Chains of documents whose shingles overlap: the first document of each one's group.

    Parameters
    ----------
    words, pointer : from ``folded_words``, int32[n_tokens] and int64[n_docs + 1]
    threshold : least Jaccard similarity of two neighbours in a chain, 0.3 to 1

    Returns
    -------
    int32[n_docs]; empty documents are alone
    """
    parents = exact_groups(words, pointer)
    alone = np.flatnonzero((parents == np.arange(len(parents))) & (np.diff(pointer) > 0))
    shingles, bounds = _shingles(words, pointer, SHINGLE)
    salts = np.random.default_rng(_SEED).integers(0, 2**63, HASHES, dtype=np.uint64)
    signatures = _signatures(shingles, bounds, salts)
    rows = 4 if threshold >= 0.7 else 2
    for band in range(0, HASHES, rows):
        keys = signatures[:, band].copy()
        for column in range(band + 1, band + rows):
            keys = _mix_columns(keys, signatures[:, column])
        order = alone[np.argsort(keys[alone], kind="stable")]
        _join_bucket(order, keys, shingles, bounds, parents, threshold)
    return np.array([_root(parents, at) for at in range(len(parents))], dtype=np.int32)


@njit(cache=True, nogil=True)
def _mix_columns(keys: Any, column: Any) -> Any:
    out = np.empty_like(keys)
    for at in range(len(keys)):
        out[at] = _mix(keys[at] + column[at])
    return out
