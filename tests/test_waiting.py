"""What nobody waits for any more stops; other work goes on."""

from __future__ import annotations

import asyncio
import time

import pytest
from starlette.concurrency import run_in_threadpool
from starlette.types import Message, Receive, Scope, Send

from skeinwork.core.errors import CancelledError
from skeinwork.core.progress import PATIENCE, check_wanted
from skeinwork.server.waiting import SECONDS, Waiting


def answer(method: str, leaves: bool) -> str:
    """What becomes of half a second of work when the one who asked leaves, or stays."""
    became: list[str] = []

    def work() -> None:
        end = time.monotonic() + 0.5
        try:
            while time.monotonic() < end:
                check_wanted()
                time.sleep(0.01)
            became.append(f"done, {PATIENCE.get()}")
        except CancelledError:
            became.append("stopped")

    async def app(scope: Scope, receive: Receive, send: Send) -> None:
        await run_in_threadpool(work)

    sent: list[Message] = [{"type": "http.request", "body": b"", "more_body": False}]

    async def receive() -> Message:
        if sent:
            return sent.pop()
        await asyncio.sleep(0.1 if leaves else 60)
        return {"type": "http.disconnect"}

    async def send(message: Message) -> None:
        raise AssertionError("nothing was answered")

    asyncio.run(Waiting(app)({"type": "http", "method": method}, receive, send))
    (only,) = became
    return only


@pytest.mark.parametrize(
    ("method", "leaves", "becomes"),
    [("GET", True, "stopped"), ("GET", False, f"done, {SECONDS}"), ("POST", True, "done, None")],
)
def test_work_stops_when_who_asked_has_left(method: str, leaves: bool, becomes: str) -> None:
    assert answer(method, leaves) == becomes
