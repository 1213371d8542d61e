"""Porter stems against the paper's own examples and against SQLite's stemmer."""

from __future__ import annotations

import re
import sqlite3

import pytest

from skeinwork.core.text.forms.porter import stem
from tests.conftest import Prepared

# The examples that stand beside the rules in the paper, taken through the whole algorithm.
PAPER = {
    "caresses": "caress",
    "ponies": "poni",
    "ties": "ti",
    "caress": "caress",
    "cats": "cat",
    "feed": "feed",
    "agreed": "agre",
    "plastered": "plaster",
    "bled": "bled",
    "motoring": "motor",
    "sing": "sing",
    "conflated": "conflat",
    "troubled": "troubl",
    "sized": "size",
    "hopping": "hop",
    "tanned": "tan",
    "falling": "fall",
    "hissing": "hiss",
    "fizzed": "fizz",
    "failing": "fail",
    "filing": "file",
    "happy": "happi",
    "sky": "sky",
    "relational": "relat",
    "conditional": "condit",
    "rational": "ration",
    "valenci": "valenc",
    "hesitanci": "hesit",
    "digitizer": "digit",
    "conformabli": "conform",
    "radicalli": "radic",
    "differentli": "differ",
    "vileli": "vile",
    "analogousli": "analog",
    "vietnamization": "vietnam",
    "predication": "predic",
    "operator": "oper",
    "feudalism": "feudal",
    "decisiveness": "decis",
    "hopefulness": "hope",
    "callousness": "callous",
    "formaliti": "formal",
    "sensitiviti": "sensit",
    "sensibiliti": "sensibl",
    "triplicate": "triplic",
    "formative": "form",
    "formalize": "formal",
    "electriciti": "electr",
    "electrical": "electr",
    "hopeful": "hope",
    "goodness": "good",
    "revival": "reviv",
    "allowance": "allow",
    "inference": "infer",
    "airliner": "airlin",
    "gyroscopic": "gyroscop",
    "adjustable": "adjust",
    "defensible": "defens",
    "irritant": "irrit",
    "replacement": "replac",
    "adjustment": "adjust",
    "dependent": "depend",
    "adoption": "adopt",
    "homologou": "homolog",
    "communism": "commun",
    "activate": "activ",
    "angulariti": "angular",
    "homologous": "homolog",
    "effective": "effect",
    "bowdlerize": "bowdler",
    "probate": "probat",
    "rate": "rate",
    "cease": "ceas",
    "controll": "control",
    "roll": "roll",
    "generalizations": "gener",
    "oscillators": "oscil",
}


@pytest.mark.parametrize(("word", "expected"), PAPER.items())
def test_the_examples_of_the_paper(word: str, expected: str) -> None:
    assert stem(word) == expected


def sqlite_stems(words: list[str]) -> dict[str, str]:
    """What SQLite's full-text tokenizer makes of each word."""
    database = sqlite3.connect(":memory:")
    database.execute("CREATE VIRTUAL TABLE t USING fts5(word, tokenize='porter ascii')")
    database.executemany("INSERT INTO t (rowid, word) VALUES (?, ?)", enumerate(words))
    database.execute("CREATE VIRTUAL TABLE v USING fts5vocab(t, 'instance')")
    return {words[row]: term for term, row in database.execute("SELECT term, doc FROM v")}


def departs(word: str) -> bool:
    """Words where SQLite leaves the paper: short ones, and its rules for -bly and -logi."""
    return len(word) < 3 or word.endswith(("bly", "bli", "logi", "logy", "logies"))


def test_sqlite_agrees_on_every_word_of_the_demo_but_where_it_leaves_the_paper(demo: Prepared) -> None:
    words = sorted({w for t in demo.tokens.types for w in [t.casefold()] if re.fullmatch("[a-z]+", w)})
    theirs = sqlite_stems(words)
    assert len(words) > 1000
    assert {w: stem(w) for w in words if stem(w) != theirs[w] and not departs(w)} == {}


def test_sqlite_agrees_on_built_words() -> None:
    heads = ["a", "oper", "gener", "happ", "trad", "relat", "hop", "siz", "controll", "y", "sky", "tr", "fee"]
    tails = (
        "s es ed ing ies y ational tional enci anci izer alli entli eli ousli ization ation ator "
        "alism iveness fulness ousness aliti iviti biliti icate ative alize iciti ical ful ness al "
        "ance ence er ic able ible ant ement ment ent ion ou ism ate iti ous ive ize e ll"
    ).split()
    words = [head + tail for head in heads for tail in tails]
    theirs = sqlite_stems(words)
    assert {w: (stem(w), theirs[w]) for w in words if stem(w) != theirs[w] and not departs(w)} == {}


def test_where_sqlite_leaves_the_paper() -> None:
    theirs = sqlite_stems(["as", "possibly", "apologi"])
    assert (stem("as"), theirs["as"]) == ("a", "as")
    assert (stem("possibly"), theirs["possibly"]) == ("possibli", "possibl")
    assert (stem("apologi"), theirs["apologi"]) == ("apologi", "apolog")
