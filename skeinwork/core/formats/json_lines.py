"""JSON Lines: one JSON object a line; nested values become fields named by their path."""

from __future__ import annotations

import json
from typing import Any

from skeinwork.core.formats.records import Records, Rejected, Row


def _flatten(value: Any, path: str, cells: dict[str, str]) -> None:
    if isinstance(value, dict):
        for name, inner in value.items():
            _flatten(inner, f"{path}.{name}" if path else name, cells)
    elif isinstance(value, str):
        cells[path] = value
    elif value is not None:
        cells[path] = json.dumps(value, ensure_ascii=False)


def read(text: str) -> Records:
    """Rows of a JSON Lines file; lines that are no JSON object are rejected."""
    for number, line in enumerate(text.split("\n"), start=1):
        if not line.strip():
            continue
        try:
            value = json.loads(line)
        except (json.JSONDecodeError, RecursionError) as fault:
            place = f" at column {fault.colno}" if isinstance(fault, json.JSONDecodeError) else ""
            yield Rejected(number, f"is not JSON{place}", line)
            continue
        if not isinstance(value, dict):
            yield Rejected(number, "is JSON, but not an object with named fields", line)
            continue
        cells: dict[str, str] = {}
        _flatten(value, "", cells)
        yield Row(number, cells)
