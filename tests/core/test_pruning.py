"""Pruning, splits, suggested limits, names of columns and curves against brute force."""

from __future__ import annotations

import re
from collections import Counter
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from skeinwork.core.matrix import pruning, suggesting
from skeinwork.core.matrix.columns import column_names
from skeinwork.core.matrix.counting import Counted, count
from skeinwork.core.matrix.curves import growth, ranked, spectrum
from skeinwork.core.matrix.matrix import prune
from skeinwork.core.matrix.matrix_settings import MatrixSettings
from skeinwork.core.matrix.split import Split, apportioned, held_out, kin_of, pairs_of
from skeinwork.core.matrix.weighting import SCHEMES, Weighting
from skeinwork.core.text.clean import CleanSettings, clean
from skeinwork.core.text.tokenise import tokenise
from tests.conftest import Prepared

WORDS = ["gale", "ferry", "quay", "a", "harbourmaster", "tide"]
documents = st.lists(st.lists(st.sampled_from(WORDS), max_size=9), min_size=1, max_size=9)
PLAIN = CleanSettings.model_validate({"passes": []})


def counted(docs: list[list[str]], longest: int = 1) -> Counted:
    tokens = tokenise([" ".join(doc) for doc in docs], PLAIN.tokenising())
    return count(clean(tokens, PLAIN), longest)


def terms_of(doc: list[str], longest: int) -> list[str]:
    sizes = range(1, longest + 1)
    return [" ".join(doc[at : at + size]) for size in sizes for at in range(len(doc) - size + 1)]


limits = st.fixed_dictionaries(
    {
        "longest": st.integers(1, 3),
        "min_documents": st.integers(1, 3),
        "min_share": st.sampled_from([0.0, 0.29, 0.5]),
        "max_share": st.sampled_from([0.5, 0.9, 1.0]),
        "max_documents": st.sampled_from([None, 1, 4]),
        "min_count": st.integers(1, 3),
        "min_letters": st.sampled_from([1, 2, 4]),
        "max_letters": st.sampled_from([None, 5]),
        "keep_top": st.sampled_from([None, 1, 3]),
        "keep_share": st.sampled_from([None, 0.5]),
        "stay": st.sampled_from([[], ["tide"], ["gale ferry", "nowhere"]]),
        "go": st.sampled_from([[], ["gale"], ["ferry quay"]]),
        "order": st.sampled_from(["count", "appearance"]),
    }
)


def brute_force(docs: list[list[str]], told: dict[str, Any], training: list[bool]) -> list[str]:
    """The terms that stay, by the stated order of limits, a term at a time."""
    every = [terms_of(doc, told["longest"]) for doc in docs]
    known = [each for each, kept in zip(every, training, strict=True) if kept]
    total = Counter(term for each in known for term in each)
    df = Counter(term for each in known for term in set(each))
    n, kept = len(known), [term for term in total if term not in told["go"]]
    sizes = {term: [len(word) for word in term.split()] for term in total}
    kept = [t for t in kept if min(sizes[t]) >= told["min_letters"]]
    kept = [t for t in kept if max(sizes[t]) <= (told["max_letters"] or 99)]
    least = max(told["min_documents"], told["min_share"] * n - 1e-7)
    most = min(told["max_share"] * n + 1e-7, told["max_documents"] or n)
    kept = [t for t in kept if least <= df[t] <= most and total[t] >= told["min_count"]]
    kept.sort(key=lambda t: (-total[t], t))
    first = len(kept) if told["keep_top"] is None else told["keep_top"]
    if told["keep_share"] is not None:
        first = min(first, round(told["keep_share"] * len(kept)))
    kept = kept[:first]
    everywhere = {term for each in every for term in each}
    kept += [t for t in told["stay"] if t not in kept and t in everywhere]
    if told["order"] == "count":
        return sorted(kept, key=lambda t: (-total[t], t))
    seen = [
        (at, start, size, " ".join(doc[start : start + size]))
        for at, doc in enumerate(docs)
        for start in range(len(doc))
        for size in range(1, told["longest"] + 1)
        if start + size <= len(doc)
    ]
    first_seen = {term: place[:3] for *place, term in reversed(seen)}
    return sorted(kept, key=lambda t: first_seen[t])


