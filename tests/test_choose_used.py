"""Choose through the API: sweeps with their twins, measures and workings, what lies between counts, a choice kept."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient

from skeinwork.demo.generator import write_files
from skeinwork.server.app import make_app
from skeinwork.server.run import open_state
from skeinwork.store.artefacts import ArtefactStore
from tests.conftest import bring_in, choose, wait_for

SWEEP = {"counts": [3, 5, 8], "seeds": [1, 2], "iterations": 60}


class Swept:
    """A strand that was swept, and what its folder holds."""

    def __init__(self, client: TestClient, strand: int, folder: Path) -> None:
        self.client, self.strand, self.folder = client, strand, folder
        self.base = f"/api/strands/{strand}"

    def get(self, path: str, **query: Any) -> Any:
        answer = self.client.get(f"{self.base}/{path}", params=query)
        assert answer.status_code == 200, answer.text
        return answer.json()

    def job(self, path: str, body: dict[str, Any]) -> dict[str, Any]:
        return wait_for(self.client, self.client.post(f"{self.base}/{path}", json=body).json()["job"])

    def files(self) -> dict[str, bytes]:
        """The bytes of all results but when they were made."""
        root = self.folder / "results"
        return {str(each.relative_to(root)): each.read_bytes() for each in root.rglob("*.npy")}


@pytest.fixture(scope="module")
def entries(tmp_path_factory: pytest.TempPathFactory) -> bytes:
    return write_files(tmp_path_factory.mktemp("entries"), size=260).read_bytes()


@pytest.fixture(scope="module")
def swept(tmp_path_factory: pytest.TempPathFactory, entries: bytes) -> Iterator[Swept]:
    folder = tmp_path_factory.mktemp("swept")
    with TestClient(make_app(open_state(folder, workers=2)), base_url="http://localhost") as client:
        made = Swept(client, bring_in(client, "entries.csv", entries), folder)
        made.job("sweeps", SWEEP)
        yield made


def test_a_sweep_holds_a_fifth_out_and_fits_dealt_out_words_beside(swept: Swept) -> None:
    found = swept.get("fits")
    assert len(found["fits"]) == 6 and len(found["chance"]) == 6 and not found["unmeasured"]
    store = ArtefactStore(swept.folder / "results")
    for each in found["fits"]:
        assert each["measured"] and each["measures"]["held_out"] == pytest.approx(each["gain"]["mean"])
        made = store.open(each["identity"])
        test = store.open(made.making.inputs[0]).array("test")
        assert 0.15 < test.mean() < 0.25
        assert made.array("foretold_tokens").sum() > 0
    # The strand's own matrix has all documents, and its versions leave out what is for comparing alone.
    assert "held out" not in swept.client.get(swept.base).json()["plies"][2]["said"]["size"]
    assert len(swept.get("versions/matrix")) == 1 and swept.get("versions/fit") == []
    real = max(each["measures"]["coherence"] for each in found["fits"])
    assert real > max(each["measures"]["coherence"] for each in found["chance"])


def test_measures_by_other_words_and_texts(swept: Swept, entries: bytes) -> None:
    ten, five = swept.get("fits"), swept.get("fits", top=5, by="c_v")
    assert (five["top"], five["by"]) == (5, "c_v")
    assert five["fits"][0]["measures"]["uci"] != ten["fits"][0]["measures"]["uci"]
    assert five["fits"][0]["measures"]["held_out"] == ten["fits"][0]["measures"]["held_out"]
    assert swept.client.get(f"{swept.base}/fits", params={"top": 7}).status_code == 422
    other = bring_in(
        swept.client, "others.csv", entries.splitlines()[0] + b"\n" + b"\n".join(entries.splitlines()[1:90])
    )
    (there,) = [each for each in swept.get("references") if "others" in each["title"] or "89" in each["title"]]
    assert swept.get("fits", reference=there["cleaning"])["unmeasured"] == 6
    swept.job("measures", {"reference": there["cleaning"]})
    again = swept.get("fits", reference=there["cleaning"])
    assert not again["unmeasured"]
    assert again["fits"][0]["measures"]["coherence"] != ten["fits"][0]["measures"]["coherence"]
    assert again["fits"][0]["measures"]["exclusivity"] == ten["fits"][0]["measures"]["exclusivity"]
    fit = again["fits"][0]
    for key in ("coherence", "umass"):
        worked = swept.get(f"fits/{fit['identity']}/measures/{key}", reference=there["cleaning"])
        values = [each["value"] for each in worked["topics"] if each["value"] is not None]
        assert np.mean(values) == pytest.approx(fit["measures"][key]) == pytest.approx(worked["value"])
    refused = swept.client.post(f"{swept.base}/measures", json={"reference": "0" * 64})
    assert refused.status_code == 404 and other


def test_what_is_left_out_does_not_count(swept: Swept) -> None:
    found = swept.get("fits", leaving=["stability", "held_out"])
    assert all(each["stability"] is None and each["held_out"] is None for each in found["candidates"])


def test_workings_add_up(swept: Swept) -> None:
    found = swept.get("fits")
    fit = found["fits"][2]
    for key in ("coherence", "c_v", "umass", "uci", "exclusivity", "diversity"):
        worked = swept.get(f"fits/{fit['identity']}/measures/{key}", topic=1)
        values = [each["value"] for each in worked["topics"] if each["value"] is not None]
        assert np.mean(values) == pytest.approx(fit["measures"][key]) == pytest.approx(worked["value"])
        parts = [each["value"] for each in worked["parts"]]
        assert np.mean(parts) == pytest.approx(worked["topics"][worked["topic"]]["value"]) and parts == sorted(parts)
    pair = swept.get(f"fits/{fit['identity']}/measures/coherence")["parts"][-1]
    evidence = swept.get("evidence", term=pair["terms"][0], with_term=pair["terms"][1])
    assert 0 < evidence["total"] < evidence["corpus"] and "and" in evidence["title"]
    alone = swept.get("evidence", term=pair["terms"][0])
    assert alone["total"] >= evidence["total"]
    steady = swept.get(f"fits/{fit['identity']}/measures/stability")
    assert len(steady["matches"]) == 1
    mean = np.mean([each["value"] for each in steady["topics"] if each["value"] is not None])
    assert mean == pytest.approx(fit["measures"]["stability"])
    told = swept.get(f"fits/{fit['identity']}/measures/held_out")
    weighed = np.average([d["better"] for d in told["foretold"]], weights=[d["words"] for d in told["foretold"]])
    assert weighed == pytest.approx(told["value"])
    assert swept.get(f"fits/{fit['identity']}/measures/settled")["lines"]
    assert swept.client.get(f"{swept.base}/fits/{fit['identity']}/measures/none").status_code == 404


def test_ribbons_join_the_topics_of_counts_and_lead_to_documents(swept: Swept) -> None:
    found = swept.get("between-counts", counts=[3, 5, 8])
    assert [column["topics"] for column in found["columns"]] == [3, 5, 8]
    assert len(found["said"]) == 2 and all("stay" in each for each in found["said"])
    for ribbon in found["ribbons"]:
        assert max(ribbon["of_was"], ribbon["of_now"]) >= 0.5
        was, now = (found["columns"][ribbon["column"] + at] for at in (0, 1))
        if ribbon["became"] == "same":
            assert was["of"][ribbon["was"]]["dye"] == now["of"][ribbon["now"]]["dye"]
    for column in found["columns"]:
        assert len({each["dye"] for each in column["of"]}) == column["topics"]
        assert all(0 <= each["found"] <= each["fits"] <= 5 for each in column["of"])
    first, second = found["columns"][:2]
    ribbon = found["ribbons"][0]
    asked = {"of_fit": second["identity"], "other_fit": first["identity"], "was": ribbon["was"], "now": ribbon["now"]}
    assert swept.get("evidence", **asked)["total"] > 0
    topic = swept.get("evidence", of_fit=first["identity"], topic=0)
    assert topic["pieces"][0]["name"] and topic["total"] > 0
    assert swept.get("between-counts")["columns"]


def test_a_sweep_is_timed_before_it_is_begun(swept: Swept) -> None:
    asked = {"counts": [3, 4], "seeds": [1, 2], "iterations": 60}
    found = swept.client.post(f"{swept.base}/sweep-time", json=asked).json()
    assert (found["fits"], found["there"], found["twins"]) == (2, 2, 4) and found["seconds"] > 0
    longer = swept.client.post(f"{swept.base}/sweep-time", json={**asked, "iterations": 600}).json()
    assert longer["seconds"] > found["seconds"]


def test_a_sweep_over_methods_and_further_iterations_extends_what_is_there(swept: Swept) -> None:
    before = {each["identity"] for each in swept.get("fits")["fits"]}
    swept.job("sweeps", {**SWEEP, "counts": [3], "methods": ["lda", "nmf"], "iterations": 80})
    found = swept.get("fits")
    assert len(found["series"]) == 2
    longer = [each["settings"]["iterations"] for each in found["fits"] if each["settings"]["topics"] == 3]
    assert longer == [80, 80] and len(before & {each["identity"] for each in found["fits"]}) == 4
    other = swept.get("fits", series=next(at for at, name in enumerate(found["series"]) if "NMF" in name))
    assert [each["measures"]["reconstruction"] is not None for each in other["fits"]] == [True]
    refused = swept.client.post(f"{swept.base}/sweeps", json={**SWEEP, "methods": ["none"]})
    assert refused.status_code == 422


def test_a_choice_is_kept_with_its_reason_and_goes_on_with_all_documents(swept: Swept) -> None:
    found = swept.get("fits")
    fit = next(each for each in found["fits"] if each["settings"]["topics"] == 5)
    column = swept.get("between-counts", counts=[5])["columns"][0]
    vote = {"fit": fit["identity"], "topic": 4, "vote": "not a topic"}
    assert swept.client.put(f"{swept.base}/votes", json=vote).json() == vote
    assert swept.client.put(f"{swept.base}/votes", json={**vote, "topic": 77}).status_code == 404
    votes = [each["vote"] for each in swept.get("between-counts", counts=[5])["columns"][0]["of"]]
    assert votes.count("not a topic") == (1 if column["identity"] == fit["identity"] else 0)
    assert swept.get("choice") == {"choice": None}
    taken = choose(swept.client, swept.strand, fit["identity"], reason="Five can be told apart.")
    record = swept.client.get(swept.base).json()
    assert {ply["state"] for ply in record["plies"]} == {"ready"} and taken != fit["identity"]
    choice = swept.get("choice")["choice"]
    assert choice["there"] and choice["reason"] == "Five can be told apart." and choice["topics"] == 5
    assert (
        any("not a topic" in each for each in choice["said"]["votes"]) and "topics stayed the same" in choice["changed"]
    )
    assert next(each for each in swept.get("fits")["fits"] if each["current"])["identity"] == fit["identity"]
    # It has all documents, begins at the topics that were chosen, and the other seed went on too.
    store = ArtefactStore(swept.folder / "results")
    model = store.open(taken)
    assert (model.array("doc_topic").sum(axis=1) > 0).sum() > 0.95 * len(model.array("doc_topic"))
    assert model.making.settings["continues"] == {
        "iterations": fit["settings"]["iterations"],
        "split": {"share": 0.2, "count": None, "outcome": None, "together": None, "seed": 1},
    }
    assert {each["seeds"] for each in swept.get("topics")["topics"]} == {1}
    file = swept.client.get(f"/api/skeins/{record['skein']}/file").content
    kept = json.loads(zipfile.ZipFile(io.BytesIO(file)).read("skein.json"))["strands"][0]
    assert kept["choices"][0]["reason"] == "Five can be told apart." and kept["votes"] == [vote]
    pattern = swept.client.get(f"{swept.base}/pattern.json").json()
    assert pattern["fit"]["continues"]["iterations"] == fit["settings"]["iterations"]


def test_one_worker_and_an_interruption_give_the_same_bytes(tmp_path: Path, entries: bytes) -> None:
    """Two workers in one go; one that stops in the middle, then an extension."""

    def sweeping(folder: Path, workers: int, *requests: dict[str, Any]) -> dict[str, bytes]:
        with TestClient(make_app(open_state(folder, workers=workers)), base_url="http://localhost") as client:
            made = Swept(client, bring_in(client, "entries.csv", entries), folder)
            for request in requests:
                job = client.post(f"{made.base}/sweeps", json=request).json()["job"]
                if request is not requests[-1]:
                    client.post(f"/api/jobs/{job}/cancel")
                    wait_for(client, job, "cancelled")
                else:
                    wait_for(client, job)
        return made.files()

    whole = {"counts": [3, 5], "seeds": [1, 2], "iterations": 40}
    one = sweeping(tmp_path / "one", 2, whole)
    two = sweeping(tmp_path / "two", 1, {**whole, "counts": [3]}, whole)
    assert {name: data for name, data in two.items() if name in one} == one
