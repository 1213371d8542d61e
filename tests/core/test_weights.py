"""Weights worked out by hand, and every combination against a plain reference."""

from __future__ import annotations

import math
from itertools import product
from typing import Any

import numpy as np
import pytest
import scipy
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError
from scipy.sparse import csr_matrix

from skeinwork.core.matrix.explaining import explain
from skeinwork.core.matrix.global_weights import GLOBAL
from skeinwork.core.matrix.local_weights import LOCAL
from skeinwork.core.matrix.numbers import Base
from skeinwork.core.matrix.weighting import NORMS, SCHEMES, Weighting, learn, weigh

# Three documents, one of them empty: gale 3 and 1 times, quay once, and ferry in each that has words.
COUNTS = csr_matrix(np.array([[3, 0, 1], [1, 4, 1], [0, 0, 0]]))
LN = math.log


def of(**told: Any) -> Any:
    """The hand-made matrix under some weights."""
    return weigh(COUNTS, Weighting(**told)).toarray()


@pytest.mark.parametrize(
    ("local", "expected"),
    [
        ("raw", [[3, 0, 1], [1, 4, 1]]),
        ("presence", [[1, 0, 1], [1, 1, 1]]),
        ("log", [[1 + LN(3), 0, 1], [1, 1 + LN(4), 1]]),
        ("share", [[3 / 4, 0, 1 / 4], [1 / 6, 4 / 6, 1 / 6]]),
        ("augmented", [[1, 0, 0.5 + 0.5 / 3], [0.5 + 0.5 / 4, 1, 0.5 + 0.5 / 4]]),
        # Rows of 4, 6 and 0: the mean length is 10 / 3, and 1 - b + b * len / mean is 1.15 and 1.6.
        ("bm25", [[6.6 / (3 + 1.38), 0, 2.2 / (1 + 1.38)], [2.2 / (1 + 1.92), 8.8 / (4 + 1.92), 2.2 / (1 + 1.92)]]),
    ],
)
def test_local_weights_by_hand(local: str, expected: list[list[float]]) -> None:
    assert np.allclose(of(local_weight=local)[:2], expected)
    assert not of(local_weight=local)[2].any()


@pytest.mark.parametrize(
    ("name", "expected"),
    [
        ("none", [1, 1, 1]),
        ("idf", [LN(3 / 2), LN(3), LN(3 / 2)]),
        ("smooth", [LN(4 / 3), LN(2), LN(4 / 3)]),
        ("smooth-plus-one", [LN(4 / 3) + 1, LN(2) + 1, LN(4 / 3) + 1]),
        ("probabilistic", [0, LN(2), 0]),  # (3 - 2) / 2 is under 1
        # gale is 3/4 and 1/4, quay all in one document, ferry one half and one half.
        ("entropy", [1 + (0.75 * LN(0.75) + 0.25 * LN(0.25)) / LN(3), 1, 1 - LN(2) / LN(3)]),
    ],
)
def test_global_weights_by_hand(name: str, expected: list[float]) -> None:
    assert np.allclose(GLOBAL[name].weights(learn(COUNTS).terms, "e"), expected)
    assert np.allclose(of(global_weight=name)[1], np.array([1, 4, 1]) * expected)


def test_lengths_by_hand() -> None:
    assert np.allclose(of(norm="l1")[0], [0.75, 0, 0.25])
    assert np.allclose(of(norm="l2")[0], np.array([3, 0, 1]) / math.sqrt(10))
    assert not of(norm="l2")[2].any()


@pytest.mark.parametrize(("base", "by"), [("e", LN), ("2", math.log2), ("10", math.log10)])
def test_each_logarithm_by_hand(base: Any, by: Any) -> None:
    found = of(local_weight="log", global_weight="idf", base=base)
    assert found[1, 1] == pytest.approx((1 + by(4)) * by(3))
    assert found[0, 0] == pytest.approx((1 + by(3)) * by(3 / 2))


def every_weighting() -> list[Weighting]:
    names = product(LOCAL, GLOBAL, NORMS)
    return [Weighting(local_weight=a, global_weight=b, norm=c) for a, b, c in names]


def test_every_weighting_has_a_name_of_its_own() -> None:
    assert len({each.in_words() for each in every_weighting()}) == len(every_weighting())


@pytest.mark.parametrize("counts", [[[0, 0]], [[3]], [[2, 1]], [[0], [0]], [[1], [1]], [[5, 0], [0, 0], [5, 0]]])
def test_odd_matrices_have_defined_weights(counts: list[list[int]]) -> None:
    """No document with words, one document, one term, a term in every document and in none."""
    given = csr_matrix(np.array(counts))
    for weighting in every_weighting():
        found = weigh(given, weighting)
        assert np.isfinite(found.data).all()
        assert (found.toarray()[np.array(counts) == 0] == 0).all()


