"""Words that are mostly written in capitals: *US* is not *us*, *IT* not *it*."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.text.segment import WORD, Segments

_RUN = 3  # capitals in a row are a heading or emphasis, and say nothing of a word
# Capitals inside sentences: a single one may be a slip.
_LEAST = 2


def is_capitals(word: str) -> bool:
    """Whether a word has two letters or more, all of them capitals.

    >>> [is_capitals(word) for word in ("US", "It", "I", "A1")]
    [True, False, False, False]
    """
    return len(word) > 1 and word.isalpha() and word.isupper()


def counts_apart_from_headings(tokens: Segments) -> NDArray[np.int64]:
    """How often each type stands outside runs of ``_RUN`` words in capitals, int64[n_types]."""
    capital = np.array([is_capitals(word) for word in tokens.types], dtype=bool)
    words = tokens.classes == WORD
    here = np.flatnonzero(words[tokens.ids])
    loud = capital[tokens.ids[here]]
    document = np.searchsorted(tokens.doc_ptr, here, side="right")
    in_run = np.zeros(len(here), dtype=bool)
    last = len(here) - _RUN + 1
    if last > 0:
        run = loud[:last] & (document[:last] == document[_RUN - 1 :])
        for step in range(1, _RUN):
            run &= loud[step : last + step]
        for step in range(_RUN):
            in_run[step : last + step] |= run
    counted = tokens.ids[here[~in_run]]
    return np.bincount(counted, minlength=len(tokens.types)).astype(np.int64)


def mostly_capitals(words: Sequence[str], counts: NDArray[np.int64]) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """Which words are written in capitals more often than in any other way, and which at times.

    Parameters
    ----------
    words : distinct, as they stand in the text; counts : int64[n_words], of each

    Returns
    -------
    Two masks, bool[n_words]; both hold only words in capitals that occur twice or more
    """
    capital = np.array([is_capitals(word) for word in words], dtype=bool) & (counts >= _LEAST)
    totals = {words[at].casefold(): 0 for at in np.flatnonzero(capital).tolist()}
    for word, count in zip(words, counts.tolist(), strict=True) if totals else ():
        if (form := word.casefold()) in totals:
            totals[form] += count
    whole = np.zeros(len(words), dtype=np.int64)
    for at in np.flatnonzero(capital).tolist():
        whole[at] = totals[words[at].casefold()]
    mostly = capital & (2 * counts > whole)
    return mostly, capital & ~mostly
