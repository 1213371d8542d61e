"""Dense groups against plain computations on small cases; planted groups, noise, threads, reach, merging, words."""

from __future__ import annotations

from itertools import combinations, permutations

import numpy as np
import pytest
import scipy
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from scipy.sparse.csgraph import minimum_spanning_tree
from scipy.spatial.distance import cdist

from skeinwork.core.content import ContentError
from skeinwork.core.errors import BadInputError, CancelledError
from skeinwork.core.relate.density_clusters import (
    ClusterTree,
    SpanningTree,
    cluster_tree,
    densities,
    members,
    of_greatest_mass,
    prominence,
    spanning_tree,
)
from skeinwork.core.relate.neighbours import unit_vectors
from skeinwork.core.topics import dense_groups, matching
from skeinwork.core.topics.class_words import class_counts, specificity, thinned, weighed
from skeinwork.core.topics.clustered import OUTLIER, WITHOUT, Clustered, centres_of
from skeinwork.core.topics.methods.base import NoTopicsError, Vectors
from skeinwork.core.topics.methods.clusters import CLUSTERS
from skeinwork.core.topics.methods.clusters_fit import PROMINENCE, STEADY, ClustersSettings
from skeinwork.core.topics.methods.lda import LDA
from skeinwork.core.topics.model import TopicModel
from skeinwork.core.topics.placing_by_vector import near_middles, topic_middles
from tests.core.test_nmf import Kept

Planted = tuple[NDArray[np.float32], NDArray[np.int64]]


def planted(docs: int, dimensions: int, topics: int, scatter: float, noise: float, seed: int = 1) -> Planted:
    """Vectors in groups, a share of them by chance; float32[docs, dimensions] and the group, -1 for none."""
    rng = np.random.default_rng(seed)
    group, centres = rng.integers(0, topics, docs), rng.normal(size=(topics, dimensions))
    made = centres[group] + scatter * rng.normal(size=(docs, dimensions))
    by_chance = rng.random(docs) < noise
    made[by_chance] = rng.normal(size=(int(by_chance.sum()), dimensions)) * np.sqrt(1 + scatter**2)
    return unit_vectors(made), np.where(by_chance, -1, group)


def counts_of(group: NDArray[np.int64], seed: int = 1) -> scipy.sparse.csr_matrix:
    """Words of documents: some of their group's five own ones, some of five that all have."""
    rng = np.random.default_rng(seed)
    table = rng.poisson(0.5, (len(group), 5 * (group.max() + 2)))
    table[:, 5:] = 0
    for at, each in enumerate(group):
        if each >= 0:
            table[at, 5 * (each + 1) : 5 * (each + 2)] = rng.poisson(2.0, 5)
    table[:, 0] += 1
    return scipy.sparse.csr_matrix(table.astype(np.int32))


def fitted(made: Planted, **given: object) -> TopicModel:
    vectors, group = made
    wanted = ClustersSettings.model_validate({"iterations": 5, **given})
    return CLUSTERS.fit(counts_of(group), wanted, vectors=Vectors(np.arange(len(group)), vectors))


def agreement(one: NDArray[np.int64], other: NDArray[np.int64]) -> float:
    """The adjusted Rand index, by its definition over all pairs."""
    same = [each[:, None] == each[None, :] for each in (one, other)]
    upper = np.triu_indices(len(one), 1)
    first, second = (each[upper] for each in same)
    both, a, b, n = (first & second).sum(), first.sum(), second.sum(), len(first)
    return float((both - a * b / n) / ((a + b) / 2 - a * b / n))


def core_of(places: NDArray[np.float64], k: int) -> NDArray[np.float64]:
    return np.sort(cdist(places, places), axis=1)[:, k]


@pytest.mark.parametrize(("n", "dimensions"), [(2, 1), (7, 2), (60, 3), (1300, 4)])
def test_the_spanning_tree_is_that_of_the_whole_table_of_distances(n: int, dimensions: int) -> None:
    places = np.random.default_rng(n).normal(size=(n, dimensions)).astype(np.float32).astype(float)
    core = core_of(places, min(4, n - 1))
    reach = np.maximum(cdist(places, places), np.maximum(core[:, None], core[None, :]))
    np.fill_diagonal(reach, 0)
    found = spanning_tree(places, core)
    assert found.distance == pytest.approx(np.sort(minimum_spanning_tree(reach).data), rel=1e-5)
    assert found.distance == pytest.approx(reach[found.one, found.other], rel=1e-5)
    joined = scipy.sparse.csr_matrix((np.ones(n - 1), (found.one, found.other)), shape=(n, n))
    assert scipy.sparse.csgraph.connected_components(joined)[0] == 1


