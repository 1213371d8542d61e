"""Shapes of answers that several routes share."""

from __future__ import annotations

import re
from collections.abc import Iterator

from fastapi import Response, UploadFile
from pydantic import BaseModel

from skeinwork.store.models import Job, Strand


class Made(BaseModel):
    """Numbers of what a request made."""

    strand: int | None = None
    job: int | None = None

    @classmethod
    def of(cls, strand: Strand, job: Job | None = None) -> Made:
        return cls(strand=strand.id, job=job.id if job else None)


def file_name(name: str) -> str:
    """A name for a file that any system takes."""
    return re.sub(r"[^a-z0-9.]+", "-", name.lower()).strip("-.") or "skein"


def chunks_of(file: UploadFile) -> Iterator[bytes]:
    """A file that is sent, piece by piece."""
    while chunk := file.file.read(1 << 20):
        yield chunk


def attachment(data: bytes, name: str, kind: str) -> Response:
    """A file to be saved."""
    headers = {"Content-Disposition": f'attachment; filename="{file_name(name)}"'}
    return Response(data, media_type=kind, headers=headers)
