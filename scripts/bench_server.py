"""The server at work: a sweep on two processes, handing out tasks, first answers, pages beside a fit."""

from __future__ import annotations

import statistics
import tempfile
import time
from collections.abc import Sequence
from pathlib import Path

import httpx
from bench_base import Line, texts
from bench_screens import rest, served

from skeinwork.demo.generator import write_files
from skeinwork.store.artefacts import ArtefactStore, Making
from skeinwork.work import steps
from skeinwork.work.jobs.executors.local import Local
from skeinwork.work.strands.strands import Wanted
from tests.making import follow, read


def sweeping(size: int, seeds: int, iterations: int) -> Line:
    """A sweep of the demo's entries in two processes against one, as the program does it."""
    sweep = {"counts": [8, 9, 10], "seeds": [*range(1, 1 + seeds)], "iterations": iterations}
    two, found = swept(2, size, sweep)
    one, same = swept(1, size, sweep)
    assert found == same, "the fits differ with the number of workers"
    return Line(f"sweep of {3 * seeds} fits, 2 processes", f"{size} texts", two, one, one / two, "at least 1.7")


def swept(workers: int, size: int, sweep: dict[str, object]) -> tuple[float, set[str]]:
    """Seconds of a sweep by a server that is warm, and the fits that are there then."""
    with (
        served("serve", "--workers", str(workers)) as base,
        httpx.Client(base_url=f"{base}/api", timeout=60) as http,
        tempfile.TemporaryDirectory() as folder,
    ):
        file = write_files(Path(folder), size=size)
        strand = brought_in(http, file.name, file.read_bytes())
        http.post(f"/strands/{strand}/sweeps", json=sweep | {"counts": [2], "iterations": 20}).raise_for_status()
        rest(http)
        begun = time.perf_counter()
        http.post(f"/strands/{strand}/sweeps", json=sweep).raise_for_status()
        rest(http)
        spent = time.perf_counter() - begun
        return spent, {each["identity"] for each in http.get(f"/strands/{strand}/fits").json()["fits"]}


def brought_in(http: httpx.Client, name: str, data: bytes) -> int:
    """A strand of one file, once it is ready."""
    preview = http.post("/uploads", files={"file": (name, data)}).json()
    file = {key: preview[key] for key in ("sha256", "name", "settings")}
    made = http.post("/skeins", json={"name": "x", "gather": {"files": [file]}}).json()
    rest(http)
    strand: int = made["strand"]
    return strand


def dispatch(tasks: int) -> Line:
    """What handing out a task costs that has nothing to do."""
    with tempfile.TemporaryDirectory() as folder:
        store = ArtefactStore(Path(folder) / "results")
        corpus = read(store, [write_files(Path(folder), size=200)])
        follow(store, corpus, Wanted(), 1)
        tokens = steps.chain(corpus, Wanted())[0]
        (Path(folder) / "tasks").mkdir()
        local = Local(store, Path(folder), Path(folder) / "tasks", 2)
        drain(local, [tokens] * 2)
        begun = time.perf_counter()
        drain(local, [tokens] * tasks)
        spent = (time.perf_counter() - begun) / tasks * 1000
        local.close()
    return Line("dispatch of a task", "ms", spent, 5, spent, "at most 5")


def serving(count: int) -> list[Line]:
    """Start to first answer; then pages of a long document list while a fit is running."""
    begun = time.perf_counter()
    with served("serve") as base, httpx.Client(base_url=f"{base}/api", timeout=120) as http:
        while not answers(http):
            time.sleep(0.01)
        started = time.perf_counter() - begun
        times = page_times(http, count)
    slow = statistics.quantiles(times, n=20)[-1] * 1000
    return [
        Line("serve to first answer", "s", started, 2, started, "under 2 s"),
        Line("document page during a fit, p95 ms", f"{count} texts", slow, 100, slow, "under 100"),
    ]


def answers(http: httpx.Client) -> bool:
    try:
        return http.get("/skeins").status_code == 200
    except httpx.TransportError:
        return False


def page_times(http: httpx.Client, count: int) -> list[float]:
    """Seconds of filtered, sorted and searched pages, a fit being at work."""
    lines = [f"{at % 40}\t{text}\n" for at, text in enumerate(texts(count)) if text.strip() and "<" not in text]
    data = ("group\ttext\n" + "".join(lines)).encode()
    base = f"/strands/{brought_in(http, 'x.tsv', data)}"
    fit = http.post(f"{base}/fits", json={"topics": 20, "iterations": 2000}).json()
    paths = ("documents?sort=-words", "documents?filter=group:7", "documents?find=gale", "documents?sort=group")
    times = []
    for at in range(60):
        begun = time.perf_counter()
        http.get(f"{base}/{paths[at % 4]}&offset={50 * at}").raise_for_status()
        times.append(time.perf_counter() - begun)
    http.post(f"/jobs/{fit['job']}/cancel")
    return times


def drain(local: Local, makings: Sequence[Making]) -> list[str]:
    tasks = [local.submit(each) for each in makings]
    while not all(local.progress(task).ended for task in tasks):
        time.sleep(0.002)
    return [local.result(task) for task in tasks]
