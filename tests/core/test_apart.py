"""Calls in a process of their own: what they yield comes back, and their limits hold."""

from __future__ import annotations

import os
import time
from collections.abc import Iterator
from typing import Any

import pytest

from skeinwork.core import apart
from skeinwork.core.errors import BadInputError, CancelledError

LIMITS = apart.Limits(seconds=30, memory=200 * 2**20)


def numbers(count: int) -> Iterator[dict[str, Any]]:
    for at in range(count):
        yield {"number": at, "text": "ice on the ramp " * 20}


def too_large() -> Iterator[bytes]:
    yield bytes(400 * 2**20)


def endless(answers: int) -> Iterator[int]:
    yield from range(answers)
    time.sleep(60)


def works() -> Iterator[int]:
    yield 0
    while True:
        hash("ice")


def dies() -> Iterator[int]:
    yield 1
    os.abort()


def refuses(sentence: str) -> Iterator[int]:
    yield 1
    raise BadInputError(sentence)


def breaks() -> Iterator[int]:
    yield from [1, 1 // 0]


def each(call: Any, *arguments: Any, limits: apart.Limits = LIMITS, **more: Any) -> Iterator[Any]:
    return apart.each(call, *arguments, name=lambda: "a.csv", limits=limits, **more)


def test_values_come_back_as_they_were_whatever_their_number() -> None:
    assert list(each(numbers, 20_000)) == list(numbers(20_000))
    assert apart.one(sum, [1, 2], name=str, limits=LIMITS) == 3


def test_memory_time_and_death_are_said_in_a_sentence() -> None:
    with pytest.raises(apart.OverLimitError, match=r"a\.csv would take more than 0\.2 GB"):
        list(each(too_large))
    with pytest.raises(apart.OverLimitError, match="would take more"):
        list(each(dies))
    busy = each(works, limits=apart.Limits(0.5, LIMITS.memory))
    assert next(busy) == 0
    with pytest.raises(apart.OverLimitError, match="given up after"):
        next(busy)
    slow = each(endless, 3, limits=apart.Limits(0.5, LIMITS.memory))
    assert next(slow) == 0
    with pytest.raises(apart.OverLimitError, match="given up after 0 s|given up after 1 s"):
        next(slow)


def test_faults_keep_their_sentence() -> None:
    with pytest.raises(BadInputError, match="no documents here"):
        list(each(refuses, "no documents here"))
    with pytest.raises(RuntimeError, match="ZeroDivisionError"):
        list(each(breaks))


def test_who_watches_can_end_it_and_no_process_stays() -> None:
    def stop() -> None:
        raise CancelledError("Cancelled.")

    before = os.listdir("/proc/self/fd")
    with pytest.raises(CancelledError):
        list(each(endless, 1, watch=stop))
    given_up = each(numbers, 1_000_000)
    next(given_up)
    given_up.close()
    assert len(os.listdir("/proc/self/fd")) <= len(before) + 2
