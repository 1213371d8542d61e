"""Whatever is altered in the file of a skein: refused with a sentence, or harmless."""

from __future__ import annotations

import json
import os
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from skeinwork.core.errors import BadInputError
from skeinwork.server.app import make_app
from skeinwork.work.strands import skein_file
from tests.altered import ARRAYS, ODD, Members, altered_array, members, nodes, packed, sealed, with_node
from tests.conftest import wait_for
from tests.on_thread import open_on_thread
from tests.test_skeins import skein_of, work_through

ROUNDS = int(os.environ.get("SKEINWORK_ALTERED", "30"))
ASKED = (
    "",
    "overview",
    "documents",
    "documents/0",
    "documents/0?marks=cleaning",
    "documents/3?marks=topics",
    "documents?find=ferry",
    "vocabulary",
    "fits",
    "topics",
    "survivors",
    "specimen?document=2",
    "word?word=ferry",
    "word-forms",
    "suggested-words",
    "phrases",
    "names",
    "tags",
    "evidence?topic=0",
    "evidence?term=ferry",
    "opening/fit",
    "opening/corpus",
    "versions/corpus",
    "versions/fit",
    "files",
    "rejected",
    "matrix/grid",
    "matrix/cell?term=ferry&document=1",
    "matrix/cells",
    "matrices",
    "vocabulary/curves",
    "top-terms",
    "weights",
    "prevalence?by=harbour",
    "differences?by=harbour",
    "relate/choices",
    "relate/tree",
    "relate/tree?number=2",
    "relate/tree/items/0",
    "relate/tree/items/0/1",
    "relate/tree/distances.csv",
    "relate/groups",
    "relate/groups/means",
    "relate/groups/by/harbour",
    "relate/groups/working?group=0",
    "relate/group-counts",
    "relate/group-words",
    "relate/group-words/words?group=0",
    "relate/group-words/words?group=0&against=1&kind=names",
    "relate/group-words/grid",
    "relate/near-words",
    "relate/near-words/word?term=ferry",
    "relate/near-words/pair?term=ferry&other=ticket",
    "relate/near-words/analogy?first=ferry&second=ticket&third=gale",
    "relate/near-words/synonyms",
    "relate/near-words/vectors.txt",
    "relate/alike",
    "relate/alike/documents/1",
    "relate/alike/documents/1/2",
    "relate/alike/middle?term=ferry",
    "relate/maps/documents",
    "relate/maps/topics/areas",
    "relate/maps/words",
    "relate/maps/words/areas",
    "relate/maps/words/map.csv",
    "relate/maps/documents/colours?by=field harbour",
    "relate/maps/topics/selected?term=ferry",
    "relate/maps/documents/working",
    "relate/maps/documents/points/1",
    "evidence?area=dense 0",
    "evidence?area=dense 0&area_of=words",
    "evidence?alike=1",
    "evidence?centre=1.2",
    "evidence?branch=3",
    "evidence?members=0&border=true",
    "evidence?term=ferry&group=1",
    "opening/tree",
    "opening/groups",
    "opening/group_words",
    "opening/word_vectors",
    "opening/document_map",
    "events",
    "pattern.json",
    "export.zip",
)
BESIDE: dict[str, dict[str, object]] = {
    "tree": {"most": 6, "resamples": 2},
    "groups": {"groups": 2},
    "group_counts": {"most": 3, "seeds": 2},
    "group_words": {"field": "harbour"},
    "word_map": {"neighbours": 3},
    "document_vectors": {"dimensions": 3},
    "document_map": {"neighbours": 5},
    "topic_map": {},
}


@pytest.fixture(scope="module")
def written(tmp_path_factory: pytest.TempPathFactory) -> Members:
    """The file of a skein with a phrase pass, a corpus that was shaped and a fit."""
    state = open_on_thread(tmp_path_factory.mktemp("mine"))
    with TestClient(make_app(state), base_url="http://localhost") as client:
        strand = work_through(client)
        at = f"/api/strands/{strand}"
        record = client.get(at).json()
        wanted = record["wanted"]
        wanted["shape"] = [{"kind": "sample", "size": 50, "seed": 1}]
        wanted["clean"]["passes"].append({"kind": "multiword", "terms": ["ferry ticket"]})
        wanted["weigh"]["min_documents"] = 2
        answer = client.put(f"{at}/wanted", json={"revision": record["revision"], "wanted": wanted})
        assert answer.status_code == 200, answer.text
        wait_for(client, client.post(f"{at}/rebuild").json()["job"])
        wait_for(client, client.post(f"{at}/fits", json={"topics": 2, "iterations": 20}).json()["job"])
        for step, settings in BESIDE.items():
            wait_for(client, client.post(f"{at}/beside/{step}", json=settings).json()["job"])
        return members(client.get(f"/api/skeins/{skein_of(client, strand)}/file").content)


@pytest.fixture(scope="module")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    state = open_on_thread(tmp_path_factory.mktemp("theirs"))
    with TestClient(make_app(state), base_url="http://localhost", raise_server_exceptions=False) as client:
        yield client


def alter(data: st.DataObject, files: Members) -> Members:
    """One thing altered in one file of a result, or in the records."""
    name = data.draw(st.sampled_from(sorted(each for each in files if not each.startswith("files/"))))
    content = files[name]
    if data.draw(st.integers(0, 9)) == 0:
        content = content[: data.draw(st.integers(0, len(content) - 1))]
    elif name.endswith(".npy"):
        content = altered_array(content, data.draw(st.sampled_from(sorted(ARRAYS))))
    else:
        value = json.loads(content)
        paths = list(nodes(value))
        if not paths:
            return files
        path = data.draw(st.sampled_from(paths))
        content = json.dumps(with_node(value, path, data.draw(st.sampled_from(ODD)), data.draw(st.booleans()))).encode()
    changed = {**files, name: content}
    if name == "skein.json":
        return changed
    try:
        return sealed(changed, name.rpartition("/")[0])
    except (ValueError, KeyError, TypeError, AttributeError):
        return changed  # what is no record any more has no seal


@given(data=st.data())
@settings(
    max_examples=ROUNDS,
    deadline=None,
    derandomize=True,
    database=None,
    suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow],
)
def test_what_is_altered_is_refused_or_harmless(
    written: Members, server: TestClient, tmp_path: Path, data: st.DataObject
) -> None:
    store = server.app.state.skeinwork.store  # type: ignore[attr-defined]
    path = tmp_path / "altered.skein.zip"
    path.write_bytes(packed(alter(data, written)))
    refused = ""
    try:
        with store.connection():
            strand = skein_file.read(store, path)
    except BadInputError as fault:
        refused = str(fault)
    if refused:
        assert refused.endswith("."), refused
        assert server.get("/api/skeins").json() == []
        with store.connection():
            assert not list(store.artefacts.identities()) and not list(store.uploads.iterdir())
        return
    try:
        assert server.get("/api/skeins").status_code == 200
        for part in ASKED:
            answer = server.get(f"/api/strands/{strand}/{part}".rstrip("/"))
            assert answer.status_code < 500, (part, answer.text)
        skein = server.get(f"/api/strands/{strand}").json()["skein"]
        assert server.get(f"/api/skeins/{skein}/file").status_code == 200
    finally:
        for entry in server.get("/api/skeins").json():
            server.delete(f"/api/skeins/{entry['id']}")
        cleared = server.post("/api/storage/clear", json={"deleted": True, "unused": True})
        wait_for(server, cleared.json()["job"])
