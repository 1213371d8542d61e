"""Relate as it is used: made, read, handed on, out of date, in other hands."""

from __future__ import annotations

import csv
import io
import json
import zipfile
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient
from scipy.cluster.hierarchy import fcluster
from scipy.cluster.hierarchy import linkage as scipy_linkage
from scipy.stats import chi2_contingency

from skeinwork.core.errors import BadInputError
from skeinwork.core.relate.agreement import adjusted_rand_index
from skeinwork.work.exports.pattern import read_pattern
from tests.conftest import bring_in, wait_for

THEMES = {
    "storm": "storm surge swell breakwater wall mooring spray".split(),
    "ferry": "ferry ticket passengers crossing ramp timetable queue".split(),
    "birds": "colony nests gulls terns ledge petrels eggs".split(),
}
CHANCE = np.random.default_rng(8)
ROWS = [
    (
        " ".join(CHANCE.choice(THEMES[theme], 9)) + " harbour watch",
        ("Kelpwick", "Quellan")[int(CHANCE.random() < (0.8 if theme == "storm" else 0.4))],
        f"keeper{at % 20}",
        theme,
    )
    for at, theme in enumerate(CHANCE.choice(list(THEMES), 150))
]
TABLE = ("text,harbour,keeper,theme\n" + "".join(f"{','.join(row)}\n" for row in ROWS)).encode()


@pytest.fixture(scope="module")
def strand(served: TestClient) -> int:
    number = bring_in(served, "rows.csv", TABLE)
    make(served, number, "tree", most=30)
    make(served, number, "groups", groups=3)
    make(served, number, "group_words", field="harbour", unit="keeper")
    return number


def make(served: TestClient, strand: int, step: str, **settings: Any) -> None:
    answer = served.post(f"/api/strands/{strand}/beside/{step}", json=settings)
    assert answer.status_code == 202, answer.text
    wait_for(served, answer.json()["job"])


def get(served: TestClient, strand: int, path: str, **query: Any) -> Any:
    answer = served.get(f"/api/strands/{strand}/{path}".rstrip("/"), params=query)
    assert answer.status_code == 200, answer.text
    return answer.json()


def ply(served: TestClient, strand: int, step: str) -> dict[str, Any]:
    return next(each for each in get(served, strand, "")["beside"] if each["step"] == step)


def test_the_tree_joins_what_goes_together_as_the_reference_does(served: TestClient, strand: int) -> None:
    found = get(served, strand, "relate/tree", number=3)
    table = csv.reader(io.StringIO(served.get(f"/api/strands/{strand}/relate/tree/distances.csv").text))
    header, *rows = list(table)
    between = np.array([[float(cell) for cell in row[1:]] for row in rows])
    assert header[1:] == found["labels"] and np.allclose(between, between.T)
    reference = fcluster(scipy_linkage(between[np.triu_indices(len(between), 1)], "ward"), 3, "maxclust")
    ours = np.zeros(len(between), dtype=int)
    for at, cluster in enumerate(found["clusters"]):
        assert cluster["size"] == len(cluster["words"])
        ours[[found["labels"].index(word) for word in cluster["words"]]] = at
    assert adjusted_rand_index(ours, reference) == 1.0
    themed = {theme: {ours[found["labels"].index(word)] for word in words} for theme, words in THEMES.items()}
    assert all(len(each) == 1 for each in themed.values()) and len(set.union(*themed.values())) == 3
    assert get(served, strand, "relate/tree", height=found["heights"][-1])["number"] == 1
    near = get(served, strand, "relate/tree/items/0")
    assert near["nearest"][0]["distance"] == pytest.approx(np.sort(between[0])[1], abs=1e-5)
    pair = get(served, strand, "relate/tree/items/0/1")
    assert pair["line"]["value"] == pytest.approx(between[0, 1], abs=1e-5) and pair["shared"] <= pair["either"]
    assert served.get(f"/api/strands/{strand}/relate/tree/items/99").status_code == 404


