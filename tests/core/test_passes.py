"""Each pass by example, limits, kept words, and the ways in which tokens become others."""

from __future__ import annotations

import itertools
import unicodedata
from typing import Any

import numpy as np
import pytest
import regex
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from skeinwork.core.text import stopwords
from skeinwork.core.text.about import About, Within
from skeinwork.core.text.clean import CleanSettings, clean
from skeinwork.core.text.graphemes import clusters
from skeinwork.core.text.passes import PASSES
from skeinwork.core.text.passes.replacements import ReplacementsPass
from skeinwork.core.text.spread import chance_entropy, evenness, spread
from skeinwork.core.text.tokenise import tokenise
from tests.core.test_clean import cleaned

CASE, SIGNS, STOP = {"kind": "case"}, {"kind": "punctuation"}, {"kind": "stop-words"}


def words(text: str, *passes: dict[str, Any]) -> str:
    return " ".join(cleaned([text], *passes)[0])


MAIL = (
    "From: a@quellan.example\nDelivered-To: b\nSubject: the buoy\n in the fairway\n\n"
    "See: it is lit at six.\n\nOn 3 February\nAskew wrote:\n> it is not lit\n\nThanks to all\n-- \nKeeper\n"
)


@pytest.mark.parametrize(
    ("text", "chosen", "left"),
    [
        (
            "#ThisWay #storm_2014 x@y.example @keeper a",
            {"kind": "addresses", "hashtags": "split", "mail": "keep"},
            "This Way storm 2014 x@y.example a",
        ),
        (
            "#ThisWay https://a.example @b",
            {"kind": "addresses", "web": "keep", "hashtags": "drop"},
            "https://a.example",
        ),
        (
            "Can't won't I'm it's Tom's let's l'eau dell’acqua o'clock don’t",
            {"kind": "contractions"},
            "Can not will not I am it is Tom's let us l eau dell acqua o'clock do not",
        ),
        ("Can't we'll it's Tom's l'eau don’t", {"kind": "contractions", "become": "cut"}, "Can we it Tom's eau do"),
        ("l'eau we've", {"kind": "contractions", "elisions": False}, "l'eau we have"),
        (
            "12 kn £ 30 6:30 2014 3 boats 20°C",
            {"kind": "numbers", "become": "kind", "units": True},
            "<amount> <amount> <time> <year> <number> boats <amount>",
        ),
        ("12 kn and 3 boats", {"kind": "numbers", "units": True}, "and boats"),
        ("12 kn and 3rd", {"kind": "numbers", "become": "number", "keep_with_letters": True}, "<number> kn and 3rd"),
        (
            "The ferry. Kelpwick is far. We left Kelpwick. The Ferry",
            {"kind": "case", "fold": "at sentence starts"},
            "the ferry . Kelpwick is far . we left Kelpwick . the Ferry",
        ),
        ("İSTANBUL IŞIK", {"kind": "case", "letters": "Turkish and Azerbaijani"}, "istanbul ışık"),
        ("sooo so goood good cooool cool brrr", {"kind": "repeats"}, "so so good good cool cool br"),
        ("brrr", {"kind": "repeats", "otherwise": "two"}, "brr"),
        (MAIL, {"kind": "mail"}, "See : it is lit at six . Thanks to all"),
        (
            MAIL,
            {"kind": "mail", "quotes": False, "headers": False},
            "From : a@quellan.example Delivered-To : b Subject : the buoy in the fairway See : it is lit at six ."
            " On 3 February Askew wrote :"
            " > it is not lit Thanks to all",
        ),
        (
            "| a | b |\nNote: from here to there\n-- not a signature",
            {"kind": "mail"},
            "| a | b | Note : from here to there - - not a signature",
        ),
        (
            "Stbd colours colour",
            {"kind": "replacements", "pairs": ["stbd = starboard side"], "patterns": ["ou(?=r)=o"]},
            "starboard_side colors color",
        ),
        ("organise organised", {"kind": "replacements", "patterns": [r"(\w+)is(ed?)$=\1iz\2"]}, "organize organized"),
        ("👍🏽 gale 👩\u200d🚀 🇫🇷", {"kind": "emoji"}, "thumbs_up_sign gale woman_rocket flag_fr"),
        ("👍🏽 gale", {"kind": "emoji", "become": "drop"}, "gale"),
        ("“Élève” Ærø чай", {"kind": "accents"}, '" Eleve " AEro чай'),
        ("ﬁne ½", {"kind": "accents", "accents": False, "compatibility": True}, "fine 1/2"),
        ("שָׁלוֹם كِتَاب", {"kind": "accents", "marks": True}, "שלום كتاب"),
        ("a bb ccccc", {"kind": "short-words", "under": 2, "most": 5}, "bb ccccc"),
        ("潮が満ちた。船は３隻。 gale", {"kind": "character-ngrams"}, "潮が が満 満ち ちた 。 船は ３ 隻 。 gale"),
        ("เรือมา ท่า", {"kind": "character-ngrams"}, "เรื รือ อม มา ท่า"),
        ("gale now", {"kind": "character-ngrams", "scripts": "all", "least": 3, "most": 3}, "gal ale now"),
        (
            "gale at. it",
            {"kind": "character-ngrams", "scripts": "all", "least": 3, "most": 4, "across": True},
            "gal gale ale le_a e_a e_at . it",
        ),
    ],
)
def test_what_a_pass_makes_of_a_text(text: str, chosen: dict[str, Any], left: str) -> None:
    assert words(text, chosen) == left


