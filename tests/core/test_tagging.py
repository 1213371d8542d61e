"""Parts of speech: the decoder against every sequence there is, the sentences, and what is learnt."""

from __future__ import annotations

from collections import Counter, defaultdict
from dataclasses import replace
from itertools import product
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from skeinwork.core.text.segment import segment
from skeinwork.core.text.tagging import TAGS, fine, kernel, learning, tag_segments, tag_sentences
from skeinwork.core.text.tagging import model as models
from skeinwork.core.text.tagging.tagger import Reading
from skeinwork.core.text.tagging.tags import closed_classes
from skeinwork.core.text.tagging.words import candidates, first_word, parts

DATA = Path(__file__).parents[2] / "scripts" / "tagged_english"
EDGE = kernel.EDGE


@pytest.fixture(scope="module")
def sentences() -> list[learning.Tagged]:
    return [each for path in sorted(DATA.glob("*.txt")) for each in learning.read_tagged(path)]


@given(st.integers(1, 5), st.integers(0, 2**32 - 1))
@settings(max_examples=60, deadline=None)
def test_best_tags_and_confidences_are_those_of_all_sequences(length: int, seed: int) -> None:
    random = np.random.default_rng(seed)
    ids = np.arange(length, dtype=np.int32)
    sizes = random.integers(1, 4, length).astype(np.int8)
    choices = np.zeros((length, 19), dtype=np.int8)
    for at, size in enumerate(sizes.tolist()):
        choices[at, :size] = np.sort(random.permutation(19)[:size])
    own = random.normal(size=(length, 19)).astype(np.float32)
    near = random.normal(size=(4, length + 1, 19)).astype(np.float32)
    tri = random.normal(size=(20, 20, 19)).astype(np.float32)
    pair = random.normal(size=(3, 20, 19)).astype(np.float32)
    pair[0] = 0
    pairs = random.integers(0, 3, length).astype(np.int32)
    heat = 2.0
    tags, sure = kernel.tag_all(ids, np.array([0, length]), own, near, choices, sizes, pairs, tri, pair, heat, True)

    def score(sequence: tuple[int, ...]) -> float:
        total, old, last = 0.0, EDGE, EDGE
        for at, tag in enumerate(sequence):
            around = [at - 1, at + 1, at - 2, at + 2]
            said = [near[k, n if 0 <= n < length else length, tag] for k, n in enumerate(around)]
            total += own[at, tag] + sum(said) + tri[old, last, tag] + pair[pairs[at], last, tag]
            old, last = last, tag
        return total

    listed = list(product(*(choices[at, : sizes[at]].tolist() for at in range(length))))
    scores = np.array([score(each) for each in listed])
    assert scores.max() == pytest.approx(score(tuple(tags.tolist())), abs=1e-4)
    shares = np.exp((scores - scores.max()) / heat)
    for at in range(length):
        mine = sum(share for share, each in zip(shares, listed, strict=True) if each[at] == tags[at])
        assert sure[at] == pytest.approx(mine / shares.sum(), rel=1e-3)


def test_the_sentences_are_many_and_their_tags_possible(sentences: list[learning.Tagged]) -> None:
    assert len(sentences) >= 2_000 and len(list(DATA.glob("*.txt"))) >= 13
    odd = Counter[tuple[str, str]]()
    for sentence in sentences:
        first = first_word([word for word, _ in sentence])
        for at, (word, tag) in enumerate(sentence):
            odd[word, tag] += tag not in candidates(word, at <= first)
    assert {pair for pair, count in odd.items() if count} <= {("O", "INTJ"), ("brick", "VERB"), ("download", "NOUN")}


def test_the_sentences_follow_their_own_rules(sentences: list[learning.Tagged]) -> None:
    forms_of_be = set("am is are was were be been being".split())
    for sentence in sentences:
        there = any(word.lower() == "there" and tag == "PRON" for word, tag in sentence)
        padded = [*sentence, ("", ""), ("", "")]
        for at, (word, tag) in enumerate(sentence):
            lower, (_, after), (_, later) = word.lower(), padded[at + 1], padded[at + 2]
            where = f"{word} in {' '.join(each for each, _ in sentence)}"
            if lower in ("these", "those"):
                noun_next = after == "NOUN" or (after == "ADJ" and later == "NOUN")
                assert not (tag == "PRON" and noun_next), where
            if lower in ("all", "some", "any", "each"):
                assert tag in ("DET", "ADV"), where
            if lower in ("my", "your", "his", "her", "its", "our", "their", "i", "me"):
                assert tag in ("PRON", "NUM"), where
            if lower == "to" and after in ("DET", "PRON", "NUM", "PROPN"):
                assert tag == "ADP", where
            if lower in forms_of_be and tag == "VERB":
                assert there, where
            if lower in ("not", "n't"):
                assert tag == "PART", where


def test_a_word_has_few_tags(sentences: list[learning.Tagged]) -> None:
    """What is read differently from place to place is of many words, not one word's hesitation."""
    seen: dict[str, Counter[str]] = defaultdict(Counter)
    for sentence in sentences:
        for word, tag in sentence:
            seen[word.lower()][tag] += 1
    frequent = [tags for tags in seen.values() if tags.total() >= 20]
    assert np.mean([tags.most_common(1)[0][1] / tags.total() for tags in frequent]) > 0.9
    assert not [word for word, tags in seen.items() if len(tags) > 1 and word not in closed_classes() and len(tags) > 4]