def reference(row: list[int], every: list[list[int]], term: int, told: Weighting) -> float:
    """The weight of a term in a document before normalising, from the definitions alone."""
    tf, by = row[term], {"e": math.log, "2": math.log2, "10": math.log10}[told.base]
    if tf == 0:
        return 0.0
    mean = sum(map(sum, every)) / len(every)
    slow = told.k1 * (1 - told.b + told.b * sum(row) / mean)
    local = {
        "raw": tf,
        "presence": 1,
        "log": 1 + by(tf),
        "share": tf / sum(row),
        "augmented": 0.5 + 0.5 * tf / max(row),
        "bm25": tf * (told.k1 + 1) / (tf + slow),
    }[told.local_weight]
    n, column = len(every), [each[term] for each in every]
    df, total = sum(each > 0 for each in column), sum(column)
    spread = sum(each / total * math.log(each / total) for each in column if each)
    across = {
        "none": 1,
        "idf": by(n / df),
        "smooth": by((1 + n) / (1 + df)),
        "smooth-plus-one": by((1 + n) / (1 + df)) + 1,
        "probabilistic": max(0, by((n - df) / df)) if n > df else 0,
        "entropy": round(1 + spread / math.log(n), 12) if n > 1 else 1,
    }[told.global_weight]
    return float(local * across)


small = st.integers(1, 5).flatmap(
    lambda width: st.lists(st.lists(st.integers(0, 4), min_size=width, max_size=width), min_size=1, max_size=6)
)
weightings = st.builds(
    Weighting,
    local_weight=st.sampled_from(list(LOCAL)),
    global_weight=st.sampled_from(list(GLOBAL)),
    norm=st.sampled_from(list(NORMS)),
    base=st.sampled_from(list(Base)),
    k1=st.floats(0, 3),
    b=st.floats(0, 1),
)


@settings(max_examples=300, deadline=None)
@given(small, weightings)
def test_every_combination_is_what_its_definition_says(counts: list[list[int]], told: Weighting) -> None:
    given_counts = csr_matrix(np.array(counts))
    found, learnt = weigh(given_counts, told), learn(given_counts)
    for at, row in enumerate(counts):
        plain = np.array([reference(row, counts, term, told) for term in range(len(row))])
        size = {"none": 1.0, "l1": np.abs(plain).sum(), "l2": np.sqrt((plain**2).sum())}[told.norm]
        expected = plain / size if size > 0 else plain
        assert np.allclose(found.toarray()[at], expected, atol=1e-9)
        for term in range(len(row)):
            explained = explain(csr_matrix(given_counts[[at]]), term, told, learnt)
            assert explained.weight == pytest.approx(expected[term], abs=1e-9)
            assert np.prod([each.value for each in explained.factors]) == explained.weight


def test_an_unknown_weight_is_refused_by_name() -> None:
    with pytest.raises(ValidationError, match="there is raw, presence"):
        Weighting(local_weight="loud")


def test_new_documents_are_weighed_by_what_was_learnt_from_the_old() -> None:
    learnt = learn(COUNTS, np.array([True, True, False]))
    assert learnt.terms.n_docs == 2 and learnt.mean_length == 5
    new = csr_matrix(np.array([[0, 2, 0]]))
    found = weigh(new, SCHEMES["tf-idf"], learnt)
    assert found[0, 1] == pytest.approx(2 * LN(2 / 1))


def test_numbers_that_are_put_in_give_the_value_that_is_shown() -> None:
    """What the screen says is worked out as a reader would with a calculator."""
    learnt, row = learn(COUNTS), csr_matrix(COUNTS[[1]])
    for weighting in every_weighting():
        for factor in explain(row, 1, weighting, learnt).factors:
            written = factor.filled.replace("−", "-").replace("·", "*").replace("\u202f", "")
            written = written.replace("√", "math.sqrt").replace("ln (", "LN(")
            for number in ("3", "4"):
                written = written.replace(f"ln {number}", f"LN({number})")
            if "math.sqrt" in written:
                written = written.replace("math.sqrt", "math.sqrt(") + ")"
            assert eval(written, {"LN": LN, "math": math, "max": max}) == pytest.approx(factor.value, abs=1e-4), (
                weighting,
                factor,
            )


def test_what_is_written_of_a_weighting() -> None:
    assert SCHEMES["tf-idf"].formula() == "w = tf × ln (N / df)"
    told = Weighting(local_weight="log", global_weight="smooth-plus-one", norm="l2", base=Base.TEN)
    assert told.formula() == "w = (1 + log₁₀ tf) × (log₁₀ ((1 + N) / (1 + df)) + 1) × 1 / √(Σ w²)"
    assert told.in_words() == "1 + log × smooth idf + 1, length 1 (L2) (log₁₀)"
    assert Weighting(local_weight="bm25", global_weight="idf", k1=2).in_words() == "BM25 (k1 2, b 0.75)"
    row = scipy.sparse.csr_matrix((1, 3), dtype=np.int32)
    absent = explain(row, 0, SCHEMES["tf-idf"], learn(COUNTS))
    assert absent.weight == 0 and "not in this document" in absent.factors[0].filled


@settings(max_examples=100, deadline=None)
@given(small, weightings)
def test_what_is_said_of_the_base_is_so(counts: list[list[int]], told: Weighting) -> None:
    """Natural against decimal: the same, all in one ratio, or anything."""
    both = [
        weigh(csr_matrix(np.array(counts)), told.model_copy(update={"base": base})).data for base in (Base.E, Base.TEN)
    ]
    if "no logarithm" in told.base_said() or "no weight" in told.base_said():
        assert np.allclose(*both)
    elif "multiplies" in told.base_said():
        assert np.allclose(both[0], both[1] * LN(10))