def test_a_branch_has_the_documents_that_hold_its_words(served: TestClient, strand: int) -> None:
    storm = next(
        each for each in get(served, strand, "relate/tree", number=3)["clusters"] if set(each["words"]) & {"swell"}
    )
    found = get(served, strand, "evidence", branch=storm["node"], limit=50)
    assert found["total"] == sum(row[3] == "storm" for row in ROWS)
    marked = {s["text"].lower() for s in found["pieces"][0]["passage"] if s["kind"] == "marked"}
    assert marked and marked <= set(THEMES["storm"])
    assert served.get(f"/api/strands/{strand}/evidence", params={"branch": 9999}).status_code == 422


def test_groups_are_the_themes_and_each_figure_has_its_documents(served: TestClient, strand: int) -> None:
    found = get(served, strand, "relate/groups")
    assert found["documents"] == 150 and sum(each["size"] for each in found["groups"]) == 150
    assert found["within"] == pytest.approx(sum(each["within"] for each in found["groups"]))
    assert found["between"] == pytest.approx(1 - found["within"] / found["total"])
    by_theme = get(served, strand, "relate/groups/by/theme")
    assert by_theme["agreement"] == 1.0 and by_theme["documents"] == 150
    table = np.array(get(served, strand, "relate/groups/by/harbour")["counts"])
    expected = get(served, strand, "relate/groups/by/harbour")["expected"]
    np.testing.assert_allclose(expected, chi2_contingency(table).expected_freq)
    for group in found["groups"]:
        members = get(served, strand, "evidence", members=group["group"], limit=1)
        assert members["total"] == group["size"] and members["pieces"][0]["document"] == group["medoid"]
        at_border = get(served, strand, "evidence", members=group["group"], border=True, limit=1)
        assert at_border["total"] == group["border"]
        word = group["words"][0]
        with_it = get(served, strand, "evidence", term=word["term"], group=group["group"], limit=50)
        assert 0 < with_it["total"] <= word["inside"]
        figures = get(served, strand, "relate/groups/working", group=group["group"])["lines"]
        assert [line["value"] for line in figures] == pytest.approx([group["mean_apart"], found["between"]])
        figures = get(served, strand, "relate/groups/working", group=group["group"], term=word["term"])["lines"]
        assert {line["name"]: line["value"] for line in figures}["weighted log odds"] == word["log_odds"]
    means = get(served, strand, "relate/groups/means")
    for row in means["rows"]:
        assert row["means"][row["highest"]] == max(row["means"])


def test_words_of_a_group_with_their_working(served: TestClient, strand: int) -> None:
    screen = get(served, strand, "relate/group-words")
    names = [each["name"] for each in screen["groups"]]
    quellan = names.index("Quellan")
    found = get(served, strand, "relate/group-words/words", group=quellan)
    assert {word["display"] for word in found["words"][:5]} <= set(THEMES["storm"])
    first = found["words"][0]
    tokens = [row[0].split() for row in ROWS if row[1] == "Quellan"]
    assert first["inside"] == sum(each.count(first["display"]) for each in tokens)
    assert first["units"] == len({row[2] for row in ROWS if row[1] == "Quellan" and first["display"] in row[0].split()})
    assert found["units"] == 20 and first["low"] < first["log_ratio"] < first["high"]
    working = get(served, strand, "relate/group-words/working", group=quellan, term=first["term"])
    values = {line["name"]: line["value"] for line in working["lines"]}
    assert values["G²"] == first["likelihood"] and values["p by unit"] == first["p"]
    less = get(served, strand, "relate/group-words/words", group=quellan, less=True)
    other = get(served, strand, "relate/group-words/words", group=1 - quellan)
    assert [word["term"] for word in less["words"]] == [word["term"] for word in other["words"]]
    facing = get(served, strand, "relate/group-words/words", group=quellan, against=1 - quellan)
    assert [word["p"] for word in facing["words"]] == pytest.approx([word["p"] for word in found["words"]])
    grid = get(served, strand, "relate/group-words/grid")
    cells = {
        (row["display"], group["name"]): cell
        for row in grid["rows"]
        for group, cell in zip(grid["groups"], row["cells"], strict=True)
    }
    assert (
        cells[first["display"], "Quellan"]["n"] == first["inside"]
        and cells[first["display"], "Quellan"]["residual"] > 0
    )
    refused = served.get(f"/api/strands/{strand}/relate/group-words/words", params={"group": 0, "against": 0})
    assert refused.status_code == 422 and "another than itself" in refused.text


