"""Strands: wanted settings, what is out of date, undo and redo, labels that follow topics."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from skeinwork.core.text.passes import SUGGESTED
from skeinwork.core.topics.methods.lda import LdaSettings
from skeinwork.demo.generator import write_files
from skeinwork.store.models import Draft, Skein, Strand, TopicNote
from skeinwork.store.store import Store
from skeinwork.work import steps
from skeinwork.work.strands import strands
from skeinwork.work.strands.strands import EditConflictError, Wanted
from tests.making import follow, read


@pytest.fixture(scope="module")
def store(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Store]:
    opened = Store(tmp_path_factory.mktemp("strands"))
    with opened.connection():
        yield opened
    opened.close()


@pytest.fixture(scope="module")
def corpus(store: Store) -> str:
    return read(store.artefacts, [write_files(store.folder / "demo", size=200)])


def build(store: Store, strand: Strand) -> str:
    """Make what is wanted and put it on the strand, as a rebuild does."""
    made = follow(store.artefacts, strand.results["corpus"], strands.wanted(strand))
    strand.put({name: made[name] for name in ("corpus", "cleaning", "matrix")})
    return made["fit"]


@pytest.fixture
def strand(store: Store, corpus: str) -> Strand:
    wanted = Wanted(base=corpus, fit=LdaSettings(topics=4, iterations=40))
    made = Strand.create(skein=Skein.create(name="x"), draft=wanted.model_dump(mode="json"))
    made.put({"corpus": corpus})
    strands.take_fit(store, made, build(store, made))
    return Strand.get_by_id(made.id)


def change(strand: Strand, **parts: Any) -> Strand:
    """One more edit of the wanted settings."""
    wanted = strands.wanted(strand).model_dump(mode="json")
    for name, part in parts.items():
        wanted[name] = {**wanted[name], **part}
    return strands.edit(strand, Wanted.model_validate(wanted), strand.revision)


def chain(store: Store, strand: Strand) -> dict[str, str]:
    """How the steps of the chain stand; all beside it are empty here."""
    found = strands.standing(store, strand)
    assert {found.pop(step.name) for step in steps.BESIDE} == {"empty"}
    return dict(found)


def test_a_new_strand_is_up_to_date(store: Store, strand: Strand) -> None:
    assert chain(store, strand) == {"corpus": "ready", "cleaning": "ready", "matrix": "ready", "fit": "ready"}


def test_a_strand_without_documents_is_empty(store: Store) -> None:
    bare = Strand.create(skein=Skein.create(name="y"), draft=Wanted().model_dump(mode="json"))
    assert chain(store, bare) == {"corpus": "empty", "cleaning": "empty", "matrix": "empty", "fit": "empty"}


def test_a_change_makes_everything_below_it_out_of_date(store: Store, strand: Strand) -> None:
    change(strand, weigh={"min_documents": 7})
    assert chain(store, strand) == {"corpus": "ready", "cleaning": "ready", "matrix": "stale", "fit": "stale"}

    change(strand, clean={"rule": {"rule": "letters", "hyphens": "keep", "strip_markup": True}})
    assert chain(store, strand) == {"corpus": "ready", "cleaning": "stale", "matrix": "stale", "fit": "stale"}


def test_a_pass_that_is_off_and_changed_still_counts_as_a_change(store: Store, strand: Strand) -> None:
    """Settings are compared as they stand: nothing is said to be fresh that was made otherwise."""
    passes = [each.model_dump(mode="json") for each in SUGGESTED]
    passes[-1] = {"kind": "domain-words", "on": False, "words": ["gale"]}
    change(strand, clean={"passes": passes})
    assert strands.standing(store, strand)["cleaning"] == "stale"


def test_undo_and_redo_go_back_and_forth(store: Store, strand: Strand) -> None:
    begun = strand.draft
    for value in (6, 7, 8):
        change(strand, weigh={"min_documents": value})
    depth = strands.undo_depth(strand)[0]
    assert strands.step_back(strand, strand.revision) and strands.wanted(strand).weigh.min_documents == 7
    assert strands.step_back(strand, strand.revision) and strands.wanted(strand).weigh.min_documents == 6
    assert strands.step_back(strand, strand.revision, redo=True) and strands.wanted(strand).weigh.min_documents == 7
    assert strands.undo_depth(strand) == (depth - 1, 1)
    change(strand, weigh={"min_documents": 9})
    assert strands.undo_depth(strand)[1] == 0
    while strands.step_back(strand, strand.revision):
        pass
    assert strand.draft["clean"] == begun["clean"]
    assert not strands.step_back(strand, strand.revision)
    with pytest.raises(strands.EditConflictError):
        strands.step_back(strand, strand.revision - 1)


@settings(max_examples=40, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(st.one_of(st.integers(1, 40), st.sampled_from(["undo", "redo"])), max_size=14))
def test_undo_is_a_pair_of_stacks(strand: Strand, actions: list[Any]) -> None:
    """The same actions on a plain pair of lists give the same settings."""
    Draft.delete().where(Draft.strand == strand).execute()
    now, past, future = strands.wanted(strand).weigh.min_documents, [], []
    for action in actions:
        if action == "undo":
            strands.step_back(strand, strand.revision)
            if past:
                future.append(now)
                now = past.pop()
        elif action == "redo":
            strands.step_back(strand, strand.revision, redo=True)
            if future:
                past.append(now)
                now = future.pop()
        else:
            change(strand, weigh={"min_documents": action})
            if action != now:
                past.append(now)
                future.clear()
                now = action
        assert strands.wanted(strand).weigh.min_documents == now
        assert strands.undo_depth(strand) == (len(past), len(future))


def test_an_edit_against_an_older_revision_is_refused(strand: Strand) -> None:
    other = Strand.get_by_id(strand.id)
    change(strand, weigh={"min_documents": 11})
    with pytest.raises(EditConflictError, match="another tab"):
        change(other, weigh={"min_documents": 12})
    with pytest.raises(EditConflictError):
        strands.edit(strand, strands.wanted(strand), strand.revision - 1)


def test_an_edit_that_changes_nothing_is_no_step(strand: Strand) -> None:
    revision, depth = strand.revision, strands.undo_depth(strand)
    change(strand)
    assert (strand.revision, strands.undo_depth(strand)) == (revision, depth)


def label(strand: Strand, names: dict[int, str]) -> None:
    for topic, name in names.items():
        TopicNote.update(label=name, confirmed=True, note=f"about {name}").where(
            (TopicNote.strand == strand) & (TopicNote.fit == strand.results["fit"]) & (TopicNote.topic == topic)
        ).execute()


def notes(strand: Strand) -> list[TopicNote]:
    mine = (TopicNote.strand == strand) & (TopicNote.fit == strand.results["fit"])
    return list(TopicNote.select().where(mine).order_by(TopicNote.topic))


def test_labels_follow_matched_topics_and_the_old_reading_stays(store: Store, strand: Strand) -> None:
    """Of six topics over twelve themes five are found again; a label of the other would be a guess."""
    change(strand, fit={"topics": 6, "iterations": 100})
    strands.take_fit(store, strand, build(store, strand))
    label(strand, {1: "second", 4: "fifth"})
    before = strand.results["fit"]
    change(strand, weigh={"min_documents": 6})
    strands.take_fit(store, strand, build(store, strand))
    carried = {note.label: note for note in notes(strand) if note.label}
    assert set(carried) == {"second"}
    assert not any(note.confirmed for note in carried.values())
    assert carried["second"].note == "about second"
    old = TopicNote.select().where((TopicNote.strand == strand) & (TopicNote.fit == before))
    assert {note.label for note in old if note.confirmed} == {"second", "fifth"}


def test_dyes_follow_the_match_and_stay_unique(store: Store, strand: Strand) -> None:
    dyes = {note.topic: note.dye for note in notes(strand)}
    assert dyes == {0: 0, 1: 1, 2: 2, 3: 3}
    change(strand, fit={"topics": 7})
    strands.take_fit(store, strand, build(store, strand))
    found = [note.dye for note in notes(strand)]
    assert len(found) == len(set(found)) == 7
    assert {0, 1, 2, 3} <= set(found)


def test_taking_a_fit_again_keeps_what_was_said_of_it(store: Store, strand: Strand) -> None:
    label(strand, {1: "kept"})
    first = strand.results["fit"]
    change(strand, fit={"seed": 5})
    strands.take_fit(store, strand, build(store, strand))
    strands.take_fit(store, strand, first)
    assert [(note.label, note.confirmed) for note in notes(strand) if note.label] == [("kept", True)]
    assert strands.wanted(strand).fit.seed == 1


def test_the_folder_of_a_skein_holds_no_half_results(store: Store) -> None:
    leftovers: list[Path] = [path for path in store.artefacts.root.iterdir() if path.name.startswith(".tmp")]
    assert leftovers == []
