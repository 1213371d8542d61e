"""Shapes of answers that several routes share."""

from __future__ import annotations

import re

from fastapi import Response
from pydantic import BaseModel

from skeinwork.store.models import Job, Strand


class Made(BaseModel):
    """Numbers of what a request made."""

    strand: int | None = None
    job: int | None = None

    @classmethod
    def of(cls, strand: Strand, job: Job | None = None) -> Made:
        return cls(strand=strand.id, job=job.id if job else None)


def attachment(data: bytes, name: str, kind: str) -> Response:
    """A file to be saved, under a name that any system takes."""
    safe = re.sub(r"[^a-z0-9.]+", "-", name.lower()).strip("-.") or "skein"
    headers = {"Content-Disposition": f'attachment; filename="{safe}"'}
    return Response(data, media_type=kind, headers=headers)