def test_what_is_selected_is_compared_and_groups_become_a_field(served: TestClient, strand: int) -> None:
    fork = served.post(f"/api/strands/{strand}/fork", json={"name": "other"}).json()["strand"]
    job = served.post(f"/api/strands/{fork}/relate/group-words/selection", json={"term": "ferri"})
    assert job.status_code == 202, job.text
    wait_for(served, job.json()["job"])
    groups = get(served, fork, "relate/group-words")["groups"]
    assert groups[0]["name"] == "ferry" and sum(each["documents"] for each in groups) == 150
    assert get(served, fork, "relate/group-words/words", group=0)["words"][0]["display"] in THEMES["ferry"]
    everything = served.post(f"/api/strands/{fork}/relate/group-words/selection", json={"words_from": 1})
    assert everything.status_code == 422 and "nothing to compare" in everything.text
    revision = get(served, fork, "")["revision"]
    kept = served.post(f"/api/strands/{fork}/relate/groups/field", json={"name": "kind", "revision": revision})
    assert kept.status_code == 200, kept.text
    wait_for(served, served.post(f"/api/strands/{fork}/rebuild").json()["job"])
    assert ply(served, fork, "groups")["state"] == "empty"  # of other documents now
    make(served, fork, "groups", groups=3)
    crossed = get(served, fork, "relate/groups/by/kind")
    assert crossed["agreement"] == 1.0
    again = served.post(f"/api/strands/{fork}/relate/groups/field", json={"name": "kind", "revision": revision + 9})
    assert again.status_code == 422 and "already" in again.text


def test_results_go_out_of_date_with_the_matrix_and_say_what_is_wrong(served: TestClient, strand: int) -> None:
    fork = served.post(f"/api/strands/{strand}/fork", json={"name": "third"}).json()["strand"]
    now = get(served, fork, "")
    wanted = {**now["wanted"], "weigh": {**now["wanted"]["weigh"], "min_documents": 30}}
    served.put(f"/api/strands/{fork}/wanted", json={"revision": now["revision"], "wanted": wanted})
    assert {ply(served, fork, step)["state"] for step in ("tree", "groups", "group_words")} == {"stale"}
    assert get(served, fork, "relate/tree")["labels"] == get(served, strand, "relate/tree")["labels"]
    for step, settings, said in (
        ("tree", {"picked": ["nowhere"]}, "no terms of the matrix"),
        ("groups", {"groups": 400}, "more than the 150"),
        ("group_words", {}, "one of these"),
        ("group_words", {"field": "nothing"}, "no field"),
    ):
        answer = served.post(f"/api/strands/{fork}/beside/{step}", json=settings)
        job = wait_for(served, answer.json()["job"], "failed")
        assert said in job["error"], job["error"]
    assert served.post(f"/api/strands/{fork}/beside/tree", json={"distance": "miles"}).status_code == 422


