"""Numbers of groups: planted ones are found, dealt-out words have none; tables crossed against SciPy's."""

from __future__ import annotations

import numpy as np
import pytest
import scipy
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.stats import chi2_contingency

from skeinwork.core.matrix.dealt_out import dealt_out
from skeinwork.core.relate.closeness import to_centres
from skeinwork.core.relate.clusters import resampled_trees, standing_cut
from skeinwork.core.relate.crossed import crossed, residuals
from skeinwork.core.relate.distances import distances, unit_rows
from skeinwork.core.relate.group_counts import Grouping, elbow, measure_counts
from skeinwork.core.relate.groups import GroupSettings, k_means
from skeinwork.core.relate.linkage import linkage
from skeinwork.core.relate.newick import newick

CHANCE = np.random.default_rng(4)
THEMES = CHANCE.dirichlet(np.full(120, 0.05), 5)
TRUTH = CHANCE.integers(0, 5, 250)
COUNTS = scipy.sparse.csr_matrix(np.stack([CHANCE.multinomial(40, THEMES[each]) for each in TRUTH]).astype(np.int32))


def by_k_means(rows: scipy.sparse.csr_matrix, groups: int, seed: int) -> Grouping:
    found = k_means(rows, GroupSettings(groups=groups, seed=seed, starts=2))
    return Grouping(found.group, float(found.within.sum()), found.total)


def test_the_planted_number_stands_out_and_dealt_out_words_have_none() -> None:
    counts = [2, 3, 4, 5, 6, 7, 8]
    found, twin = (
        measure_counts(scipy.sparse.csr_matrix(rows, dtype=float), counts, [1, 2, 3], by_k_means, "cosine")
        for rows in (COUNTS, dealt_out(COUNTS))
    )
    assert counts[int(found.silhouette.mean(axis=1).argmax())] == 5
    assert counts[elbow(counts, found.within.mean(axis=1)) or 0] == 5
    assert found.agreement[3].min() == pytest.approx(1.0)
    assert twin.agreement[3].max() < found.agreement[3].min() and twin.silhouette.max() < found.silhouette.min()
    assert (np.diff(found.within.min(axis=1)) < 0).all()
    np.testing.assert_allclose(found.between, 1 - found.within / found.within[0, 0] * (1 - found.between[0, 0]))


def test_words_dealt_out_again_keep_lengths_and_totals() -> None:
    dealt = dealt_out(COUNTS, seed=2)
    assert (dealt.sum(axis=0) == COUNTS.sum(axis=0)).all() and (dealt.sum(axis=1) == COUNTS.sum(axis=1)).all()
    assert (dealt != COUNTS).nnz and (dealt_out(COUNTS, seed=2) != dealt).nnz == 0


def test_a_straight_line_has_no_elbow() -> None:
    assert elbow([2, 4, 6, 8], np.array([8.0, 6, 4, 2])) is None
    assert elbow([2, 3], np.array([5.0, 1])) is None
    assert elbow([2, 3, 4, 5], np.array([4e-15, 1e-15, 9e-16, 8e-16])) is None
    assert elbow([1, 2, 3, 4, 5], np.array([0.0, 8, 9, 9.5, 10])) == 1


def test_distances_from_centres_are_those_of_plain_subtraction() -> None:
    rows = scipy.sparse.csr_matrix(COUNTS[:40], dtype=float)
    centres = CHANCE.random((3, 120))
    for spherical in (True, False):
        apart, near = to_centres(rows, centres, spherical)
        plain = (unit_rows(rows) if spherical else rows).toarray()
        wanted = ((plain[:, None, :] - centres[None, :, :]) ** 2).sum(axis=2)
        np.testing.assert_allclose(apart, wanted, atol=1e-9)
        assert (near == np.argsort(wanted, axis=1)[:, :2]).all()


def test_the_cut_that_stands_finds_the_planted_clusters() -> None:
    rows = scipy.sparse.csr_matrix(COUNTS.T, dtype=float)
    rows = rows[np.diff(rows.indptr) > 3]
    again = resampled_trees(rows, "cosine", "ward", resamples=8)
    number, items = standing_cut(linkage(distances(rows, "cosine"), "ward"), again)
    assert 4 <= number <= 8 and items > rows.shape[0] / 2
    assert standing_cut(linkage(distances(rows, "cosine"), "ward"), []) == (1, 0)


@given(st.lists(st.lists(st.integers(0, 9), min_size=3, max_size=3), min_size=2, max_size=5))
@settings(max_examples=60, deadline=None)
def test_expected_counts_and_residuals_by_the_margins(table: list[list[int]]) -> None:
    counts = np.array(table, dtype=np.int64)
    expected, adjusted = residuals(counts)
    if counts.sum(axis=0).all() and counts.sum(axis=1).all():
        np.testing.assert_allclose(expected, chi2_contingency(counts).expected_freq)
        n, rows, columns = counts.sum(), counts.sum(axis=1), counts.sum(axis=0)
        variance = expected * (1 - rows / n)[:, None] * (1 - columns / n)[None, :]
        there = variance > 1e-12
        np.testing.assert_allclose(
            adjusted[there], ((counts - expected) / np.sqrt(np.where(there, variance, 1)))[there]
        )
    assert np.isfinite(adjusted).all() and adjusted.shape == counts.shape


def test_documents_that_lack_either_are_in_no_cell() -> None:
    found = crossed(np.array([0, 0, 1, -1, 1]), np.array([1, 1, 0, 0, -1]))
    assert found.counts.tolist() == [[0, 2], [1, 0]] and found.agreement == 1.0


def test_newick_gives_every_branch_its_length() -> None:
    tree = linkage(np.array([[0.0, 1, 4, 4], [1, 0, 4, 4], [4, 4, 0, 2], [4, 4, 2, 0]]), "complete")
    assert newick(tree, ["a", "it's", "c", "d e"]) == "((a:1,'it''s':1):3,(c:2,'d e':2):2);"
