"""Stored results damaged on disk: found, said, and made again from what they were made from."""

from __future__ import annotations

import shutil
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from skeinwork.store.artefacts import ArtefactStore, DamagedResultError
from tests.conftest import bring_in, wait_for

PLACES = {
    "overview": "overview",
    "reader": "documents/0?marks=cleaning",
    "vocabulary": "vocabulary",
    "topics": "topics",
    "fits": "fits",
    "evidence": "evidence?topic=0",
}
TEXT = "".join(
    f"{n},{2010 + n % 5},{'gale ice quay' if n % 2 else 'ferry ticket queue'} entry {n}\n" for n in range(80)
)


@pytest.fixture
def worked(served: TestClient) -> int:
    """A strand with a fit, a shaped corpus and a label."""
    strand = bring_in(served, "log.csv", f"n,year,text\n{TEXT}".encode())
    at = f"/api/strands/{strand}"
    record = served.get(at).json()
    shape = [{"kind": "sample", "size": 60, "seed": 1}]
    wanted = {**record["wanted"], "shape": shape}
    served.put(f"{at}/wanted", json={"revision": record["revision"], "wanted": wanted})
    wait_for(served, served.post(f"{at}/rebuild").json()["job"])
    fit = {"topics": 2, "iterations": 20}
    wait_for(served, served.post(f"{at}/fits", json=fit).json()["job"])
    (made,) = [ply for ply in served.get(at).json()["plies"] if ply["step"] == "fit"]
    label = {"label": "Weather", "confirmed": True, "revision": 1, "fit": made["identity"]}
    answer = served.put(f"{at}/topics/0", json=label)
    assert answer.status_code == 200, answer.text
    return strand


def answers(served: TestClient, strand: int) -> dict[str, Any]:
    found = {}
    for name, place in PLACES.items():
        answer = served.get(f"/api/strands/{strand}/{place}")
        found[name] = answer.json() if answer.status_code == 200 else answer.status_code
    return found


def settle(served: TestClient, strand: int) -> dict[str, Any]:
    """What the places answer once nothing is at work; damage is mended one result after another."""
    for _ in range(8):
        found = answers(served, strand)
        for job in served.get("/api/jobs").json():
            if job["state"] in ("queued", "running"):
                wait_for(served, job["id"])
        if 503 not in found.values():
            return found
    raise AssertionError("the damage was not mended")


def overwrite(path: Path) -> None:
    data = bytearray(path.read_bytes())
    at = max(0, len(data) - 64)
    data[at:] = bytes(byte ^ 0x55 for byte in data[at:])
    path.write_bytes(data)


def test_every_stored_file_can_be_damaged_and_comes_back(served: TestClient, worked: int) -> None:
    before = answers(served, worked)
    assert not any(isinstance(each, int) for each in before.values())
    store: ArtefactStore = served.app.state.skeinwork.store.artefacts  # type: ignore[attr-defined]
    record = served.get(f"/api/strands/{worked}").json()
    fit = next(ply["identity"] for ply in record["plies"] if ply["step"] == "fit")
    files = []
    chain, stored = [], store.open(fit)
    while stored.making.step != "corpus" or "shape" in stored.making.settings:
        chain.append(stored)
        stored = store.open(stored.making.inputs[0])
    for each in [*chain, stored]:
        files += sorted(each.folder.iterdir())
    assert len(files) > 40
    kept = {path: path.read_bytes() for path in files}
    for path in files:
        overwrite(path)
        with pytest.raises(DamagedResultError):
            ArtefactStore(store.root).open(path.parent.name).verify()
        path.write_bytes(kept[path])
    kinds = {(path.parent, path.suffix, path.name == "made.json"): path for path in files}
    for path in kinds.values():  # one of each kind for every step: all are read in the same way
        overwrite(path)
        if path.parent == stored.folder:  # only a rebuild looks at the corpus before shaping
            wait_for(served, served.post(f"/api/strands/{worked}/rebuild").json()["job"])
        assert settle(served, worked) == before, path.name
        if path.name != "made.json":
            assert path.read_bytes() == kept[path]
    for each in [*chain, stored]:
        shutil.rmtree(each.folder)
    assert settle(served, worked) == before
    assert served.get(f"/api/strands/{worked}/topics").json()["topics"][0]["label"] == "Weather"


def test_a_rebuild_mends_as_well_and_other_strands_do_not_notice(served: TestClient, worked: int) -> None:
    other = bring_in(served, "other.csv", f"n,year,text\n{TEXT.replace('gale', 'fog')}".encode())
    store: ArtefactStore = served.app.state.skeinwork.store.artefacts  # type: ignore[attr-defined]
    identity = served.get(f"/api/strands/{worked}").json()["plies"][0]["identity"]
    overwrite(store.open(identity).folder / "data.npy")
    for place in ("", "overview", "documents", "versions/corpus", "fits"):
        assert served.get(f"/api/strands/{other}/{place}".rstrip("/")).status_code == 200
    at = f"/api/strands/{worked}"
    wait_for(served, served.post(f"{at}/rebuild").json()["job"])
    assert served.get(f"{at}/documents").json()["total"] == 60


def test_what_can_not_be_made_again_says_why_and_what_to_do(served: TestClient) -> None:
    data = f"n,year,text\n{TEXT.replace('ferry', 'pilot')}".encode()
    strand = bring_in(served, "log.csv", data)
    state = served.app.state.skeinwork  # type: ignore[attr-defined]
    at = f"/api/strands/{strand}"
    identity = served.get(at).json()["plies"][0]["identity"]
    upload = state.store.upload_path(state.store.artefacts.open(identity).making.inputs[0])
    overwrite(state.store.artefacts.open(identity).folder / "data.npy")
    overwrite(upload)
    job = None
    for _ in range(2):
        answer = served.get(f"{at}/overview")
        assert answer.status_code == 503
        newest = served.get("/api/jobs").json()[0]
        assert job is None or newest["id"] == job  # a failed repair is not begun again by itself
        job = newest["id"]
        for _ in range(200):
            if served.get("/api/jobs").json()[0]["state"] == "failed":
                break
    assert "log.csv, as it was brought in, is damaged" in answer.json()["detail"]
    served.post("/api/uploads", files={"file": ("log.csv", data)})
    served.post(f"/api/jobs/{job}/continue")
    wait_for(served, job)
    assert served.get(f"{at}/overview").json()["documents"] == 80
