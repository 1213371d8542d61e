"""How much a request may send: refused by its stated length, or where that is passed on the way."""

from __future__ import annotations

from starlette.exceptions import HTTPException
from starlette.responses import Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from skeinwork.server.problems import problem

# Requests that are not files: the longest is pasted text.
_LARGEST = 60_000_000
_AROUND = 1_000_000
_FILES = ("/api/uploads", "/api/uploads/folder", "/api/uploads/vectors", "/api/skeins/open")


class BodyLimit:
    """Refuses what is too long with 413, before a byte is taken where its length is stated."""

    def __init__(self, app: ASGIApp, files: int) -> None:
        self.app = app
        self.files = files

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            return await self.app(scope, receive, send)
        sends_file = scope["path"] in _FILES
        limit = self.files + _AROUND if sends_file else _LARGEST
        sentence = _too_large(self.files) if sends_file else "The request is too long."
        if _stated(scope) > limit:
            refusal: Response = problem(413, "Too large", sentence)
            refusal.headers["Connection"] = "close"
            return await refusal(scope, receive, send)
        taken = 0

        async def counted() -> Message:
            nonlocal taken
            message = await receive()
            taken += len(message.get("body", b""))
            if taken > limit:
                raise HTTPException(413, sentence)
            return message

        await self.app(scope, counted, send)


def _too_large(limit: int) -> str:
    """What is said of a file over the limit, in bytes."""
    return f"What is sent is larger than the limit of {limit // 1_000_000} MB. Raise it with --upload-limit."


def _stated(scope: Scope) -> int:
    """The length that the request says it has; 0 where it says none."""
    for name, value in scope["headers"]:
        if name == b"content-length" and value.isdigit() and len(value) < 20:
            return int(value)
    return 0
