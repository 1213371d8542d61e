"""What tests of several files use: a small table, the stations, and a real server process."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from contextlib import suppress
from pathlib import Path
from typing import Any

import httpx

SAID = ("Storm surge at the breakwater wall", "Ferry ticket and ferry timetable")
TABLE = (
    "entry,date,harbour,text\n"
    + "".join(
        f"{n},201{n % 4}-0{1 + n % 9}-11,{('Kelpwick', 'Quellan')[n % 2]},"
        f"{SAID[n % 2]} {('again', 'today', 'late')[n % 3]}\n"
        for n in range(60)
    )
    + "60,2014-01-01,Kelpwick,\n61,nonsense,Quellan,Ferry ticket\n62,2014-01-02\n"
).encode()
STATIONS = (
    "gather",
    "gather?tab=documents&where=harbour:Quellan",
    "gather?tab=documents&view=context&find=ferry",
    "gather?tab=shape",
    "gather?tab=rejected",
    "clean",
    "clean?part=words",
    "clean?part=forms",
    "clean?part=phrases",
    "clean?part=names",
    "clean?part=speech",
    "weigh",
    "weigh?part=weights",
    "weigh?part=grid",
    "weigh?part=terms&as=words",
    "weigh?part=files",
    "relate",
    "relate?part=counts",
    "relate?part=groups",
    "relate?part=words",
    "fit",
    "fit?part=make",
    "fit?part=compare",
    "fit?part=new",
    "choose",
    "label",
    "track",
    "share",
)
COMMAND = [sys.executable, "-m", "skeinwork.cli", "serve", "--port", "0", "--workers", "2"]


class Server:
    """A real server process on a data folder."""

    def __init__(self, folder: Path) -> None:
        self.process = subprocess.Popen(
            [*COMMAND, "--data", str(folder)], stdout=subprocess.PIPE, text=True, start_new_session=True
        )
        assert self.process.stdout is not None
        line = self.process.stdout.readline()
        self.base = line.split()[3].rstrip("/") + "/api"
        self.http = httpx.Client(base_url=self.base, timeout=30)
        end = time.monotonic() + 20
        while time.monotonic() < end:
            try:
                self.http.get("/skeins")
                return
            except httpx.TransportError:
                time.sleep(0.05)
        raise AssertionError("the server did not answer")

    def get(self, path: str) -> Any:
        answer = self.http.get(path)
        assert answer.status_code == 200, answer.text
        return answer.json()

    def post(self, path: str, **body: Any) -> Any:
        answer = self.http.post(path, json=body or None)
        assert answer.status_code in (200, 202), answer.text
        return answer.json() if answer.content else None

    def kill(self) -> None:
        os.kill(self.process.pid, signal.SIGKILL)
        self.process.wait()
        self.http.close()

    def stop(self) -> None:
        self.process.terminate()
        try:
            self.process.wait(10)
        except subprocess.TimeoutExpired:
            self.process.kill()
            self.process.wait()
        self.http.close()

    def wait(self, job: int, *states: str) -> dict[str, Any]:
        end = time.monotonic() + 90
        while time.monotonic() < end:
            found: dict[str, Any] = next(j for j in self.get("/jobs") if j["id"] == job)
            if found["state"] in states:
                return found
            time.sleep(0.05)
        raise AssertionError(f"job {job} did not end")


def forked(pid: int) -> dict[int, int]:
    """Parents of the process that a server's workers are forked from, and of the workers."""
    parents = {}
    for entry in Path("/proc").iterdir():
        with suppress(OSError, IndexError):
            if entry.name.isdigit() and b"forkserver" in (entry / "cmdline").read_bytes():
                parents[int(entry.name)] = int((entry / "stat").read_text().rsplit(")", 1)[1].split()[1])
    return {child: parent for child, parent in parents.items() if pid in (parent, parents.get(parent))}


def children(pid: int) -> list[int]:
    """Process numbers of the worker processes of a server."""
    return [child for child, parent in forked(pid).items() if parent != pid]