@settings(max_examples=400, deadline=None)
@given(documents, limits, st.data())
def test_limits_apply_in_their_order(docs: list[list[str]], told: dict[str, Any], data: st.DataObject) -> None:
    training = data.draw(st.lists(st.booleans(), min_size=len(docs), max_size=len(docs)))
    test = None if all(training) else ~np.array(training)
    chosen, made = MatrixSettings.model_validate(told), counted(docs, told["longest"])
    matrix = prune(made, chosen, test)
    assert matrix.terms == brute_force(docs, told, training)
    dense = matrix.counts.toarray()
    for at, doc in enumerate(docs):
        expected = Counter(terms_of(doc, told["longest"]))
        assert dense[at].tolist() == [expected[term] for term in matrix.terms]
    mask = np.zeros(made.n_terms, dtype=bool)
    mask[[made.column(term) for term in matrix.terms]] = True
    found = pruning.figures(made, mask)
    assert (found.terms, found.nonzero) == (len(matrix.terms), matrix.counts.nnz)
    assert found.sparsity == pytest.approx(matrix.sparsity)
    assert found.emptied == len(matrix.empty_documents) and found.tokens == dense.sum()
    assert found.per_document == pytest.approx((dense > 0).sum(axis=1).mean())


@settings(max_examples=100, deadline=None)
@given(documents, st.integers(1, 3))
def test_a_term_is_found_by_its_name(docs: list[list[str]], longest: int) -> None:
    made = counted(docs, longest)
    every = {term for doc in docs for term in terms_of(doc, longest)}
    assert set(made.terms) == every
    assert [made.column(term) for term in made.terms] == list(range(made.n_terms))
    assert made.column("nowhere") is None and made.column("gale nowhere") is None


def test_the_first_by_weight_are_not_the_first_by_count() -> None:
    docs = [["gale"] * 9 + ["tide"], ["gale", "gale"], ["gale", "quay", "quay", "quay"], ["gale"]]
    first = MatrixSettings(min_documents=1, max_share=1.0, keep_top=1)
    assert prune(counted(docs), first).terms == ["gale"]
    by_weight = first.model_copy(update={"top_by": SCHEMES["tf-idf"]})
    assert prune(counted(docs), by_weight).terms == ["quay"]


def test_a_sparsity_limit_is_a_smallest_share() -> None:
    """Absent from at most 0.71 of 100 documents is in at least 29, though 0.29 · 100 is a hair less."""
    docs = [["gale", "ferry"]] * 29 + [["ferry"]] * 71
    told = {"min_documents": 1, "max_share": 1.0, "min_share": 1 - 0.71}
    assert set(prune(counted(docs), MatrixSettings.model_validate(told)).terms) == {"gale", "ferry"}
    tighter = MatrixSettings.model_validate({**told, "min_share": 0.3})
    assert prune(counted(docs), tighter).terms == ["ferry"]


def test_settings_that_contradict_are_refused() -> None:
    for wrong in (
        {"stay": ["gale"], "go": ["gale"]},
        {"min_share": 1.0},
        {"keep_share": 0.0},
        {"go": ["x" * 401]},
        {"split": {"share": 0.2, "count": 5}},
        {"split": {}},
        {"min_documents": True},
        {"bridge": 0},
    ):
        with pytest.raises(ValidationError):
            MatrixSettings.model_validate(wrong)


@settings(max_examples=200, deadline=None)
@given(st.lists(st.integers(-1, 3), min_size=1, max_size=80), st.floats(0.05, 0.95), st.integers(0, 99))
def test_a_split_has_its_size_and_is_alike_in_the_outcome(values: list[int], share: float, seed: int) -> None:
    outcome, n = np.array(values), len(values)
    split = Split(share=share, seed=seed)
    test = held_out(split, n, outcome)
    assert test.sum() == split.size(n) and (n < 2 or 0 < test.sum() < n)
    assert np.array_equal(test, held_out(split, n, outcome))
    for value in set(values):
        mine = outcome == value
        exact = mine.sum() * split.size(n) / n
        assert abs(test[mine].sum() - exact) < 1
    assert apportioned(np.bincount(outcome + 1), split.size(n)).sum() == split.size(n)


