"""Every part of the bench runs, at a tiny size: speed itself is never a test."""

from __future__ import annotations

import sys
from pathlib import Path

import pytest

sys.path.insert(0, str(Path(__file__).parents[1] / "scripts"))

import bench

# Parts that bring up a server and a browser, or some thousand documents, at whatever size.
LONG = ("beginnings", "importing", "opening", "screens", "serving", "sweeping")


@pytest.mark.parametrize(
    "name", [pytest.param(name, marks=pytest.mark.long) if name in LONG else name for name in sorted(bench.PARTS)]
)
def test_a_part_of_the_bench_measures_its_lines(name: str) -> None:
    lines = bench.measured(name, bench.TINY)
    assert lines
    for line in lines:
        assert line.name and line.size and line.wanted
        assert line.ours > 0 and line.reference > 0 and line.ratio > 0, line
