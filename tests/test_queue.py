"""Jobs that want more workers than there are: whose turn it is, and how that is changed."""

from __future__ import annotations

from typing import Any, cast

from fastapi.testclient import TestClient
from hypothesis import given
from hypothesis import strategies as st

from skeinwork.work.jobs.executors.base import Executor
from skeinwork.work.jobs.queue import Queue
from tests.conftest import bring_in, wait_for
from tests.shared import TABLE


class Workers:
    """An executor of which only the number of workers is asked."""

    def __init__(self, workers: int) -> None:
        self.workers = workers


def queue(workers: int = 1) -> Queue:
    return Queue(cast(Executor, Workers(workers)))


def test_jobs_are_served_in_their_order_and_long_ones_later() -> None:
    waiting = queue()
    assert waiting.begin(1, True)
    assert not waiting.begin(2, True)
    assert not waiting.begin(3, False)
    assert [waiting.before(job) for job in (1, 2, 3)] == [0, 3 - 1, 1]
    waiting.end(1)
    assert not waiting.begin(1, True)
    assert not waiting.begin(2, True)
    assert waiting.begin(3, False)
    waiting.leave(3)
    waiting.end(3)
    assert not waiting.begin(2, True)
    waiting.put_first(2)
    assert waiting.before(2) == 0
    assert not waiting.begin(1, True)
    assert waiting.begin(2, True)
    waiting.put_first(99)  # of one that does not wait nothing changes
    assert waiting.before(99) == 0


@given(st.lists(st.tuples(st.integers(0, 4), st.sampled_from(["begin", "end", "leave", "first"])), max_size=60))
def test_no_more_are_begun_than_there_are_workers_and_somebody_is_always_served(steps: list[tuple[int, str]]) -> None:
    waiting, begun = queue(2), dict.fromkeys(range(5), 0)
    wants: set[int] = set()
    for job, what in steps:
        if what == "begin":
            wants.add(job)
            begun[job] += waiting.begin(job, job > 2)
        elif what == "end" and begun[job]:
            waiting.end(job)
            begun[job] -= 1
        elif what == "leave":
            waiting.leave(job)
            wants.discard(job)
        elif what == "first":
            waiting.put_first(job)
        assert sum(begun.values()) <= 2
        for each in range(5):
            assert 0 <= waiting.before(each) <= 4
    if wants and sum(begun.values()) < 2:
        assert sum(waiting.begin(each, each > 2) for each in list(wants)) >= 1


def begun(client: TestClient, job: int) -> bool:
    """Whether a fit of a job is at work."""
    progress = next(each for each in client.get("/api/jobs").json() if each["id"] == job)["progress"]
    return bool(progress and any("fit" in each for each in progress["tasks"]))


def test_a_fit_waits_for_a_sweep_and_can_be_put_before_it(client: TestClient) -> None:
    strand = bring_in(client, "rows.csv", TABLE)
    path = f"/api/strands/{strand}"
    sweep = {"counts": list(range(2, 12)), "seeds": [1, 2], "iterations": 20_000}
    first = client.post(f"{path}/sweeps", json=sweep).json()["job"]
    while not begun(client, first):
        pass
    fit: dict[str, Any] = {"method": "lda", "topics": 3, "iterations": 20, "seed": 9}
    second = client.post(f"{path}/fits", json=fit).json()["job"]

    def before() -> int:
        progress = next(each for each in client.get("/api/jobs").json() if each["id"] == second)["progress"]
        return progress["before"] if progress else 0

    while not before():
        assert next(each for each in client.get("/api/jobs").json() if each["id"] == second)["state"] != "done"
    assert before() == 1
    assert client.post(f"/api/jobs/{second}/first").status_code == 202
    assert client.post("/api/jobs/99999/first").status_code == 404
    wait_for(client, second)
    # What is made anew does not wait for the sweep either.
    record = client.get(path).json()
    wanted = {**record["wanted"], "weigh": {**record["wanted"]["weigh"], "min_documents": 2}}
    client.put(f"{path}/wanted", json={"revision": record["revision"], "wanted": wanted})
    wait_for(client, client.post(f"{path}/rebuild").json()["job"])
    assert next(each for each in client.get("/api/jobs").json() if each["id"] == first)["state"] == "running"
    client.post(f"/api/jobs/{first}/cancel")
    wait_for(client, first, "cancelled")
