"""How far a job is and how long it will still take, against a simulated clock."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from hypothesis import given
from hypothesis import strategies as st

from skeinwork.work.jobs import running
from skeinwork.work.jobs.plans import Sweep, SweepRequest
from skeinwork.work.jobs.plans.base import Task
from skeinwork.work.jobs.running import in_order, seconds_left
from skeinwork.work.strands.strands import Wanted


class Clock:
    def __init__(self) -> None:
        self.now = 100.0

    def monotonic(self) -> float:
        return self.now


@pytest.fixture
def clock(monkeypatch: pytest.MonkeyPatch) -> Clock:
    made = Clock()
    monkeypatch.setattr(running, "time", made)
    return made


def worked(tasks: list[Task], pace: float, workers: int, clock: Clock) -> Iterator[float]:
    """Let workers do tasks of one step, the longest first; yields the seconds that are truly left."""
    waiting = sorted(tasks, key=lambda task: -task.seconds)
    at_work: list[Task] = []
    ends: dict[int, float] = {}
    free = [clock.now] * workers
    for task in waiting:
        first = min(range(workers), key=free.__getitem__)
        ends[id(task)] = free[first] = free[first] + pace * task.seconds
    end = max(ends.values())
    while clock.now < end:
        for task in waiting:
            begin = ends[id(task)] - pace * task.seconds
            if begin <= clock.now:
                task.begun = task.begun or begin
                task.done = min(1.0, (clock.now - begin) / (pace * task.seconds))
                task.spent = ends[id(task)] - begin if task.done == 1 else None
        at_work = [task for task in waiting if task.begun is not None]
        yield end - clock.now if at_work else 0.0
        clock.now += max(0.5, (end - 100) / 20)


def test_time_left_of_a_sweep_is_right_from_its_first_seconds(clock: Clock) -> None:
    """Fifteen fits, of which the longest takes six times as long as the shortest."""
    tasks = [Task("fit", count * 0.4) for count in (4, 8, 12, 18, 24) for _ in range(3)]
    told = []
    for left in worked(tasks, pace=2.5, workers=2, clock=clock):
        said = seconds_left(tasks, 2)
        if said is not None and left > 5:
            told.append(said / left)
    assert len(told) > 10 and all(0.85 < ratio < 1.15 for ratio in told), told


def test_nothing_is_told_before_it_can_be(clock: Clock) -> None:
    tasks = [Task("tokens", 1.0), Task("fit", 30.0)]
    assert seconds_left(tasks, 2) is None
    tasks[0].begun, tasks[0].done = clock.now, 0.5
    assert seconds_left(tasks, 2) is None
    clock.now += 2
    assert seconds_left(tasks, 2) == pytest.approx(4 * (0.5 + 30))


def test_time_that_a_worker_loads_its_code_is_not_that_of_the_work(clock: Clock) -> None:
    tasks = [Task("fit", 10.0, begun=clock.now) for _ in range(4)]
    clock.now += 8
    tasks[0].heard, tasks[0].done = (clock.now, 0.05), 0.05
    assert seconds_left(tasks, 2) is None
    clock.now += 2
    tasks[0].done = 0.15
    assert seconds_left(tasks, 2) == pytest.approx((0.85 + 3) * 20 / 2)


@given(st.lists(st.tuples(st.floats(0.1, 50), st.floats(0, 1)), min_size=1), st.integers(1, 8))
def test_time_left_is_at_least_that_of_the_longest_task_and_of_all_shared(
    given_: list[tuple[float, float]], workers: int
) -> None:
    tasks = [Task("fit", seconds, done=done) for seconds, done in given_]
    known = Task("fit", 10.0, begun=0.0, spent=10.0, done=1.0)
    said = seconds_left([known, *tasks], workers)
    rest = [task.seconds * (1 - task.done) for task in tasks]
    assert said == pytest.approx(max(sum(rest) / workers, max(rest)))


def test_tasks_found_in_the_store_weigh_nothing(clock: Clock) -> None:
    done = [Task("fit", 0.0, done=1.0) for _ in range(10)]
    rest = [Task("fit", 4.0, begun=clock.now, done=0.25), Task("fit", 4.0)]
    clock.now += 2
    assert seconds_left([*done, *rest], 1) == pytest.approx(2 * (3 + 4))


@given(st.lists(st.tuples(st.integers(1, 40), st.booleans()), min_size=1, max_size=12), st.integers(1, 4))
def test_early_tasks_come_first_from_the_quickest_on_unless_that_takes_clearly_longer(
    told: list[tuple[int, bool]], workers: int
) -> None:
    tasks = [Task("fit", float(seconds), early=early) for seconds, early in told]

    def ends(order: list[Task]) -> float:
        free = [0.0] * workers
        for task in order:
            free[free.index(min(free))] += task.seconds
        return max(free)

    found, longest = in_order(tasks, workers), sorted(tasks, key=lambda task: -task.seconds)
    assert sorted(map(id, found)) == sorted(map(id, tasks)) and ends(found) <= 1.05 * ends(longest) + 1e-9
    begun = [task.early for task in found]
    first = [task.seconds for task in found if task.early]
    early = begun == sorted(begun, reverse=True) and first == sorted(first)
    assert early or [task.seconds for task in found] == [task.seconds for task in longest]


def test_a_sweep_shows_every_count_once_before_other_seeds() -> None:
    tasks = [Task("fit", float(count), early=seed == 1) for seed in (1, 2, 3) for count in (24, 4, 12, 8)]
    assert [task.seconds for task in in_order(tasks, 2)][:4] == [4, 8, 12, 24]


def test_a_sweep_goes_over_the_settings_that_the_method_names() -> None:
    request = SweepRequest(counts=(2, 3), seeds=(1,), iterations=40, over={"alpha": (0.1, None, 0.1)})
    sweep = Sweep(request=request, wanted=Wanted())
    assert [(fit.topics, fit.model_dump()["alpha"]) for fit in sweep.fits()] == [
        (2, 0.1),
        (3, 0.1),
        (2, None),
        (3, None),
    ]
    assert sweep.title() == "Sweep 2 counts × 2 alpha × 1 seeds"
