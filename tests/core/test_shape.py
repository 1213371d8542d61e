"""Shaping a corpus, joining, cutting, and what the survey says, against brute force."""

from __future__ import annotations

import itertools
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from skeinwork.core.corpus.corpus import Corpus
from skeinwork.core.corpus.duplicates import exact_groups, folded_words, near_groups
from skeinwork.core.corpus.gather import GatherSettings, gather
from skeinwork.core.corpus.renumber import renumber
from skeinwork.core.corpus.shaping import OPERATIONS, Sources, apply, shape
from skeinwork.core.corpus.shaping.join import Join
from skeinwork.core.corpus.survey import survey
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import cut
from skeinwork.core.formats.records import Cut, FileSettings, Row
from skeinwork.core.text.language import LANGUAGES, detect_languages
from skeinwork.core.text.segment import segment
from skeinwork.work.results.finding import find_unindexed

ENDLESS = "z" * 60 + "!"
ROLES = {"n": "identifier", "harbour": "group", "day": "date", "text": "text"}
SOURCES = Sources(find_unindexed)
HARBOURS = ("Kelpwick", "Quellan", "Ossingby")


def corpus_of(tmp_path: Path, rows: list[tuple[str, str, str]]) -> Corpus:
    """A corpus of (harbour, day, text)."""
    path = tmp_path / "x.tsv"
    lines = [f"{n}\t{harbour}\t{day}\t{text}" for n, (harbour, day, text) in enumerate(rows)]
    path.write_text("n\tharbour\tday\ttext\n" + "\n".join(lines), encoding="utf-8")
    read = FileSettings.model_validate({"delimiter": "\t", "roles": ROLES})
    return gather([(path, "x.tsv")], GatherSettings(files=(read,)))[0]


@pytest.fixture
def corpus(tmp_path: Path) -> Corpus:
    rows = [
        (
            HARBOURS[n % 3] if n != 7 else "",
            f"201{n % 4}-0{1 + n % 9}-11",
            f"Entry {n}: {('gale at the outer mooring', 'ice on ramp nine')[n % 2]} " + "and on " * (n % 5),
        )
        for n in range(30)
    ]
    return corpus_of(tmp_path, rows)


def done(corpus: Corpus, **operation: Any) -> Corpus:
    (one,) = OPERATIONS.validate_python([operation])
    return apply(corpus, one, SOURCES)[0]


def numbers(corpus: Corpus) -> list[int]:
    return list(corpus.numbers.tolist())


@pytest.mark.parametrize(
    ("conditions", "holds"),
    [
        ({"where": {"harbour": ["Quellan", "Ossingby"]}}, lambda n: n % 3 and n != 7),
        ({"where": {"harbour": [""]}}, lambda n: n == 7),
        ({"words_from": 9, "words_to": 12}, lambda n: 9 <= words(n) < 12),
        ({"date_from": "2012"}, lambda n: n % 4 >= 2),
        ({"date_from": "2011-03", "date_to": "2011-06-11"}, lambda n: n % 4 == 1 and 2 <= n % 9 <= 5),
        ({"search": "gale NEAR/3 mooring"}, lambda n: n % 2 == 0),
        ({"search": "harbour:quell ice"}, lambda n: n % 3 == 1 and n % 2 and n != 7),
        ({"expression": r"entry \d:"}, lambda n: n < 10),
        ({"numbers": [3, 5, 8]}, lambda n: n in (3, 5, 8)),
        ({"languages": ["English"]}, lambda n: n % 10 != 5),
    ],
)
@pytest.mark.parametrize("out", [False, True])
def test_a_filter_keeps_or_leaves_out_what_meets_all_conditions(
    corpus: Corpus, conditions: dict[str, Any], holds: Any, out: bool
) -> None:
    expected = [n for n in range(30) if bool(holds(n)) != out]
    if not expected:
        with pytest.raises(BadInputError, match="No document"):
            done(corpus, kind="filter", out=out, **conditions)
        return
    found = done(corpus, kind="filter", out=out, **conditions)
    assert numbers(found) == expected
    assert [found.text(at) for at in range(len(found))] == [corpus.text(n) for n in expected]
    assert [found.columns[0].value(at) for at in range(len(found))] == [str(n) for n in expected]


