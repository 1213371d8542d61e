"""Phrases against their definitions, counted one by one."""

from __future__ import annotations

import io
import math
from collections import Counter

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from skeinwork import cli
from skeinwork.core.text.clean import CleanSettings, clean
from skeinwork.core.text.phrases import Phrase, find_phrases
from skeinwork.core.text.segment import segment
from skeinwork.core.text.tokenise import tokenise
from skeinwork.core.text.variants import Variant

STOP = frozenset({"the", "of"})
WORDS = st.sampled_from(["gale", "quay", "tide", "the", "of"])
TEXTS = st.lists(st.lists(st.one_of(WORDS, st.just(".")), max_size=14).map(" ".join), min_size=1, max_size=5)


def runs_in(texts: list[str], length: int) -> list[tuple[str, ...]]:
    """All runs of so many words, by a loop over sentences."""
    sentences = [sentence.split() for text in texts for sentence in text.split(".")]
    return [tuple(each[at : at + length]) for each in sentences for at in range(len(each) - length + 1)]


def g2(both: int, left: int, right: int, total: int) -> float:
    """Twice the sum of observed ln(observed / expected) over the table of two by two."""
    cells = [
        (both, left, right),
        (left - both, left, total - right),
        (right - both, total - left, right),
        (total - left - right + both, total - left, total - right),
    ]
    found = sum(2 * seen * math.log(seen * total / (row * column)) for seen, row, column in cells if seen > 0)
    return found if both * total >= left * right else -found


@settings(deadline=None, max_examples=60)
@given(TEXTS, st.booleans())
def test_measures_are_those_of_their_definitions(texts: list[str], inside: bool) -> None:
    found = find_phrases(segment(texts), STOP, 1, 3, inside)
    grams = Counter(gram for length in (1, 2, 3) for gram in runs_in(texts, length))
    wanted = {
        gram
        for gram in grams
        if len(gram) > 1 and gram[0] not in STOP and gram[-1] not in STOP and (inside or not STOP & set(gram))
    }
    written = {way.words: way.tokens for each in found for way in each.variants}
    assert written == {" ".join(gram): grams[gram] for gram in wanted}
    for each in found:
        gram = tuple(each.words.split())
        both, runs = grams[gram], runs_in(texts, len(gram))
        total, weakest = len(runs), list[tuple[float, ...]]()
        for cut in range(1, len(gram)):
            left = sum(run[:cut] == gram[:cut] for run in runs)
            right = sum(run[cut:] == gram[cut:] for run in runs)
            pmi = math.log2(both * total / (left * right))
            npmi = pmi / -math.log2(both / total) if both < total else 1.0
            t = (both - left * right / total) / math.sqrt(both)
            weakest.append((npmi, pmi, g2(both, left, right, total), t))
        least = min(weakest)[0]
        measured = (each.npmi, each.pmi, each.g2, each.t)
        same = [cut for cut in weakest if cut[0] == pytest.approx(least, abs=1e-9)]
        assert any(measured == pytest.approx(cut, abs=1e-6) for cut in same)
        own = {tuple(way.words.split()) for way in each.variants}
        longer = Counter[tuple[str, ...]]()
        for other in wanted:
            if any(other[at : at + len(row)] in own for row in own for at in range(len(other) - len(row) + 1)):
                longer[tuple(sorted(other))] += grams[other] if other not in own else 0
        longer.pop(tuple(sorted(gram)), None)
        less = sum(longer.values()) / len(longer) if longer else 0
        assert each.c_value == pytest.approx(math.log2(len(gram)) * (each.tokens - less))


def test_the_c_value_is_that_of_all_variants_and_what_holds_a_phrase_twice_counts_once() -> None:
    texts = [
        "pilot launch crew. " * 3 + "launch pilot. " * 4 + "pilot launches. " * 2,
        "tide gale tide gale. " * 2 + "gale tide. " * 3,
    ]
    found = {each.words: each for each in find_phrases(segment(texts), STOP, 1, 4)}
    launch = found["launch pilot"]
    assert launch.tokens == 3 + 4 + 2 and launch.c_value == pytest.approx(9 - 3)
    # Twice in each of two, and once between: nine tokens; three longer phrases hold it, twice each.
    gale = found["gale tide"]
    assert gale.tokens == 4 + 2 + 3 and gale.c_value == pytest.approx(9 - (2 + 2 + 2) / 3)


def named(found: list[Phrase]) -> list[str]:
    return [each.words for each in found]


def test_variants_are_one_phrase_and_nothing_goes_over_a_sign() -> None:
    texts = ["A pilot launch. Pilot-launches, the launch pilots left; pilot launch", "Pilot launch's gale\nwarning"]
    found = find_phrases(segment(texts), frozenset({"a", "the"}), 3, 2)
    assert named(found) == ["pilot launch"]
    assert found[0].variants == (Variant("pilot launch", 3), Variant("launch pilots", 1))
    assert (found[0].tokens, found[0].documents) == (4, 2)
    assert named(find_phrases(segment(["gale\nwarning. Gale 5 warning"]), STOP, 1, 2)) == []


def test_a_ticked_phrase_is_a_term_and_so_are_its_variants() -> None:
    terms = {"kind": "multiword", "terms": ["pilot launch", "launch pilots = pilot launch"]}
    chosen = CleanSettings.model_validate({"passes": [terms, {"kind": "case"}]})
    made = clean(tokenise(["Launch pilots left the pilot launch"], chosen.tokenising()), chosen)
    assert [made.forms[form] for form in made.token_forms(0)] == ["pilot_launch", "left", "the", "pilot_launch"]


def test_the_command_line_writes_a_table(
    monkeypatch: pytest.MonkeyPatch, capsysbinary: pytest.CaptureFixture[bytes]
) -> None:
    stdin = io.TextIOWrapper(io.BytesIO(b"The pilot launch left.\nA pilot launch went.\n"))
    monkeypatch.setattr("sys.stdin", stdin)
    assert cli.main(["phrases", "--least", "2", "--by", "npmi"]) == 0
    lines = capsysbinary.readouterr().out.decode().splitlines()
    assert lines[0].startswith("phrase,tokens,documents,npmi") and lines[1].startswith("pilot launch,2,2,")
    assert cli.main(["phrases", "--language", "Klingon"]) == 2