def test_every_pass_has_its_words_and_its_defaults_do_no_harm(demo: Any) -> None:
    for kind in PASSES:
        step = kind.model_validate({})
        assert step.title and step.about and step.said()
        made = clean(demo.tokens, CleanSettings(passes=(step,)))
        assert made.survivals[-1].tokens > 0


def test_a_replacement_that_names_a_group_which_is_not_there_says_so() -> None:
    step = ReplacementsPass(patterns=(r"(gale)s=\2",))
    assert step.hint([]) == "The regular expression “(gale)s” can't be read: no such group."


def test_hyphenated_words_can_stand_beside_their_parts() -> None:
    chosen = CleanSettings.model_validate({"rule": {"hyphens": "both"}, "passes": []})
    tokens = tokenise(["The sea-wall broke"], chosen.tokenising())
    assert tokens.words(0) == ["The", "sea-wall", "sea", "wall", "broke"]
    assert tokens.starts.tolist() == [0, 4, 4, 8, 13] and tokens.ends[3] == 12


@settings(max_examples=60, deadline=None)
@given(st.lists(st.sampled_from(["can't", "#TwoWords", "l’eau", "12 kn", "sea-wall", "gale", ".", "潮が"]), max_size=9))
def test_spans_of_pieces_lie_in_their_text(parts: list[str]) -> None:
    text = " ".join(parts)
    passes = [
        {"kind": "addresses", "hashtags": "split"},
        {"kind": "contractions"},
        {"kind": "numbers", "become": "kind", "units": True},
        {"kind": "character-ngrams"},
    ]
    chosen = CleanSettings.model_validate({"passes": passes})
    made = clean(tokenise([text], chosen.tokenising()), chosen)
    data, tokens = text.encode(), made.tokens
    assert (np.diff(tokens.starts) >= 0).all() and (tokens.starts < tokens.ends).all()
    for start, end, kind in zip(tokens.starts, tokens.ends, tokens.ids, strict=True):
        assert data[start:end].decode() == tokens.types[kind]


@settings(max_examples=60, deadline=None)
@given(st.text("abé\u0301潮が", min_size=1, max_size=9), st.integers(1, 4))
def test_character_ngrams_are_all_windows_of_clusters(word: str, size: int) -> None:
    text = unicodedata.normalize("NFC", regex.sub("^\u0301+", "", word)) or "a"
    signs = clusters(text)
    given_ngrams = {"kind": "character-ngrams", "scripts": "all", "least": size, "most": size}
    wanted = ["".join(signs[at : at + size]) for at in range(len(signs) - size + 1)]
    made = cleaned([text], {**given_ngrams, "across": True})[0]
    assert sorted(made) == sorted(wanted or [text])


def test_no_later_pass_touches_a_kept_word() -> None:
    keep = {"kind": "keep-list", "words": ["the", "Gales", "sea wall"]}
    later = [CASE, STOP, {"kind": "word-forms"}, {"kind": "domain-words", "words": ["gales"]}]
    assert words("The gales the moorings", keep, *later) == "The gales the moor"
    assert words("The gales the moorings", *later, keep) == "moor"


def about(*languages: str) -> About:
    names = tuple(dict.fromkeys(languages))
    codes = np.array([names.index(each) for each in languages], dtype=np.int16)
    return About(codes, names, {"harbour": (np.array([0, 1, -1], dtype=np.int32), ["Quellan", "Tarnholt"])})


def left(texts: list[str], known: About, *passes: dict[str, Any]) -> list[str]:
    chosen = CleanSettings.model_validate({"passes": passes})
    made = clean(tokenise(texts, chosen.tokenising(), about=known), chosen, known)
    return [" ".join(made.forms[f] for f in made.token_forms(d) if f >= 0) for d in range(len(texts))]


def test_the_language_of_a_document_decides_its_stop_list() -> None:
    texts = ["die the und gale", "die the und gale", "die the und gale"]
    known = about("German", "English", "unsure")
    stop = {"kind": "stop-words", "language": "of each document"}
    assert left(texts, known, stop) == ["the gale", "die und gale", "die und gale"]
    assert left(texts, known, {**stop, "unsure": "none"})[2] == "die the und gale"
    assert left(texts, known, {"kind": "stop-words", "language": "German"}) == ["the gale"] * 3