def words(n: int) -> int:
    return 2 + (5, 4)[n % 2] + 2 * (n % 5)


def test_small_groups_go_and_are_listed(corpus: Corpus) -> None:
    (one,) = OPERATIONS.validate_python([{"kind": "small-groups", "field": "harbour", "least": 10}])
    found, report = apply(corpus, one, SOURCES)
    assert numbers(found) == [n for n in range(30) if n % 3 != 1]
    assert report.lists == {"groups left out": ["Quellan (9)"]}
    assert found.columns[1].values == ["Kelpwick", "Ossingby"]


def test_a_sample_is_the_same_for_a_seed_and_keeps_the_order(corpus: Corpus) -> None:
    one, same, other = (numbers(done(corpus, kind="sample", size=8, seed=seed)) for seed in (1, 1, 2))
    assert one == same == sorted(one) and len(one) == 8 and one != other
    assert len(done(corpus, kind="sample", size=99)) == 30


def test_rows_of_one_key_become_one_document(corpus: Corpus) -> None:
    (one,) = OPERATIONS.validate_python([{"kind": "combine", "field": "harbour"}])
    found, report = apply(corpus, one, SOURCES)
    assert numbers(found) == [0, 1, 2, 7]
    assert found.text(1) == "\n\n".join(corpus.text(n) for n in range(30) if n % 3 == 1 and n != 7)
    assert found.text(3) == corpus.text(7)
    assert [found.column("combined").value(at) for at in range(4)] == ["10", "9", "10", "1"]  # type: ignore[union-attr]
    assert any("“n” differs within 3 of 4" in note for note in report.notes)


def table(tmp_path: Path, text: str, **more: Any) -> tuple[Join, Sources]:
    path = tmp_path / "islands.csv"
    path.write_text(text, encoding="utf-8")
    wanted = {
        "kind": "join",
        "sha256": "0" * 64,
        "name": "islands.csv",
        "field": "harbour",
        "key": "name",
        "settings": {"roles": {"note": "ignored"}},
        **more,
    }
    (one,) = OPERATIONS.validate_python([wanted])
    assert isinstance(one, Join)
    return one, Sources(find_unindexed, {"0" * 64: path})


def test_a_join_gives_fields_and_lists_what_finds_no_match(corpus: Corpus, tmp_path: Path) -> None:
    one, sources = table(
        tmp_path, "name,island,harbour,note\nkelpwick ,North,1,x\nQUELLAN,South,2,x\nTarnholt,East,3,x\n"
    )
    found, report = apply(corpus, one, sources)
    names = [column.name for column in found.columns]
    assert names[-2:] == ["island", "islands harbour"] and "note" not in names
    expected = [("North", "South", None)[n % 3] if n != 7 else None for n in range(30)]
    assert [found.columns[-2].value(n) for n in range(30)] == expected
    assert report.notes == ["19 of 30 documents found their row"]
    assert report.lists == {
        "keys of documents without a row": ["Ossingby (10)", "no key (1)"],
        "rows that no document has": ["tarnholt"],
    }


def test_several_rows_of_a_key_are_refused_or_the_first_taken(corpus: Corpus, tmp_path: Path) -> None:
    text = "name,island\nQuellan,South\nQuellan,West\n"
    one, sources = table(tmp_path, text)
    with pytest.raises(BadInputError, match=r"several rows for 1 of its keys.*quellan.*2 rows"):
        apply(corpus, one, sources)
    one, sources = table(tmp_path, text, repeated="first")
    found, report = apply(corpus, one, sources)
    assert found.columns[-1].value(1) == "South"
    assert "1 further rows of the same keys were passed over" in report.notes


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"field": "odd"}, "no field “odd”"),
        ({"key": "odd"}, "no column “odd”.*name, island"),
        ({"sha256": "1" * 64}, "was not given"),
    ],
)
def test_a_join_that_cannot_be_says_why(corpus: Corpus, tmp_path: Path, change: dict[str, str], words: str) -> None:
    one, sources = table(tmp_path, "name,island\nQuellan,South\n", **change)
    with pytest.raises(BadInputError, match=words):
        apply(corpus, one, sources)


