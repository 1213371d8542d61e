"""Nested records as rows: cells named by their path, and an outline to choose the records in.

A place is a path of names from the root with ``/`` between them; lists are gone through. Records
keep the plain values of everything that holds them, under the name of what holds them.
"""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

# Levels: no record of people is nested deeper, and readers call themselves once a level.
DEEPEST = 60
# Characters of a value that are shown.
_EXAMPLE = 60
# Names or values from which an object or a list is a table.
_MANY = 8


def scalar(value: Any) -> str:
    """A plain value as the text of a cell."""
    return value if isinstance(value, str) else json.dumps(value, ensure_ascii=False)


def flatten(value: Any, path: str = "") -> dict[str, str]:
    """The cells of a record; the values of a list under one path are joined with ``; ``.

    Examples
    --------
    >>> flatten({"by": {"name": "Ann"}, "tags": ["fog", "ice"]})
    {'by.name': 'Ann', 'tags': 'fog; ice'}
    """
    found: dict[str, list[str]] = {}
    waiting = [(path, value, 0)]
    while waiting:
        at, inner, depth = waiting.pop()
        if isinstance(inner, dict) and depth < DEEPEST:
            steps = [(f"{at}.{name}" if at else str(name), each) for name, each in inner.items()]
            waiting += [(name, each, depth + 1) for name, each in reversed(steps)]
        elif isinstance(inner, list) and depth < DEEPEST:
            waiting += [(at, each, depth + 1) for each in reversed(inner)]
        elif inner is not None:
            found.setdefault(at or "value", []).append(scalar(inner))
    return {name: "; ".join(values) for name, values in found.items()}


def unkeyed(value: Any, depth: int = 0) -> Any:
    """The value with every object of many alike objects as a list of them, each with its ``key``.

    Exports often hold records as ``{"a17": {...}, "a18": {...}}``, or field by field as
    ``{"text": [...], "day": [...]}``. The value is changed in place.

    Examples
    --------
    >>> unkeyed({f"a{n}": {"text": "ice"} for n in range(8)})[0]
    {'key': 'a0', 'text': 'ice'}
    """
    if depth > DEEPEST:
        return value
    places: Any = ()
    if isinstance(value, list):
        places = enumerate(value)
    elif isinstance(value, dict):
        places = value.items()
    for at, inner in places:
        if _nested(inner):
            value[at] = unkeyed(inner, depth + 1)
    if isinstance(value, dict) and (records := _from_columns(value)):
        return records
    if isinstance(value, dict) and len(value) >= _MANY:
        if all(isinstance(each, dict) for each in value.values()):
            names = {name for each in value.values() for name in each}
            if len(names) <= 3 * max(len(each) for each in value.values()):
                return [{"key": name, **each} for name, each in value.items()]
    return value


def _from_columns(value: dict[str, Any]) -> list[dict[str, Any]]:
    """The records of an object that holds them field by field, as lists or under the same keys."""
    columns = list(value.values())
    first = columns[0] if len(columns) > 1 else None
    if not isinstance(first, list | dict) or len(first) < max(_MANY, len(columns) + 1):
        return []
    if any(type(each) is not type(first) or len(each) != len(first) for each in columns):
        return []
    if isinstance(first, dict):
        if any(each.keys() != first.keys() for each in columns):
            return []
        columns = [list(each.values()) for each in columns]
    if any(_nested(cell) for column in columns for cell in column):
        return []
    return [dict(zip(value, row, strict=True)) for row in zip(*columns, strict=True)]


def records_at(value: Any, place: str) -> Iterator[dict[str, str]]:
    """Every record at a place, flattened, with the plain values of what holds it."""
    names = [name.replace("~1", "/").replace("~0", "~") for name in place.split("/") if name]

    def walk(inner: Any, depth: int, held: dict[str, str]) -> Iterator[dict[str, str]]:
        if isinstance(inner, list):
            for each in inner:
                yield from walk(each, depth, held)
        elif depth == len(names):
            yield {**held, **flatten(inner)}
        elif isinstance(inner, dict) and names[depth] in inner:
            before = names[depth - 1] if depth else ""
            plain = {k: v for k, v in inner.items() if k != names[depth] and not _nested(v)}
            yield from walk(inner[names[depth]], depth + 1, {**held, **flatten(plain, before)})

    return walk(value, 0, {})


def _nested(value: Any) -> bool:
    return isinstance(value, dict | list)


@dataclass
class Outline:
    """One name in the tree of a file: how often it occurs, in how many of its holders, what in it."""

    name: str
    path: str
    count: int = 0
    holders: int = 0
    lists: bool = False
    example: str = ""
    letters: int = 0
    children: dict[str, Outline] = field(default_factory=dict)


def outline(value: Any, most: int = 2000) -> Outline:
    """The names in nested values and how often each occurs, from the first items of every list."""
    root = Outline("", "")

    def add(node: Outline, inner: Any, depth: int) -> None:
        if isinstance(inner, list):
            node.lists = True
            for each in inner[:most]:
                add(node, each, depth + 1)
            node.count += max(len(inner) - most, 0)
            return
        node.count += 1
        if isinstance(inner, dict) and depth < DEEPEST:
            for name, each in inner.items():
                step = str(name).replace("~", "~0").replace("/", "~1")
                path = f"{node.path}/{step}" if node.path else step
                child = node.children.setdefault(str(name), Outline(str(name), path))
                child.holders += 1
                add(child, each, depth + 1)
        elif inner is not None:
            text = scalar(inner)
            node.letters += len(text)
            node.example = node.example or text[:_EXAMPLE]

    add(root, value, 0)
    return root


def likely_records(root: Outline) -> str:
    """The place of the records: the list whose items hold the most text outside of further lists."""
    best, most = "", -1
    waiting = [root]
    while waiting:
        node = waiting.pop()
        waiting += node.children.values()
        if node.lists and (letters := _letters(node)) > most:
            best, most = node.path, letters
    return best


def _letters(node: Outline) -> int:
    """Letters in the plain values of a node's items, lists of records inside them aside."""
    inner = [each for each in node.children.values() if not (each.lists and each.children)]
    return sum(map(_letters, inner)) + (0 if node.children else node.letters)
