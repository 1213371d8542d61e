"""Compile every kernel ahead of time: ``python -m skeinwork.core.warm``."""

from __future__ import annotations

from typing import Any

import numpy as np
import scipy

from skeinwork.core.corpus.duplicates import exact_groups, folded_words, near_groups
from skeinwork.core.matrix.counting import count, count_by_document
from skeinwork.core.matrix.matrix import Matrix, prune
from skeinwork.core.matrix.matrix_settings import MatrixSettings
from skeinwork.core.matrix.pruning import figures
from skeinwork.core.prevalence.differences import differences
from skeinwork.core.prevalence.leaving_out import left_out
from skeinwork.core.prevalence.smoothing import smoothed
from skeinwork.core.prevalence.totals import unit_totals
from skeinwork.core.relate.density import density
from skeinwork.core.relate.distances import distances
from skeinwork.core.relate.groups import GroupSettings, k_means
from skeinwork.core.relate.layout import affinities, begin, lay_out
from skeinwork.core.relate.leaf_order import leaf_order
from skeinwork.core.relate.linkage import linkage
from skeinwork.core.relate.medoids import k_medoids
from skeinwork.core.relate.neighbours import nearest_centres, neighbours, unit_vectors
from skeinwork.core.relate.significance import log_ratio_intervals, significance, unit_counts
from skeinwork.core.relate.truncated_svd import truncated_svd
from skeinwork.core.relate.word_contexts import context_counts
from skeinwork.core.text.clean import CleanSettings, clean
from skeinwork.core.text.language import detect_languages
from skeinwork.core.text.segment import join_texts, segment, segment_bytes
from skeinwork.core.text.spread import chance_entropy
from skeinwork.core.text.tagging import tag_segments
from skeinwork.core.text.tokenise import tokenise
from skeinwork.core.topics.co_occurrence import co_occurrence
from skeinwork.core.topics.measures.windows import count_windows
from skeinwork.core.topics.methods import METHODS
from skeinwork.core.topics.methods.base import Vectors
from skeinwork.core.topics.methods.lda_chain import Chain, LdaSettings
from skeinwork.core.topics.own_words import most_probable_topics
from skeinwork.core.topics.samplers import SAMPLERS


def warm() -> None:
    """Run the whole computation once on a few words, as made and as read from stored arrays.

    A kernel is compiled for each kind of array, and one that can't be written to is another kind.
    """
    settings = CleanSettings.model_validate({})
    texts = ["gale at the breakwater", "ferry and gale", "ferry ticket ferry"] * 6
    words = segment([*texts, f"{texts[0]} wall"], "uax29")
    data, pointer = _stored(*join_texts(texts))
    segment_bytes(data, pointer, "uax29")
    near_groups(*folded_words(words))
    exact_groups(*folded_words(words))
    detect_languages(words)
    tokens = tokenise(texts, settings.tokenising())
    tag_segments(tokens)
    chance_entropy(tokens.doc_ptr[1:], np.diff(tokens.doc_ptr))
    count_by_document(tokens.ids, *_stored(tokens.doc_ptr), len(tokens.types))
    counted = count(clean(tokens, settings), 2)
    figures(counted, np.ones(counted.n_terms, dtype=bool))
    matrix = prune(counted, MatrixSettings(min_documents=1, max_share=1.0))
    near = distances(matrix.counts.T.tocsr(), "jensen-shannon")
    leaf_order(linkage(near, "ward"), near)
    k_medoids(near, 2, starts=1)
    _warm_map(matrix)
    units = unit_counts(matrix.counts, np.arange(matrix.counts.shape[0]) % 2)
    log_ratio_intervals(units, 0, [0], significance(units).p[0, :1])
    k_means(matrix.counts, GroupSettings(groups=2, starts=1))
    for method in METHODS.values():
        wanted = method.settings.model_validate({"topics": 2, "iterations": 20})
        counts, vectors = matrix.counts, None
        if method.reads_vectors:
            counts, vectors = _dense_groups(matrix)
        model = method.fit(counts, wanted, vectors=vectors)
        ones = np.ones(counts.shape[0])
        cells = (np.arange(len(ones)) % 2).astype(np.int64)
        differences(unit_totals(model.drawn, ones, cells, 2))
        method.recovery(model, np.full(9, 5, dtype=np.int64), wanted)
        _stored(*vars(model.drawn).values())
        totals = unit_totals(model.drawn, ones, cells, 2, cells // 2)
        smoothed(totals, np.eye(2))
        most_probable_topics(counts, model.topic_word, model.doc_topic)
    left_out(np.ones((4, 1)), np.array([0, 1, 4]), np.ones(4), np.ones(4), 9.0 * np.eye(1), np.eye(1))
    for name in SAMPLERS:
        Chain(matrix.counts, LdaSettings(topics=2, sampler=name)).step()
    co_occurrence(np.eye(4, dtype=bool) | (np.arange(4) < 1), 2)
    ids = tokens.ids.astype(np.int32)
    count_windows(np.zeros_like(ids), tokens.doc_ptr, 1, 10)


def _warm_map(matrix: Matrix) -> None:
    """Vectors of a matrix, sparse and dense, and a map of them."""
    counts = scipy.sparse.csr_matrix(matrix.counts, dtype=np.float64)
    ids, doc_ptr = counts.indices.astype(np.int32), counts.indptr.astype(np.int64)
    context_counts(ids, doc_ptr, counts.shape[1], 2)
    found = truncated_svd(counts, 2)
    vectors = unit_vectors(found.left.astype(np.float32))
    for each in (vectors, *_stored(vectors)):
        unit_vectors(each)
    lay_out(affinities(neighbours(vectors, 3)), begin(vectors))
    nearest_centres(vectors, vectors[:2])
    density(vectors[:, :2], 1)


def _dense_groups(matrix: Matrix) -> tuple[scipy.sparse.csr_matrix, Vectors]:
    """The matrix some times over, with vectors of which there are two dense groups."""
    counts = scipy.sparse.csr_matrix(scipy.sparse.vstack([matrix.counts] * 10))
    items = np.arange(counts.shape[0])
    apart = np.random.default_rng(1).normal(0, 0.1, (len(items), 4))
    apart[:, 0] += items % 2
    apart[:, 1] += 1 - items % 2
    return counts, Vectors(items, unit_vectors(apart))


def _stored(*arrays: Any) -> tuple[Any, ...]:
    """Arrays as they come from a file: not to be written to."""
    for each in (array for array in arrays if array is not None):
        each.setflags(write=False)
    return arrays


if __name__ == "__main__":
    warm()
