"""Names: where they begin and end, what they are taken for and why, which are one."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from skeinwork.core.corpus.shaping.mentions import Mentions, mentioned
from skeinwork.core.text.clean import CleanSettings
from skeinwork.core.text.names import KINDS, Name, NameEdits, edited, find_names
from skeinwork.core.text.names.mentions import Finder
from skeinwork.core.text.segment import segment
from skeinwork.core.text.tokenise import tokenise

RULE = CleanSettings.model_validate({}).tokenising()


def names(*texts: str, least: int = 1) -> dict[str, Name]:
    """As the program cuts texts: signs are tokens."""
    return {each.words: each for each in find_names(tokenise(texts, RULE), least)}


def kinds(*texts: str) -> dict[str, str]:
    return {name.words: name.kind for name in names(*texts).values()}


@pytest.mark.parametrize(
    ("text", "words", "kind", "reason"),
    [
        ("We met Dr. Askew there.", "Askew", "person", "titled Dr"),
        ("It was J. R. Holt who wrote.", "J R Holt", "person", "initials"),
        ("A letter from Mary Quellan came.", "Mary Quellan", "person", "given name"),
        ("The boats lay in Hallow Bay all day.", "Hallow Bay", "place", "Bay"),
        ("They sailed to New Zealand twice.", "New Zealand", "place", "list of places"),
        ("He wrote to the Sollen Harbour Board.", "Sollen Harbour Board", "organisation", "Board"),
        ("A bill of Pell & Sons was paid.", "Pell & Sons", "organisation", "Sons"),
        ("It passed the University of Kelpwick.", "University of Kelpwick", "organisation", "University"),
    ],
)
def test_what_a_name_is_taken_for_and_why(text: str, words: str, kind: str, reason: str) -> None:
    found = names(text)
    assert words in found, list(found)
    assert found[words].kind == kind and reason in found[words].reason
    assert 0 < found[words].confidence <= 1


def test_the_first_word_of_a_sentence_is_a_name_only_where_the_corpus_bears_it_out() -> None:
    text = "Fog came. Fog lifted. Boats left. Tarrow waited. We saw Tarrow."
    assert set(names(text)) == {"Tarrow"}
    rose = "Rose left. I saw Rose. Then Rose spoke with Rose. The rose died."
    assert names(rose)["Rose"].tokens == 4


def test_days_headings_and_function_words_are_no_names() -> None:
    assert names("On Monday I left. THE LONG STORM OF MARCH. It was March.") == {}
    assert names("“We left,” he said. “Where to?” He smiled.") == {}


def test_a_label_and_the_first_word_behind_one_are_no_names() -> None:
    text = "Damage: Repair of the hull. Note: Tarrow came. Speaker Tarrow: Repair it. We saw Tarrow."
    assert names(text).keys() == {"Tarrow"}
    opened = names(*["It was mended. (Grant Quellan) The rest stays."] * 3, "A grant. We saw Grant. Grant left.")
    assert opened["Grant Quellan"].tokens >= 3


def test_letters_are_a_body_only_where_no_small_letters_say_the_same() -> None:
    told = kinds("The SHB met. We wrote to the SHB.", "The SMS came by sms. An ID and the SMS were sent.")
    assert told["SHB"] == "organisation" and told["SMS"] == "other" and told.get("ID") == "other"


def test_what_stands_before_one_word_or_a_number_is_no_place() -> None:
    text = "It broke in Section 4. Look in Section 7. We sat in Quellan then. They came from Quellan again."
    assert kinds(text) == {"Section": "other", "Quellan": "place"}


def test_a_title_written_out_ends_its_sentence_and_an_office_is_none_of_the_kinds() -> None:
    text = "Thank you, Mr. President. Thank all. We met the President. Look there. “We're late,” he said."
    assert names(text) == {} and "Hale" in names("We saw Dr. Hale. Later they left.")
    offices = "We met the President of the United States and the Governor of the Bank of England."
    assert set(kinds(offices).values()) == {"other"} and len(kinds(offices)) == 2
    assert kinds("He read the Zibble. The Zibble was long, the Zibble was dull.") == {"Zibble": "other"}


def test_what_is_called_by_a_saint_is_a_place_where_it_stands_like_one() -> None:
    assert kinds("We left St. Ives. They came from St Ives and slept in St Ives.") == {"St Ives": "place"}
    assert kinds("The tale of St. Brannock is old. St. Brannock healed.") == {"St Brannock": "person"}
    assert kinds("A shop in St Mary Street shut.") == {"St Mary Street": "place"}


def test_variants_of_a_person_are_one() -> None:
    found = names("Merrin Vale spoke to us.", "Later Vale left.", "M. Vale signed; so did Vale’s son.")
    (name,) = found.values()
    assert name.words == "Merrin Vale" and name.tokens == 4 and name.documents == 3
    assert {way.words: way.tokens for way in name.variants} == {"Vale": 2, "Merrin Vale": 1, "M Vale": 1}


def test_two_of_one_surname_stay_apart_unless_a_document_tells() -> None:
    found = names("Ada Holt met Ben Holt.", "We saw Holt.", "Ada Holt left.")
    assert {"Ada Holt", "Ben Holt", "Holt"} == set(found)


def test_letters_stand_for_a_body_named_in_the_same_document() -> None:
    found = names("The Sollen Harbour Board met. We asked the SHB about it.", "Elsewhere SHB wrote.")
    assert found["Sollen Harbour Board"].tokens == 3


def test_a_possessive_parts_names_and_links_join_them() -> None:
    assert set(kinds("We like Kelpwick’s Hallow Bay and the Bank of Sollen.")) == {
        "Kelpwick",
        "Hallow Bay",
        "Bank of Sollen",
    }


def test_mentions_lie_on_the_tokens_that_say_them() -> None:
    texts = ["Mrs. Ines Tarrow spoke.", "", "At Kelpwick, J. Holt of Quellan waved."]
    tokens = segment(texts)
    for each in Finder(tokens).mentions():
        rows = [tokens.types[at] for at in tokens.ids[each.first : each.after].tolist()]
        assert [row for row in rows if row != "."] == list(each.words)
        assert tokens.doc_ptr[each.document] <= each.first < tokens.doc_ptr[each.document + 1]


@given(st.lists(st.text("Ab C.’s&\n", max_size=30), max_size=4))
@settings(max_examples=80, deadline=None)
def test_any_text_is_read_and_every_mention_counted(texts: list[str]) -> None:
    for name in find_names(segment(texts), 1):
        assert name.kind in KINDS and name.tokens == sum(way.tokens for way in name.variants)
        assert 1 <= name.documents <= len(texts)


def test_names_do_not_depend_on_what_stands_after_them_in_other_documents() -> None:
    texts = ["Ines Tarrow spoke.", "We saw Tarrow at Kelpwick."] * 4
    assert find_names(segment(texts)) == find_names(segment(list(texts)))
    doubled = names(*texts, *texts)
    assert doubled["Ines Tarrow"].tokens == 2 * names(*texts)["Ines Tarrow"].tokens


def test_what_the_analyst_says_goes_before_what_is_found() -> None:
    found = list(names("Kelpwick and Quellan. We saw Kelpwick, Quellan and Kelpwik at sea.").values())
    said = NameEdits(kinds={"kelpwick": "place"}, merged={"kelpwik": "Kelpwick", "kelpwick": "Kelpwik"})
    by_name = {each.words: each for each in edited(found, said)}
    assert len(by_name) == len(found) - 1
    one = next(each for words, each in by_name.items() if words.startswith("Kelpwi"))
    assert one.tokens == 3 and {way.words for way in one.variants} == {"Kelpwick", "Kelpwik"}
    kelpwick = {each.words: each for each in edited(found, NameEdits(kinds={"kelpwick": "place"}))}
    assert kelpwick["Kelpwick"].kind == "place" and kelpwick["Kelpwick"].reason == "set by hand"


def test_mentions_of_terms_by_document() -> None:
    terms = ("Ines Tarrow", "Tarrow = Ines Tarrow", "storm surge")
    texts = ["Tarrow saw the storm-surge; INES TARROW ran.", "", "A surge of storm."]
    found: list[Any] = mentioned(segment(texts), terms)
    assert [dict(each) for each in found] == [{"Ines Tarrow": 2, "storm surge": 1}, {}, {}]
    operation = Mentions(name="said", terms=terms)
    assert operation._cell(found[0]) == "Ines Tarrow" and operation._cell(found[1]) is None
    every = Mentions(name="said", terms=terms, value="all")
    assert every._cell(found[0]) == "Ines Tarrow; storm surge"
    assert "2 names" not in operation.in_words() and "said" in operation.in_words()


def test_nothing_is_found_in_nothing() -> None:
    assert find_names(segment([])) == [] and find_names(segment(["", " "])) == []
    assert np.array([len(each) for each in mentioned(segment(["a"]), ("b c",))]).sum() == 0


def walked(merged: dict[str, str], name: str) -> str:
    """Where a name ends up, by walking from merge to merge."""
    way = [name]
    while into := merged.get(way[-1].casefold(), ""):
        if into in way:
            return min(way[way.index(into) :])
        way.append(into)
    return way[-1]


@given(st.dictionaries(st.sampled_from("abcdef"), st.sampled_from([*"abcdefg", ""])), st.sampled_from("abcdefg"))
def test_merged_names_end_up_where_walking_leads(merged: dict[str, str], name: str) -> None:
    assert NameEdits(merged=merged).lead(name) == walked(merged, name)
