"""Whether somebody still waits for an answer: what nobody waits for any more is not computed to its end."""

from __future__ import annotations

import asyncio
import threading

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from skeinwork.core.progress import LEFT, PATIENCE

# Longer than any screen waits; what takes longer is a job.
SECONDS = 60.0


class Waiting:
    """Tells what answers a question (GET) when the one who asked has left.

    Requests that change something are carried out whatever becomes of the asker.
    """

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http" or scope["method"] != "GET":
            return await self.app(scope, receive, send)
        gone = threading.Event()
        messages: asyncio.Queue[Message] = asyncio.Queue()

        async def watch() -> None:
            message: Message = {"type": ""}
            while message["type"] != "http.disconnect":
                message = await receive()
                messages.put_nowait(message)
            gone.set()

        async def following() -> Message:
            message = await messages.get()
            if message["type"] == "http.disconnect":
                messages.put_nowait(message)  # whoever asks again is told again
            return message

        LEFT.set(gone.is_set)
        PATIENCE.set(SECONDS)
        watching = asyncio.create_task(watch())
        try:
            await self.app(scope, following, send)
        finally:
            watching.cancel()
            await asyncio.gather(watching, return_exceptions=True)  # its faults are the asker's
