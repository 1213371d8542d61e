"""Vectors: directions against SciPy's, contexts and neighbours against plain loops, files as people write them."""

from __future__ import annotations

from itertools import pairwise
from math import log
from pathlib import Path

import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq
import pytest
import scipy
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.roles import guess_roles
from skeinwork.core.formats.vectors import VectorReader, read_vector, read_word_vectors, tables_of_vectors
from skeinwork.core.relate import neighbours as near
from skeinwork.core.relate.nearest import centroid, cosines, mutual_pairs, rank_weights, shared_parts
from skeinwork.core.relate.neighbours import neighbours, unit_vectors
from skeinwork.core.relate.truncated_svd import eigen, truncated_svd
from skeinwork.core.relate.word_contexts import context_counts, shifted_pmi


def falling(rows: int, columns: int, seed: int) -> NDArray[np.float64]:
    """A matrix whose singular values are known: 20, 20 · .8, 20 · .8² …"""
    chance = np.random.default_rng(seed)
    left = np.linalg.qr(chance.normal(size=(rows, min(rows, columns))))[0]
    right = np.linalg.qr(chance.normal(size=(columns, min(rows, columns))))[0]
    return np.asarray(left * (20 * 0.8 ** np.arange(min(rows, columns)))) @ right.T


@pytest.mark.parametrize("sparse", [False, True])
def test_leading_directions_are_those_of_the_reference(sparse: bool) -> None:
    dense = falling(120, 70, 1)
    rows = scipy.sparse.csr_matrix(dense) if sparse else dense
    found = truncated_svd(rows, 12)
    left, values, right = scipy.sparse.linalg.svds(scipy.sparse.csr_matrix(dense), 12)
    order = np.argsort(-values)
    assert np.allclose(found.values, values[order], rtol=1e-3) and (np.diff(found.values) < 0).all()
    # The first ones have settled; of a direction only its sign is free.
    assert np.allclose(np.abs((found.left * left[:, order]).sum(axis=0))[:8], 1, atol=1e-3)
    assert np.allclose(np.abs((found.right * right.T[:, order]).sum(axis=0))[:8], 1, atol=1e-3)
    assert np.allclose(found.left.T @ found.left, np.eye(12), atol=1e-8)
    assert (found.right[np.abs(found.right).argmax(axis=0), np.arange(12)] > 0).all()


def test_rows_of_low_rank_have_no_more_directions_than_that() -> None:
    chance = np.random.default_rng(2)
    rows = np.outer(chance.random(40), chance.random(9)) + np.outer(chance.random(40), chance.random(9))
    found = truncated_svd(rows, 6)
    assert len(found.values) == 2
    assert np.allclose(found.left * found.values @ found.right.T, rows)


def test_eigenvalues_are_those_of_the_reference() -> None:
    square = np.random.default_rng(3).normal(size=(30, 30))
    square = square @ square.T
    values, vectors = eigen(square)
    assert np.allclose(values, np.linalg.eigvalsh(square)[::-1]) and np.allclose(square @ vectors, vectors * values)


def test_contexts_are_counted_as_a_plain_loop_does() -> None:
    chance = np.random.default_rng(4)
    ids = chance.integers(-1, 9, size=160).astype(np.int32)
    doc_ptr = np.array([0, 50, 50, 51, 160])
    for window in (1, 3, 200):
        wanted = np.zeros((9, 9), dtype=int)
        for begins, ends in pairwise(doc_ptr.tolist()):
            for one in range(begins, ends):
                for other in range(begins, ends):
                    if one != other and abs(one - other) <= window and min(ids[one], ids[other]) >= 0:
                        wanted[ids[one], ids[other]] += 1
        found = context_counts(ids, doc_ptr, 9, window)
        assert found.toarray().tolist() == wanted.tolist() and found.has_canonical_format


def test_shifted_information_by_hand() -> None:
    counts = scipy.sparse.csr_matrix(np.array([[0, 6, 2], [6, 0, 0], [2, 0, 4]]))
    own = [8, 6, 6]
    plain = shifted_pmi(counts, 1.0, 1.0).toarray()
    assert plain[0, 1] == pytest.approx(log(6 * 20 / (8 * 6)))
    assert plain[0, 2] == 0  # 2 times where chance has 2.4
    smooth, whole = 6**0.75, sum(each**0.75 for each in own)
    found = shifted_pmi(counts, 1.5, 0.75)
    assert found.toarray()[2, 2] == pytest.approx(log(4 / 6) - log(smooth / whole) - log(1.5))
    assert (found.data > 0).all()


