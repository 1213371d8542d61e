"""Vectors and maps as they are used: near words, alike documents, supplied vectors, what is drawn round on a map."""

from __future__ import annotations

import csv
import io
import json
import zipfile
from collections.abc import Mapping
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq
import pytest
import scipy
from fastapi.testclient import TestClient
from numpy.typing import NDArray

from skeinwork.core.errors import UsageError
from skeinwork.core.relate.agreement import adjusted_rand_index
from skeinwork.core.relate.groups import GroupSettings, k_means
from skeinwork.demo.generator import THEMES, Entry
from skeinwork.work.batch import weave
from skeinwork.work.exports.pattern import read_pattern
from tests.conftest import Fits, bring_in, wait_for

# Two words for one thing stand in the same sentences, never together; engines in others.
FRAMES = ["thick {} hid the pier and the bell was rung", "{} came down over the buoys and the siren sounded"]
OTHERS = ["the engine lost its oil and the valves were ground", "a piston seized and the pilot launch was towed"]
CHANCE = np.random.default_rng(5)


def rows(number: int = 120) -> list[dict[str, str]]:
    """Entries of fog or haar, or of engines, each with a vector near the middle of its kind, some with holes."""
    found = []
    for at in range(number):
        kind = at % 2
        text = FRAMES[at // 2 % 2].format(("fog", "haar")[at // 4 % 2]) if kind == 0 else OTHERS[at // 2 % 2]
        vector = np.where(kind == 0, [3, 0, 0, 1, 1, 1, 1, 1], [0, 3, 0, 1, 1, 1, 1, 1]) + CHANCE.normal(0, 0.3, 8)
        said = json.dumps(vector.round(4).tolist())
        found.append({"entry": f"{at:03}", "harbour": ("Kelpwick", "Quellan")[kind], "text": text, "numbers": said})
    found[3]["numbers"], found[5]["numbers"], found[7]["numbers"] = "[1, 2]", "", "[1, two, 3, 4, 5, 6, 7, 8]"
    return found


def table(of: list[dict[str, str]]) -> bytes:
    out = io.StringIO()
    written = csv.DictWriter(out, list(of[0]))
    written.writeheader()
    written.writerows(of)
    return out.getvalue().encode()


ROWS = rows()


@pytest.fixture(scope="module")
def strand(served: TestClient) -> Fits:
    found = Fits(served, bring_in(served, "entries.csv", table(ROWS)))
    found.change(weigh={"min_documents": 2, "max_share": 1.0})
    found.job("beside/word_map", {"neighbours": 5})
    found.job("beside/document_map", {"neighbours": 10})
    return found


def supply(strand: Fits, name: str, data: bytes, **more: Any) -> dict[str, Any]:
    sent = strand.client.post("/api/uploads/vectors", files={"file": (name, data)})
    assert sent.status_code == 200, sent.text
    return {"of": "file", "file": {key: sent.json()[key] for key in ("sha256", "name")}, **more}


def refused(strand: Fits, step: str, settings: Mapping[str, Any]) -> str:
    """What a job says that can't make a result."""
    number = strand.client.post(f"{strand.base}/beside/{step}", json=settings).json()["job"]
    return str(wait_for(strand.client, number, "failed")["error"])


def test_two_words_for_one_thing_are_each_others_nearest_by_their_contexts(strand: Fits) -> None:
    near = strand.get("relate/near-words/word", term="fog")
    assert near["nearest"][0]["display"] == "haar" and near["nearest"][0]["cosine"] > 0.95
    assert {each["display"] for each in near["contexts"]} & {"thick", "hid", "came"}
    assert strand.get("relate/near-words/word", term="Fog")["word"]["term"] == "fog"
    pair = strand.get("relate/near-words/pair", term="fog", other="haar")
    assert pair["lines"][0]["value"] == pytest.approx(near["nearest"][0]["cosine"], abs=1e-3)
    assert sum(each["adds"] for each in pair["shared"]) == pytest.approx(pair["lines"][1]["value"], abs=0.02)
    assert pair["documents"] == [sum(word in row["text"] for row in ROWS) for word in ("fog", "haar")] + [0]
    found = strand.get("relate/near-words/synonyms")["pairs"]
    assert {found[0]["one"]["term"], found[0]["other"]["term"]} == {"fog", "haar"} and not found[0]["in_row"]
    rule = [2 * each["documents"][2] >= min(each["documents"][:2]) for each in found]
    assert [each["in_row"] for each in found] == rule == sorted(rule)
    assert strand.client.get(f"{strand.base}/relate/near-words/word?term=whale").status_code == 422


def test_an_analogy_is_ranked_by_its_three_cosines(strand: Fits) -> None:
    found = strand.get("relate/near-words/analogy", first="thick", second="fog", third="hid")
    scores = [each["parts"][1] - each["parts"][0] + each["parts"][2] for each in found["found"]]
    assert scores == sorted(scores, reverse=True)
    assert [each["cosine"] for each in found["found"]] == pytest.approx(scores, abs=1e-4)
    assert not {"thick", "fog", "hid"} & {each["term"] for each in found["found"]}


def test_alike_documents_share_terms_that_add_up(strand: Fits) -> None:
    one = strand.get("relate/alike")["begin"]
    near = strand.get(f"relate/alike/documents/{one}")["nearest"]
    assert all(each["document"] % 2 == one % 2 for each in near) and near[0]["shares"]
    pair = strand.get(f"relate/alike/documents/{one}/{near[-1]['document']}")
    assert pair["lines"][0]["value"] == pytest.approx(near[-1]["cosine"], abs=1e-3)
    assert sum(each["adds"] for each in pair["shared"]) == pytest.approx(pair["lines"][1]["value"], abs=1e-6)
    found = strand.get("evidence", alike=one, alike_most=7, limit=10)
    assert found["total"] == 7 and [each["document"] for each in found["pieces"]] == [at["document"] for at in near[:7]]
    assert any(piece["kind"] == "marked" for piece in found["pieces"][0]["passage"])


def test_a_middle_is_that_of_its_documents_by_hand(strand: Fits) -> None:
    vectors = np.load(io.BytesIO(archive(strand)["document-vectors.npy"]))
    unit = vectors / np.linalg.norm(vectors, axis=1, keepdims=True)
    for falling, weights in (("equal", [1 / 3] * 3), ("falling", [6 / 11, 3 / 11, 2 / 11])):
        found = strand.get("relate/alike/middle", term="fog", first=3, falling=falling)
        assert found["weights"] == pytest.approx(weights) and found["total"] == sum("fog" in r["text"] for r in ROWS)
        middle = np.array(weights) @ unit[found["documents"]]
        cosine = unit @ middle / np.linalg.norm(middle)
        wanted = {key: each for key, each in found["request"].items() if each is not None}
        shown = strand.get("evidence", **wanted, limit=20)
        scores = [cosine[each["document"]] for each in shown["pieces"]]
        assert scores == pytest.approx(np.sort(cosine)[::-1][:20], abs=1e-4)
        assert [float(each["score"]) for each in shown["pieces"]] == pytest.approx(scores, abs=0.006)
    assert strand.client.get(f"{strand.base}/evidence?centre=99999").status_code == 422


def test_vectors_of_a_field_are_read_and_bad_rows_listed(served: TestClient) -> None:
    found = Fits(served, bring_in(served, "supplied.csv", table(ROWS)))
    assert "numbers" not in found.get("documents/0")["fields"]
    choices = found.get("relate/choices")
    assert choices["vector_fields"] == ["numbers"] and choices["naming_fields"] == ["entry"]
    assert choices["suggested"]["document_vectors"]["field"] == "numbers"
    found.job("beside/document_vectors", choices["suggested"]["document_vectors"])
    screen = found.get("relate/alike")
    assert (screen["documents"], screen["without"], screen["dimensions"]) == (117, 3, 8)
    bad = {each["name"]: each["reason"] for each in screen["bad"]}
    assert bad == {"003": "has 2 numbers where 8 are wanted", "007": "“two” is no number"}
    assert found.client.get(f"{found.base}/relate/alike/documents/5").status_code == 404
    placed = found.client.post(f"{found.base}/relate/alike/vector", json={"vector": "3 0 0 1 1 1 1 1"}).json()
    assert {each["document"] % 2 for each in placed["nearest"]} == {0}
    for vector, said in (("1 2", "2 numbers"), ("none of it", "no number")):
        answer = found.client.post(f"{found.base}/relate/alike/vector", json={"vector": vector})
        assert answer.status_code == 422 and said in answer.json()["detail"]
    # Another shape of the same documents has the vectors of those that it keeps.
    found.change(shape=[{"kind": "filter", "where": {"harbour": ["Kelpwick"]}}])
    found.job("beside/document_vectors", choices["suggested"]["document_vectors"])
    assert found.get("relate/alike")["documents"] == 60
    assert "role vector" in refused(found, "document_vectors", {"of": "field", "field": "harbour"})


def test_files_of_vectors_are_matched_by_order_or_by_name(served: TestClient, strand: Fits, tmp_path: Path) -> None:
    numbers = CHANCE.normal(size=(len(ROWS), 5)).astype(np.float32)
    whole = io.BytesIO()
    np.save(whole, numbers)
    found = Fits(served, bring_in(served, "by file.csv", table(ROWS)))
    found.job("beside/document_vectors", supply(found, "all.npy", whole.getvalue()))
    assert np.allclose(np.load(io.BytesIO(archive(found)["document-vectors.npy"])), numbers)
    order = CHANCE.permutation(len(ROWS))[:80]
    named = io.BytesIO()
    lists = [numbers[at].tolist() if at != order[4] else [1.0, None, 2.0, 3.0, 4.0] for at in order]
    pq.write_table(pa.table({"id": [ROWS[at]["entry"] for at in order] + ["none"], "v": [*lists, lists[0]]}), named)
    by_name = supply(found, "named.parquet", named.getvalue(), key="entry")
    found.job("beside/document_vectors", by_name)
    kept = np.load(io.BytesIO(archive(found)["document-vectors.npy"]))
    held = ~np.isnan(kept[:, 0])
    assert set(np.flatnonzero(held)) == {*order.tolist()} - {order[4]} and np.allclose(kept[held], numbers[held])
    (bad,) = found.get("relate/alike")["bad"]
    assert (bad["name"], bad["reason"]) == (ROWS[order[4]]["entry"], "holds what is no finite number")
    for settings, said in (
        (supply(found, "named.parquet", named.getvalue()), "81 vectors where 120 documents"),
        (supply(found, "all.npy", whole.getvalue(), key="entry"), "names no documents"),
    ):
        assert said in refused(found, "document_vectors", settings)
    assert "several documents" in refused(found, "document_vectors", {**by_name, "key": "harbour"})
    assert "neither an array" in refused(found, "document_vectors", supply(found, "x.npy", b"gale"))
    # A pattern names the file; it is given again where it is run.
    found.job("beside/document_vectors", by_name)
    pattern = read_pattern(served.get(f"{found.base}/pattern.json").text)
    (tmp_path / "entries.csv").write_bytes(table(ROWS))
    (tmp_path / "named.parquet").write_bytes(named.getvalue())
    with pytest.raises(UsageError, match=r"named\.parquet.*--vectors"):
        weave.run(pattern, [tmp_path / "entries.csv"], tmp_path / "out")
    weave.run(pattern, [tmp_path / "entries.csv"], tmp_path / "out", vectors=[tmp_path / "named.parquet"])
    assert (tmp_path / "out" / "document-vectors.npy").read_bytes() == archive(found)["document-vectors.npy"]


def test_word_vectors_of_a_file_are_those_of_the_corpus(strand: Fits, served: TestClient) -> None:
    found = Fits(served, bring_in(served, "words.csv", table(ROWS)))
    lines = b"3 2\nfog 1 0.1\nhaar 1 0.2\noil 0 1\nwhale 5 5\npier x 1\n"
    found.job("beside/word_vectors", {"file": supply(found, "words.txt", lines)["file"]})
    screen = found.get("relate/near-words")
    assert (screen["words"], screen["bad_lines"], screen["has_contexts"]) == (3, 1, False)
    near = found.get("relate/near-words/word", term="fog")
    assert near["nearest"][0]["term"] == "haar" and near["contexts"] == []
    assert served.get(f"{found.base}/relate/near-words/vectors.txt").text.startswith("3 2\n")
    others = {"file": supply(found, "no.txt", b"whale 1 2\n")["file"]}
    assert "no line of a word" in refused(found, "word_vectors", others)


def archive(strand: Fits) -> dict[str, bytes]:
    """The archive of a strand, with a fit where it has none yet."""
    if not strand.get("")["summaries"]["fit"]:
        strand.fit(method="lda", topics=2, iterations=20, seed=1)
    answer = strand.client.get(f"{strand.base}/export.zip")
    assert answer.status_code == 200, answer.text[:500]
    found = zipfile.ZipFile(io.BytesIO(answer.content))
    return {name: found.read(name) for name in found.namelist()}


def places(strand: Fits, of: str = "documents") -> tuple[list[int], NDArray[np.float64], dict[str, Any]]:
    shown = strand.get(f"relate/maps/{of}")
    return shown["items"], np.stack([shown["x"], shown["y"]], axis=1), shown


def test_what_is_drawn_round_is_what_lies_in_it(strand: Fits) -> None:
    items, at, shown = places(strand)
    assert sorted(items) == list(range(120)) and shown["trust"] > 0.7 and "axes mean nothing" in shown["says"]
    x, y = (np.sort(column)[[30, 90]] for column in at.T)
    corners = [(x[0], y[0]), (x[1], y[0]), (x[1], y[1]), (x[0], y[1])]
    inside = (at[:, 0] > x[0]) & (at[:, 0] < x[1]) & (at[:, 1] > y[0]) & (at[:, 1] < y[1])
    wanted = {item for item, held in zip(items, inside, strict=True) if held}
    area = " ".join(f"{a},{b}" for a, b in corners)
    found = strand.get("evidence", area=area, limit=50)
    assert abs(found["total"] - len(wanted)) <= 4 and "drawn round" in found["title"]  # its corners are points
    assert len({each["document"] for each in found["pieces"]} - wanted) <= 4
    on = strand.get("relate/maps/documents/selected", area=area)
    assert len(on["items"]) == found["total"] == len(on["rows"]) and 0 <= on["trust"] <= 1
    alone = strand.get("evidence", area=area, area_by="field harbour", area_only="0")
    both = strand.get("evidence", area=area, field="harbour", value="Kelpwick")
    assert alone["total"] == both["total"] <= found["total"]
    for wrong in ("1,2 3,4", "a,b c,d e,f", "dense 999"):
        assert strand.client.get(f"{strand.base}/evidence", params={"area": wrong}).status_code == 422


def test_dense_areas_are_called_by_their_own_words_and_coloured(strand: Fits) -> None:
    shown = strand.get("relate/maps/documents/areas")
    assert shown["areas"] and sum(each["items"] for each in shown["areas"]) + shown["outside"] == 120
    for each in shown["areas"]:
        found = strand.get("evidence", area=f"dense {each['area']}", limit=50)
        assert found["total"] == each["items"] and found["title"] == each["name"]
        first = each["name"].split(" ")[0]
        texts = [ROWS[piece["document"]]["text"] for piece in found["pieces"]]
        assert sum(first[:4] in text for text in texts) > len(texts) / 4
    colours = strand.get("relate/maps/documents/colours", by="field harbour")
    items, _, _ = places(strand)
    assert [colours["values"][code] for code in colours["codes"]] == [ROWS[item]["harbour"] for item in items]
    point = strand.get(f"relate/maps/documents/points/{items[0]}")
    assert point["passage"] == ROWS[items[0]]["text"] and point["name"] == ROWS[items[0]]["entry"]
    working = strand.get("relate/maps/documents/working")["lines"][0]
    assert working["value"] == pytest.approx(places(strand)[2]["trust"])
    assert strand.client.get(f"{strand.base}/relate/maps/documents/colours?by=field none").status_code == 404


def test_an_area_of_words_has_the_documents_that_hold_them(strand: Fits) -> None:
    shown = strand.get("relate/maps/words/areas")
    area = shown["areas"][0]
    found = strand.get("evidence", area=f"dense {area['area']}", area_of="words", limit=5)
    assert found["total"] > 0 and "words of the area" in found["why"]
    marked = {piece["text"].lower() for piece in found["pieces"][0]["passage"] if piece["kind"] == "marked"}
    assert set(area["name"].split()) & marked
    rows = list(csv.DictReader(io.StringIO(strand.client.get(f"{strand.base}/relate/maps/words/map.csv").text)))
    assert sum(row["words of the area"] == area["name"] for row in rows) == area["items"]


def test_the_demos_map_shows_its_themes(served: TestClient, entries: list[Entry]) -> None:
    found = Fits(served, bring_in(served, "entries.csv", table([each.row for each in entries])))
    found.job("beside/document_map", {})
    items, at, shown = places(found)
    assert shown["trust"] >= 0.9
    themes = [max(each.mixture, key=lambda theme: each.mixture[theme]) if each.mixture else "" for each in entries]
    kept = [place for place, item in enumerate(items) if themes[item]]
    grouped = k_means(
        scipy.sparse.csr_matrix((at - at.min() + 1e-6)[kept]), GroupSettings(groups=12, spherical=False, starts=20)
    )
    wanted = np.array([THEMES.index(themes[items[place]]) for place in kept])
    assert adjusted_rand_index(grouped.group, wanted) >= 0.8