def test_a_pass_can_be_limited_to_a_language_or_a_group() -> None:
    texts, known = ["The Gale <b>x</b>"] * 3, about("German", "English", "English")
    english = Within(values=("English",)).model_dump()
    quellan = Within(field="harbour", values=("Quellan",)).model_dump()
    assert left(texts, known, {"kind": "markup"}, {**CASE, "within": english}) == [
        "The Gale x",
        "the gale x",
        "the gale x",
    ]
    assert left(texts, known, {"kind": "markup", "within": quellan}, SIGNS)[0] == "The Gale x"
    assert left(texts, known, {"kind": "markup", "within": quellan}, SIGNS)[1] == "The Gale b x b"
    stems = {"kind": "word-forms", "within": english}
    listed = {"kind": "domain-words", "words": ["gales"], "within": quellan}
    assert left(["gales"] * 3, known, stems, listed) == ["", "gale", "gale"]
    multi = {"kind": "multiword", "terms": ["the gale"], "within": english}
    assert left(texts, known, {"kind": "markup"}, multi) == ["The Gale x", "the_gale x", "the_gale x"]


def test_a_limit_that_nothing_meets_changes_nothing(demo: Any) -> None:
    within = Within(field="no such field", values=("x",))
    known = About(np.zeros(len(demo.texts), dtype=np.int16), ("English",))
    passes = [each.model_copy(update={"within": within}) for each in CleanSettings().passes]
    made = clean(demo.tokens, CleanSettings(passes=tuple(passes)), known)
    assert made.survivals[-1].tokens == made.survivals[0].tokens == len(demo.tokens.ids)


def test_shipped_lists() -> None:
    assert len(stopwords.languages()) >= 40
    for language in stopwords.languages():
        listed = stopwords.words_of(language)
        assert len(listed) >= 28 and all(word == word.strip() and word for word in listed)
    assert {"der", "nicht"} <= stopwords.words_of("German")
    assert {"和", "的"} <= stopwords.words_of("Chinese")
    assert stopwords.words_of("Volapük") == frozenset()
    with pytest.raises(ValidationError, match="no stop list for Klingon"):
        CleanSettings.model_validate({"passes": [{**STOP, "language": "Klingon"}]})


def test_words_of_nearly_all_documents_are_counted_by_form() -> None:
    texts = ["Log one", "log two", "logs three", "gale", ""]
    passes = [CASE, {"kind": "word-forms"}, {"kind": "corpus-words", "over": 0.7}]
    assert cleaned(texts, *passes) == [["on"], ["two"], ["three"], ["gale"], []]
    assert cleaned(["a b", "a c", "b"], {"kind": "corpus-words", "over": 1.0, "under": 2}) == [["a", "b"], ["a"], ["b"]]


@given(st.lists(st.lists(st.integers(-1, 4), max_size=12), min_size=1, max_size=6))
@settings(deadline=None)
def test_spread_is_what_counting_one_by_one_gives(documents: list[list[int]]) -> None:
    flat = np.array([w for d in documents for w in d], dtype=np.int32)
    pointer = np.concatenate([[0], np.cumsum([len(d) for d in documents])])
    found = spread(flat, pointer, 5)
    for word in range(5):
        counts = np.array([d.count(word) for d in documents], dtype=float)
        shares = counts[counts > 0] / max(counts.sum(), 1)
        assert found.tokens[word] == counts.sum() and found.documents[word] == (counts > 0).sum()
        assert found.entropy[word] == pytest.approx(-(shares * np.log(shares)).sum(), abs=1e-9)


def test_a_word_as_frequent_everywhere_is_spread_evenly() -> None:
    counts, sizes = np.array([[1000.0, 10, 0], [2000, 0, 0]]), np.array([10000.0, 20000])
    assert evenness(counts, sizes) == pytest.approx([1, 0, 1], abs=1e-3)


@given(st.lists(st.integers(1, 5), min_size=2, max_size=4), st.integers(1, 5))
@settings(deadline=None, max_examples=40)
def test_entropy_by_chance_is_the_mean_over_all_deals(sizes: list[int], tokens: int) -> None:
    chances = np.array(sizes) / sum(sizes)
    wanted = 0.0
    for deal in itertools.product(range(len(sizes)), repeat=tokens):
        shares = np.bincount(deal)[np.unique(deal)] / tokens
        wanted -= np.prod(chances[list(deal)]) * (shares * np.log(shares)).sum()
    found = chance_entropy(np.array([tokens]), np.array(sizes))[0]
    assert found == pytest.approx(wanted, abs=1e-9)


@pytest.mark.parametrize("tokens", [20, 50, 600, 40_000])
def test_words_dealt_out_come_out_at_one_however_many(tokens: int) -> None:
    rng = np.random.default_rng(tokens)
    sizes = np.ceil(np.exp(rng.normal(3, 1.2, 400))).astype(np.int64)
    dealt = rng.multinomial(tokens, sizes / sizes.sum(), 60).T.astype(np.float64)
    shares = np.where(dealt > 0, dealt / tokens, 1.0)
    entropy = -(shares * np.log(shares)).sum(axis=0)
    assert entropy.mean() / chance_entropy(np.array([tokens]), sizes)[0] == pytest.approx(1, abs=0.01)
    groups = np.add.reduceat(dealt, [0, 250, 390], axis=0)
    whole = np.add.reduceat(sizes, [0, 250, 390]).astype(np.float64)
    assert evenness(groups, whole).mean() == pytest.approx(1, abs=0.04)
