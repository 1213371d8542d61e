"""How shares of topics go together, as parts of a whole."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray


def log_ratio_correlation(shares: NDArray[np.float64]) -> NDArray[np.float64]:
    """Correlation of the centred log-ratios of shares over documents.

    J. Aitchison, *The statistical analysis of compositional data*, Journal of the Royal Statistical Society B 44(2),
    1982. A share is held against the geometric mean of its document's; yet parts of one whole still lean to
    -1 / (n_topics - 1), where nothing goes with anything.

    Parameters
    ----------
    shares : float64[n_docs, n_topics], above 0; documents with a share of 0 are left out

    Returns
    -------
    float64[n_topics, n_topics], in [-1, 1]; 0 where a topic's share does not vary
    """
    known = shares[(shares > 0).all(axis=1)]
    topics = shares.shape[1]
    if len(known) < 3:
        return np.eye(topics)
    logs = np.log(known)
    centred = logs - logs.mean(axis=1, keepdims=True)
    centred -= centred.mean(axis=0)
    spread = np.sqrt((centred**2).sum(axis=0))
    found = (centred.T @ centred) / np.maximum(np.outer(spread, spread), 1e-300)
    found[spread < 1e-12] = 0.0
    found[:, spread < 1e-12] = 0.0
    np.fill_diagonal(found, 1.0)
    return np.clip(found, -1.0, 1.0)
