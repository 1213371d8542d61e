"""Vectors and maps in other hands: on a fork, in the file of a skein, out of date, altered; odd fields and sizes."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient

from skeinwork.core.content import ContentError
from skeinwork.core.errors import BadInputError
from skeinwork.demo.generator import write_files
from skeinwork.store.artefacts import Artefact, ArtefactStore
from skeinwork.work import steps
from skeinwork.work.batch import weave
from skeinwork.work.exports.pattern import read_pattern
from skeinwork.work.relate.map_areas import MapOf, density_of
from skeinwork.work.relate.map_colours import MOST_VALUES, coloured, colourings
from skeinwork.work.results.view import View
from skeinwork.work.steps.step import OnDisk, examine
from skeinwork.work.strands.strands import Wanted
from tests.altered import ARRAYS
from tests.conftest import Fits, bring_in, wait_for
from tests.making import follow, read
from tests.test_vectors_used import ROWS, archive, places, refused, supply, table

BESIDE = {"word_vectors": {"dimensions": 12}, "document_vectors": {"dimensions": 12}}
MAPS: dict[str, MapOf] = {"document_map": "documents", "topic_map": "topics", "word_map": "words"}


@pytest.fixture(scope="module")
def store(tmp_path_factory: pytest.TempPathFactory) -> ArtefactStore:
    return ArtefactStore(tmp_path_factory.mktemp("maps") / "results")


@pytest.fixture(scope="module")
def made(store: ArtefactStore, tmp_path_factory: pytest.TempPathFactory) -> dict[str, str]:
    """Vectors and maps of a small logbook with a fit, by step."""
    folder = tmp_path_factory.mktemp("entries")
    corpus = read(store, [write_files(folder, size=90)])
    found = follow(store, corpus, Wanted.model_validate({"fit": {"topics": 3, "iterations": 20}}))
    for name in (*BESIDE, *MAPS):
        step = steps.beside(name)
        making = step.making([found[each.name] for each in step.parents], step.parse(BESIDE.get(name, {})))
        found[name] = steps.make(store, making)
    return found


@pytest.fixture(scope="module")
def seen(store: ArtefactStore, made: dict[str, str]) -> View:
    return View(store, made)


class Altered:
    """A stored result with one array in another form."""

    def __init__(self, stored: Artefact, name: str, array: Any) -> None:
        self.making, self.summary, self.document, self.holds = (
            stored.making,
            stored.summary,
            stored.document,
            stored.holds,
        )
        self._stored, self._name, self._array = stored, name, array

    def array(self, name: str) -> Any:
        return self._array if name == self._name else self._stored.array(name)


def arrays(stored: Artefact) -> Iterator[str]:
    return (name.removesuffix(".npy") for name in stored.checksums if name.endswith(".npy"))


@pytest.mark.parametrize("name", [*BESIDE, *MAPS])
def test_altered_arrays_are_refused_or_hold_what_a_result_can(
    name: str, store: ArtefactStore, made: dict[str, str]
) -> None:
    step, stored, inputs = steps.STEPS[name], store.open(made[name]), OnDisk(store)
    examine(inputs, step, stored)
    refusals = 0
    for array in arrays(stored):
        before = stored.array(array)
        for change in ("negative last", "huge", "NaN", "fewer", "none", "wider", "as words", "a column", "one number"):
            after = ARRAYS[change](before)
            if np.array_equal(after, before) and after.dtype == before.dtype:
                continue
            try:
                examine(inputs, step, Altered(stored, array, after))  # type: ignore[arg-type]
            except ContentError:
                refusals += 1
                continue
            # What is let through has the form, and holds numbers that such a result may hold.
            assert after.dtype.kind == before.dtype.kind and after.ndim == before.ndim and np.isfinite(after).all()
    assert refusals > 4 * len(list(arrays(stored)))


def test_items_of_another_matrix_are_no_map_of_this_one(store: ArtefactStore, made: dict[str, str]) -> None:
    stored = store.open(made["document_map"])
    moved = stored.array("items").copy()
    moved[-1] += 1
    for wrong in (moved, stored.array("items")[::-1].copy()):
        with pytest.raises(ContentError, match="items"):
            examine(OnDisk(store), steps.DOCUMENT_MAP, Altered(stored, "items", wrong))  # type: ignore[arg-type]


@pytest.mark.parametrize("of", [*MAPS.values()])
def test_a_maps_table_holds_its_places_and_areas(seen: View, of: MapOf) -> None:
    from skeinwork.work.exports.vector_files import map_table

    rows = list(csv.DictReader(io.StringIO(b"".join(map_table(seen, of)).decode())))
    value = seen.value(steps.beside(f"{of.removesuffix('s')}_map"))
    assert np.allclose([(float(row["x"]), float(row["y"])) for row in rows], value.places, rtol=1e-6)
    areas = [int(row["area"]) - 1 if row["area"] else -1 for row in rows]
    assert areas == density_of(seen, of).area.tolist()
    named = {row["area"]: row["words of the area"] for row in rows if row["area"]}
    assert all(named.values()) and len(set(named.values())) == len(named)


def test_points_are_told_apart_by_what_there_is(seen: View) -> None:
    assert colourings(seen, "documents")[0] == "topic" and "field harbour" in colourings(seen, "topics")
    assert colourings(seen, "words") == ["topic"]
    lead = np.asarray(seen.model.doc_topic).argmax(axis=1)
    found = coloured(seen, "topics", "topic")
    assert found.topics == [0, 1, 2] and found.codes.tolist() == lead[seen.value(steps.TOPIC_MAP).items].tolist()
    words = coloured(seen, "words", "topic")
    columns = seen.value(steps.WORD_MAP).items
    assert words.codes.tolist() == np.asarray(seen.model.topic_word)[:, columns].argmax(axis=0).tolist()


def test_a_field_of_many_values_and_a_language_of_few(served: TestClient) -> None:
    chance = np.random.default_rng(2)
    texts = ["the fog came over the pier and the bell was rung", "der Nebel kam über die Mole und die Glocke schlug"]
    rows = [
        {"text": f"{texts[at % 6 == 0]} {at % 7}", "berth": f"b{min(int(chance.geometric(0.02)), 250)}"}
        for at in range(400)
    ]
    found = Fits(served, bring_in(served, "berths.csv", table(rows)))
    found.change(weigh={"max_share": 1.0})
    found.job("beside/document_map", {"neighbours": 5})
    shown = found.get("relate/maps/documents")["colours"]
    assert shown == ["language", "field berth"]
    berths = found.get("relate/maps/documents/colours", by="field berth")
    assert len(berths["values"]) == MOST_VALUES and min(berths["codes"]) == -1
    assert sum(berths["counts"]) + berths["others"] == len(berths["codes"]) == 400
    counts = sorted(sum(row["berth"] == value for row in rows) for value in {row["berth"] for row in rows})[::-1]
    assert berths["counts"] == counts[:MOST_VALUES]
    languages = found.get("relate/maps/documents/colours", by="language")
    spoken = dict(zip(languages["values"], languages["counts"], strict=True))
    assert spoken["German"] == sum(at % 6 == 0 for at in range(400)) and spoken["English"] > 300
    one = languages["values"].index("German")
    area = {"area": "-999,-999 999,-999 999,999 -999,999", "area_by": "language", "area_only": str(one)}
    assert found.get("evidence", **area)["total"] == spoken["German"]


def test_too_little_for_vectors_or_a_map_says_so(served: TestClient) -> None:
    found = Fits(served, bring_in(served, "few.csv", b"text\nfog pier\npier fog\nfog pier fog\n"))
    found.change(weigh={"min_documents": 1, "max_share": 1.0})
    assert "three words or more" in refused(found, "word_vectors", {})
    assert "three are needed" in refused(found, "document_map", {})
    four = "text\n" + "".join(f"{each} harbour\n" for each in ("fog pier", "gale pier", "gale ferry", "fog ferry"))
    found = Fits(served, bring_in(served, "four.csv", four.encode()))
    found.change(weigh={"min_documents": 1, "max_share": 1.0})
    assert "4 items would be on the map" in refused(found, "document_map", {})
    more = Fits(served, bring_in(served, "more.csv", b"text\ngale\nfog\n"))
    assert more.client.get(f"{more.base}/relate/maps/documents").status_code == 422
    assert more.client.get(f"{more.base}/relate/alike").status_code == 422
    assert more.client.get(f"{more.base}/relate/near-words").status_code == 422
    assert more.client.get(f"{more.base}/relate/maps/harbours").status_code == 422


def test_relate_offers_its_choices_before_there_is_a_fit(served: TestClient) -> None:
    found = Fits(served, bring_in(served, "no fit.csv", table(ROWS[:40])))
    choices = found.get("relate/choices")
    assert choices["suggested"]["group_words"]["field"] == "harbour" and choices["fields"] == ["harbour"]


@pytest.fixture(scope="module")
def kept(served: TestClient) -> Fits:
    """A strand with supplied vectors and a map of them."""
    found = Fits(served, bring_in(served, "kept.csv", table(ROWS)))
    whole = io.BytesIO()
    np.save(whole, np.random.default_rng(3).normal(size=(len(ROWS), 6)).astype(np.float32))
    found.job("beside/document_vectors", supply(found, "kept.npy", whole.getvalue()))
    found.job("beside/document_map", {"neighbours": 8})
    return found


def test_a_fork_and_the_file_of_a_skein_have_the_map_and_its_file(kept: Fits) -> None:
    forked = kept.client.post(f"{kept.base}/fork").json()["strand"]
    assert places(Fits(kept.client, forked))[0] == places(kept)[0]
    skein = kept.get("")["skein"]
    data = kept.client.get(f"/api/skeins/{skein}/file").content
    answer = kept.client.post("/api/skeins/open", files={"file": ("kept.skein.zip", data)})
    wait_for(kept.client, answer.json()["job"])
    opened = max(kept.client.get("/api/skeins").json(), key=lambda each: int(each["id"]))
    there = Fits(kept.client, min(opened["strands"]))
    assert np.array_equal(places(there)[1], places(kept)[1])
    # The file went along: the same vectors can be made anew, of other documents of it too.
    there.change(shape=[{"kind": "filter", "where": {"harbour": ["Quellan"]}}])
    settings = kept.get("")["wanted"]["beside"]["document_vectors"]
    there.job("beside/document_vectors", settings)
    assert there.get("relate/alike")["documents"] == 60


def test_a_map_is_out_of_date_when_what_it_is_made_from_is(kept: Fits) -> None:
    def states() -> dict[str, str]:
        return {each["step"]: each["state"] for each in kept.get("")["beside"]}

    assert states()["document_map"] == "ready"
    before = kept.get("")["wanted"]["beside"]["document_vectors"]
    kept.job("beside/document_vectors", {"of": "terms", "dimensions": 5})
    assert states() | {"document_vectors": "ready", "document_map": "stale"} == states()
    # It still shows what it was made from, and what is selected is looked at in that.
    assert len(places(kept)[0]) == 120
    assert kept.get("relate/maps/documents/selected", term="fog")["trust"] is not None
    kept.job("beside/document_vectors", before)
    assert states()["document_map"] == "ready"
    kept.change(weigh={"min_documents": 3})
    assert {states()[each] for each in ("document_vectors", "document_map")} == {"stale"}


def test_words_drawn_round_are_those_on_the_map(kept: Fits) -> None:
    kept.job("beside/word_map", {"neighbours": 6})
    there = kept.get("relate/maps/words")
    low, far = np.array(there["low"]) - 1, np.array(there["low"]) + there["size"] + 1
    whole = f"{low[0]:.1f},{low[1]:.1f} {far[0]:.1f},{low[1]:.1f} {far[0]:.1f},{far[1]:.1f} {low[0]:.1f},{far[1]:.1f}"
    drawn = kept.get("relate/maps/words/selected", area=whole, area_of="words")
    assert drawn["items"] == sorted(there["items"])
    assert drawn["trust"] is not None
    one = kept.get("relate/maps/words/selected", term="fog")["items"]
    both = kept.get("relate/maps/words/selected", term="fog", with_term=drawn["rows"][0]["name"].lower())["items"]
    assert len(one) == 1 and set(one) < set(drawn["items"]) and set(one) <= set(both)


def test_a_pattern_with_a_map_alone_makes_what_it_is_laid_out_from(served: TestClient, tmp_path: Path) -> None:
    found = Fits(served, bring_in(served, "alone.csv", table(ROWS)))
    found.job("beside/document_map", {"neighbours": 6})
    wanted = archive(found)
    pattern = read_pattern(served.get(f"{found.base}/pattern.json").text)
    beside = pattern.beside.model_dump(exclude_none=True)
    assert beside.keys() == {"document_vectors", "document_map"}
    del beside["document_vectors"]
    pattern = pattern.model_copy(update={"beside": type(pattern.beside).model_validate(beside)})
    (tmp_path / "alone.csv").write_bytes(table(ROWS))
    weave.run(pattern, [tmp_path / "alone.csv"], tmp_path / "out")
    assert (tmp_path / "out" / "map-of-documents.csv").read_bytes() == wanted["map-of-documents.csv"]
    assert "word-vectors.txt" not in wanted and "map-of-words.csv" not in wanted


def test_a_corpus_of_another_file_has_vectors_of_its_own_field(served: TestClient) -> None:
    found = Fits(served, bring_in(served, "first.csv", table(ROWS[:60])))
    with pytest.raises(AssertionError, match="role vector"):
        found.job("beside/document_vectors", {"of": "field", "field": "vectors"})
    assert "No file of vectors" in refused(found, "document_vectors", {"of": "file"})
    answer = found.client.post(f"{found.base}/beside/document_vectors", json={"of": "guesses"})
    assert answer.status_code == 422 and "terms" in answer.json()["detail"]


def test_a_word_is_found_by_how_it_is_shown(seen: View) -> None:
    from skeinwork.work.relate.nearness import word_place

    matrix, vectors = seen.matrix, seen.value(steps.WORD_VECTORS)
    shown = [(matrix.display[at], at) for at in vectors.terms.tolist() if matrix.display[at] != matrix.terms[at]]
    assert shown
    for display, at in shown[:20]:
        assert matrix.display[vectors.terms[word_place(seen, display)]].casefold() == matrix.display[at].casefold()
    with pytest.raises(BadInputError, match="has no vector"):
        word_place(seen, "whale")
