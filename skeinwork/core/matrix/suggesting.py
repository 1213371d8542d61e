"""Suggest a minimum number of documents for terms, from the spectrum of a cleaning."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.matrix.counting import Counted
from skeinwork.core.matrix.numbers import said
from skeinwork.core.matrix.pruning import Standing

LEAST_TOKENS = 0.95  # of the words in the texts that are to stay
MOST_EMPTIED = 0.005  # of the documents that may lose their last word
SMALL_GROUP = 0.002  # of the documents, whose common words are to stay


@dataclass(frozen=True)
class Suggestion:
    """A minimum number of documents, what it keeps, and why it is the one.

    Attributes
    ----------
    terms, of_terms : single words that stay, and all of them
    tokens : share of the words in the texts that stay
    emptied : documents that lose their last word
    """

    least: int
    terms: int
    of_terms: int
    tokens: float
    emptied: int
    why: str


def _lost(counted: Counted, df: NDArray[np.int64], most: int) -> NDArray[np.int64]:
    """Documents that lose their last word at each minimum up to ``most``, int64[most + 1]."""
    counts = counted.counts[:, : len(df)] if counted.parts else counted.counts
    filled = np.flatnonzero(np.diff(counts.indptr))
    if not len(filled):
        return np.zeros(most + 1, dtype=np.int64)
    best = np.maximum.reduceat(df[counts.indices], counts.indptr[filled])
    return np.searchsorted(np.sort(best), np.arange(most + 1)).astype(np.int64)


def suggest_min_documents(counted: Counted, known: Standing) -> Suggestion:
    """The highest minimum under which nearly all of the text stays, and what small groups share.

    A word in one document says nothing of what documents have in common, so it is two at least
    where two keeps any. Single words decide: most n-grams are rare in any corpus.
    """
    single = counted.lengths == 1
    df, total = known.df[single], known.total[single]
    cap = max(2, round(SMALL_GROUP * known.n_docs))
    lost, minima = _lost(counted, df, cap), np.arange(cap + 1)
    held = np.array([total[df >= least].sum() for least in minima]) / max(int(total.sum()), 1)
    fine = (held >= LEAST_TOKENS) & (lost <= MOST_EMPTIED * known.n_docs)
    fine[0] = False
    least = int(np.flatnonzero(fine).max(initial=1))
    if (df >= 2).any():
        least = max(least, 2)
    stay = int((df >= least).sum())
    why = _why(known, least, cap, bool(fine[least]), held, lost)
    return Suggestion(least, stay, int((df > 0).sum()), float(held[least]), int(lost[least]), why)


def _why(known: Standing, least: int, cap: int, fine: bool, held: NDArray[np.float64], lost: NDArray[np.int64]) -> str:
    if least == 1:
        return "no word is in two documents, so any limit would leave nothing"
    if not fine:
        return "a word in one document alone says nothing of what documents have in common"
    if least == cap:
        return (
            f"two in a thousand of {said(known.n_docs)} documents: what a small group has in common stays"
            if known.n_docs * SMALL_GROUP > 2
            else "a word in one document alone says nothing of what documents have in common"
        )
    if held[least + 1] < LEAST_TOKENS:
        return f"with {least + 1} only {100 * held[least + 1]:.1f}\u202f% of the words in the texts would stay"
    return f"with {least + 1} there would be {said(lost[least + 1])} documents without a word"
