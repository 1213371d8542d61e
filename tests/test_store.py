"""The data folder: whole results or none, migrations, one server at a time, search."""

from __future__ import annotations

import json
import shutil
import sqlite3
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from peewee import SqliteDatabase

from skeinwork.core.content import ContentError
from skeinwork.core.errors import BadInputError, SkeinworkError
from skeinwork.core.identity import canonical_json, result_identity
from skeinwork.core.text.query import parse
from skeinwork.store import artefacts, models, search
from skeinwork.store.artefacts import Artefact, ArtefactStore, DamagedResultError, Making
from skeinwork.store.disk import DiskError
from skeinwork.store.migrations import STEPS, migrate
from skeinwork.store.models import Draft, Job, Result, Skein, Strand
from skeinwork.store.store import Store

MAKING = Making("tokens", 1, {"rule": "unicode"}, ["abc"])


def put(store: ArtefactStore, making: Making = MAKING) -> str:
    return store.write(making, {"ids": np.arange(5)}, {"types": ["a", "ü"]}, {"tokens": 5})


@pytest.fixture
def store(tmp_path: Path) -> Iterator[Store]:
    opened = Store(tmp_path / "data")
    yield opened
    opened.close()


leaves = st.none() | st.booleans() | st.integers(-(2**53), 2**53) | st.text(max_size=5)
some = st.lists(leaves, max_size=3) | st.dictionaries(st.text(max_size=3), leaves, max_size=3)
json_values = leaves | some | st.lists(some, max_size=3)


@given(st.dictionaries(st.text(max_size=4), json_values, max_size=4))
def test_identity_does_not_depend_on_the_order_of_settings(settings_: dict[str, object]) -> None:
    turned = dict(reversed(list(settings_.items())))
    assert canonical_json(settings_) == canonical_json(turned)
    assert result_identity("a", 1, settings_, []) == result_identity("a", 1, turned, [])


def test_identity_depends_on_everything_else() -> None:
    known = result_identity("fit", 1, {"seed": 1}, ["x"])
    for other in (
        ("fit", 2, {"seed": 1}, ["x"]),
        ("fit", 1, {"seed": 2}, ["x"]),
        ("fit", 1, {"seed": 1}, ["y"]),
        ("lda", 1, {"seed": 1}, ["x"]),
    ):
        assert result_identity(*other) != known
    with pytest.raises(ValueError, match="Out of range"):
        result_identity("a", 1, {"x": float("nan")}, [])


def test_a_result_reads_back_as_it_was_written(tmp_path: Path) -> None:
    store = ArtefactStore(tmp_path)
    identity = put(store)
    assert identity == MAKING.identity
    stored = store.open(identity)
    stored.verify()
    assert stored.array("ids").tolist() == [0, 1, 2, 3, 4]
    assert stored.document("types") == ["a", "ü"]
    assert (stored.making, stored.summary) == (MAKING, {"tokens": 5})
    assert put(store) == identity