def plain_tree(spanned: SpanningTree, smallest: int) -> list[tuple[frozenset[int], float]]:
    """Clusters as sets of items with the density at which each begins, by taking away edge after edge."""
    n = len(spanned.one) + 1
    found = [(frozenset(range(n)), 0.0)]
    present = [found[0][0]]
    for left in range(n - 2, -1, -1):
        edges = (np.ones(left), (spanned.one[:left], spanned.other[:left]))
        _, part = scipy.sparse.csgraph.connected_components(
            scipy.sparse.csr_matrix(edges, shape=(n, n)), directed=False
        )
        large = [frozenset(np.flatnonzero(part == each).tolist()) for each in np.unique(part)]
        large = [each for each in large if len(each) >= smallest]
        following = []
        for before in present:
            inside = [each for each in large if each <= before]
            if len(inside) > 1:
                found += [(each, 1.0 / spanned.distance[left]) for each in inside]
            following += inside
        present = following
    return found


@pytest.mark.parametrize("seed", range(6))
def test_the_tree_of_clusters_is_that_of_taking_away_edge_after_edge(seed: int) -> None:
    rng = np.random.default_rng(seed)
    places = np.concatenate([rng.normal(at, 0.4, (int(rng.integers(6, 14)), 2)) for at in rng.normal(0, 2, (4, 2))])
    places = places.astype(np.float32).astype(float)
    core = core_of(places, 2)
    spanned = spanning_tree(places, core)
    tree = cluster_tree(spanned, 4)
    inside = [frozenset(np.flatnonzero(_below(tree, at)).tolist()) for at in range(len(tree.parent))]
    plain = plain_tree(spanned, 4)
    assert {each for each, _ in plain} == set(inside)
    for each, born in plain:
        assert tree.born[inside.index(each)] == pytest.approx(born, rel=1e-4)
    assert tree.size.tolist() == [len(each) for each in inside]
    # Mass: over its items, how much denser than where it begins they are still inside.
    for at in range(len(inside)):
        leaves = [max(tree.born[c] for c in _line(tree, tree.cluster[i], at)) for i in inside[at]]
        own = [tree.density[i] if tree.cluster[i] == at else leaves[place] for place, i in enumerate(inside[at])]
        assert tree.mass[at] == pytest.approx(sum(own) - len(own) * tree.born[at], rel=1e-3, abs=1e-6)


def _below(tree: ClusterTree, cluster: int) -> NDArray[np.bool_]:
    """Items in a cluster or in one below it."""
    return np.array([cluster in _up(tree, int(each)) for each in tree.cluster])


def _up(tree: ClusterTree, cluster: int) -> list[int]:
    line = [cluster]
    while tree.parent[line[-1]] >= 0:
        line.append(int(tree.parent[line[-1]]))
    return line


def _line(tree: ClusterTree, cluster: int, under: int) -> list[int]:
    """The child of a cluster that an item goes on in; itself where it leaves there."""
    up = _up(tree, cluster)
    return [up[up.index(under) - 1]] if up.index(under) else [under]


@pytest.mark.parametrize("seed", range(4))
def test_the_clusters_of_the_greatest_mass_are_those_of_all_choices(seed: int) -> None:
    rng = np.random.default_rng(seed)
    places = np.concatenate([rng.normal(at, 0.3, (9, 2)) for at in rng.normal(0, 2, (5, 2))]).astype(np.float32)
    tree = cluster_tree(spanning_tree(places, core_of(places, 2)), 4)
    allowed = rng.random(len(tree.parent)) < 0.8
    for wanted in (np.ones(len(allowed), bool), allowed):
        best = 0.0
        can_be = [at for at in range(1, len(tree.parent)) if wanted[at]]
        for number in range(len(can_be) + 1):
            for chosen in combinations(can_be, number):
                if not any(one in _up(tree, other) for one, other in permutations(chosen, 2)):
                    best = max(best, float(tree.mass[list(chosen)].sum()))
        found = of_greatest_mass(tree, wanted)
        assert tree.mass[found].sum() == pytest.approx(best)
        assert 0 not in found and wanted[found].all()
        inside = members(tree, found)
        assert [np.flatnonzero(inside == k).tolist() for k in range(len(found))] == [
            np.flatnonzero(_below(tree, int(at))).tolist() for at in found
        ]


