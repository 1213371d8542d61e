"""Shapes of answers that several routes share."""

from __future__ import annotations

from functools import cache
from typing import Any

from pydantic import BaseModel

from skeinwork.work.documents import Segment


@cache
def fields_of(settings: type[BaseModel], without: frozenset[str]) -> dict[str, Any]:
    """The schema of each setting, but for some; what may be left open has the type it has if not."""
    fields: dict[str, Any] = {}
    for name, field in settings.model_json_schema()["properties"].items():
        if name not in without:
            choices = [each for each in field.get("anyOf", []) if each.get("type") != "null"]
            fields[name] = {**field, **(choices[0] if choices else {}), "open": bool(choices)}
    return fields


class Made(BaseModel):
    """Numbers of what a request made."""

    strand: int | None = None
    job: int | None = None


class SegmentRecord(BaseModel):
    text: str
    kind: str = "plain"
    form: str | None = None
    by: str | None = None
    weight: float = 0.0


def segment_records(parts: list[Segment]) -> list[SegmentRecord]:
    return [
        SegmentRecord(text=p.text, kind=p.kind, form=p.form, by=p.by, weight=p.weight)
        for p in parts
    ]
