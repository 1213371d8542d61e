"""Lists of words as files, and what is known of the language of documents."""

from __future__ import annotations

import json

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from skeinwork.core.corpus.about import about
from skeinwork.core.corpus.corpus import Corpus, encode_column
from skeinwork.core.corpus.survey import Survey
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import lemma_table
from skeinwork.core.formats.export import to_csv
from skeinwork.core.formats.word_list import folded, kept, read_list, tidy, written
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
        ("a.json", '["ferry", {"word": "gale"}, {"name": "Osk"}]', ["ferry", "gale", "Osk"]),
        ("a.csv", "Wort;Anzahl\nferry;3\ngale;12", ["ferry", "gale"]),
        ("a.csv", "n;stop words\n1;ferry\n2;of, course", ["ferry", "of, course"]),
        ("a.csv", "ferry;boat\ngale;wind", ["ferry", "gale"]),
        ("a.txt", 'c#\n1,000, 2\n# all\n"a, b"', ["c#", "1,000", "2", "a, b"]),
        ("a.json", '{"name": "x", "words": ["ferry"]}', ["ferry"]),
        ("a.json", '{"ferry": 12, "gale": 3}', ["ferry", "gale"]),
        ("a.txt", "\ufeffcafe\u0301", ["café"]),
    ],
)
def test_a_list_is_read_by_its_ending(name: str, data: str, words: list[str]) -> None:
    assert read_list(name, data.encode()).words == words


def test_a_list_in_another_encoding_is_read() -> None:
    assert read_list("a.txt", "élève\nquai".encode("cp1252")).words == ["élève", "quai"]


@pytest.mark.parametrize(
    ("name", "data", "said"),
    [
        ("a.txt", b"", "holds no words"),
        ("a.json", b"[", "is not JSON"),
        ("a.json", b"3", "holds no words"),
        ("a.json", b"[" * 100_000, "is not JSON"),
        ("a.csv", b"word\n", "holds no words"),
        ("a.json", b'["ferry", 3]', "Item 2 of a.json is no word"),
        ("a.json", b'["ferry", "\\ud800"]', "Item 2 of a.json holds half of a character"),
        ("a.csv", b'word\nferry\n"gale\nquay\n', "Line 3 of a.csv holds a quote that never closes"),
        ("a.txt", b"ferry\n" + b"x" * 401, "Line 2 of a.txt holds a word of 401 letters"),
        ("a.txt", bytes(range(1, 200)), "Line 2 of a.txt holds"),
        ("a.txt", f"ferry\n{'é' * 50}".encode() + b"\xff", "Line 2 of a.txt holds bytes that are no text"),
    ],
)
def test_what_is_no_list_is_refused(name: str, data: bytes, said: str) -> None:
    with pytest.raises(BadInputError, match=said):
        read_list(name, data)


def test_remarks_say_what_was_left_aside() -> None:
    assert read_list("a.csv", b"ferry;boat\ngale;wind").remarks == ["The first of 2 columns of a.csv was taken."]
    read = lemma_table.read_lines("t.tsv", b"form\tlemma\nsaw\tsee\nsaw\tsaw\nwas\tbe\n")
    assert read.words == ["saw\tsee", "was\tbe"]
    assert read.remarks == ["1 rows give a form another lemma than it has before, which stays: line 3: saw = saw."]


@given(st.lists(st.text("ab#,\"' 0=-@;\\\t", min_size=1, max_size=6), min_size=1, max_size=6))
def test_a_saved_list_is_read_as_the_same_words(words: list[str]) -> None:
    tidied = tidy(words)
    if not tidied:
        return
    assert read_list("a.txt", written(tidied)).words == tidied
    rows = to_csv(["word"], ([word] for word in tidied))
    assert read_list("a.csv", rows).words == tidied
    assert read_list("a.json", json.dumps(tidied).encode()).words == tidied


@pytest.mark.parametrize("name", ["t.csv", "t.tsv", "t.json"])
@given(
    table=st.dictionaries(
        st.text("ab#=-;'", min_size=1, max_size=4), st.text("xyz'=\"", min_size=1, max_size=4), min_size=1
    )
)
def test_a_saved_table_is_read_as_the_same_forms(name: str, table: dict[str, str]) -> None:
    kept_lines = lemma_table.lines(table.items())
    data = {
        "t.csv": lambda: to_csv(["form", "lemma"], table.items()),
        "t.tsv": lambda: kept(kept_lines),
        "t.json": lambda: json.dumps({"name": "x", "forms": table}).encode(),
    }[name]()
    assert kept(lemma_table.read_lines(name, data).words) == kept(kept_lines)


@given(WORDS)
def test_a_kept_list_is_read_as_it_was_whatever_the_order(words: list[str]) -> None:
    tidied = tidy(words)
    assert kept(tidied) == kept(tidied[::-1])
    assert kept(tidied).decode().splitlines() == sorted(tidied)
    assert folded(tidied) == {word.casefold() for word in tidied}


def test_languages_are_known_by_code_and_name() -> None:
    assert [language_named(each) for each in ("EN-gb", "pt_BR", "nb", "deutsch", "Thai ", "")] == [
        "English",
        "Portuguese",
        "Norwegian",
        "German",
        "Thai",
        None,
    ]
    assert set(LANGUAGES) <= set(CODES.values())


def corpus_of(languages: list[str | None]) -> Corpus:
    number = len(languages)
    none = np.zeros(number, dtype=np.int32)
    return Corpus(
        np.zeros(0, dtype=np.uint8),
        np.zeros(number + 1, dtype=np.int64),
        [encode_column("tongue", "language", languages), encode_column("port", "group", ["a"] * number)],
        none,
        none.astype(np.uint8),
        none,
        none,
        none,
    )


def test_a_field_that_names_a_language_goes_before_the_guess() -> None:
    german, unsure = LANGUAGES.index("German"), -1
    guessed = np.array([german, german, unsure, german], dtype=np.int8)
    own = np.arange(4, dtype=np.int32)
    survey = Survey(own, guessed, own, own, np.zeros(4, dtype=np.bool_))
    known = about(corpus_of(["tr", "no such", None, "en"]), survey)
    assert known.names() == ["Turkish", "German", UNSURE, "English"]
    assert known.meets(Within(values=("Turkish", UNSURE))).tolist() == [True, False, True, False]
    assert known.meets(Within(field="port", values=("a",))).all()
    assert not known.meets(Within(field="gone", values=("a",))).any()
    assert known.only([3, 0]).names() == ["English", "Turkish"]
    assert unknown(2).names() == [UNSURE] * 2 and unknown(2).meets(None).all()
