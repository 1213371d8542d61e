"""The cleaning that a corpus begins with: by its languages and by what its texts are."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from skeinwork.core.in_words import percent
from skeinwork.core.text.about import BY_DOCUMENT, NONE, UNSURE, About
from skeinwork.core.text.clean import CleanSettings, clean
from skeinwork.core.text.first_cleaning import FirstCleaning, first_cleaning
from skeinwork.core.text.passes.base import BasePass
from skeinwork.core.text.passes.speakers import SpeakersPass
from skeinwork.core.text.sample import LONGEST, MOST_TEXTS, Sample, main_languages, sample_of
from skeinwork.core.text.tokenise import tokenise

PLAIN = ("A gale at the breakwater", "The ferry was late again", "Nobody repaired the quay")
MAIL = "From: E. Vale\nSubject: the quay\nDate: 3 May 2014\n\nOn 2 May the watch wrote:\n> the crane is broken\nIt is."
TALK = "Vale: Who closed the gate?\nHolt: The watch did.\nVale: In a gale?\nHolt (quietly): In a gale.\n"


def of(spoken: dict[str, int], documents: int | None = None, texts: tuple[str, ...] = PLAIN) -> FirstCleaning:
    return first_cleaning(Sample(texts, spoken, documents or sum(spoken.values())))


def passes(first: FirstCleaning) -> dict[str, BasePass]:
    return {each.key: each for each in first.settings.passes}


def test_english_texts_begin_as_they_do_without_a_corpus() -> None:
    first = of({"English": 2396}, 2400)
    assert first.settings == CleanSettings()
    assert first.reasons == dict.fromkeys(["stop-words", "word-forms"], "English 2,396 of 2,400 documents; 4 unsure")


def test_texts_that_tell_no_language_are_taken_for_english_and_it_is_said() -> None:
    first = of({"German": 30}, 200)
    assert first.settings == CleanSettings() and first.languages == ()
    assert first.reasons["stop-words"] == "170 of 200 documents tell no language, so English is taken"


@pytest.mark.parametrize(
    ("language", "said"),
    [
        ("German", {"stop-words": "German list", "word-forms": "stems (Snowball, German)"}),
        ("Russian", {"stop-words": "Russian list", "word-forms": "stems (Snowball, Russian)"}),
        ("Turkish", {"case": "fold, as in Turkish; cut off ’s", "stop-words": "Turkish list"}),
        ("French", {"contractions": "spell out", "word-forms": "stems (Snowball, French)"}),
        ("Chinese", {"character-ngrams": "2 characters, scripts without spaces", "short-words": "under 2 letters"}),
        ("Korean", {"short-words": "under 2 letters"}),
    ],
)
def test_one_language_has_its_list_its_stems_and_its_letters(language: str, said: dict[str, str]) -> None:
    first = of({language: 95, "Dutch": 5})
    found = passes(first)
    assert {key: found[key].said() for key in said} == said
    assert found["word-forms"].on == ("word-forms" in said)
    assert all(f"{language} 95" in first.reasons[key] for key in said)


def test_several_languages_each_document_has_its_own() -> None:
    first = of({"Turkish": 40, "French": 30, "Chinese": 20, "Danish": 2}, 100)
    found = passes(first)
    assert first.languages == ("Turkish", "French", "Chinese")
    stop, forms = found["stop-words"].model_dump(), found["word-forms"].model_dump()
    assert (stop["language"], stop["unsure"], forms["language"], forms["unsure"]) == (
        *(BY_DOCUMENT, "Turkish", BY_DOCUMENT, NONE),
    )
    limits = {key: each.within.values for key, each in found.items() if each.within}
    assert limits == {
        "case": ("Turkish",),
        "contractions": ("French",),
        "short-words": ("Turkish", "French", "Danish", UNSURE),
    }
    assert first.reasons["stop-words"] == ("Turkish 40, French 30, Chinese 20 of 100 documents; 2 in others, 8 unsure")


def test_each_document_loses_the_words_of_its_language() -> None:
    texts = ["Der Sturm und die Fähre", "The storm and the ferry", "L’eau et le vent de la mer"]
    languages = ("German", "English", "French", UNSURE)
    settings = of(dict.fromkeys(languages[:3], 30)).settings
    cleaning = clean(tokenise(texts, settings.tokenising()), settings, About(np.arange(3, dtype=np.int16), languages))
    kept = [{cleaning.forms[at] for at in cleaning.token_forms(document) if at >= 0} for document in range(3)]
    assert kept == [{"sturm", "fahr"}, {"storm", "ferri"}, {"eau", "vent", "mer"}]


def test_mails_talk_and_hashtags_have_their_passes() -> None:
    mails = of({"English": 9}, texts=(MAIL, *PLAIN))
    assert next(iter(passes(mails))) == "mail"
    assert mails.reasons["mail"] == "quoted lines in 25\u202f% of the texts, a block of headers in 25\u202f%"
    talks = of({"English": 9}, texts=(TALK, TALK, "Note: one line\nof two"))
    assert "speakers" in passes(talks) and "67\u202f%" in talks.reasons["speakers"]
    tagged = of({"English": 9}, texts=("A gale #StormWatch", "late #FerryNews #quay", *PLAIN))
    assert passes(tagged)["addresses"].said().endswith("hashtags are split")
    assert tagged.reasons["addresses"] == "hashtags in 40\u202f% of the texts, 67\u202f% of them of several words"
    marked = of({"English": 9}, texts=("<p>A gale</p>", *PLAIN))
    assert marked.reasons["markup"] == "tags or entities in 25\u202f% of the texts"


def test_who_speaks_goes_and_what_is_said_stays() -> None:
    changed = SpeakersPass().change(f"[00:12] {TALK}Note: the gate is closed\n")
    assert changed is not None
    said = "Who closed the gate? The watch did. In a gale? In a gale. Note: the gate is closed"
    assert " ".join(changed.text.split()) == said
    assert SpeakersPass().change("At 6:30: a gale\nNote: none\n") is None


@given(st.lists(st.text("ab:\n (1", max_size=8), max_size=6).map("".join))
def test_what_is_said_stands_where_it_stood(text: str) -> None:
    changed = SpeakersPass(least=1).change(text)
    if changed is None:
        return
    size = len(changed.text.encode())
    at = np.arange(size, dtype=np.int32)
    starts, ends = changed.to_original(at, at + 1)
    original, kept = text.encode(), changed.text.encode()
    assert all(
        original[first:last] == kept[n : n + 1] for n, (first, last) in enumerate(zip(starts, ends, strict=True))
    )


@given(
    st.dictionaries(st.sampled_from(["German", "French", "Dutch", "Czech"]), st.integers(1, 999)), st.integers(0, 99)
)
def test_the_languages_of_a_corpus_are_its_most_frequent(spoken: dict[str, int], unsure: int) -> None:
    documents = sum(spoken.values()) + unsure
    found = main_languages(spoken, documents)
    assert set(found) <= set(spoken) and len(set(found)) == len(found)
    assert [spoken[name] for name in found] == sorted((spoken[name] for name in found), reverse=True)
    if found:
        left = [spoken[name] for name in spoken if name not in found]
        assert max(left, default=0) <= spoken[found[-1]]


def test_a_sample_is_drawn_evenly_and_no_text_is_read_to_its_end() -> None:
    about = About(np.zeros(5000, dtype=np.int16), ("English", UNSURE))
    sample = sample_of(lambda at: f"{at} " * 9999, about)
    assert len(sample.texts) == MOST_TEXTS and {len(text) for text in sample.texts} == {LONGEST}
    assert sample.texts[0].startswith("0 ") and sample.texts[-1].startswith("4999 ")
    assert sample.spoken == {"English": 5000} and sample_of(str, About(np.zeros(0, np.int16), (UNSURE,))).texts == []


def test_shares_keep_the_digits_that_tell() -> None:
    said = {0: "0", 1: "100", 0.5: "50", 0.004: "0.4", 0.9996: "99.96"}
    assert {share: percent(share).removesuffix("\u202f%") for share in said} == said