def test_everything_is_in_the_archive_and_in_the_pattern(served: TestClient, strand: int) -> None:
    make(served, strand, "group_counts", most=5, seeds=2)
    counts = get(served, strand, "relate/group-counts")
    lines = get(served, strand, "relate/group-counts/working", groups=3)["lines"]
    worked = {line["name"]: line["value"] for line in lines}
    for measure in counts["measures"]:
        assert worked[measure["title"]] == pytest.approx(np.mean(measure["values"][1]), abs=1e-6)
    y = np.mean(counts["measures"][0]["values"], axis=1)
    assert worked["Bend of the inertia"] == pytest.approx(abs((y[1] - y[0]) / (y[-1] - y[0]) - 1 / 3), abs=1e-5)
    assert served.get(f"/api/strands/{strand}/relate/group-counts/working?groups=9").status_code == 422
    assert [each["suggested"] for each in counts["measures"] if each["key"] == "silhouette"] == [3]
    wait_for(served, served.post(f"/api/strands/{strand}/fits", json={"topics": 3, "iterations": 30}).json()["job"])
    archive = zipfile.ZipFile(io.BytesIO(served.get(f"/api/strands/{strand}/export.zip").content))
    rows = {
        name: list(csv.DictReader(io.StringIO(archive.read(name).decode("utf-8-sig"))))
        for name in ("clusters.csv", "document-groups.csv", "group-counts.csv", "group-words.csv")
    }
    assert len(rows["document-groups.csv"]) == 150 and len(rows["clusters.csv"]) == 21
    assert {row["groups"] for row in rows["group-counts.csv"]} == {"2", "3", "4", "5"}
    assert {row["group"] for row in rows["group-words.csv"]} == {"Kelpwick", "Quellan"}
    assert archive.read("tree.nwk").decode().count(":") == 2 * len(rows["clusters.csv"]) - 2
    pattern = json.loads(archive.read("pattern.json"))
    assert set(pattern["beside"]) == {"tree", "groups", "group_counts", "group_words"}
    assert pattern["beside"]["group_words"] | {"field": "harbour", "unit": "keeper"} == pattern["beside"]["group_words"]
    assert "tree.nwk" in archive.read("README.txt").decode()
    pattern["beside"]["map"] = {}
    with pytest.raises(BadInputError, match="map"):
        read_pattern(json.dumps(pattern))


def test_a_dozen_short_comments_fall_into_few_groups(served: TestClient) -> None:
    said = ["loud music at night", "music too loud", "night noise", "no trees", "plant trees", "more trees please"] * 2
    strand = bring_in(served, "comments.csv", ("text\n" + "\n".join(said) + "\n").encode())
    make(served, strand, "groups", groups=2, method="k-medoids")
    found = get(served, strand, "relate/groups")
    assert [each["size"] for each in found["groups"]] == [6, 6]
    make(served, strand, "tree", of="documents", resamples=0)
    tree = get(served, strand, "relate/tree", number=2)
    assert sorted(each["size"] for each in tree["clusters"]) == [6, 6] and "no tree was made anew" in tree["sure"]


def test_chosen_documents_stay_the_same_when_another_file_comes_before(served: TestClient, strand: int) -> None:
    fork = served.post(f"/api/strands/{strand}/fork", json={"name": "fourth"}).json()["strand"]
    wait_for(
        served, served.post(f"/api/strands/{fork}/relate/group-words/selection", json={"term": "ferri"}).json()["job"]
    )
    chosen = get(served, fork, "")["wanted"]["beside"]["group_words"]["numbers"]
    assert [row[0].split().count("ferry") > 0 for row in ROWS] == [number in chosen for number in range(150)]
    part = TABLE[: TABLE.index(b"\n", 400) + 1]
    before = served.post("/api/uploads", files={"file": ("before.csv", part)}).json()
    first = get(served, fork, "files")
    files = [{key: each[key] for key in ("sha256", "name", "settings")} for each in (before, *first["files"])]
    made = served.post(f"/api/strands/{fork}/gather", params={"base": first["base"]}, json={"files": files})
    assert made.status_code == 200, made.text
    wait_for(served, made.json()["job"])
    after = get(served, fork, "")["wanted"]["beside"]["group_words"]["numbers"]
    assert after == [number + part.count(b"\n") - 1 for number in chosen]
