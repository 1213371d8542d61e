"""How far fits of other seeds stand apart, as part of how surely a share is known.

The saved samples of one fit come from one chain, which stays near where it began: over seeds, shares
scatter by more than within any. The variance of the shares over chains is added to that within them
(A. Gelman and D. Rubin, *Inference from iterative simulation using multiple sequences*, 1992). Few
chains say little of their variance, which is why that leans towards what all topics together say.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.prevalence.totals import UnitTotals

# Degrees of freedom that what all topics say counts for: draws then hold .89 to .97 of
# planted shares with one to four other seeds, those of one chain .57 to .82 (docs/methods.md).
_OF_ALL = 5.0


# Tokens of each topic in each document by another chain, and whether a topic is found again in it.
Chain = tuple[scipy.sparse.csr_matrix, NDArray[np.bool_]]


def chain_of(assigned: scipy.sparse.csr_matrix, again: Sequence[Sequence[int]]) -> Chain:
    """Another chain's tokens by topics of this one.

    Parameters
    ----------
    assigned : float[n_docs, n_others], tokens of each of its topics in each document
    again : those of its topics that each of these is found again as; none where it is not
    """
    pairs = np.array([(there, k) for k, mine in enumerate(again) for there in mine], np.int64).reshape(-1, 2)
    shape = (assigned.shape[1], len(again))
    table = scipy.sparse.csr_matrix((np.ones(len(pairs)), (pairs[:, 0], pairs[:, 1])), shape=shape)
    # What is of no topic that is found again counts among a document's tokens all the same.
    rest = scipy.sparse.csr_matrix(assigned @ (1.0 - np.minimum(table.sum(axis=1), 1.0)))
    return scipy.sparse.hstack([assigned @ table, rest], format="csr"), np.array([bool(each) for each in again])


def cell_shares(
    assigned: scipy.sparse.csr_matrix, weights: NDArray[np.float64], cells: NDArray[np.int64], n_cells: int
) -> NDArray[np.float64]:
    """Share of every topic in every cell, as ``unit_totals`` gives it.

    Parameters
    ----------
    assigned : float[n_docs, n_topics], tokens of each topic in each document
    weights : float64[n_docs]; cells : int64[n_docs], -1 for none

    Returns
    -------
    float64[n_cells, n_topics], zeros in cells without documents
    """
    sizes = np.asarray(assigned.sum(axis=1), dtype=np.float64).ravel()
    docs = np.flatnonzero((sizes > 0) & (weights > 0) & (cells >= 0))
    whole = np.bincount(cells[docs], weights[docs], n_cells)
    parts = weights[docs] / (sizes[docs] * whole[cells[docs]])
    added = scipy.sparse.csr_matrix((parts, (cells[docs], docs)), shape=(n_cells, len(sizes)))
    return np.asarray((added @ assigned).todense())


def with_other_chains(totals: UnitTotals, others: list[NDArray[np.float64]]) -> UnitTotals:
    """The same totals, their spread that of the draws of all chains.

    Parameters
    ----------
    others : float64[n_cells, n_topics] each, shares of the same topics in another chain; NaN where a
        topic is not found again in it
    """
    return replace(totals, spread=spread_with_chains(totals.share, totals.spread, others))


def spread_with_chains(
    share: NDArray[np.float64], spread: NDArray[np.float64], others: list[NDArray[np.float64]]
) -> NDArray[np.float64]:
    """Variance of shares over the draws of all chains, float64[n_cells, n_topics].

    Parameters
    ----------
    share, spread : float64[n_cells, n_topics], of one chain; others : shares of the same in each other one, NaN where
        a topic is not found again in it
    """
    chains = np.stack([share, *others])
    known = ~np.isnan(chains)
    count = known.sum(axis=0)
    mean = np.where(known, chains, 0.0).sum(axis=0) / count
    apart = np.where(known, (chains - mean) ** 2, 0.0).sum(axis=0)
    several = count > 1
    if not several.any():
        return spread
    free = count - 1.0
    between = np.divide(apart, free, out=np.zeros_like(apart), where=several)
    ratio = between[several].sum() / max(float(spread[several].sum()), 1e-300)
    leaned = (free * between + _OF_ALL * ratio * spread) / (free + _OF_ALL)
    return np.asarray(spread + leaned * (1.0 + 1.0 / count))
