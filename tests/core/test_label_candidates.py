"""Label candidates: where phrases stand, what speaks for them, and what the demo's topics are called by them."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial.distance import jensenshannon

from skeinwork.core.matrix.counting import count
from skeinwork.core.matrix.matrix import prune
from skeinwork.core.matrix.matrix_settings import MatrixSettings
from skeinwork.core.text import stopwords
from skeinwork.core.text.clean import CleanSettings, clean
from skeinwork.core.text.forms.porter import stem
from skeinwork.core.text.phrase_places import places_of
from skeinwork.core.text.phrases import find_phrases
from skeinwork.core.text.segment import segment
from skeinwork.core.text.tokenise import tokenise
from skeinwork.core.topics.alignment import Fitted
from skeinwork.core.topics.divergence import jensen_shannon
from skeinwork.core.topics.label_candidates import Places, Stream, c_values, label_candidates, topics_of_places
from skeinwork.core.topics.model import TopicModel
from skeinwork.demo.generator import THEMES, Entry, load_titles
from skeinwork.work.steps.label_candidates import phrases_of, places_in, stream_of
from tests.conftest import Prepared

WORDS = ["gale", "outer", "breakwater", "pilot", "launch", "and", "."]


@given(st.lists(st.lists(st.sampled_from(WORDS), max_size=12), min_size=1, max_size=6))
def test_phrases_stand_where_their_words_do(texts: list[list[str]]) -> None:
    tokens = segment([" ".join(words) for words in texts])
    phrases = find_phrases(tokens, frozenset({"and"}), 1, 3)
    phrase, start = places_of(tokens, phrases)
    runs = {each.words: at for at, one in enumerate(phrases) for each in one.variants}
    found = set()
    for document, words in enumerate(texts):
        for first in range(len(words)):
            for length in (2, 3):
                run = words[first : first + length]
                if len(run) == length and "." not in run and " ".join(run) in runs:
                    found.add((runs[" ".join(run)], int(tokens.doc_ptr[document]) + first))
    assert set(zip(phrase.tolist(), start.tolist(), strict=True)) == found
    assert (np.diff(phrase) >= 0).all()


@given(st.integers(0, 2**31))
def test_jensen_shannon_is_that_of_scipy(seed: int) -> None:
    random = np.random.default_rng(seed)
    one, other = random.dirichlet(np.full(7, 0.3), 4), random.dirichlet(np.full(7, 0.3), 4)
    wanted = [jensenshannon(p, q, base=2) ** 2 for p, q in zip(one, other, strict=True)]
    assert jensen_shannon(3 * one, other) == pytest.approx(wanted, abs=1e-9)
    assert jensen_shannon(np.zeros((1, 3)), np.ones((1, 3))).tolist() == [1.0]


def test_places_are_of_topics_as_their_words_are_and_longer_phrases_take_from_shorter() -> None:
    # Two documents of one topic each; a phrase of two words in both, a longer one that holds it in the first.
    fit = Fitted(np.array([[1.0, 0.0], [0.25, 0.75]]), np.array([[0.5, 0.5, 0.0], [0.5, 0.0, 0.5]]))
    stream = Stream(np.array([0, 1, -1, 0, 2, 0, -1]), np.array([0, 3, 7]))
    places = Places(np.array([0, 0, 1]), np.array([0, 3, 0]), np.array([2, 3]), [[1], []])  # the second holds the first
    held = topics_of_places(places, stream, fit)
    # Term 0 in the second document is of the topics as 0.25 to 0.75, term 2 is of the second alone.
    assert held == pytest.approx(np.array([[1.0 + 0.125, 0.875], [1.0, 0.0]]))
    value = c_values(held, places)
    assert value == pytest.approx(np.array([[0.125, 0.875], [np.log2(3), 0.0]]))


def _candidates(demo: Prepared, model: TopicModel) -> list[list[str]]:
    phrases, nouns = phrases_of(demo.tokens)
    assert nouns
    fit = Fitted(np.asarray(model.doc_topic), np.asarray(model.topic_word))
    found = label_candidates(places_in(demo.tokens, phrases), stream_of(demo.cleaning, demo.matrix), fit)
    return [[phrases[each.phrase].words for each in mine] for mine in found]


def test_the_topics_of_the_demo_are_called_by_phrases_of_their_own(
    demo: Prepared, model: TopicModel, entries: list[Entry]
) -> None:
    found = _candidates(demo, model)
    assert len({mine[0] for mine in found}) == 12 and all(len(mine) > 3 for mine in found)
    truth = np.array([[entry.mixture.get(theme, 0.0) for theme in THEMES] for entry in entries])
    theme = np.corrcoef(truth.T, model.doc_topic.T)[:12, 12:].argmax(axis=0)
    titles = load_titles()
    stop = stopwords.words_of("English")

    def named(topic: int, words: str) -> bool:
        name = {stem(each) for each in titles[THEMES[theme[topic]]].lower().split() if each not in stop}
        return bool((name | {stem(THEMES[theme[topic]])}) & {stem(each) for each in words.split()})

    firsts = [named(k, mine[0]) for k, mine in enumerate(found)]
    among = [any(named(k, each) for each in mine[:4]) for k, mine in enumerate(found)]
    # Two themes have no noun phrase with a word of their name; chance would have about one.
    assert sum(firsts) >= 6 and sum(among) >= 8


def test_a_topic_that_is_skipped_has_none_and_no_two_have_the_same_first() -> None:
    fit = Fitted(np.array([[0.5, 0.5]] * 2), np.array([[0.5, 0.5], [0.5, 0.5]]))
    stream = Stream(np.tile([0, 1], 12), np.array([0, 12, 24]))
    places = Places(np.zeros(12, np.int64), np.arange(0, 24, 2), np.array([2]), [[]])
    one = label_candidates(places, stream, fit, skip=[1])
    assert [len(each) for each in one] == [1, 0]
    both = label_candidates(places, stream, fit)
    assert sorted(len(each) for each in both) == [0, 1]


def test_phrases_stand_in_the_stream_that_a_cleaning_made_of_the_tokens() -> None:
    wanted = {"passes": [{"kind": "case"}, {"kind": "multiword", "terms": ["north wind"]}]}
    settings = CleanSettings.model_validate(wanted)
    texts = ["the north wind broke the outer breakwater", "north wind or south wind, and the outer breakwater"] * 6
    cleaning = clean(tokenise(texts, settings.tokenising()), settings)
    matrix = prune(count(cleaning, 1), MatrixSettings(min_documents=1, max_share=1.0))
    phrases, _ = phrases_of(cleaning.tokens)
    places, stream = places_in(cleaning.tokens, phrases), stream_of(cleaning, matrix)
    wall = next(at for at, each in enumerate(phrases) if each.words == "outer breakwater")
    starts = places.start[places.phrase == wall]
    assert len(starts) == 12
    assert {matrix.terms[term] for term in stream.terms[starts]} == {"outer"}
    assert {matrix.terms[term] for term in stream.terms[starts + 1]} == {"breakwater"}
