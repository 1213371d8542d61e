"""Kept values: made once, within a limit of bytes, the ones used last."""

from __future__ import annotations

import threading
import time
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import pytest
import scipy
from hypothesis import given
from hypothesis import strategies as st

from skeinwork.work.results.cache import Cache, size_of


@pytest.mark.parametrize(
    ("value", "least", "most"),
    [
        (np.zeros(1000), 8000, 8000),
        (np.zeros((10, 100))[2:4], 8000, 8000),
        (scipy.sparse.csr_matrix(np.eye(100)), 1600, 2100),
        (["word"] * 10_000, 500_000, 700_000),
        ({"a": np.zeros(1000)}, 8000, 8300),
    ],
)
def test_sizes_are_about_what_is_held(value: object, least: int, most: int) -> None:
    assert least <= size_of(value) <= most


def test_arrays_mapped_from_a_file_hold_nothing(tmp_path: Path) -> None:
    np.save(tmp_path / "a.npy", np.zeros(10_000))
    assert size_of(np.load(tmp_path / "a.npy", mmap_mode="r")) == 0
    assert size_of(np.load(tmp_path / "a.npy", mmap_mode="r")[5:]) == 0


def test_what_two_ask_for_at_once_is_made_once() -> None:
    cache, made = Cache(10**6), []

    def make() -> str:
        time.sleep(0.05)
        made.append(1)
        return "value"

    found: list[str] = []
    threads = [threading.Thread(target=lambda: found.append(cache.get("key", make))) for _ in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert found == ["value"] * 8 and len(made) == 1


def test_a_failure_is_not_kept() -> None:
    cache = Cache(1000)

    def fail() -> int:
        raise ValueError

    with pytest.raises(ValueError):  # noqa: PT011
        cache.get("key", fail)
    assert cache.get("key", lambda: 3) == 3


@given(st.lists(st.integers(0, 9), max_size=60))
def test_the_limit_holds_and_the_last_used_stay(keys: list[int]) -> None:
    cache, asked = Cache(3500), []
    for key in keys:
        cache.get(key, lambda: asked.append(key) or np.zeros(125))  # type: ignore[func-returns-value]  # noqa: B023
        assert cache.size <= 3500
    last = list(dict.fromkeys(reversed(keys)))[:3]
    before = len(asked)
    for key in last:
        cache.get(key, lambda: asked.append(key) or np.zeros(125))  # type: ignore[func-returns-value]  # noqa: B023
    assert len(asked) == before


def test_one_value_over_the_limit_is_kept_until_the_next() -> None:
    cache = Cache(100)
    cache.get("large", lambda: np.zeros(1000))
    assert cache.size == 8000
    cache.get("small", lambda: np.zeros(2))
    assert cache.size == 16


def test_a_value_may_grow_while_it_is_measured() -> None:
    """Views add to themselves in other threads what they are asked for."""

    @dataclass
    class Value:
        part: object

    value = Value(None)
    stop = threading.Event()

    def grow() -> None:
        at = 0
        while not stop.is_set():
            value.__dict__[f"more {at % 500}"] = at
            value.__dict__.pop(f"more {(at + 250) % 500}", None)
            at += 1

    thread = threading.Thread(target=grow)
    thread.start()
    try:
        for _ in range(300):
            size_of(value)
    finally:
        stop.set()
        thread.join()
