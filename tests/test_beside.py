"""A result that hangs beside the chain costs its own file and its entry among the steps: here is one.

The program is looked at with these two added, in a process of its own.
"""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parent.parent
STEP = '''
from typing import ClassVar
import numpy as np
from pydantic import BaseModel
from skeinwork.work.steps.cleaning import CLEANING
from skeinwork.work.steps.matrix import MATRIX
from skeinwork.work.steps.step import Said, Step
from skeinwork.work.steps.tokens import TOKENS

class SizesSettings(BaseModel):
    least: int = 0

class SizesSummary(BaseModel):
    documents: int

class SizesStep(Step):
    """How many words each document has, where it has enough."""
    name, called, missing = "sizes", "the sizes", "Nobody counted yet."
    beside: ClassVar[bool] = True
    VERSION: ClassVar[int] = 1
    settings = SizesSettings
    summary = SizesSummary
    needs = (MATRIX, CLEANING, TOKENS)

    def seconds(self, making, size):
        return 1.0

    def compute(self, earlier, settings, report):
        sizes = np.asarray(earlier.load(MATRIX).counts.sum(axis=1)).ravel()
        kept = sizes[sizes >= settings.least]
        return kept, SizesSummary(documents=len(kept))

    def save(self, value):
        return {"sizes": value}, {}

    def load(self, stored, earlier):
        return stored.array("sizes")

    def check(self, stored, earlier):
        return SizesSummary(documents=len(stored.array("sizes")))

    def said(self, settings, summary):
        return Said(name="sizes", size=f"{summary.documents} documents")

SIZES = SizesStep()
'''
BEGUN = """
import sys
from importlib import util
import skeinwork.work
name = "skeinwork.work.steps"
spec = util.spec_from_file_location(name, sys.argv[2] + "/__init__.py", submodule_search_locations=sys.argv[2:])
skeinwork.work.steps = sys.modules[name] = util.module_from_spec(spec)
spec.loader.exec_module(skeinwork.work.steps)
"""
JOURNEY = """
from pathlib import Path
from fastapi.testclient import TestClient
from skeinwork.server.app import make_app
from skeinwork.work.steps.sizes import SIZES
from tests.conftest import bring_in, wait_for
from tests.on_thread import open_on_thread

state = open_on_thread(Path(sys.argv[1]))
with TestClient(make_app(state), base_url="http://localhost") as client:
    kinds = "gale quay ramp", "ferry storm mast", "rope tide buoy net hull oar", "fog bell pier keel deck sail"
    rows = [f"{kinds[at % 4]},{at}" for at in range(40)]
    strand = bring_in(client, "rows.csv", "\\n".join(["text,n", *rows]).encode())

    def record(number):
        return client.get(f"/api/strands/{number}").json()

    def make(number, **settings):
        answer = client.post(f"/api/strands/{number}/beside/sizes", json=settings)
        assert answer.status_code == 202, answer.text
        wait_for(client, answer.json()["job"])
        return sizes_of(number)

    def sizes_of(number):
        return next(each for each in record(number)["beside"] if each["step"] == "sizes")

    assert sizes_of(strand)["state"] == "empty"
    assert client.post(f"/api/strands/{strand}/beside/shapes", json={}).status_code == 404
    assert client.post(f"/api/strands/{strand}/beside/sizes", json={"least": "x"}).status_code == 422
    ply = make(strand, least=5)
    assert (ply["state"], ply["said"], ply["settings"]) == (
        "ready", {"name": "sizes", "size": "20 documents"}, {"least": 5}), ply
    first = ply["identity"]
    assert make(strand, least=0)["said"]["size"] == "40 documents"
    assert len(client.get(f"/api/strands/{strand}/versions/sizes").json()) == 2
    assert client.post(f"/api/strands/{strand}/switch", json={"identity": first}).status_code == 200
    assert sizes_of(strand)["identity"] == first and record(strand)["wanted"]["beside"] == {
        "sizes": {"least": 5}}
    with state.store.connection():
        from skeinwork.work.strands import strands
        seen = state.view(strands.get(strand))
    assert len(seen.value(SIZES)) == 20

    data = client.get("/api/skeins/1/file").content
    wait_for(client, client.post("/api/skeins/open", files={"file": ("x.zip", data)}).json()["job"])
    (other,) = [each["strands"][0] for each in client.get("/api/skeins").json() if each["strands"][0] != strand]
    assert sizes_of(other) == ply | {"identity": first}

    fork = client.post(f"/api/strands/{strand}/fork", json={"name": "other"}).json()["strand"]
    assert sizes_of(fork)["state"] == "ready"
    wanted, revision = record(fork)["wanted"], record(fork)["revision"]
    wanted["weigh"]["min_documents"] = 20
    changed = client.put(f"/api/strands/{fork}/wanted", json={"wanted": wanted, "revision": revision})
    assert changed.status_code == 200, changed.text
    assert sizes_of(fork)["state"] == "stale"
    assert make(fork, least=5)["state"] == "ready"
    assert sizes_of(strand)["state"] == "ready"
print("through")
"""


def test_a_result_beside_the_chain_is_made_kept_and_goes_along(tmp_path: Path) -> None:
    there = ROOT / "skeinwork" / "work" / "steps"
    (tmp_path / "sizes.py").write_text(STEP)
    listed = (there / "__init__.py").read_text()
    entry = listed.replace("),\n)\nSTEPS", ", sizes.SIZES),\n)\nSTEPS", 1)
    assert entry != listed
    (tmp_path / "__init__.py").write_text(
        entry.replace("import step as step_module", "import sizes, step as step_module")
    )
    places = str(tmp_path), str(there)
    done = subprocess.run(
        [sys.executable, "-c", BEGUN + JOURNEY, str(tmp_path / "data"), *places],
        env={**os.environ, "PYTHONPATH": str(ROOT)},
        cwd=tmp_path,
        capture_output=True,
        text=True,
        timeout=300,
    )
    assert done.returncode == 0 and "through" in done.stdout, done.stderr[-3000:]