@pytest.mark.parametrize(
    ("operation", "words"),
    [
        ({"kind": "filter", "where": {"odd": ["x"]}}, "Step 1 .filter.: There is no field “odd”"),
        ({"kind": "filter", "date_from": "soon"}, "“soon” is not a date"),
        ({"kind": "filter", "expression": "(a"}, "can't be read"),
        ({"kind": "filter", "expression": "(?:z|zz)+$"}, "more than 2 s"),
        ({"kind": "filter", "languages": ["Elvish"]}, "“Elvish” is not a language"),
        ({"kind": "filter", "numbers": [900]}, "other documents"),
        ({"kind": "small-groups", "field": "harbour", "least": 99}, "No document"),
        ({"kind": "combine", "field": "odd"}, "no field “odd”"),
    ],
)
def test_an_operation_that_cannot_be_done_says_which_and_why(
    corpus: Corpus, tmp_path: Path, operation: dict[str, Any], words: str
) -> None:
    if "more" in words:
        corpus = corpus_of(tmp_path, [("K", "", ENDLESS)])
    with pytest.raises(BadInputError, match=words):
        shape(corpus, OPERATIONS.validate_python([operation]), SOURCES)


def test_operations_follow_each_other_and_each_says_what_it_did(corpus: Corpus) -> None:
    steps = OPERATIONS.validate_python(
        [
            {"kind": "filter", "where": {"harbour": ["Kelpwick"]}, "out": True},
            {"kind": "filter", "numbers": [4, 5, 6], "said": "topic 3"},
            {"kind": "sample", "size": 1},
        ]
    )
    found, reports = shape(corpus, steps, SOURCES)
    assert [(each.before, each.after) for each in reports] == [(30, 20), (20, 2), (2, 1)]
    assert numbers(found)[0] in (4, 5)
    assert [step.in_words() for step in steps] == [
        "leave out harbour Kelpwick",
        "keep only topic 3",
        "draw 1 at random, seed 1",
    ]


WORDS = st.lists(st.sampled_from("gale ice fog ramp tide cod net buoy".split()), max_size=9)


@settings(max_examples=60, deadline=None)
@given(st.lists(WORDS, min_size=1, max_size=12), st.sampled_from([0.3, 0.5, 0.8, 1.0]))
def test_near_duplicates_are_those_of_brute_force(documents: list[list[str]], least: float) -> None:
    tokens = segment([" ".join(words) for words in documents], "uax29")
    found = near_groups(*folded_words(tokens), least)
    groups = list(range(len(documents)))
    for a, b in itertools.combinations(range(len(documents)), 2):
        if similarity(documents[a], documents[b]) >= least:
            old, new = groups[b], groups[a]
            groups = [min(old, new) if each in (old, new) else each for each in groups]
    pairs = itertools.combinations(range(len(documents)), 2)
    for a, b in pairs:
        same = bool(found[a] == found[b])
        assert not same or groups[a] == groups[b]
        if similarity(documents[a], documents[b]) >= max(least, 0.95):
            assert same


def similarity(a: list[str], b: list[str]) -> float:
    """Jaccard similarity of the sets of three-word shingles; a shorter document is one shingle."""

    def shingles(words: list[str]) -> set[tuple[str, ...]]:
        if len(words) < 3:
            return {tuple(words)} if words else set()
        return {tuple(words[at : at + 3]) for at in range(len(words) - 2)}

    left, right = shingles(a), shingles(b)
    return len(left & right) / len(left | right) if left | right else 0.0


def test_likely_pairs_are_found_among_many() -> None:
    chance = np.random.default_rng(5)
    texts = [" ".join(f"w{n}" for n in chance.integers(0, 400, 60)) for _ in range(600)]
    pairs = {at: 600 + number for number, at in enumerate(range(0, 600, 6))}
    texts += [f"{texts[at]} again" for at in pairs]
    found = near_groups(*folded_words(segment(texts, "uax29")), 0.8)
    assert all(found[copy] == at for at, copy in pairs.items())
    assert len(set(found.tolist())) == 600


