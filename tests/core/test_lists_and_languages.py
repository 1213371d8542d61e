"""Lists of words as files, and what is known of the language of documents."""

from __future__ import annotations

import csv
import io
import json

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from skeinwork.core.corpus.about import about
from skeinwork.core.corpus.corpus import Corpus, encode_column
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.word_list import folded, kept, read_words, tidy
from skeinwork.core.text.about import UNSURE, Within, unknown
from skeinwork.core.text.language import LANGUAGES
from skeinwork.core.text.language_names import CODES, language_named

WORDS = st.lists(st.text("abcé Ü-'’", min_size=1, max_size=9), min_size=1, max_size=9)


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [
        ("a.txt", "ferry, gale  # a remark\nquay\n\nferry", ["ferry", "gale", "quay"]),
        ("a.csv", "id,Name\n1,Anna Holt\n2,\n3,Osk", ["Anna Holt", "Osk"]),
        ("a.csv", "ferry,boat\ngale,wind", ["ferry", "gale"]),
        ("a.tsv", "n\tword\n1\tferry, old", ["ferry, old"]),
        ("a.json", '["ferry", 3, {"word": "gale"}, {"name": "Osk"}, null]', ["ferry", "gale", "Osk"]),
        ("a.json", '{"name": "x", "words": ["ferry"]}', ["ferry"]),
        ("a.json", '{"ferry": 12, "gale": 3}', ["ferry", "gale"]),
        ("a.txt", "\ufeffcafe\u0301", ["café"]),
    ],
)  # fmt: skip
def test_a_list_is_read_by_its_ending(name: str, data: str, words: list[str]) -> None:
    assert read_words(name, data.encode()) == words


def test_a_list_in_another_encoding_is_read() -> None:
    assert read_words("a.txt", "élève\nquai".encode("cp1252")) == ["élève", "quai"]


@pytest.mark.parametrize(
    ("name", "data", "said"),
    [
        ("a.txt", b"", "holds no words"), ("a.json", b"[", "is not JSON"), ("a.json", b"3", "holds no words"),
        ("a.json", b"[" * 100_000, "is not JSON"), ("a.csv", b"word\n", "holds no words"),
    ],
)  # fmt: skip
def test_what_is_no_list_is_refused(name: str, data: bytes, said: str) -> None:
    with pytest.raises(BadInputError, match=said):
        read_words(name, data)


@given(WORDS)
def test_a_kept_list_is_read_as_it_was_whatever_the_order(words: list[str]) -> None:
    tidied = tidy(words)
    assert kept(tidied) == kept(tidied[::-1])
    assert kept(tidied).decode().splitlines() == sorted(tidied)
    assert folded(tidied) == {word.casefold() for word in tidied}


@given(WORDS)
def test_a_column_of_words_is_read_back(words: list[str]) -> None:
    tidied = tidy(words)
    out = io.StringIO()
    csv.writer(out).writerows([["word"], *([word] for word in tidied)])
    if tidied:
        assert read_words("x.csv", out.getvalue().encode()) == tidied
        assert read_words("x.json", json.dumps(tidied).encode()) == tidied


def test_languages_are_known_by_code_and_name() -> None:
    assert [language_named(each) for each in ("EN-gb", "pt_BR", "nb", "deutsch", "Thai ", "")] == [
        "English", "Portuguese", "Norwegian", "German", "Thai", None,
    ]  # fmt: skip
    assert set(LANGUAGES) <= set(CODES.values())


def corpus_of(languages: list[str | None]) -> Corpus:
    number = len(languages)
    none = np.zeros(number, dtype=np.int32)
    return Corpus(
        np.zeros(0, dtype=np.uint8), np.zeros(number + 1, dtype=np.int64),
        [encode_column("tongue", "language", languages), encode_column("port", "group", ["a"] * number)],
        none, none.astype(np.uint8), none, none, none,
    )  # fmt: skip


def test_a_field_that_names_a_language_goes_before_the_guess() -> None:
    german, unsure = LANGUAGES.index("German"), -1
    known = about(
        corpus_of(["tr", "no such", None, "en"]),
        np.array([german, german, unsure, german], dtype=np.int8),
    )
    assert known.names() == ["Turkish", "German", UNSURE, "English"]
    assert known.meets(Within(values=("Turkish", UNSURE))).tolist() == [True, False, True, False]
    assert known.meets(Within(field="port", values=("a",))).all()
    assert not known.meets(Within(field="gone", values=("a",))).any()
    assert known.only([3, 0]).names() == ["English", "Turkish"]
    assert unknown(2).names() == [UNSURE] * 2 and unknown(2).meets(None).all()
