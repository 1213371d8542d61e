"""Settings as the screens draw them, from their classes."""

from __future__ import annotations

from functools import cache
from typing import Any

from pydantic import BaseModel


@cache
def fields_of(settings: type[BaseModel], without: frozenset[str]) -> dict[str, Any]:
    """The schema of each setting, but for some; what may be left open has the type it has if not."""
    fields: dict[str, Any] = {}
    for name, field in settings.model_json_schema()["properties"].items():
        if name not in without:
            choices = [each for each in field.get("anyOf", []) if each.get("type") != "null"]
            fields[name] = {**field, **(choices[0] if choices else {}), "open": bool(choices)}
    return fields
