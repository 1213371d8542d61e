"""The web application: routes, errors as problem details, and what keeps other sites out."""

from __future__ import annotations

import secrets
from collections.abc import AsyncIterator, Awaitable, Callable
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import FileResponse, HTMLResponse, JSONResponse, Response
from fastapi.staticfiles import StaticFiles
from peewee import OperationalError
from starlette.middleware.gzip import GZipMiddleware

from skeinwork import __version__
from skeinwork.core.errors import BadInputError, NotFoundError, SkeinworkError
from skeinwork.server.routes import (
    clean,
    evidence,
    files,
    fits,
    gather,
    jobs,
    shape,
    share,
    skeins,
    sources,
    topics,
    track,
    weigh,
)
from skeinwork.server.state import State, find_strand
from skeinwork.store.artefacts import DamagedResultError
from skeinwork.work.strands import EditConflictError

STATIC = Path(__file__).parent / "static"
LOOPBACK = ("127.0.0.1", "localhost", "[::1]", "testserver")
_STATUS: tuple[tuple[type[SkeinworkError], int, str], ...] = (
    (NotFoundError, 404, "Not there"),
    (EditConflictError, 409, "Changed elsewhere"),
    (BadInputError, 422, "Can't be used"),
)
Next = Callable[[Request], Awaitable[Response]]


def problem(status: int, title: str, detail: str, **more: Any) -> JSONResponse:
    """Problem details after RFC 9457, with a sentence for the analyst."""
    body = {"type": "about:blank", "title": title, "status": status, "detail": detail, **more}
    return JSONResponse(body, status, media_type="application/problem+json")


def _on_fault(_: Request, fault: Exception) -> JSONResponse:
    for kind, status, title in _STATUS:
        if isinstance(fault, kind):
            return problem(status, title, str(fault))
    return problem(400, "Can't be done", str(fault))


def _on_damaged(request: Request, fault: Exception) -> JSONResponse:
    """A damaged result is made again at once, on behalf of the strand that asked for it."""
    assert isinstance(fault, DamagedResultError)
    state: State = request.app.state.skeinwork
    sentence = str(fault)
    if number := request.path_params.get("strand_id"):
        with state.store.connection():
            if failed := state.runner.mend(fault.identity, find_strand(int(number))):
                sentence = f"A stored result is damaged or missing on disk. {failed}"
    return problem(503, "Damaged result", sentence)


def _on_invalid(_: Request, fault: Exception) -> JSONResponse:
    assert isinstance(fault, RequestValidationError)
    errors = [
        {"field": ".".join(str(part) for part in each["loc"][1:]), "problem": each["msg"]}
        for each in fault.errors()
    ]
    listed = "; ".join(f"{e['field'] or 'request'}: {e['problem']}" for e in errors)
    return problem(422, "Out of range", f"{listed}.", errors=errors)


def _on_disk(_: Request, fault: Exception) -> JSONResponse:
    sentence = f"The data folder can't be written ({fault}). Free some space, then try again."
    return problem(507, "Disk trouble", sentence)


def _guard(app: FastAPI, hosts: tuple[str, ...], token: str | None) -> None:
    """Refuse other hosts (DNS rebinding), other sites' requests, and callers without the token."""

    @app.middleware("http")
    async def check(request: Request, following: Next) -> Response:
        host = request.headers.get("host", "").rsplit(":", 1)[0]
        if host not in hosts:
            return problem(421, "Wrong address", "This server answers to its own address only.")
        origin = request.headers.get("origin")
        if origin and urlsplit(origin).netloc != request.headers.get("host"):
            return problem(403, "Other site", "Requests from other sites are refused.")
        if token and request.url.path.startswith("/api") and not _knows(request, token):
            return problem(
                401, "Token needed", "Open the address with ?token=… that the server printed."
            )
        nonce = request.state.nonce = secrets.token_urlsafe(16)
        response = await following(request)
        response.headers["Content-Security-Policy"] = (
            f"default-src 'self'; style-src 'self' 'nonce-{nonce}'; style-src-attr 'unsafe-inline'; "
            "img-src 'self' data: blob:; font-src 'self'; object-src 'none'; base-uri 'none'; "
            "frame-ancestors 'none'; form-action 'none'"
        )
        response.headers["X-Content-Type-Options"] = "nosniff"
        response.headers["Referrer-Policy"] = "no-referrer"
        if token and request.query_params.get("token") == token:
            response.set_cookie("skeinwork", token, httponly=True, samesite="strict")
        return response


def _knows(request: Request, token: str) -> bool:
    given = request.cookies.get("skeinwork") or request.query_params.get("token") or ""
    return secrets.compare_digest(given.encode(), token.encode())


def _serve_interface(app: FastAPI) -> None:
    """The built front end; every address that is not the API's opens it."""
    if (STATIC / "assets").is_dir():
        app.mount("/assets", StaticFiles(directory=STATIC / "assets"), name="assets")

    @app.get("/{path:path}", include_in_schema=False)
    def interface(request: Request, path: str) -> Response:
        if path.startswith("api/"):
            return problem(404, "Not there", f"There is no /{path}.")
        wanted = (STATIC / path).resolve()
        if path and wanted.is_file() and wanted.is_relative_to(STATIC.resolve()):
            return FileResponse(wanted)
        index = STATIC / "index.html"
        if not index.exists():
            return HTMLResponse("<p>The interface has not been built. Run make demo.</p>", 503)
        page = index.read_text(encoding="utf-8").replace("__NONCE__", request.state.nonce)
        return HTMLResponse(page, headers={"Cache-Control": "no-store"})


def make_app(
    state: State | None, hosts: tuple[str, ...] = LOOPBACK, token: str | None = None
) -> FastAPI:
    """The application around a state; without one it can only describe itself."""

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        if state:
            state.runner.executor.warm()
        yield
        app.state.stopping = True
        if state:
            state.runner.close()
            state.store.close()

    app = FastAPI(title="Skeinwork", version=__version__, docs_url=None, redoc_url=None,
                  openapi_url="/api/openapi.json", lifespan=lifespan,
                  generate_unique_id_function=lambda route: route.name)  # fmt: skip
    app.state.skeinwork = state
    app.state.stopping = False
    app.add_middleware(GZipMiddleware, minimum_size=2000)
    _guard(app, hosts, token)
    app.add_exception_handler(SkeinworkError, _on_fault)
    app.add_exception_handler(DamagedResultError, _on_damaged)
    app.add_exception_handler(RequestValidationError, _on_invalid)
    app.add_exception_handler(OperationalError, _on_disk)
    app.add_exception_handler(OSError, _on_disk)
    for part in (
        files,
        skeins,
        jobs,
        gather,
        sources,
        shape,
        clean,
        weigh,
        fits,
        topics,
        track,
        evidence,
        share,
    ):
        app.include_router(part.router)
    _serve_interface(app)
    return app
