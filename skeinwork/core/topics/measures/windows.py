"""In how many sliding windows words, and pairs of words, stand: what measures of coherence are made from."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

VERSION = 1


class Texts(NamedTuple):
    """Texts that words are counted in.

    Attributes
    ----------
    stream : int32[n_tokens], term of each token, -1 for any that is none
    doc_ptr : int64[n_docs + 1], where documents begin in it
    """

    stream: NDArray[np.int32]
    doc_ptr: NDArray[np.int64]


@njit(cache=True, nogil=True)
def count_windows(ids: Any, doc_ptr: Any, n_words: int, window: int) -> Any:
    """In how many windows each word, and each pair of words, occurs.

    A pair is counted when one of its words leaves, for all the windows since the later of the two came:
    so the work is as the tokens of watched words, not as the windows.

    Parameters
    ----------
    ids : int32[n_tokens], index of a watched word, -1 for any other
    window : tokens in a window; a shorter document is one window

    Returns
    -------
    joint : int64[n_words, n_words], the diagonal holding the single counts
    total : number of windows
    """
    joint = np.zeros((n_words, n_words), dtype=np.int64)
    inside = np.zeros(n_words, dtype=np.int32)
    since = np.zeros(n_words, dtype=np.int64)
    slot_of = np.zeros(n_words, dtype=np.int32)
    present = np.empty(n_words, dtype=np.int32)
    total = 0
    for doc in range(len(doc_ptr) - 1):
        first, last = doc_ptr[doc], doc_ptr[doc + 1]
        n_present = 0
        for at in range(first, last):
            leaving = ids[at - window] if at - window >= first else -1
            if leaving >= 0:
                inside[leaving] -= 1
                if inside[leaving] == 0:
                    for slot in range(n_present):
                        other = present[slot]
                        joint[leaving, other] += total - max(since[leaving], since[other])
                    n_present -= 1
                    present[slot_of[leaving]] = present[n_present]
                    slot_of[present[n_present]] = slot_of[leaving]
            word = ids[at]
            if word >= 0:
                if inside[word] == 0:
                    since[word], slot_of[word] = total, n_present
                    present[n_present] = word
                    n_present += 1
                inside[word] += 1
            if at - first >= window - 1 or at == last - 1:
                total += 1
        for slot in range(n_present):
            word = present[slot]
            inside[word] = 0
            for before in range(slot + 1):
                joint[word, present[before]] += total - max(since[word], since[present[before]])
    return joint, total


@dataclass(frozen=True)
class Windows:
    """Windows that hold each of some words, and each pair of them.

    Attributes
    ----------
    words : int64[n_words], sorted
    joint : int64[n_words, n_words], windows that hold both, the diagonal those that hold one
    total : all windows
    """

    words: NDArray[np.int64]
    joint: NDArray[np.int64]
    total: int

    @classmethod
    def count(cls, texts: Texts, words: NDArray[np.int64], n_terms: int, size: int) -> Windows:
        """Of some terms, int64[n_words], sorted, in windows of ``size`` tokens; 0 for whole documents."""
        place = np.full(n_terms, -1, dtype=np.int32)
        place[words] = np.arange(len(words), dtype=np.int32)
        local = np.where(texts.stream >= 0, place[texts.stream], -1).astype(np.int32)
        longest = int(np.diff(texts.doc_ptr).max(initial=1))
        joint, total = count_windows(local, texts.doc_ptr, len(words), size or max(longest, 1))
        both = joint + joint.T
        both[np.diag_indices(len(words))] = np.diag(joint)
        return cls(words, both, int(total))

    def among(self, some: NDArray[np.int64]) -> NDArray[np.int64]:
        """The windows of some of the words, int64[n, n], in their order."""
        at = np.searchsorted(self.words, some)
        return self.joint[np.ix_(at, at)]
