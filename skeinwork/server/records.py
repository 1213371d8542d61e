"""Shapes of answers that several routes share."""

from __future__ import annotations

from pydantic import BaseModel

from skeinwork.work.documents import Segment


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
