"""Fixtures that several folders of tests share."""

from __future__ import annotations

import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from skeinwork.core.matrix.counting import count
from skeinwork.core.matrix.matrix import Matrix, prune
from skeinwork.core.matrix.matrix_settings import MatrixSettings
from skeinwork.core.text.clean import Cleaning, CleanSettings, clean
from skeinwork.core.text.segment import Segments
from skeinwork.core.text.tokenise import tokenise
from skeinwork.core.topics.methods import lda
from skeinwork.core.topics.methods.lda import LdaSettings
from skeinwork.core.topics.model import TopicModel
from skeinwork.demo.generator import Entry, write_entries, write_files
from skeinwork.server.app import make_app
from skeinwork.store.artefacts import ArtefactStore
from skeinwork.work.results.view import View
from skeinwork.work.strands.strands import Wanted
from tests.making import follow, read
from tests.on_thread import open_on_thread


def pytest_addoption(parser: pytest.Parser) -> None:
    parser.addoption("--rounds", type=int, default=1, help="kills in the fault tests")


# Parts of the names of files that take long: they come first, so that all workers end together.
_LONG = (
    "browser/",
    "test_bench",
    "test_faults",
    "test_cluster",
    "test_jobs",
    "test_damage",
    "test_warm",
    "test_full_disk",
)


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    items.sort(key=lambda item: not any(part in item.nodeid for part in _LONG))


class Prepared:
    """Texts taken through the suggested cleaning and weighing."""

    def __init__(self, texts: list[str], weighing: dict[str, Any] | None = None) -> None:
        settings = CleanSettings.model_validate({})
        self.texts = texts
        self.tokens: Segments = tokenise(texts, settings.tokenising())
        self.cleaning: Cleaning = clean(self.tokens, settings)
        self.counted = count(self.cleaning, 1)
        self.matrix: Matrix = prune(self.counted, MatrixSettings.model_validate(weighing or {}))


@pytest.fixture(scope="session")
def entries() -> list[Entry]:
    return write_entries()


@pytest.fixture(scope="session")
def demo(entries: list[Entry]) -> Prepared:
    return Prepared([entry.row["text"] for entry in entries])


@pytest.fixture(scope="session")
def model(demo: Prepared) -> TopicModel:
    """Twelve topics of the demo."""
    return lda.fit(demo.matrix.counts, LdaSettings(topics=12, seed=2, iterations=200))


def _client(folder: Path) -> Iterator[TestClient]:
    state = open_on_thread(folder)
    with TestClient(make_app(state), base_url="http://localhost") as running:
        yield running


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    """A server of its own."""
    yield from _client(tmp_path / "data")


@pytest.fixture(scope="module")
def served(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    """A server that the tests of a module share, each with strands of its own."""
    yield from _client(tmp_path_factory.mktemp("served"))


def wait_for(client: TestClient, job: int, wanted: str = "done", seconds: float = 120) -> dict[str, Any]:
    """The job, once it has reached a state; fails when it ends in another or takes too long."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        found: dict[str, Any] = next(j for j in client.get("/api/jobs").json() if j["id"] == job)
        if found["state"] == wanted:
            return found
        assert found["state"] in ("queued", "running"), found["error"]
        time.sleep(0.05)
    raise AssertionError(f"job {job} was not {wanted} within {seconds} s")


def choose(client: TestClient, strand: int, fit: str, **said: Any) -> str:
    """Choose a fit, and wait until it has gone on with all documents; the fit on the strand then."""
    wait_for(client, client.post(f"/api/strands/{strand}/choice", json={"fit": fit, **said}).json()["job"])
    plies = client.get(f"/api/strands/{strand}").json()["plies"]
    taken: str = next(ply["identity"] for ply in plies if ply["step"] == "fit")
    return taken


def bring_in(client: TestClient, name: str, data: bytes, **changes: Any) -> int:
    """A strand made of one file, cleaned and weighed."""
    preview = client.post("/api/uploads", files={"file": (name, data)})
    assert preview.status_code == 200, preview.text
    settings = {**preview.json()["settings"], **changes}
    file = {"sha256": preview.json()["sha256"], "name": name, "settings": settings}
    made = client.post("/api/skeins", json={"name": name, "gather": {"files": [file]}}).json()
    wait_for(client, made["job"])
    strand: int = made["strand"]
    return strand


class Fits:
    """A strand that is fitted, and what is asked of it."""

    def __init__(self, client: TestClient, strand: int) -> None:
        self.client, self.base = client, f"/api/strands/{strand}"

    def get(self, path: str, **query: Any) -> Any:
        answer = self.client.get(f"{self.base}/{path}".rstrip("/"), params=query)
        assert answer.status_code == 200, answer.text
        return answer.json()

    def job(self, path: str, body: Any = None) -> None:
        answer = self.client.post(f"{self.base}/{path}", json=body)
        assert answer.status_code in (200, 202), answer.text
        wait_for(self.client, answer.json()["job"])

    def fit(self, **settings: Any) -> str:
        """Fit, and take it; its identity."""
        self.job("fits", settings)
        return self.present

    @property
    def present(self) -> str:
        return next(str(each["identity"]) for each in self.get("")["plies"] if each["step"] == "fit")

    def change(self, **changes: Any) -> None:
        now = self.get("")
        body = {"revision": now["revision"], "wanted": {**now["wanted"], **changes}}
        assert self.client.put(f"{self.base}/wanted", json=body).status_code == 200


def undo(client: TestClient, strand: int, redo: bool = False) -> dict[str, Any]:
    """Take the last change of settings back, or make it again; the strand's record."""
    revision = client.get(f"/api/strands/{strand}").json()["revision"]
    wanted = {"revision": revision, "redo": redo}
    answer = client.post(f"/api/strands/{strand}/undo", params=wanted)
    assert answer.status_code == 200, answer.text
    record: dict[str, Any] = answer.json()
    return record


@pytest.fixture(scope="module")
def view(tmp_path_factory: pytest.TempPathFactory) -> View:
    folder: Path = tmp_path_factory.mktemp("view")
    store = ArtefactStore(folder / "results")
    corpus = read(store, [write_files(folder, size=350)])
    wanted = Wanted(weigh=MatrixSettings(longest=2, min_documents=3), fit=LdaSettings(topics=6, iterations=60))
    return View(store, follow(store, corpus, wanted))