def test_exact_repeats_set_aside_case_signs_and_spaces() -> None:
    texts = ["Gale, all night.", "gale all  night", "Gale all the night", "", ""]
    assert exact_groups(*folded_words(segment(texts, "uax29"))).tolist() == [0, 0, 2, 3, 4]


@pytest.mark.parametrize(("keep", "kept"), [("first", 0), ("longest", 2), ("newest", 1)])
def test_of_repeats_the_one_asked_for_stays(tmp_path: Path, keep: str, kept: int) -> None:
    text = "the gale tore at the outer mooring all through the long cold night"
    days = ("2013-01-01", "2015-01-01", "2014-01-01")
    rows = [("K", day, text + ("", "", " again")[n]) for n, day in enumerate(days)]
    corpus = corpus_of(tmp_path, [*rows, ("K", "2012-01-01", "quite another thing")])
    assert numbers(done(corpus, kind="duplicates", near=True, keep=keep)) == [kept, 3]


SENTENCES = {
    "English": "The ferry was late because of the fog and nobody had told the people who were waiting.",
    "German": "Die Fähre war wegen des Nebels zu spät und niemand hat es den Leuten auf dem Kai gesagt.",
    "French": "Le bateau était en retard à cause de la brume et personne ne l'a dit aux gens sur le quai.",
    "Spanish": "El barco llegó tarde por la niebla y nadie se lo dijo a la gente que estaba en el muelle.",
    "Italian": "Il traghetto era in ritardo per la nebbia e nessuno lo ha detto alla gente che aspettava.",
    "Dutch": "De veerboot was te laat door de mist en niemand heeft het tegen de mensen op de kade gezegd.",
    "Swedish": "Färjan var sen på grund av dimman och ingen hade sagt det till dem som väntade på kajen.",
    "Finnish": "Lautta oli myöhässä sumun takia, eikä se ollut vielä tullut kun minä olin jo siellä ja he myös.",
    "Polish": "Prom był spóźniony przez mgłę i nikt tego nie powiedział tym, którzy czekali na nabrzeżu.",
    "Russian": "Паром опоздал из-за тумана, и никто не сказал об этом людям, которые были на причале.",
    "Turkish": "Feribot sis yüzünden geç kaldı ve bunu bekleyen insanlara hiç kimse söylemedi, ama o biliyordu.",
    "Czech": "Trajekt se kvůli mlze zpozdil a nikdo to neřekl lidem, kteří čekali na nábřeží, ale byl tam už on.",
    "Hungarian": "A komp késett a köd miatt, és senki sem mondta meg az embereknek, akik már a parton vártak.",
    "Romanian": "Feribotul a întârziat din cauza ceții și nimeni nu le-a spus oamenilor care așteptau pe chei.",
    "Greek": "Το πλοίο άργησε εξαιτίας της ομίχλης.",
    "Japanese": "霧のためフェリーが遅れた。",
    "unsure": "Wind NW 12kn, 1013 hPa.",
}


def test_languages_are_told_apart() -> None:
    codes = detect_languages(segment(list(SENTENCES.values()), "uax29"))
    found = [LANGUAGES[code] if code >= 0 else "unsure" for code in codes]
    assert found == list(SENTENCES)


def test_the_survey_finds_what_a_wrong_encoding_leaves(tmp_path: Path) -> None:
    texts = ["plain", "blåst på kajen", "blÃ¥st pÃ¥ kajen", "don’t", "donâ€™t", "x � y"]
    corpus = corpus_of(tmp_path, [("K", "", text) for text in texts])
    assert np.flatnonzero(survey(corpus).garbled).tolist() == [2, 4, 5]


INTERVIEW = "Log of the talk.\nQ: Was it ice?\nA: It was.\nAll night.\nQ: And then?\nA: Fog.\n"