def test_nothing_is_left_of_a_write_that_fails(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    store = ArtefactStore(tmp_path)

    def full(*_: object, **__: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(artefacts.np, "save", full)
    with pytest.raises(DiskError, match="is full"):
        put(store)
    assert list(tmp_path.iterdir()) == []
    assert not store.has(MAKING.identity)


def test_two_workers_that_make_the_same_result_both_find_it_whole(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    store = ArtefactStore(tmp_path)
    monkeypatch.setattr(store, "has", lambda identity: False)
    assert put(store) == put(store) == MAKING.identity
    ArtefactStore(tmp_path).open(MAKING.identity).verify()
    assert not list(tmp_path.glob(".tmp-*"))


def test_leftovers_of_a_killed_process_are_swept(tmp_path: Path) -> None:
    store = ArtefactStore(tmp_path)
    put(store)
    (tmp_path / ".tmp-abc").mkdir()
    assert store.sweep() == 1
    assert list(store.identities()) == [MAKING.identity]


def test_a_damaged_file_is_said_and_can_be_made_again(tmp_path: Path) -> None:
    store = ArtefactStore(tmp_path)
    stored = store.open(put(store))
    (stored.folder / "ids.npy").write_bytes(b"rubbish")
    with pytest.raises(DamagedResultError, match="tokens"):
        stored.array("ids")
    assert not store.has(stored.identity)
    assert store.open(stored.identity).making == MAKING
    assert store.open(put(store)).array("ids").tolist() == [0, 1, 2, 3, 4]
    with pytest.raises(DamagedResultError):
        store.open("0" * 64)


@pytest.mark.parametrize("before", [b'"tokens":5', b'"rule":"unicode"', b'"checksums"', b"{"])
def test_what_a_result_says_of_itself_is_checked_too(tmp_path: Path, before: bytes) -> None:
    made = ArtefactStore(tmp_path).open(put(ArtefactStore(tmp_path))).folder / "made.json"
    made.write_bytes(made.read_bytes().replace(before, before[:-1] + b"6"))
    with pytest.raises(DamagedResultError):
        ArtefactStore(tmp_path).open(MAKING.identity)
    recalling = ArtefactStore(tmp_path, lambda _: (MAKING, {"tokens": 5}))
    assert recalling.open(MAKING.identity).summary == {"tokens": 5}
    assert not recalling.has(MAKING.identity)
    recalling.open(put(recalling)).verify()


@pytest.mark.parametrize("name", ["..", "../..", "abc", "A" * 64, "0" * 63 + "/", ""])
def test_only_an_identity_becomes_a_path(tmp_path: Path, name: str) -> None:
    store = ArtefactStore(tmp_path / "results")
    (tmp_path / "made.json").write_text("unreadable")
    for reach in (store.has, store.open, store.set_aside):
        with pytest.raises(BadInputError):
            reach(name)
    assert (tmp_path / "made.json").exists()


# From this schema on a strand's results are rows.
ROWS = 7


@pytest.mark.parametrize("version", range(1, len(STEPS)))
def test_every_earlier_schema_becomes_the_present_one(tmp_path: Path, version: int) -> None:
    """Each released schema is a step; what it held is still there after the others."""
    database = SqliteDatabase(str(tmp_path / "old.db"))
    database.connect()
    for statement in (each for step in STEPS[:version] for each in step.split(";\n") if each.strip()):
        database.execute_sql(statement)
    database.execute_sql(f"PRAGMA user_version = {version}")
    database.execute_sql("INSERT INTO skein (name, created) VALUES ('kept', '2026-01-01')")
    for number, (identity, parent, made) in enumerate([("base", None, "{}"), ("shaped", "base", '{"shape": []}')]):
        database.execute_sql(
            "INSERT INTO result (identity, number, step, settings, parent, summary, seconds, created)"
            " VALUES (?, ?, 'corpus', ?, ?, '{}', 0, '2026-01-01')",
            (identity, number, made, parent),
        )
    for corpus, fit in (("base", None), ("shaped", "some fit"), (None, None)):
        wanted = {"shape": []} if version == 1 else {"shape": [], "base": "base" if corpus else ""}
        rows = {"corpus": corpus, "fit": fit} if version < ROWS else {}
        database.execute_sql(
            f"INSERT INTO strand (skein_id, name, {''.join(f'{name}, ' for name in rows)}draft, revision, created)"
            f" VALUES (1, '', {'?, ' * len(rows)}?, 0, '2026-01-01')",
            (*rows.values(), json.dumps(wanted)),
        )
        (strand,) = database.execute_sql("SELECT max(id) FROM strand").fetchone()
        for name, identity in {"corpus": corpus, "fit": fit}.items() if version >= ROWS else ():
            if identity:
                database.execute_sql("INSERT INTO strand_result VALUES (?, ?, ?)", (strand, name, identity))
    draft = "{}" if version == 1 else '{"base": "base"}'
    database.execute_sql("INSERT INTO draft (strand_id, undone, settings) VALUES (2, 0, ?)", (draft,))
    migrate(database)
    models.database.initialize(database)
    assert [skein.name for skein in Skein.select()] == ["kept"]
    assert [strand.draft["base"] for strand in Strand.select()] == ["base", "base", ""]
    assert [strand.results for strand in Strand.select()] == [
        {"corpus": "base"},
        {"corpus": "shaped", "fit": "some fit"},
        {},
    ]
    assert [draft.settings for draft in Draft.select()] == [{"base": "base"}]
    for table in models.TABLES:
        columns = {row[1] for row in database.execute_sql(f'PRAGMA table_info("{table._meta.table_name}")')}
        assert columns == {field.column_name for field in table._meta.sorted_fields}
    database.close()


def test_a_newer_database_is_refused(tmp_path: Path) -> None:
    folder = tmp_path / "data"
    Store(folder).close()
    with sqlite3.connect(folder / "skeinwork.db") as raw:
        raw.execute("PRAGMA user_version = 99")
    with pytest.raises(SkeinworkError, match="newer version"):
        Store(folder)


def test_two_servers_on_one_folder_are_refused(store: Store) -> None:
    with pytest.raises(SkeinworkError, match="Another Skeinwork server"):
        Store(store.folder)


def test_a_folder_that_cannot_be_made_is_said(tmp_path: Path) -> None:
    (tmp_path / "file").write_text("x")
    with pytest.raises(SkeinworkError, match="can't be written"):
        Store(tmp_path / "file" / "data")


def test_after_a_crash_finished_results_are_recorded_and_running_jobs_marked(tmp_path: Path) -> None:
    store = Store(tmp_path)
    with store.connection():
        strand = Strand.create(skein=Skein.create(name="x"), draft={})
        Job.create(strand=strand, kind="fit", title="t", request={}, state="running")
    identity = put(store.artefacts)
    (store.uploads / ".tmp-half").write_text("half")
    store.close()
    store = Store(tmp_path)
    with store.connection():
        assert Job.get().state == "interrupted"
        assert Result.get_by_id(identity).summary == {"tokens": 5}
    assert not list(store.uploads.iterdir())
    shutil.rmtree(store.artefacts.open(identity).folder)
    store.close()
    store = Store(tmp_path)
    assert store.artefacts.open(identity).making == MAKING  # known still, and can be made again
    assert not store.artefacts.has(identity)
    store.close()


def test_uploads_are_kept_by_checksum_and_limited(store: Store) -> None:
    with store.connection():
        one = store.keep_upload("a.csv", iter([b"x", b"y"]), 10)
        same = store.keep_upload("b.csv", iter([b"xy"]), 10)
        assert one.sha256 == same.sha256
        assert store.upload_path(one.sha256).read_bytes() == b"xy"
        with pytest.raises(SkeinworkError, match="larger than the limit"):
            store.keep_upload("c.csv", iter([b"123456"] * 3), 10)
        with pytest.raises(ConnectionResetError):
            store.keep_upload("d.csv", broken_off(), 10)
    assert [path.name for path in store.uploads.iterdir()] == [one.sha256]


def broken_off() -> Iterator[bytes]:
    yield b"12"
    raise ConnectionResetError


TEXTS = ["A gale at the breakwater", "the ferry came late", "gale, gale and a ferry", ""]


@pytest.fixture
def indexed(store: Store) -> Iterator[str]:
    identity = put(store.artefacts)
    with store.connection():
        store.record(identity)
        assert list(search.index_corpus(identity, ["", "Storm gale", "", ""], TEXTS)) == [4]
        yield identity


@pytest.mark.parametrize(
    ("query", "found"),
    [
        ("ferry", {1, 2}),
        ("gale ferry", {1, 2}),
        ('"gale and"', {2}),
        ("break*", {0}),
        ("storm", {1}),
        ("nothing", set()),
        ("AND", {2}),
        ('the" OR', set()),
        ("FERRY", {1, 2}),
        ("gale NEAR/2 ferry", {2}),
        ("gale NEAR/1 ferry", set()),
        ("late NEAR ferry", {1}),
    ],
)
def test_search_finds_words_phrases_and_beginnings(indexed: str, query: str, found: set[int]) -> None:
    assert set(search.find(indexed, parse(query)) or []) == found
    titles = ["", "Storm gale", "", ""]
    assert set(search.find_in(titles, TEXTS, parse(query)) or []) == found


def test_search_ranks_the_best_first(indexed: str) -> None:
    assert (search.find(indexed, parse("gale")) or [])[0] == 2
    assert search.find(indexed, parse(" *() ")) is None


@settings(max_examples=300, deadline=None)
@given(st.text(max_size=25) | st.text(st.sampled_from("a\"*()^:-+ANDORNOTNEAR{}\\'; "), max_size=25))
def test_no_query_is_malformed(query: str) -> None:
    database = sqlite3.connect(":memory:")
    database.execute("CREATE VIRTUAL TABLE t USING fts5(x)")
    if expression := search.expression(parse(query, ["AND", "x"])):
        database.execute("SELECT * FROM t WHERE t MATCH ?", (expression,)).fetchall()


def test_an_interrupted_index_goes_on_where_it_was(store: Store, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(search, "_CHUNK", 1)
    identity = put(store.artefacts)
    with store.connection():
        store.record(identity)
        first = search.index_corpus(identity, [], TEXTS)
        assert (next(first), next(first)) == (1, 2)
        first.close()
        assert list(search.index_corpus(identity, [], TEXTS)) == [3, 4]
        assert sorted(search.find(identity, parse("gale")) or []) == [0, 2]


def test_a_result_is_examined_once_before_anything_of_it_is_read(tmp_path: Path) -> None:
    looked: list[str] = []

    def examine(stored: Artefact, store: ArtefactStore) -> None:
        looked.append(stored.identity)
        assert stored.array("ids").sum() == 10  # what looks at it may read it
        if looked.count(stored.identity) > 1:
            raise ContentError("ids falls")

    put(ArtefactStore(tmp_path))
    store = ArtefactStore(tmp_path, examine=examine)
    for _ in range(3):
        assert store.open(MAKING.identity).array("ids").tolist() == [0, 1, 2, 3, 4]
    assert store.has(MAKING.identity) and looked == [MAKING.identity]
    made = store.open(MAKING.identity).folder / "made.json"
    made.write_bytes(made.read_bytes())  # perhaps another one, with checksums to match
    with pytest.raises(DamagedResultError) as refused:
        store.open(MAKING.identity).array("ids")
    assert refused.value.reason == "ids falls" and not store.has(MAKING.identity)


def test_to_look_whether_a_result_is_there_takes_nothing_from_one_that_just_comes(tmp_path: Path) -> None:
    """Another process puts it in its place after it was not found."""
    store, other = ArtefactStore(tmp_path), ArtefactStore(tmp_path)
    making = Making("tokens", 1, {"a": 1})
    arrays = {"ids": np.arange(3)}

    class Late(ArtefactStore):
        def open(self, identity: str) -> Artefact:
            try:
                return super().open(identity)
            except DamagedResultError:
                other.write(making, arrays, {}, {})
                raise

    assert not Late(tmp_path).has(making.identity)
    assert store.has(making.identity) and store.open(making.identity).array("ids").tolist() == [0, 1, 2]
