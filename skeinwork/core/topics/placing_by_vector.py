"""Documents by their vectors among the topics of a fit: by the middles of the strongest documents of each.

The middle is weighed by rank: 1, ½, ⅓ … (``relate/nearest.rank_weights``).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.relate.nearest import centroid
from skeinwork.core.relate.neighbours import unit_vectors

# Documents of a topic that its middle is of: by rank the next would add under one in two hundred.
STRONGEST = 50


def topic_middles(
    unit: NDArray[np.float32], strength: NDArray[np.float64], most: int = STRONGEST
) -> tuple[NDArray[np.float32], list[NDArray[np.int64]]]:
    """The middle of each topic's strongest documents, and which these are.

    Parameters
    ----------
    unit : float32[n_items, n_dimensions] of length 1
    strength : float64[n_items, n_topics], how strongly a document has a topic; 0 where it hasn't
    most : documents of a middle

    Returns
    -------
    float32[n_topics, n_dimensions] of length 1, zeros for a topic without any; the items of each, the strongest first

    Examples
    --------
    >>> unit = np.array([[1, 0], [0, 1], [0, -1]], np.float32)
    >>> middles, of = topic_middles(unit, np.array([[0.9, 0.0], [0.0, 0.8], [0.0, 0.0]]))
    >>> middles.tolist(), [each.tolist() for each in of]
    ([[1.0, 0.0], [0.0, 1.0]], [[0], [1]])
    """
    middles, members = np.zeros((strength.shape[1], unit.shape[1])), []
    for topic, own in enumerate(strength.T):
        # Sums of counts differ in their last bits: what is equal stays in its order.
        first = np.argsort(-own.round(9), kind="stable")[:most]
        first = first[own[first] > 0]
        members.append(first)
        if len(first):
            middles[topic] = centroid(unit[first], "falling")
    return unit_vectors(middles), members


def near_middles(unit: NDArray[np.float32], middles: NDArray[np.float32]) -> NDArray[np.float64]:
    """Cosines with the middles, float64[n_items, n_topics], rounded to what all machines agree on."""
    return np.asarray(np.round(unit.astype(np.float64) @ middles.T.astype(np.float64), 6))
