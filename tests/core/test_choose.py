"""The choice of a count: its error, its candidates, what they foretell, chance, edges, planted numbers."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
import pytest
from scipy.sparse import csr_matrix
from scipy.stats import ttest_rel

from skeinwork.core.matrix.dealt_out import shuffled_twin
from skeinwork.core.matrix.matrix import Matrix
from skeinwork.core.topics import choose, matching
from skeinwork.core.topics.choose import Chance, CountFigures, suggest
from skeinwork.core.topics.gain import Foretold
from skeinwork.core.topics.measures import BY, OF_SEEDS, Measured, Texts
from skeinwork.core.topics.methods.lda import LDA, LdaSettings

RNG = np.random.default_rng(4)


def count(
    topics: int,
    *coherence: Sequence[float],
    steady: Sequence[float] = (),
    told: Sequence[float] = (),
    empty: Sequence[int] = (),
) -> CountFigures:
    """Of a count with fits of these topics; ``told`` are means of what fits foretell of 300 documents."""
    noise = np.random.default_rng(7).normal(0, 0.5, 300)
    noise -= noise.mean()
    sizes = np.full(300, 10.0)
    foretold = [Foretold(10 * (mean + noise), sizes) for mean in told]
    return CountFigures(topics, [np.array(each) for each in coherence], steady, foretold, empty)


def test_the_choice_is_the_steadiest_within_one_standard_error() -> None:
    fits = [
        count(8, [0.10, 0.12], steady=[0.7]),
        count(12, [0.16, 0.24], [0.18, 0.26], steady=[0.95]),
        count(14, [0.18, 0.26], [0.20, 0.28], steady=[0.8]),
        count(20, [0.15, 0.14]),
    ]
    # Over topics var = 0.0032 each, so 0.0016 for a mean of two; over seeds var = 0.0002, so 0.0001.
    assert fits[2].error == pytest.approx(math.sqrt(0.0016 + 0.0001))
    found = suggest(fits)
    assert (found.topics, found.candidates) == (12, [12, 14])
    said = " ".join(found.reasons)
    assert "highest at 14" in said and "12 lies within" in said and "agree by 0.95, against 0.80 at 14" in said
    assert found.refine == [10, 13, 17]
    one_seed = suggest([count(4, [0.1, 0.1]), count(6, [0.3, 0.3]), count(8, [0.1, 0.1])])
    assert one_seed.topics == 6 and "one seed" in one_seed.reasons[-1]


def test_a_candidate_that_foretells_surely_worse_falls_out() -> None:
    """By documents in pairs: noise that they share does not hide it, and a difference that is none does not count."""
    steady = [0.95, 0.95]
    fits = [
        count(4, [0.1, 0.1], steady=steady),
        count(12, [0.20, 0.26], steady=steady, told=[0.30, 0.30]),
        count(15, [0.21, 0.27], steady=[0.8, 0.8], told=[0.34, 0.34]),
        count(24, [0.1, 0.1], steady=steady),
    ]
    found = suggest(fits)
    assert found.topics == 15 and list(found.worse) == [12]
    assert "12 (by 0.040" in " ".join(found.reasons)
    alike = suggest([fits[0], fits[1], count(15, [0.21, 0.27], steady=[0.8, 0.8], told=[0.29, 0.31]), fits[3]])
    assert alike.topics == 12 and not alike.worse


def test_the_error_of_a_difference_is_that_of_pairs() -> None:
    a, b = (RNG.normal(mean, 1, 400) for mean in (0.2, 0.0))
    tokens = np.ones(400)
    found = Foretold(a, tokens).over(Foretold(b, tokens))
    reference = ttest_rel(a, b)
    assert found.mean / found.error == pytest.approx(reference.statistic, rel=5e-3)
    sizes = RNG.integers(1, 9, 400).astype(float)
    weighed = Foretold(a * sizes, sizes).gain
    assert weighed.mean == pytest.approx(np.average(a, weights=sizes))


def test_the_best_at_the_edge_of_what_was_tried_is_no_optimum() -> None:
    found = suggest([count(k, [0.01 * k, 0.01 * k + 0.001]) for k in (4, 8, 12)])
    assert found.topics is None and found.widen == [15, 19, 24] and "no optimum is in sight" in found.reasons[0]
    falling = suggest([count(k, [1 / k, 1 / k]) for k in (6, 8, 12)])
    assert falling.topics is None and falling.widen == [3, 4, 5]
    level = [count(4, [0.1, 0.12]), count(12, [0.3, 0.32], steady=[1.0]), count(22, [0.31, 0.32], steady=[0.7])]
    assert suggest(level).topics == 12 and suggest(level).candidates == [12, 22]
    steadiest_last = [level[0], count(12, [0.3, 0.32], steady=[0.7]), count(22, [0.31, 0.32], steady=[1.0])]
    assert suggest(steadiest_last).topics is None and suggest(steadiest_last).widen == [28, 35, 44]
    from_two = suggest([count(k, [1 / k, 1 / k]) for k in (2, 8, 12)])
    assert from_two.topics == 2


def test_counts_that_leave_topics_empty_come_last() -> None:
    fits = [
        count(4, [0.1, 0.1]),
        count(12, [0.3, 0.32], steady=[0.9], empty=[0]),
        count(18, [0.31, 0.32], steady=[1.0], empty=[5, 6]),
        count(22, [0.1, 0.1]),
    ]
    assert suggest(fits).topics == 12 and "stayed empty: 5.5 at 18." in " ".join(suggest(fits).reasons)
    bare = [count(k, [0.5, 0.5], steady=[0.9], empty=empty) for k, empty in ((20, [2, 1]), (30, [1, 1]), (42, [4, 5]))]
    assert suggest(bare).topics == 30


def test_nothing_is_suggested_where_nothing_is_above_chance() -> None:
    none = suggest([count(k, [0.1, 0.2], told=[-0.1]) for k in (2, 4, 8)])
    assert none.topics is None and "−0.100 nats" in none.reasons[0]
    some = suggest([count(k, [0.1, 0.2], told=[mean]) for k, mean in ((2, -0.1), (4, 0.2), (8, -0.1))])
    assert some.topics == 4
    chance = Chance([(0.1, 0.02), (0.12, 0.02)], [0.3, 0.4])
    within = [count(k, [0.1, 0.12, 0.11], steady=[0.35]) for k in (4, 8, 12)]
    assert suggest(within, chance).topics is None and "dealt out at random" in suggest(within, chance).reasons[0]
    above = [count(k, [v, v + 0.02]) for k, v in ((4, 0.2), (8, 0.5), (12, 0.2))]
    assert suggest(above, chance).topics == 8
    agreeing = [count(k, [0.1, 0.12, 0.11], steady=[s]) for k, s in ((2, 0.3), (8, 0.9), (12, 0.4))]
    assert suggest(agreeing, chance).topics == 8


def test_a_steadier_count_outside_the_candidates_is_named() -> None:
    found = suggest(
        [count(4, [0.1, 0.1], steady=[0.9]), count(9, [0.3, 0.3], [0.3, 0.3], steady=[0.6]), count(12, [0.1, 0.1])]
    )
    assert found.topics == 9 and "Seeds agree best at 4" in found.reasons[-1]


def test_found_again_is_the_share_that_most_other_seeds_find() -> None:
    eye = np.eye(4)
    other = np.vstack([eye[:2], np.full((2, 4), 0.5)])
    found = OF_SEEDS["found_again"].of_seeds([eye, eye, eye, other])
    assert found.tolist() == [1.0, 1.0, 1.0, 0.5]


def planted(topics: int, documents: int, rng: np.random.Generator) -> tuple[csr_matrix, Texts]:
    """Documents of some 40 words from topics over 400 terms, a fifth of which anything may write."""
    words = rng.dirichlet(np.full(400, 0.05), topics)
    lengths = rng.poisson(40, documents) + 2
    shares = rng.dirichlet(np.full(topics, 0.15), documents)
    drawn = [
        np.where(rng.random(n) < 0.2, rng.integers(0, 400, n), rng.choice(400, n, p=share @ words))
        for n, share in zip(lengths, shares, strict=True)
    ]
    row = np.repeat(np.arange(documents), lengths)
    stream = np.concatenate(drawn).astype(np.int32)
    counts = csr_matrix((np.ones(len(row), np.int32), (row, stream)), shape=(documents, 400))
    counts.sum_duplicates()
    return counts, Texts(stream, np.concatenate([[0], np.cumsum(lengths)]).astype(np.int64))


def swept(counts: csr_matrix, texts: Texts, tried: Sequence[int]) -> list[CountFigures]:
    """Fits of two seeds for each count; the last fifth of the documents is held out."""
    known = int(0.8 * counts.shape[0])
    seen = Texts(texts.stream[: texts.doc_ptr[known]], texts.doc_ptr[: known + 1])
    found = []
    for topics in tried:
        settings = [LdaSettings(topics=topics, seed=seed, iterations=150) for seed in (1, 2)]
        models = [LDA.fit(counts[:known], each) for each in settings]
        own = [matching.own_words(each.topic_word, each.drawn.topic_tokens) for each in models]
        coherent = [BY.of_topics(Measured(each.topic_word, np.ones(400, np.int8), seen)) for each in models]
        told = [LDA.foretold(model, counts[known:], each) for model, each in zip(models, settings, strict=True)]
        steady = matching.stability(own).tolist()
        found.append(CountFigures(topics, coherent, steady, [each for each in told if each]))
    return found


def test_planted_topics_are_counted_and_dealt_out_words_have_none() -> None:
    counts, texts = planted(7, 700, np.random.default_rng(21))
    found = suggest(swept(counts, texts, [3, 5, 7, 9, 12]))
    assert found.topics == 7
    lengths = np.ones(400, np.int8)
    matrix = Matrix(counts, [str(n) for n in range(400)], [], lengths)
    twin, dealt = shuffled_twin(matrix, *texts, seed=2)
    assert np.array_equal(twin.counts.sum(axis=1), counts.sum(axis=1))
    assert np.array_equal(np.sort(dealt), np.sort(texts.stream)) and (twin.counts != counts).nnz
    none = suggest(swept(twin.counts, Texts(dealt, texts.doc_ptr), [3, 7, 12]))
    assert none.topics is None and "nothing was found" in none.reasons[0]


def test_a_twin_keeps_what_is_no_term_and_deals_phrases_by_themselves() -> None:
    counts = csr_matrix(np.array([[2, 1, 1], [0, 1, 2]], dtype=np.int32))
    stream = np.array([0, -1, 0, 1, 1, -1], dtype=np.int32)
    matrix = Matrix(counts, ["a", "b", "a b"], [], np.array([1, 1, 2], np.int8))
    twin, dealt = shuffled_twin(matrix, stream, np.array([0, 4, 6]), seed=1)
    assert (dealt < 0).tolist() == (stream < 0).tolist()
    assert twin.counts.sum(axis=0).tolist() == counts.sum(axis=0).tolist()
    assert twin.counts.sum(axis=1).tolist() == counts.sum(axis=1).tolist()
    assert twin.counts[:, 2].sum() == 3 and twin.counts.has_canonical_format


def test_a_grid_grows_with_the_corpus() -> None:
    assert choose.suggest_grid(2400, 110_000).counts == [4, 5, 7, 8, 11, 14, 17, 22]
    assert choose.suggest_grid(30, 600).counts[0] == 2
    assert choose.suggest_grid(2400, 110_000, unsettled=300).iterations == 600
    assert choose.suggest_grid(50_000, 4_000_000).seeds == 2