def test_a_talk_is_cut_into_question_and_answer() -> None:
    row = Row(10, {"text": INTERVIEW, "who": "Orrin"})
    (parts,) = cut.pieces([row], "text", Cut(by="expression", expression=r"^(?P<role>[QA]): "))
    assert [(part.cells["text"], part.cells.get("role")) for part in parts] == [
        ("Log of the talk.", None),
        ("Was it ice?", "Q"),
        ("It was.\nAll night.", "A"),
        ("And then?", "Q"),
        ("Fog.", "A"),
    ]
    assert [part.line for part in parts] == [10, 11, 12, 14, 15]
    assert {part.cells["who"] for part in parts} == {"Orrin"}


@given(st.text("ab \n\f", max_size=60), st.sampled_from(["paragraph", "length", "page", "heading"]))
def test_cutting_loses_no_word(text: str, by: str) -> None:
    breaks = tuple(("page", at, "1") for at, sign in enumerate(text) if sign == "\f")
    wanted = Cut.model_validate({"by": by, "words": 10})
    (parts,) = cut.pieces([Row(1, {"text": text}, breaks=breaks)], "text", wanted)  # type: ignore[arg-type]
    assert " ".join(part.cells["text"] for part in parts).split() == text.split()
    if by == "length":
        assert all(len(part.cells["text"].split()) <= 10 for part in parts)


def test_a_cut_that_cannot_be_is_said() -> None:
    with pytest.raises(BadInputError, match="Write the regular expression"):
        cut.check(Cut(by="expression"))
    with pytest.raises(BadInputError, match="can't be read"):
        cut.check(Cut(by="expression", expression="(?P<x"))
    slow = Cut(by="expression", expression="(?:z|zz)+$")
    with pytest.raises(BadInputError, match="more than 2 s"):
        list(cut.pieces([Row(1, {"text": ENDLESS})], "text", slow))


def test_pieces_keep_the_identifier_of_the_whole(tmp_path: Path) -> None:
    path = tmp_path / "x.csv"
    path.write_text('n,text\nA,"one\n\ntwo"\nB,three\n', encoding="utf-8")
    read = FileSettings.model_validate({"roles": {"n": "identifier", "text": "text"}, "cut": {"by": "paragraph"}})
    corpus, trouble = gather([(path, "x.csv")], GatherSettings(files=(read,)))
    assert [corpus.columns[0].value(at) for at in range(3)] == ["A.1", "A.2", "B"]
    assert trouble == []


@settings(deadline=None, max_examples=60)
@given(
    st.lists(st.tuples(st.sampled_from("pqr"), st.integers(0, 3)), min_size=1, max_size=30),
    st.randoms(use_true_random=False),
    st.data(),
)
def test_renumbered_documents_come_from_the_same_places(
    places: list[tuple[str, int]], random: Any, data: st.DataObject
) -> None:
    """Files come in another order, some leave; each document is marked, so the answer is known."""

    def made(order: list[str]) -> tuple[Corpus, list[int]]:
        marked = [(at, *each) for name in order for at, each in enumerate(places) if each[0] == name]
        marked.sort(key=lambda one: (order.index(one[1]), one[2]))
        blank = np.zeros(len(marked), dtype=np.int32)
        lines = np.array([line for _, _, line in marked], dtype=np.int32)
        sources = np.array([order.index(name) for _, name, _ in marked], dtype=np.int32)
        corpus = Corpus(
            np.zeros(0, np.uint8),
            np.zeros(len(marked) + 1, np.int64),
            [],
            blank,
            blank.astype(np.uint8),
            lines,
            sources,
            np.arange(len(marked), dtype=np.int32),
            order,
        )
        return corpus, [mark for mark, _, _ in marked]

    before, marks = made(list("pqr"))
    order = list("pqr")
    random.shuffle(order)
    after, new_marks = made(order[: data.draw(st.integers(1, 3))])
    chosen = data.draw(st.sets(st.integers(0, len(marks) - 1)))
    found = renumber(before, after, chosen)
    wanted = {marks[number] for number in chosen} & set(new_marks)
    assert {new_marks[number] for number in found} == wanted and list(found) == sorted(found)