def test_prominence_is_the_middle_density_over_that_where_a_cluster_begins() -> None:
    rng = np.random.default_rng(3)
    places = np.concatenate([rng.normal(at, 0.3, (20, 2)) for at in (0.0, 3.0, 6.0)]).astype(np.float32)
    core = core_of(places, 3)
    spanned = spanning_tree(places, core)
    tree = cluster_tree(spanned, 5)
    density = densities(spanned, core)
    found = prominence(tree, density)
    for at in range(1, len(found)):
        assert found[at] == pytest.approx(np.median(density[_below(tree, at)]) / tree.born[at])


def test_copies_of_a_document_do_not_outweigh_all_else() -> None:
    vectors, group = planted(600, 20, 4, 0.5, 0.1)
    copies = np.concatenate([vectors, np.repeat(vectors[:1], 40, axis=0)])
    model = fitted((copies, np.append(group, np.repeat(group[:1], 40))))
    assert len(model.topic_word) >= 4
    assert agreement(model.clustered.found[:600].astype(int), group) > 0.85


@pytest.mark.parametrize(
    ("docs", "dimensions", "topics", "scatter", "noise"),
    [(3000, 50, 12, 0.5, 0.2), (3000, 50, 12, 0.8, 0.2), (4000, 100, 30, 0.7, 0.3), (2000, 30, 8, 0.6, 0.25)],
)
def test_planted_groups_are_found_and_noise_is_left_out(
    docs: int, dimensions: int, topics: int, scatter: float, noise: float
) -> None:
    made = planted(docs, dimensions, topics, scatter, noise, seed=3)
    model = fitted(made)
    found = np.asarray(model.clustered.found).astype(int)
    assert len(model.topic_word) == topics
    assert agreement(found, made[1]) >= 0.9
    assert (found[made[1] < 0] < 0).mean() >= 0.9  # outliers
    assert ((found < 0)[made[1] >= 0]).mean() <= 0.1
    assert model.by_topic[STEADY].min() > 0.8 and model.by_topic[PROMINENCE].min() > 1.1


@pytest.mark.parametrize("kind", ["even", "heavy tails", "skewed"])
def test_where_there_are_no_groups_there_is_no_topic(kind: str) -> None:
    rng = np.random.default_rng(11)
    for at in range(8):
        docs, dimensions = int(rng.choice([150, 400, 1200])), int(rng.choice([20, 60, 200]))
        made = {
            "even": rng.normal(size=(docs, dimensions)),
            "heavy tails": rng.standard_t(4, (docs, dimensions)),
            "skewed": rng.gamma(1.5, size=(docs, dimensions)),
        }[kind]
        with pytest.raises(NoTopicsError, match="stands out"):
            fitted((unit_vectors(made), np.zeros(docs, np.int64)), smallest=8, seed=at)


def test_texts_of_planted_topics_come_as_near_as_by_lda() -> None:
    rng = np.random.default_rng(4)
    topics, terms, docs = 8, 300, 1200
    words = 0.9 * rng.dirichlet(np.full(terms, 0.05), topics) + 0.1 / terms
    shares = rng.dirichlet(np.full(topics, 0.02), docs)
    table = np.array([rng.multinomial(60, row @ words) for row in shares])
    counts = scipy.sparse.csr_matrix(table.astype(np.int32))
    weights = table * np.log(docs / np.maximum((table > 0).sum(axis=0), 1))
    u, s, _ = np.linalg.svd(weights / np.linalg.norm(weights, axis=1, keepdims=True), full_matrices=False)
    vectors = Vectors(np.arange(docs), unit_vectors(u[:, :50] * s[:50]))
    found = CLUSTERS.fit(counts, ClustersSettings(iterations=2, thinning=0.0), vectors=vectors)
    lda = LDA.fit(counts, LDA.settings(topics=topics, iterations=200))

    def matched(model: TopicModel) -> float:
        return float(np.mean([each for _, _, each in matching.match(np.asarray(model.topic_word), words)]))

    assert len(found.topic_word) == topics
    assert matched(found) > matched(lda) - 0.05


