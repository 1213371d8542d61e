"""What phrases can be ordered by: the names alone, which cost nothing to load."""

from __future__ import annotations

from typing import Literal, get_args

Measure = Literal["g2", "npmi", "pmi", "t", "c_value", "tokens"]
MEASURES: tuple[str, ...] = get_args(Measure)
