"""Guess which field plays which role, from names and from what stands in them."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence

from skeinwork.core.formats import dates
from skeinwork.core.formats.records import Role

_NAMES: tuple[tuple[Role, str], ...] = (
    ("text", r"text|body|content|message|comment|answer|abstract|description|entry_text|full.?text"),
    ("identifier", r"id|identifier|key|number|no|nr|uid|uuid|entry|doi|.*_id"),
    ("date", r"date|day|time|timestamp|created.*|published.*|posted.*|year|when|.*_date|.*_at"),
    ("title", r"title|heading|headline|subject|name"),
    ("author", r"author|writer_name|creator|by|from|sender"),
    ("source", r"source|url|link|file|path|journal"),
    ("language", r"lang|language"),
    ("kept", r"part|page"),
)

# Numbers from which on a list of them is taken for a vector.
_LEAST_NUMBERS = 8
_NUMBERS = re.compile(r"[-+\d.eE,;\s]+")


def _named(name: str) -> Role | None:
    plain = name.rsplit(".", 1)[-1].strip().lower().replace(" ", "_")
    return next((role for role, pattern in _NAMES if re.fullmatch(pattern, plain)), None)


def _kind(cells: Sequence[str]) -> Role:
    """The role that the values themselves suggest."""
    filled = [cell.strip() for cell in cells if cell.strip()]
    if not filled:
        return "ignored"
    if sum(map(_is_vector, filled)) > 0.8 * len(filled):
        return "vector"
    distinct = len(set(filled))
    dated = sum(dates.parse(cell) is not None for cell in filled)
    plain_numbers = sum(cell.isdigit() and len(cell) != 8 for cell in filled)
    if dated > 0.8 * len(filled) and plain_numbers < 0.5 * len(filled):
        return "date"
    if distinct <= max(2, min(200, len(filled) // 2)) and max(map(len, filled)) < 80:
        return "group"
    return "kept"


def guess_roles(columns: Mapping[str, Sequence[str]], text: str = "") -> dict[str, Role]:
    """A role for every column, given its first values; exactly one is the text.

    The text is the column named so, or else the one with the longest values.
    """
    lengths = {
        name: sum(map(len, cells)) / max(sum(1 for cell in cells if cell.strip()), 1) for name, cells in columns.items()
    }
    named = [name for name in columns if _named(name) == "text" and lengths[name] > 0]
    worded = named or [name for name in columns if _kind(columns[name]) != "vector"] or list(columns)
    text = text or max(worded, key=lambda name: lengths[name])
    roles: dict[str, Role] = {}
    for name, cells in columns.items():
        by_name, by_value = _named(name), _kind(cells)
        if name == text:
            roles[name] = "text"
            continue
        role: Role = by_value
        if by_name == "date":
            role = "date" if by_value == "date" or _years_or_seconds(cells) else by_value
        elif by_name == "identifier":
            distinct = len(set(cells)) > 0.9 * len(cells)
            role = "identifier" if distinct else by_value
        elif by_name == "title" and by_value == "group" and len(set(cells)) < len(cells):
            role = "group"
        elif by_name and by_name != "text" and by_value not in ("ignored", "vector"):
            role = by_name
        roles[name] = role
    for once in ("date", "identifier", "title"):
        _only_fullest(roles, columns, once)
    return roles


def repeating(columns: Mapping[str, Sequence[str]], roles: Mapping[str, Role]) -> list[str]:
    """What to say of fields that are called identifiers and are none, for their values recur."""
    if "identifier" in roles.values():
        return []
    said = []
    for name, cells in columns.items():
        filled = [cell for cell in cells if cell.strip()]
        again = len(filled) - len(set(filled))
        if _named(name) == "identifier" and again and 4 * again <= 3 * len(filled):
            said.append(
                f"{again} of the first {len(filled)} values of “{name}” occurred before, so it is no "
                "identifier. Give it that role to have repeats numbered, or left out."
            )
    return said


def _only_fullest(roles: dict[str, Role], columns: Mapping[str, Sequence[str]], role: Role) -> None:
    """Leave a role that is given once to the field with the most values; days go before bare years.

    A field of years that loses the role may well be a group.
    """
    rivals = [name for name, given in roles.items() if given == role]

    def rank(name: str) -> tuple[bool, int]:
        filled = [cell for cell in columns[name] if cell.strip()]
        return role == "date" and 2 * _days(filled) > len(filled), len(filled)

    for name in rivals:
        if name != max(rivals, key=rank):
            roles[name] = _kind(columns[name]) if role == "date" else "kept"
            if roles[name] == "date":
                roles[name] = "kept"


def _is_vector(cell: str) -> bool:
    """Whether a cell is a list of numbers, too many for anything else."""
    parts = cell.count(",") + cell.count(" ") + cell.count(";")
    return parts + 1 >= _LEAST_NUMBERS and bool(_NUMBERS.fullmatch(cell.strip("[](){} ")))


def _days(filled: Sequence[str]) -> int:
    """How many of the cells are dates to the day."""
    return sum((found := dates.parse(cell)) is not None and found[1] == "day" for cell in filled)


def _years_or_seconds(cells: Sequence[str]) -> bool:
    """Whether the filled cells are years, or seconds or milliseconds since 1970."""
    filled = [cell.strip() for cell in cells if cell.strip()]
    return bool(filled) and all(re.fullmatch(r"1[5-9]\d\d|20\d\d|[1-3]\d{9}(?:\d{3})?", cell) for cell in filled)