def test_any_number_of_threads_gives_the_same_bytes(monkeypatch: pytest.MonkeyPatch) -> None:
    made = planted(900, 30, 6, 0.6, 0.2)
    several = fitted(made)
    for module in ("dense_groups", "methods.clusters_fit"):
        monkeypatch.setattr(f"skeinwork.core.topics.{module}.most_threads", lambda: 1)
    alone = fitted(made)
    for name in ("topic_word", "doc_topic", "trace"):
        assert getattr(several, name).tobytes() == getattr(alone, name).tobytes()
    assert several.samples.data.tobytes() == alone.samples.data.tobytes()
    assert vars(several.clustered).keys() and all(
        vars(several.clustered)[name].tobytes() == each.tobytes() for name, each in vars(alone.clustered).items()
    )


def test_a_fit_goes_on_with_more_halves_and_another_end_as_if_it_had_not_stopped() -> None:
    vectors, group = planted(900, 30, 6, 0.6, 0.2)
    counts, read = counts_of(group), Vectors(np.arange(900), vectors)
    kept = Kept()
    CLUSTERS.fit(counts, ClustersSettings(iterations=3), vectors=read, states=kept)
    wanted = ClustersSettings(iterations=6, reach=0.5, thinning=0.4, topics=4)
    on = CLUSTERS.fit(counts, wanted, vectors=read, states=kept)
    anew = CLUSTERS.fit(counts, wanted, vectors=read)
    assert on.topic_word.tobytes() == anew.topic_word.tobytes()
    assert on.samples.data.tobytes() == anew.samples.data.tobytes()
    assert len(on.trace) == 6 and len(on.topic_word) == 4


def test_a_fit_that_is_cancelled_stops() -> None:
    vectors, group = planted(900, 30, 6, 0.6, 0.2)

    def stop(phase: str, done: float, **details: object) -> None:
        if phase == "Looking at halves":
            raise CancelledError("Cancelled.")

    with pytest.raises(CancelledError):
        CLUSTERS.fit(counts_of(group), ClustersSettings(), stop, vectors=Vectors(np.arange(900), vectors))


def test_within_reach_outliers_come_in_to_the_nearest_centre() -> None:
    made = planted(1500, 30, 6, 0.6, 0.25)
    found = fitted(made)
    kept = found.clustered
    for topic in range(6):
        middle = made[0][np.asarray(kept.found) == topic].astype(float).mean(axis=0)
        assert kept.centres[topic] == pytest.approx(middle / np.linalg.norm(middle), abs=1e-5)
    near = made[0].astype(float) @ kept.centres.T.astype(float)
    outliers = np.asarray(kept.found) == OUTLIER
    assert (kept.nearest[outliers] == near[outliers].argmax(axis=1)).all()
    assert kept.cosine == pytest.approx(near[np.arange(1500), kept.nearest], abs=1e-5)
    reach = float(np.median(1 - kept.cosine[outliers]))
    wider = fitted(made, reach=reach)
    comes = outliers & (1 - kept.cosine <= reach + 1e-6)
    assert 0 < comes.sum() < outliers.sum()
    has = np.asarray(wider.doc_topic).any(axis=1)
    assert (has == (~outliers | comes)).all()
    assert (wider.clustered.found == kept.found).all()  # both are kept
    assert (np.asarray(wider.doc_topic).argmax(axis=1)[comes] == kept.nearest[comes]).all()


def test_nearest_topics_are_taken_together_down_to_a_count() -> None:
    rng = np.random.default_rng(2)
    vectors, topic = unit_vectors(rng.normal(size=(200, 10))), rng.integers(-1, 6, 200)
    groups = [[k] for k in range(6)]
    cosine = vectors.astype(float) @ vectors.astype(float).T
    while len(groups) > 3:  # plainly: the mean over all pairs of documents
        inside = [np.isin(topic, each) for each in groups]
        pairs = list(combinations(range(len(groups)), 2))
        one, other = max(pairs, key=lambda pair: cosine[np.ix_(inside[pair[0]], inside[pair[1]])].mean())
        groups[one] = sorted(groups[one] + groups.pop(other))
    found = dense_groups.merged_down(vectors, topic, 3)
    assert {frozenset(np.unique(topic[found == k]).tolist()) for k in range(3)} == {frozenset(each) for each in groups}
    assert (found[topic < 0] == -1).all()