def points(n: int, d: int, seed: int, clusters: int = 30) -> NDArray[np.float32]:
    chance = np.random.default_rng(seed)
    middles = chance.normal(size=(clusters, d))
    return unit_vectors(middles[chance.integers(clusters, size=n)] + 0.7 * chance.normal(size=(n, d)))


def nearest_by_hand(vectors: NDArray[np.float32], asked: NDArray[np.int64], k: int) -> NDArray[np.int64]:
    apart = -(vectors[asked].astype(np.float64) @ vectors.T.astype(np.float64))
    apart[np.arange(len(asked)), asked] = 9
    return np.argsort(apart, axis=1, kind="stable")[:, :k]


def test_neighbours_are_the_nearest_of_all() -> None:
    vectors = points(700, 20, 5)
    found = neighbours(vectors, 8)
    wanted = nearest_by_hand(vectors, np.arange(700), 8)
    assert (np.sort(found.near, axis=1) == np.sort(wanted, axis=1)).mean() > 0.999  # but for ties in single precision
    assert (np.diff(found.cosine, axis=1) <= 0).all()
    assert np.allclose(found.cosine[:, 0], (vectors * vectors[found.near[:, 0]]).sum(axis=1), atol=1e-6)


def test_of_many_items_nearly_all_neighbours_are_found_in_the_cells_around(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(near, "EXACT", 1000)
    vectors = points(9000, 16, 6, clusters=90)
    found = neighbours(vectors, 10)
    asked = np.random.default_rng(1).choice(9000, 300, replace=False)
    wanted = nearest_by_hand(vectors, asked, 10)
    kept = [len({*one.tolist()} & {*other.tolist()}) / 10 for one, other in zip(found.near[asked], wanted, strict=True)]
    assert np.mean(kept) > 0.95
    assert (found.near >= 0).all() and (found.near != np.arange(9000)[:, None]).all()
    again = neighbours(vectors, 10)
    assert again.near.tobytes() == found.near.tobytes()


@given(st.integers(2, 9), st.integers(1, 6))
def test_what_is_shared_adds_up_to_the_cosine(features: int, seed: int) -> None:
    one, other = np.random.default_rng(seed).random((2, features))
    wanted = one @ other / np.linalg.norm(one) / np.linalg.norm(other)
    assert shared_parts(one, other).sum() == pytest.approx(wanted)
    unit = (one / np.linalg.norm(one)).astype(np.float32)
    assert cosines(unit[None], other)[0] == pytest.approx(wanted, abs=1e-5)


def test_a_middle_weighs_alike_or_less_by_rank() -> None:
    assert rank_weights(3, "equal").tolist() == pytest.approx([1 / 3] * 3)
    assert rank_weights(3, "falling").tolist() == pytest.approx([6 / 11, 3 / 11, 2 / 11])
    unit = np.array([[1, 0], [0, 1]], np.float32)
    assert centroid(unit, "falling").tolist() == pytest.approx([2 / 3, 1 / 3])
    assert cosines(unit, np.zeros(2)).tolist() == [0, 0]


def test_only_those_that_are_each_others_nearest_are_a_pair() -> None:
    nearest, cosine = np.array([1, 0, 1, 4, 3], np.int32), np.array([0.5, 0.5, 0.4, 0.9, 0.9], np.float32)
    assert mutual_pairs(nearest, cosine).tolist() == [[3, 4], [0, 1]]


@pytest.mark.parametrize("cell", ["[1, -2.5, 3e2]", "1 -2.5 300", " (1;-2.5;300) ", "{1,\n-2.5,300,}", "1\t-2.5 | 300"])
def test_a_vector_is_read_however_it_is_written(cell: str) -> None:
    assert read_vector(cell).tolist() == [1, -2.5, 300]


@pytest.mark.parametrize(
    ("cell", "reason"),
    [
        ("[1, null, 3]", "“null” is no number"),
        ("1 two 3", "“two” is no number"),
        ("1 nan 3", "no finite number"),
        ("1e300 2", "no finite number"),
        ("0 0 0", "no direction"),
        ("[]", "is no number"),
        ("1 " * 5000, "5,000 numbers"),
    ],
)
def test_a_vector_that_is_none_says_why(cell: str, reason: str) -> None:
    with pytest.raises(ValueError, match=reason):
        read_vector(cell)


def test_vectors_have_the_length_that_most_have() -> None:
    reader = VectorReader()
    for at, cell in enumerate(["1 2", "1 2 3", "4 5 6", "", "7 x 9", "7 8 9"]):
        reader.take(at, cell)
    found = reader.whole()
    assert found.at.tolist() == [1, 2, 5] and found.vectors.tolist() == [[1, 2, 3], [4, 5, 6], [7, 8, 9]]
    assert found.bad == [(0, "has 2 numbers where 3 are wanted"), (4, "“x” is no number")]
    assert VectorReader().whole().vectors.size == 0


def test_a_field_of_lists_of_numbers_is_guessed_to_hold_vectors() -> None:
    rows = [f"[{', '.join(f'{at / 7 + each:.4f}' for each in range(12))}]" for at in range(30)]
    texts = ["the ferry at noon", "gale and fog"] * 15
    assert guess_roles({"said": texts, "numbers": rows}) == {"said": "text", "numbers": "vector"}
    days = [f"{at % 28 + 1} 1 2014" for at in range(30)]
    assert guess_roles({"said": texts, "days": days})["days"] != "vector"


def test_arrays_and_tables_of_vectors_are_read(tmp_path: Path) -> None:
    rows = np.random.default_rng(7).random((5, 3)).astype(np.float32)
    np.save(tmp_path / "a.npy", rows)
    lists = pa.table({"id": [f"d{at}" for at in range(5)], "v": [each.tolist() for each in rows]})
    pq.write_table(lists, tmp_path / "lists.parquet")
    wide = pa.table({"key": [f"d{at}" for at in range(5)], **{f"x{at}": rows[:, at] for at in range(3)}})
    pq.write_table(wide, tmp_path / "wide.parquet")
    for name, keys in (("a.npy", None), ("lists.parquet", ["d0", "d1"]), ("wide.parquet", ["d0", "d1"])):
        (found,) = tables_of_vectors(tmp_path / name, name)
        assert np.allclose(np.stack([*found.rows]), rows)
        assert (found.keys and found.keys[:2]) == keys


def test_a_file_that_holds_no_vectors_is_refused(tmp_path: Path) -> None:
    np.save(tmp_path / "flat.npy", np.arange(5))
    np.save(tmp_path / "words.npy", np.array([["a", "b"]]))
    np.save(tmp_path / "objects.npy", np.array([{}, []], dtype=object), allow_pickle=True)
    pq.write_table(pa.table({"id": ["a", "b"]}), tmp_path / "none.parquet")
    (tmp_path / "broken.parquet").write_bytes(b"PAR1 and nothing more")
    (tmp_path / "text.npy").write_bytes(b"gale and fog")
    for name in ("flat.npy", "words.npy", "objects.npy", "none.parquet", "broken.parquet", "text.npy"):
        with pytest.raises(BadInputError, match=name):
            list(tables_of_vectors(tmp_path / name, name))


def test_words_of_a_file_are_those_of_the_corpus(tmp_path: Path) -> None:
    path = tmp_path / "words.txt"
    path.write_bytes("4 2\nfog 1 2\nhaar 1.5 -2\nferry\t3 4\nlight x 1\nfog 9 9\nstürm 5 6\n".encode())
    found = read_word_vectors(path, "words.txt", frozenset({"fog", "ferry", "light", "stürm"}))
    assert found.words == ["fog", "ferry", "stürm"] and found.vectors.tolist() == [[1, 2], [3, 4], [5, 6]]
    assert [each.reason for each in found.bad] == ["“x” is no number"]
    with pytest.raises(BadInputError, match="no line of a word"):
        read_word_vectors(path, "words.txt", frozenset({"gale"}))
