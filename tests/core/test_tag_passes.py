"""Passes that tag, keep by tag and write tags; the lemmatiser that reads them."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from skeinwork.core.text.about import About, Within
from skeinwork.core.text.clean import CleanSettings, clean
from skeinwork.core.text.passes.parts_of_speech import PartsOfSpeechPass
from skeinwork.core.text.tagging import TAGS, tag_segments
from skeinwork.core.text.tokenise import tokenise
from tests.core.test_clean import cleaned

TAG: dict[str, Any] = {"kind": "parts-of-speech"}
LEAVES = "He leaves the boat. The leaves fell. We left the quay on the left."


def kept(*tags: str, written: bool = False) -> dict[str, Any]:
    return {"kind": "tag-filter", "kept": tags, "written": written}


def test_words_stay_by_what_they_are_in_their_sentence() -> None:
    assert cleaned([LEAVES], TAG, kept("NOUN"))[0] == ["boat", "leaves", "quay", "left"]
    assert cleaned([LEAVES], TAG, kept("VERB"))[0] == ["leaves", "fell", "left"]
    every = cleaned([LEAVES], TAG, kept(*TAGS))[0]
    assert every == cleaned([LEAVES])[0]


def test_a_word_with_two_tags_is_two_terms_where_wanted() -> None:
    terms = cleaned([LEAVES], TAG, {"kind": "case"}, kept("NOUN", "VERB", written=True))[0]
    assert terms.count("leaves/NOUN") == terms.count("leaves/VERB") == 1
    assert {"left/VERB", "left/NOUN"} <= set(terms)
    assert all(term.rpartition("/")[2] in ("NOUN", "VERB") for term in terms)


def test_lemmas_follow_the_tag() -> None:
    lemmas = {"kind": "word-forms", "method": "lemma"}
    assert cleaned([LEAVES], TAG, kept("NOUN", "VERB"), lemmas)[0] == [
        "leave",
        "boat",
        "leaf",
        "fall",
        "leave",
        "quay",
        "left",
    ]


def test_terms_of_several_words_stay_and_are_nouns() -> None:
    join = {"kind": "multiword", "terms": ["storm surge"]}
    text = "The storm surge came quickly."
    assert cleaned([text], join, TAG, kept("NOUN", written=True))[0] == ["storm_surge/NOUN"]
    assert cleaned([text], TAG, join, kept("ADV"))[0] == ["storm_surge", "quickly"]


def test_what_the_passes_say() -> None:
    settings = CleanSettings(passes=[kept("NOUN")])
    assert "Put Parts of speech before it" in settings.passes[0].hint(())
    tagged = CleanSettings(passes=[TAG, kept("NOUN")])
    assert tagged.passes[1].hint(tagged.passes[:1]) == ""
    assert "nouns" in tagged.passes[1].said() and "sentence" in tagged.passes[0].said()
    german = About(np.array([0, 0, 1], dtype=np.int16), ("German", "English"), {})
    assert "2 documents" in PartsOfSpeechPass().note(german)


def test_only_the_documents_meant_are_tagged() -> None:
    within = Within(values=("English",))
    settings = CleanSettings(passes=[{**TAG, "within": within.model_dump()}, kept("NOUN")])
    about = About(np.array([0, 1], dtype=np.int16), ("English", "German"), {})
    texts = ["The boat sank quickly.", "Das Boot sank schnell."]
    found = clean(tokenise(texts, settings.tokenising(), about=about), settings, about)
    forms = [[found.forms[at] for at in found.token_forms(n).tolist() if at >= 0] for n in (0, 1)]
    assert forms[0] == ["boat"] and "schnell" in forms[1]


def test_the_stream_keeps_its_tokens_and_the_tags_are_those_of_the_tagger() -> None:
    texts = [LEAVES, "", "Light the lamp before the light goes."]
    settings = CleanSettings(passes=[TAG, kept("NOUN", "VERB", written=True)])
    tokens = tokenise(texts, settings.tokenising())
    found = clean(tokens, settings)
    tags = [TAGS[tag] for tag in tag_segments(tokens).tags.tolist()]
    assert found.tokens.words(0) == tokens.words(0)
    np.testing.assert_array_equal(found.tokens.starts, tokens.starts)
    for at, tag in enumerate(tags):
        form = found.fate(at)[1]
        assert form is None or form.endswith(f"/{tag}")


@pytest.mark.parametrize("one", [(), ("",), ("…",)])
def test_empty_corpora_are_taken(one: tuple[str, ...]) -> None:
    assert cleaned(list(one), TAG, kept("NOUN")) == [[] for _ in one]