@pytest.mark.long
def test_what_ships_is_learnt_from_the_sentences(sentences: list[learning.Tagged]) -> None:
    shipped = models.english()
    learnt = learning.learn(sentences)
    assert (learnt.own, learnt.near, learnt.pair_words) == (shipped.own, shipped.near, shipped.pair_words)
    for name in ("own_weights", "near_weights", "tri", "pair"):
        kept = getattr(learnt, name).astype(np.float16).astype(np.float32)
        np.testing.assert_array_equal(kept, getattr(shipped, name))


@pytest.mark.long
def test_sentences_it_has_not_seen_are_mostly_right(sentences: list[learning.Tagged]) -> None:
    held = sentences[::10]
    learnt = learning.learn([each for at, each in enumerate(sentences) if at % 10], heat=models.english().heat)
    found, sure = tag_sentences([[word for word, _ in each] for each in held], learnt, sure=True)
    gold = np.array([tag for each in held for _, tag in each])
    good = gold == np.array([tag for tags in found for tag in tags])
    words = gold != "PUNCT"
    assert good[words].mean() > 0.955
    assert sure[words & good].mean() > sure[words & ~good].mean() + 0.15


@pytest.mark.parametrize(
    ("text", "tags"),
    [
        ("We must land the catch .", "PRON AUX VERB DET NOUN PUNCT"),
        ("The land was flat .", "DET NOUN AUX ADJ PUNCT"),
        ("She did n't want to book a table .", "PRON AUX PART VERB PART VERB DET NOUN PUNCT"),
        ("We hope that the tide turns .", "PRON VERB SCONJ DET NOUN VERB PUNCT"),
        ("The pilot 's boat left Wenlow .", "DET NOUN PART NOUN VERB PROPN PUNCT"),
    ],
)
def test_words_are_told_apart_by_their_place(text: str, tags: str) -> None:
    assert tag_sentences([text.split()])[0] == [tags.split()]


def test_a_token_has_the_tag_of_the_word_that_something_leans_on() -> None:
    tokens = segment(["The harbour’s crane didn’t move.", "Who’s there? “Pilots!”", ""])
    found = tag_segments(tokens, sure=True)
    named = [TAGS[tag] for tag in found.tags.tolist()]
    assert named[:6] == ["DET", "NOUN", "NOUN", "AUX", "VERB", "PUNCT"]
    assert named[6] == "PRON" and len(named) == len(tokens.ids)
    assert (found.sure > 0).all() and (found.sure <= 1.0001).all()
    alone = [tag_segments(segment([text])).tags.tolist() for text in ("Who’s there? “Pilots!”",)]
    assert found.tags.tolist()[6:] == alone[0]


@pytest.mark.parametrize("written", ["don't", "don’t", "donʼt", "DON'T", "dont"])
def test_a_word_given_whole_is_read_as_the_one_that_something_leans_on(written: str) -> None:
    assert tag_sentences([["We", written, "know", "."]])[0] == [["PRON", "AUX", "VERB", "PUNCT"]]
    tagged = tag_segments(segment([f"We {written} know."]))
    assert [TAGS[tag] for tag in tagged.tags.tolist()][:3] == ["PRON", "AUX", "VERB"]


def test_confidence_is_drawn_in_for_texts_from_elsewhere(sentences: list[learning.Tagged]) -> None:
    """Its log-odds are those of the ways to tag a sentence, divided; order and tags stay."""
    words = [[word for word, _ in each] for each in sentences[:60]]
    own = replace(models.english(), elsewhere=1.0)
    (tags, inside), (same, sure) = (tag_sentences(words, model, sure=True) for model in (own, models.english()))
    between = (inside > 0.01) & (inside < 0.9999)
    odds = [np.log(each[between] / (1 - each[between])) for each in (inside, sure)]
    assert tags == same and np.allclose(odds[0] / models.english().elsewhere, odds[1], atol=0.01)
    assert (sure[inside > 0.5] <= inside[inside > 0.5] + 1e-6).all() and sure.max() <= 1


def test_capitals_and_neighbours_can_be_passed_over() -> None:
    text = ["THE", "FERRY", "LEFT"]
    assert tag_sentences([text], reading=Reading(capitals=False))[0] == [["DET", "NOUN", "VERB"]]
    alone = tag_sentences([["They", "fish"]], reading=Reading(context=False))[0][0]
    assert alone == ["PRON", tag_sentences([["fish"]], reading=Reading(context=False))[0][0][0]]


@given(st.text(max_size=40))
@settings(max_examples=60, deadline=None)
def test_every_token_of_any_text_gets_a_tag(text: str) -> None:
    tokens = segment([text, "The end."])
    found = tag_segments(tokens)
    assert len(found.tags) == len(tokens.ids)


def test_parts_and_finer_tags() -> None:
    assert parts("can't") == ["ca", "n't"] and parts("SHE’LL") == ["SHE", "’LL"]
    assert parts("'s") == ["'s"] and parts("ships'") == ["ships'"]
    assert fine("skies", "NOUN") == "Number=Plur" and fine("Lorn", "PROPN") == ""
    assert fine("best", "ADJ") == "Degree=Sup" or fine("biggest", "ADJ") == "Degree=Sup"


def test_a_bad_line_of_sentences_is_named(tmp_path: Path) -> None:
    path = tmp_path / "odd.txt"
    path.write_text("The/DET end/NOUN\nno tag/NOUN\n")
    with pytest.raises(ValueError, match="line 2"):
        learning.read_tagged(path)
