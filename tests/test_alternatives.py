"""Other choices: each decides one thing otherwise, says why by the corpus, and has a key that lasts."""

from __future__ import annotations

import pytest

from skeinwork.core.corpus.shaping.duplicates import Duplicates
from skeinwork.core.prevalence.breakdown import Breakdown
from skeinwork.core.text.clean import CleanSettings
from skeinwork.core.text.passes.word_forms import WordFormsPass
from skeinwork.work.alternatives import KINDS, offered
from skeinwork.work.alternatives.base import Alternative, Present, present
from skeinwork.work.alternatives.word_forms import _with
from skeinwork.work.results.view import View
from skeinwork.work.steps import FIT, MATRIX
from skeinwork.work.topics.statements import chain_to

PARTS = ("shape", "clean", "weigh", "fit")


def every(view: View) -> list[Alternative]:
    return [each for _, found in offered(view, FIT) for each in found]


def test_each_changes_one_part_alone(view: View) -> None:
    now = present(view, FIT).wanted
    for each in every(view):
        changed = [part for part in PARTS if getattr(each.wanted, part) != getattr(now, part)]
        assert len(changed) == (0 if each.unit else 1), each.key
        assert each.wanted.base == now.base and each.reason and each.title


def test_keys_are_each_there_once_and_the_same_again(view: View) -> None:
    keys = [each.key for each in every(view)]
    assert len(set(keys)) == len(keys)
    assert keys == [each.key for kind in KINDS for each in kind.offered(present(view, FIT))]
    assert {"seed-2", "topics-5", "topics-7", "forms-none", "forms-lemma", "least-1", "least-6"} <= set(keys)


def test_as_it_is_wanted_the_same_fit_is_made(view: View) -> None:
    now = Alternative("", "", "", present(view, FIT).wanted)
    assert [each.identity for each in chain_to(now, FIT)][-3:] == [
        view.cleaning_record.identity,
        view.matrix_record.identity,
        view.fit_record.identity,
    ]


def test_a_choice_makes_no_more_than_it_changes(view: View) -> None:
    made = {
        each.key: [step for step in chain_to(each, FIT) if not view.store.has(step.identity)] for each in every(view)
    }
    assert [step.step for step in made["seed-2"]] == ["fit"]
    assert [step.step for step in made["least-6"]] == ["matrix", "fit"]
    assert [step.step for step in made["forms-none"]] == ["cleaning", "matrix", "fit"]
    assert made["unit-documents"] == []


def test_of_words_there_are_neither_seeds_nor_counts(view: View) -> None:
    titles = [kind.title for kind, _ in offered(view, MATRIX)]
    assert "Seeds" not in titles and "Counts of topics" not in titles and "Word forms" in titles


def test_reasons_count_in_this_corpus(view: View) -> None:
    found = {each.key: each for each in every(view)}
    rare = int((view.matrix.document_frequency < 6).sum())
    assert f"{rare:,}".replace(",", "\u202f") in found["least-6"].reason
    each = round(view.token_weights.sum() / 7)
    assert found["topics-7"].reason.startswith(f"{each:,}".replace(",", "\u202f"))


def test_without_repeats_and_with_those_that_were_left_out(view: View) -> None:
    now = present(view, FIT)
    near = next((each for each in every(view) if each.key == "repeats-without"), None)
    if near:
        assert near.wanted.shape == (*now.wanted.shape, Duplicates(near=True))
    left = Present(view, FIT, now.changed(shape=(Duplicates(),)))
    again = [each for kind in KINDS for each in kind.offered(left) if each.key == "repeats-with"]
    assert [each.wanted.shape for each in again] == [()]


def test_another_unit_changes_the_breakdown_alone() -> None:
    now = Breakdown(group="harbour", unit="writer")
    other = Alternative("unit-documents", "", "", None, unit=(None,))  # type: ignore[arg-type]
    assert other.breakdown(now) == Breakdown(group="harbour")
    assert Alternative("seed-3", "", "", None).breakdown(now) is now  # type: ignore[arg-type]


@pytest.mark.parametrize("method", ["lemma", None])
def test_word_forms_are_changed_where_they_stand_or_come_last(method: str | None) -> None:
    chosen = WordFormsPass(method=method) if method else None
    usual = CleanSettings()
    at = next(at for at, each in enumerate(usual.passes) if isinstance(each, WordFormsPass))
    changed = _with(usual, chosen)
    assert [each.key for each in changed.passes] == [each.key for each in usual.passes]
    mine = changed.passes[at]
    assert isinstance(mine, WordFormsPass) and mine.on is (method is not None)
    assert method is None or mine.method == method
    without = CleanSettings.model_validate({"passes": [{"kind": "case"}]})
    assert [each.kind for each in _with(without, chosen).passes] == ["case", *(["word-forms"] if method else [])]