@settings(max_examples=200, deadline=None)
@given(
    st.lists(st.tuples(st.integers(0, 2), st.integers(0, 9)), min_size=2, max_size=60),
    st.floats(0.05, 0.95),
    st.integers(0, 99),
)
def test_kin_stay_on_one_side_and_the_size_is_met_as_nearly_as_they_fit(
    documents: list[tuple[int, int]], share: float, seed: int
) -> None:
    outcome, group = (np.array(each) for each in zip(*documents, strict=True))
    near = np.arange(len(group), dtype=np.int32)
    near[1::3] = near[0::3][: len(near[1::3])]
    kin = kin_of(near, np.where(group > 5, group.astype(np.int64), -1))
    split = Split(share=share, seed=seed)
    test = held_out(split, len(group), outcome, kin)
    for one in range(len(group)):
        for other in range(one):
            alike = near[one] == near[other] or (group[one] == group[other] > 5)
            assert not alike or (kin[one] == kin[other] and test[one] == test[other])
    largest = np.bincount(kin).max()
    assert largest == len(group) or 0 < test.sum() < len(group)
    assert abs(test.sum() - split.size(len(group))) <= 3 * largest
    assert pairs_of(near) == sum(near[a] == near[b] for a in range(len(near)) for b in range(a))


def test_every_document_is_as_likely_to_be_held_out() -> None:
    outcome = np.array([0] * 6 + [1] * 4)
    drawn = np.mean([held_out(Split(count=5, seed=s), 10, outcome) for s in range(4000)], axis=0)
    assert np.abs(drawn - 0.5).max() < 0.04  # five standard errors


def test_the_suggestion_says_what_holds(demo: Prepared) -> None:
    known = pruning.standing(demo.counted)
    found = suggesting.suggest_min_documents(demo.counted, known)
    dense = demo.counted.counts.toarray()
    kept = (dense > 0).sum(axis=0) >= found.least
    assert found.terms == kept.sum() and found.tokens == pytest.approx(dense[:, kept].sum() / dense.sum())
    before = (dense.sum(axis=1) > 0).sum()
    assert found.emptied == before - (dense[:, kept].sum(axis=1) > 0).sum()
    assert found.tokens >= suggesting.LEAST_TOKENS and found.least == 5


@pytest.mark.parametrize(
    ("docs", "least"), [([["gale"], ["quay"]], 1), ([["gale"], ["gale", "quay"]], 2), ([[]], 1), ([["gale"]], 1)]
)
def test_suggestions_of_next_to_nothing(docs: list[list[str]], least: int) -> None:
    made = counted(docs)
    found = suggesting.suggest_min_documents(made, pruning.standing(made))
    assert found.least == least and found.why


@settings(max_examples=100, deadline=None)
@given(st.lists(st.text(max_size=12), max_size=12))
def test_names_of_columns_are_safe_and_told_apart(terms: list[str]) -> None:
    names = column_names(terms, ["document"])
    assert all(re.fullmatch(r"[A-Za-z][A-Za-z0-9_]*", name) for name in names)
    assert len({name.lower() for name in [*names, "document"]}) == len(terms) + 1


@settings(max_examples=100, deadline=None)
@given(st.lists(st.integers(-1, 6), max_size=60))
def test_curves_by_counting(words: list[int]) -> None:
    read = [word for word in words if word >= 0]
    found = growth(np.array(words, dtype=np.int32))
    assert all(len(set(read[:at])) == seen for at, seen in found.points)
    assert found.half == len(set(read[: len(read) // 2]))
    before = read[: len(read) - len(read) // 10]
    assert found.last_tenth == len(set(read)) - len(set(before))
    totals = np.bincount(read, minlength=7) if read else np.zeros(7, dtype=np.int64)
    assert dict(spectrum(totals)) == Counter(n for n in totals.tolist() if n)
    falling = sorted((n for n in totals.tolist() if n), reverse=True)
    assert all(falling[rank - 1] == value for rank, value in ranked(totals))


def test_a_weighting_that_chooses_nothing_makes_no_other_matrix() -> None:
    from skeinwork.work.steps import MATRIX

    plain, weighted = MatrixSettings(), MatrixSettings(top_by=Weighting(local_weight="log"))
    assert MATRIX.making("x", plain).identity == MATRIX.making("x", weighted).identity
    chosen = weighted.model_copy(update={"keep_top": 9})
    assert (
        MATRIX.making("x", chosen).identity
        != MATRIX.making("x", chosen.model_copy(update={"top_by": Weighting()})).identity
    )
