"""Shapes of answers that several routes share."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from itertools import chain
from typing import Any
from urllib.parse import quote

from fastapi import Response, UploadFile
from fastapi.responses import StreamingResponse
from pydantic import BaseModel

from skeinwork.core.formats.names import safe_name
from skeinwork.store.models import Job, Strand


class Made(BaseModel):
    """Numbers of what a request made."""

    strand: int | None = None
    job: int | None = None

    @classmethod
    def of(cls, strand: Strand, job: Job | None = None) -> Made:
        return cls(strand=strand.id, job=job.id if job else None)


def chunks_of(file: UploadFile) -> Iterator[bytes]:
    """A file that is sent, piece by piece."""
    while chunk := file.file.read(1 << 20):
        yield chunk


def saves(kind: str, schema: dict[str, Any] | None = None) -> dict[str, Any]:
    """What a route says of itself that answers with a file of a kind."""
    content = {kind: {"schema": schema or {"type": "string", "format": "binary"}}}
    return {"response_class": Response, "responses": {200: {"content": content}}}


def _saved_as(name: str) -> dict[str, str]:
    """The header that names a file to be saved, as RFC 6266 and RFC 8187 say."""
    safe = safe_name(name)
    plain = safe.encode("ascii", "replace").decode().replace("?", "-")
    header = f"attachment; filename=\"{plain}\"; filename*=UTF-8''{quote(safe, safe='')}"
    return {"Content-Disposition": header}


def streamed(pieces: Iterable[bytes], name: str, kind: str) -> StreamingResponse:
    """A file to be saved, sent as it is written; what is wrong with it is said before it begins."""
    given = iter(pieces)
    first = next(given, b"")
    return StreamingResponse(chain([first], given), media_type=kind, headers=_saved_as(name))


def attachment(data: bytes, name: str, kind: str) -> Response:
    """A file to be saved under a safe name."""
    return Response(data, media_type=kind, headers=_saved_as(name))