def test_words_are_weighed_by_few_topics_that_have_them() -> None:
    counts = scipy.sparse.csr_matrix(np.array([[4, 1, 0], [2, 1, 0], [0, 2, 6], [9, 9, 9]]))
    tokens = class_counts(counts, np.array([0, 0, 1, -1]), 2)
    assert tokens.tolist() == [[6, 2, 0], [0, 2, 6]]
    weight = specificity(tokens)
    # The middle word is as often in both, so it says nothing; each other in one alone.
    assert weight == pytest.approx([np.log(3 / 2), 0.0, np.log(3 / 2)])
    assert weighed(tokens, weight).tolist() == [[1, 0, 0], [0, 0, 1]]
    assert weighed(np.zeros((1, 2)), np.zeros(2)).tolist() == [[0.5, 0.5]]


def test_words_that_keep_the_same_company_are_put_back() -> None:
    rng = np.random.default_rng(5)
    of = rng.integers(0, 4, 600)
    # Four sets of four words, each in documents of its own.
    table = np.stack([(of == word % 4) & (rng.random(600) < 0.7) for word in range(16)], axis=1).astype(np.int32)
    weights = np.linspace(2, 1, 16)[None] / np.linspace(2, 1, 16).sum()
    table, weights = table[:, [0, 4, 1, 8, 5, 2, 12, 9, 3, 6, 13, 7, 10, 11, 14, 15]], weights
    assert thinned(weights, scipy.sparse.csr_matrix(table), 0.0) is weights
    found = thinned(weights, scipy.sparse.csr_matrix(table), 0.5)
    # The first of every set stands before the second of any.
    assert sorted(np.argsort(-found[0], kind="stable")[:4].tolist()) == [0, 2, 5, 8]
    assert found.sum() == pytest.approx(1)


@settings(max_examples=40, deadline=None)
@given(st.integers(2, 8), st.integers(3, 30), st.floats(0, 1), st.integers(0, 1000))
def test_thinned_weights_never_rise_and_stay_shares(classes: int, terms: int, strength: float, seed: int) -> None:
    rng = np.random.default_rng(seed)
    counts = scipy.sparse.csr_matrix(rng.poisson(0.6, (25, terms)))
    weights = weighed(rng.poisson(3, (classes, terms)) + 0.01, np.ones(terms))
    found = thinned(weights, counts, strength, seed)
    assert found.sum(axis=1) == pytest.approx(np.ones(classes)) and (found >= 0).all()
    first = np.argmax(weights, axis=1)
    assert (found[np.arange(classes), first] == found.max(axis=1)).all()


def test_documents_held_out_go_where_they_are_as_near_as_others() -> None:
    vectors, group = planted(1500, 30, 6, 0.6, 0.25)
    counts, test = counts_of(group), np.arange(1500) % 5 == 0
    read = Vectors(np.arange(1500), vectors)
    model = CLUSTERS.fit(counts, ClustersSettings(iterations=2), vectors=read.of(~test))
    assert (np.asarray(model.clustered.found)[test] == WITHOUT).all()
    whole = CLUSTERS.place_held_out(model, counts, test, ClustersSettings(), read)
    assert agreement(np.asarray(whole.clustered.found)[test].astype(int), group[test]) > 0.85
    assert (np.asarray(whole.doc_topic)[~test] == np.asarray(model.doc_topic)[~test]).all()
    whole.check(np.asarray(counts.sum(axis=1)).ravel(), counts.shape[1])


def test_new_texts_are_placed_by_their_words() -> None:
    made = planted(900, 30, 6, 0.6, 0.2)
    model = fitted(made)
    placed = CLUSTERS.place(model, counts_of(made[1], seed=9), ClustersSettings())
    inside = made[1] >= 0
    assert agreement(placed.share[inside].argmax(axis=1), made[1][inside]) > 0.95
    nothing = CLUSTERS.place(
        model, scipy.sparse.csr_matrix((1, model.topic_word.shape[1]), dtype=np.int32), ClustersSettings()
    )
    assert not nothing.share.any()


