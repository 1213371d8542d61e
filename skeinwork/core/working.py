"""A figure with its working: formula, its own numbers, value."""

from __future__ import annotations

from pydantic import BaseModel


class Line(BaseModel):
    """One figure of a working: what it is, its formula, the formula with its own numbers, its value."""

    name: str
    formula: str
    numbers: str
    value: float


class Working(BaseModel):
    """What a figure is of, how it came about, and what its letters stand for."""

    title: str = ""
    lines: list[Line] = []
    note: str = ""
