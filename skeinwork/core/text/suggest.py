"""Words that may tell nothing: what an analyst may want to leave out.

Nothing is left out by this; every suggestion carries the figures that it rests on.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.text.clean import Cleaning
from skeinwork.core.text.spread import by_group, chance_entropy, evenness, spread


@dataclass(frozen=True)
class Common:
    """Of the forms of a cleaning that stand in many documents, the most even ones first.

    Attributes
    ----------
    forms : int64[n], numbers of forms
    tokens, documents : int64[n]
    share : float64[n], of the documents that hold any token
    over_documents : float64[n], entropy over documents against what chance would give as many tokens
    over_groups, over_topics : float64[n] or None, as ``evenness`` gives them
    """

    forms: NDArray[np.int64]
    tokens: NDArray[np.int64]
    documents: NDArray[np.int64]
    share: NDArray[np.float64]
    over_documents: NDArray[np.float64]
    over_groups: NDArray[np.float64] | None
    over_topics: NDArray[np.float64] | None


def common_forms(
    cleaning: Cleaning,
    groups: tuple[NDArray[np.int32], int] | None = None,
    topics: NDArray[np.float64] | None = None,
    least_share: float = 0.1,
) -> Common:
    """Forms of at least a share of the documents, by how little their spread says.

    They are ordered by the least of their evennesses over documents, groups and topics: a word tells
    nothing only where it is spread evenly over all of them.

    Parameters
    ----------
    groups : the group of each document (-1: none), and how many there are
    topics : float64[n_topics, n_forms], how much of each form belongs to each topic
    """
    tokens, size = cleaning.tokens, len(cleaning.forms)
    words = cleaning.token_forms()
    found = spread(words, tokens.doc_ptr, size)
    held = max(int((np.diff(tokens.doc_ptr) > 0).sum()), 1)
    share = found.documents / held
    chosen = np.flatnonzero((share >= least_share) & (found.documents > 1))
    chance = chance_entropy(found.tokens[chosen], np.diff(tokens.doc_ptr))
    over = np.divide(found.entropy[chosen], chance, out=np.ones_like(chance), where=chance > 0)
    over_groups = over_topics = None
    if groups is not None:
        counts = by_group(words, tokens.doc_ptr, *groups, size)
        over_groups = evenness(counts[:, chosen].astype(float), counts.sum(axis=1).astype(float))
    if topics is not None:
        over_topics = evenness(topics[:, chosen], topics.sum(axis=1))
    least = over.copy()
    for each in (over_groups, over_topics):
        least = least if each is None else np.minimum(least, each)
    order = np.lexsort((-share[chosen], -least.round(6)))
    pick = chosen[order]
    return Common(
        pick.astype(np.int64),
        found.tokens[pick],
        found.documents[pick],
        share[pick],
        over[order],
        None if over_groups is None else over_groups[order],
        None if over_topics is None else over_topics[order],
    )
