"""Which topics a document has."""

from __future__ import annotations

import numpy as np
import scipy
from numpy.typing import NDArray

LEAST_SHARE = 0.1
LEAST_TOKENS = 0.5  # on average over the samples: a token that is more likely the topic's than not


def enough(tokens: NDArray[np.float64], sizes: NDArray[np.float64], least: float = LEAST_SHARE) -> NDArray[np.bool_]:
    """Whether so many tokens of a topic are a share of a document's, and one at least, bool[n].

    Parameters
    ----------
    tokens, sizes : float64[n], of the topic in a document, and of the document
    """
    return np.asarray((tokens >= LEAST_TOKENS) & (tokens >= least * sizes))


def holding(assigned: scipy.sparse.csr_matrix, least: float = LEAST_SHARE) -> NDArray[np.bool_]:
    """Which topics each document has, bool[n_docs, n_topics].

    To have one is a share of the document's tokens and one token at least, not by the prior alone.

    Parameters
    ----------
    assigned : float64[n_docs, n_topics], tokens of each topic in each document
    least : share of a document's tokens

    >>> holding(scipy.sparse.csr_matrix([[9.0, 1.0, 0.0], [0.2, 0.1, 0.0]])).tolist()
    [[True, True, False], [False, False, False]]
    """
    entries = assigned.tocoo()
    sizes = np.asarray(assigned.sum(axis=1), dtype=np.float64).ravel()
    there = enough(entries.data, sizes[entries.row], least)
    found = np.zeros(assigned.shape, dtype=bool)
    found[entries.row[there], entries.col[there]] = True
    return found