def test_merged_topics_keep_documents_and_centres() -> None:
    kept = fitted(planted(900, 30, 6, 0.6, 0.2)).clustered
    sizes = np.bincount(kept.found[kept.found >= 0])
    after = kept.merged([[0, 2], [1], [3], [4, 5]], sizes)
    place = np.array([0, 1, 0, 2, 3, 3])
    assert (after.found == np.where(kept.found >= 0, place[kept.found], kept.found)).all()
    own = kept.centres[[0, 2]] * sizes[[0, 2], None]
    assert after.centres[0] == pytest.approx(own.sum(axis=0) / np.linalg.norm(own.sum(axis=0)), abs=1e-5)
    turned = kept.ordered(np.array([5, 4, 3, 2, 1, 0]))
    assert (turned.centres == kept.centres[::-1]).all()
    assert (turned.found[kept.found >= 0] == 5 - kept.found[kept.found >= 0]).all()
    turned.check(900, 6)


def test_a_vector_alone_gets_the_topic_of_the_nearest_middle() -> None:
    vectors, group = planted(600, 20, 4, 0.5, 0.0)
    strength = np.where(np.arange(4) == group[:, None], np.random.default_rng(1).random((600, 1)) + 0.1, 0.0)
    middles, of = topic_middles(vectors[:500], strength[:500], 10)
    for topic, own in enumerate(of):
        assert own.tolist() == np.argsort(-strength[:500, topic], kind="stable")[:10].tolist()
        weights = 1 / np.arange(1, 11)
        middle = (vectors[own].astype(float) * weights[:, None]).sum(axis=0)
        assert middles[topic] == pytest.approx(middle / np.linalg.norm(middle), abs=1e-5)
    assert (near_middles(vectors[500:], middles).argmax(axis=1) == group[500:]).mean() > 0.98


def test_what_can_show_no_topics_is_refused() -> None:
    vectors = unit_vectors(np.random.default_rng(1).normal(size=(40, 5)))
    read = Vectors(np.arange(40), vectors)
    with pytest.raises(BadInputError, match="vocabulary is empty"):
        CLUSTERS.fit(scipy.sparse.csr_matrix((40, 0), dtype=np.int32), ClustersSettings(), vectors=read)
    with pytest.raises(BadInputError, match="Ask for smaller topics"):
        CLUSTERS.fit(counts_of(np.zeros(40, int)), ClustersSettings(smallest=20), vectors=read)
    with pytest.raises(BadInputError, match="have no vectors"):
        CLUSTERS.fit(counts_of(np.zeros(40, int)), ClustersSettings())
    one = np.concatenate([np.tile([5.0, 0, 0, 0, 0], (60, 1)), np.zeros((60, 5))])
    one += np.random.default_rng(2).normal(0, 1.0, one.shape)
    with pytest.raises(NoTopicsError, match="stands out"):
        CLUSTERS.fit(
            counts_of(np.zeros(120, int)),
            ClustersSettings(smallest=10),
            vectors=Vectors(np.arange(120), unit_vectors(one)),
        )


def test_what_is_said_of_a_document_and_a_word_has_its_own_numbers() -> None:
    made = planted(900, 30, 6, 0.6, 0.2)
    model, wanted = fitted(made, thinning=0.0), ClustersSettings(thinning=0.0)
    document = int(np.flatnonzero(np.asarray(model.clustered.found) == 2)[0])
    worked = CLUSTERS.share_working(model, 2, document, counts_of(made[1])[[document]], wanted)
    assert worked.lines[0].value == pytest.approx(1 - model.clustered.cosine[document], abs=1e-6)
    assert "found in it" in worked.note
    counts = counts_of(made[1])
    term = int(model.topic_word[2].argmax())
    lines = {each.name: each.value for each in CLUSTERS.word_working(model, 2, term, counts).lines}
    there = np.asarray(model.clustered.found) == 2
    assert lines["of the words of its documents"] == pytest.approx(counts[there, term].sum() / counts[there].sum())
    assert lines["weight"] == pytest.approx(model.topic_word[2, term])
    said = CLUSTERS.remarks(model, wanted)
    assert f"{int((np.asarray(model.clustered.found) == OUTLIER).sum())} documents of 900" in said


def test_centres_and_their_documents_are_checked() -> None:
    good = Clustered(
        centres_of(unit_vectors(np.eye(3)), np.array([0, 1, 1]), 2),
        np.array([0, 1, OUTLIER], np.int32),
        np.array([0, 1, 1], np.int32),
        np.ones(3, np.float32),
    )
    good.check(3, 2)
    for broken in ({"found": np.array([1, 1, -1], np.int32)}, {"cosine": np.full(3, 2, np.float32)}):
        with pytest.raises(ContentError):
            Clustered(**{**vars(good), **broken}).check(3, 2)
