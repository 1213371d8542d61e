"""Two fits of the same documents: what became of the topics of one in the other."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.errors import BadInputError
from skeinwork.core.said import counted
from skeinwork.core.topics.alignment import Alignment, Fitted, align, moved, token_flow
from skeinwork.work.results.view import View
from skeinwork.work.steps import CHAIN, CORPUS, FIT
from skeinwork.work.topics import fits


@dataclass(frozen=True)
class Comparison:
    """An earlier or other fit beside that of a view.

    Attributes
    ----------
    then : the view of the other fit; its documents are those of the present one
    shares_then, shares_now : float64[n_docs, n_topics], zero rows for documents without counted words
    moved : float64[n_docs], the share of each document that lies elsewhere
    """

    then: View
    alignment: Alignment
    shares_then: NDArray[np.float64]
    shares_now: NDArray[np.float64]
    moved: NDArray[np.float64]


def view_of_fit(view: View, identity: str) -> View:
    """The view of another fit of the same documents.

    Raises
    ------
    BadInputError
        where it was made from others.
    """
    name = f"view of fit {identity}"
    if name in view.loaded:
        known: View = view.loaded[name]
        return known
    fits.open_fit(view, identity)
    chain = {step.name: view.store.ancestor(identity, step.name).identity for step in CHAIN}
    mine = view.store.ancestor(fit, CORPUS.name).identity if (fit := view.identity(FIT)) else view.identity(CORPUS)
    if chain[CORPUS.name] != mine:
        raise BadInputError("That fit was made from other documents, so that no token is in both.")
    view.loaded[name] = found = View(view.store, {**view.results, **chain}, view.cache, view.uploads)
    return found


def shares_of(view: View) -> NDArray[np.float64]:
    """The share of each topic in each document, without the prior, float64[n_docs, n_topics]."""
    sizes = view.assigned_sizes
    return np.asarray(view.assigned.toarray() / np.where(sizes > 0, sizes, 1.0)[:, None])


def compare(view: View, identity: str) -> Comparison:
    """The view's fit beside another of the same documents."""

    def made() -> Comparison:
        then = view_of_fit(view, identity)
        matrix, columns = view.fit_matrix, then.fit_matrix.columns
        there = np.array([columns.get(term, -1) for term in matrix.terms], dtype=np.int64)
        single = np.asarray(matrix.lengths) == 1
        here = np.flatnonzero((there >= 0) & (single if single.any() else True))
        shares = shares_of(then), shares_of(view)
        before = Fitted(shares[0], np.asarray(then.model.topic_word)[:, there[here]])
        after = Fitted(shares[1], np.asarray(view.model.topic_word)[:, here])
        alignment = align(token_flow(before, after, matrix.counts[:, here]))
        return Comparison(then, alignment, *shares, moved(alignment, *shares))

    return view.cached("comparison", made, identity)


def sentence(compared: Comparison) -> str:
    """What became of the topics, in words."""
    before, after = compared.alignment.before, compared.alignment.after
    parts = [f"{sum(each == 'same' for each in before)} of {counted(len(before), 'topic')} stayed the same"]
    for kind, several in (("split", "split"), ("merged", "went into one with others"), ("gone", "are gone")):
        if n := sum(each == kind for each in before):
            parts.append(f"{n} {'is gone' if kind == 'gone' and n == 1 else several}")
    if n := sum(each == "new" for each in after):
        parts.append(f"{n} {'is' if n == 1 else 'are'} new")
    return "; ".join(parts) + "."
