"""What requests compute was compiled ahead: nobody waits for a compiler."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

import pytest

PROGRAM = """
import sys
from pathlib import Path

import pytest
from numba.core.dispatcher import Dispatcher
from fastapi.testclient import TestClient
from skeinwork.core import warm
from skeinwork.demo.generator import write_files
from skeinwork.server.app import make_app
from skeinwork.server.run import open_state
from tests.conftest import bring_in, wait_for


def compiled():
    modules = [each for name, each in list(sys.modules.items()) if name.startswith("skeinwork")]
    found = {id(v): v for each in modules for v in vars(each).values() if isinstance(v, Dispatcher)}
    return {(v.py_func.__module__, v.__name__, str(s)) for v in found.values() for s in v.signatures}


def ask():
    folder = Path(sys.argv[1])
    with TestClient(make_app(open_state(folder / "data", workers=1)), base_url="http://localhost") as client:
        warm.warm()
        before = compiled()
        path = write_files(folder, size=120)
        strand = bring_in(client, path.name, path.read_bytes())
        at = f"/api/strands/{strand}"
        fit = {"method": "lda", "topics": 3, "iterations": 40}
        wait_for(client, client.post(f"{at}/fits", json=fit).json()["job"])
        for near in (False, True):
            trial = {"operation": {"kind": "duplicates", "near": near}}
            assert client.post(f"{at}/shape/try", json=trial).status_code == 200
        for part in ("overview", "specimen", "vocabulary", "topics", "fits", "prevalence",
                     "differences?group=harbour", "documents?find=ferry", "concordance?find=ferry"):
            answer = client.get(f"{at}/{part}")
            assert answer.status_code == 200, (part, answer.text)
        print(len(before), *sorted(compiled() - before), sep="\\n")


if __name__ == "__main__":
    ask()
"""


@pytest.mark.long
def test_no_request_waits_for_a_compiler(tmp_path: Path) -> None:
    program = tmp_path / "ask.py"
    program.write_text(PROGRAM)
    done = subprocess.run(
        [sys.executable, str(program), str(tmp_path)],
        capture_output=True,
        text=True,
        env={"PYTHONPATH": ".", "PATH": "/usr/bin:/bin"},
    )
    assert not done.returncode, done.stderr
    known, *new = done.stdout.split("\n")
    assert int(known) > 20 and not any(new), done.stdout
