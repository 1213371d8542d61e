"""The clusters that a cut of a tree leaves: what to call them, and how sure they are.

C. Hennig, *Cluster-wise assessment of cluster stability*, Computational Statistics and Data Analysis 52,
2007.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.progress import Report, silent
from skeinwork.core.relate.distances import distances
from skeinwork.core.relate.linkage import Tree, linkage

# Resampled documents: a share of .75 is then known to about .1.
RESAMPLES = 20
# Likeness from which a cluster is more than chance (Hennig 2007).
STANDS = 0.6
# Clusters up to which a cut is looked for: more can't be read side by side.
_MOST_CLUSTERS = 40


def by_centrality(between: NDArray[np.float64], group: NDArray[np.int64]) -> list[NDArray[np.int64]]:
    """The members of each group, int64[n_members], the one nearest to all others of its group first.

    Parameters
    ----------
    between : float64[n_items, n_items]
    group : int64[n_items], from 0
    """
    found = []
    for number in range(int(group.max(initial=-1)) + 1):
        members = np.flatnonzero(group == number)
        whole = between[np.ix_(members, members)].sum(axis=1)
        found.append(members[np.argsort(whole, kind="stable")])
    return found


def resampled_trees(
    rows: scipy.sparse.csr_matrix,
    distance: str,
    by: str,
    seed: int = 1,
    resamples: int = RESAMPLES,
    report: Report = silent,
) -> list[Tree]:
    """The tree of the same items where the columns are drawn anew, with replacement: other documents, or other words.

    Parameters
    ----------
    rows : float64[n_items, n_columns]
    distance, by : keys of ``DISTANCES`` and ``LINKAGES``
    """
    columns, chance = scipy.sparse.csc_matrix(rows), np.random.default_rng(seed)
    found = []
    for draw in range(resamples):
        report("Drawing anew", draw / resamples)
        drawn = columns[:, chance.integers(0, rows.shape[1], rows.shape[1])].tocsr()
        found.append(linkage(distances(drawn, distance), by))
    return found


def recurrence(group: NDArray[np.int64], again: Sequence[Tree]) -> NDArray[np.float64]:
    """How well each cluster comes back in trees over columns drawn anew, from 0 to 1, float64[n_clusters].

    Each of the trees is cut into as many clusters; of each cluster the likeness (Jaccard) of the one most
    like it counts, its mean over the trees (Hennig 2007). NaN where there is no tree.

    Parameters
    ----------
    group : int64[n_items], the clusters to be judged, from 0
    """
    number = int(group.max()) + 1
    if not again:
        return np.full(number, np.nan)
    return np.mean([_likeness(group, tree.cut(number), number) for tree in again], axis=0)


def standing_cut(tree: Tree, again: Sequence[Tree], report: Report = silent) -> tuple[int, int]:
    """The number of clusters at which most items lie in clusters that come back, and how many these are.

    The largest cluster, in which falls what belongs nowhere, is set aside, and so are pairs. (1, 0) where
    no cluster stands, or there is no tree over columns drawn anew.
    """
    best = (1, 0)
    most = min(_MOST_CLUSTERS, tree.n_items // 3) if again else 1
    for number in range(2, most + 1):
        report("Looking for a cut", number / most)
        group = tree.cut(number)
        sizes = np.bincount(group)
        stands = (recurrence(group, again) >= STANDS) & (sizes >= 3)
        stands[sizes.argmax()] = False
        if (items := int(sizes[stands].sum())) > best[1]:
            best = number, items
    return best


def _likeness(group: NDArray[np.int64], again: NDArray[np.int64], number: int) -> NDArray[np.float64]:
    """Of each cluster the largest likeness to any of the others' clusters."""
    both = np.zeros((number, number))
    np.add.at(both, (group, again), 1.0)
    either = both.sum(axis=1)[:, None] + both.sum(axis=0)[None, :] - both
    return np.asarray((both / either).max(axis=1))
