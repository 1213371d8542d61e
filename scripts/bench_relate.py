"""Relate: a tree of 3,000 words against SciPy's, groups of 100,000 documents against plain steps of Lloyd's."""

from __future__ import annotations

import time

import numpy as np
import scipy
from bench_base import Line, interleaved
from scipy.cluster.hierarchy import linkage as scipy_linkage
from scipy.spatial.distance import squareform

from skeinwork.core.relate.distances import distances
from skeinwork.core.relate.groups import GroupSettings, k_means
from skeinwork.core.relate.layout import affinities, begin, lay_out
from skeinwork.core.relate.leaf_order import leaf_order
from skeinwork.core.relate.linkage import linkage
from skeinwork.core.relate.neighbours import neighbours, unit_vectors
from skeinwork.core.relate.significance import significance, unit_counts
from skeinwork.core.relate.truncated_svd import truncated_svd
from skeinwork.core.relate.trustworthiness import trustworthiness
from skeinwork.core.topics.methods.base import Vectors
from skeinwork.core.topics.methods.clusters import CLUSTERS, ClustersSettings

_COLUMNS, _WORDS, _GROUPS = 20_000, 30, 50


def relate(items: int, documents: int) -> list[Line]:
    """Both, and how long the order of the leaves takes."""
    between = distances(_rows(items, 0), "cosine")
    condensed = squareform(between, checks=False)
    ours, theirs = interleaved(lambda: linkage(between, "ward"), lambda: scipy_linkage(condensed, "ward"), 3)
    tree = linkage(between, "ward")
    begun = time.perf_counter()
    leaf_order(tree, between)
    ordered = time.perf_counter() - begun
    size = f"{items} words"
    return [
        Line("tree of words (Ward)", size, ours, theirs, theirs / ours, "at least 1"),
        Line("order of its leaves", size, ordered, 60, ordered, "under 60 s, with progress"),
        grouping(documents),
        comparing(documents),
        *mapping(documents // 2),
    ]


def mapping(documents: int) -> list[Line]:
    """Leading directions against their products alone; a map from vectors, and how far it can be trusted."""
    chance = np.random.default_rng(4)
    rows = _rows(documents, 4)
    begun = time.perf_counter()
    found = truncated_svd(rows, 100)
    directions = time.perf_counter() - begun
    begun = time.perf_counter()
    for _ in range(found.passes):
        rows.T @ (rows @ np.ones((rows.shape[1], 150)))
    least = time.perf_counter() - begun
    vectors = unit_vectors(
        chance.normal(size=(60, 100))[chance.integers(60, size=documents)] + chance.normal(0, 0.8, (documents, 100))
    )
    begun = time.perf_counter()
    near = neighbours(vectors, 15)
    searched = time.perf_counter() - begun
    places = lay_out(affinities(near), begin(vectors))
    whole = time.perf_counter() - begun
    trust = float(trustworthiness(vectors, places, np.arange(0, documents, documents // 500)).mean())
    counts = _rows(documents, 5).astype(np.int32)
    begun = time.perf_counter()
    topics = CLUSTERS.fit(counts, ClustersSettings(topics=100), vectors=Vectors(np.arange(documents), vectors))
    fitted = time.perf_counter() - begun
    size = f"{documents} documents"
    return [
        Line(f"vector clusters, {len(topics.topic_word)} of 60", size, fitted, searched, fitted / 90, "under 90 s"),
        Line("100 leading directions", f"{size} x {rows.shape[1]}", directions, least, directions / least, "-"),
        Line("a map, of it the neighbours", size, whole, searched, whole / 60, "under 60 s, with progress"),
        Line("its trustworthiness", size, trust, 0.9, trust, "at least .9 of planted clusters"),
    ]


def grouping(documents: int) -> Line:
    """k-means of one start against as many plain steps."""
    rows = _rows(documents, 1)
    settings = GroupSettings(groups=_GROUPS, starts=1, iterations=10, spherical=False)
    begun = time.perf_counter()
    found = k_means(rows, settings)
    ours = time.perf_counter() - begun
    theirs = _plain_step(rows, found.centres) * found.iterations
    return Line("k-means, 50 groups", f"{documents} texts", ours, theirs, theirs / ours, "at least 1")


def comparing(documents: int) -> Line:
    """Words of fifty groups with a test by unit for each, against adding up their tokens alone."""
    counts = _rows(documents, 2)
    counts.sum_duplicates()
    group = np.random.default_rng(3).integers(0, _GROUPS, documents)
    add = scipy.sparse.csr_matrix((np.ones(documents), (group, np.arange(documents))), (_GROUPS, documents))
    begun = time.perf_counter()
    (add @ counts).toarray()
    theirs = time.perf_counter() - begun
    begun = time.perf_counter()
    significance(unit_counts(counts.astype(np.int32), group))
    ours = time.perf_counter() - begun
    return Line("words of 50 groups, by unit", f"{documents} texts", ours, theirs, ours, "under 60 s, with progress")


def _rows(number: int, seed: int) -> scipy.sparse.csr_matrix:
    """Rows of some thirty words each, few of them frequent."""
    chance = np.random.default_rng(seed)
    columns = (_COLUMNS * chance.random((number, _WORDS)) ** 3).astype(np.int64)
    places = (np.repeat(np.arange(number), _WORDS), columns.ravel())
    return scipy.sparse.csr_matrix((np.ones(number * _WORDS), places), (number, _COLUMNS))


def _plain_step(rows: scipy.sparse.csr_matrix, centres: np.ndarray) -> float:
    """Seconds of one step: distances from all centres, the nearest, the means."""
    begun = time.perf_counter()
    apart = (centres**2).sum(axis=1)[None, :] - 2 * (rows @ centres.T)
    group = apart.argmin(axis=1)
    members = scipy.sparse.csr_matrix((np.ones(len(group)), (group, np.arange(len(group)))), (len(centres), len(group)))
    _ = (members @ rows).toarray() / np.maximum(np.bincount(group, minlength=len(centres)), 1)[:, None]
    return time.perf_counter() - begun
