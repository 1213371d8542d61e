"""The web application: routes, and the built front end."""

from __future__ import annotations

from collections.abc import AsyncIterator, Collection
from contextlib import asynccontextmanager
from importlib import import_module
from pathlib import Path
from pkgutil import iter_modules

from fastapi import FastAPI, HTTPException, Request
from fastapi.responses import FileResponse, HTMLResponse, Response
from fastapi.staticfiles import StaticFiles
from starlette.middleware.gzip import GZipMiddleware

from skeinwork import __version__
from skeinwork.server import routes
from skeinwork.server.guard import guard
from skeinwork.server.limits import BodyLimit
from skeinwork.server.problems import answer_problems, methods_of
from skeinwork.server.state import State
from skeinwork.server.waiting import Waiting

STATIC = Path(__file__).parent / "static"


def _serve_interface(app: FastAPI, upload_limit: int) -> None:
    """The built front end; every address that is not the API's opens it."""
    if (STATIC / "assets").is_dir():
        app.mount("/assets", StaticFiles(directory=STATIC / "assets"), name="assets")
    files = {path.name: path for path in STATIC.glob("*.*") if path.name != "index.html"}

    @app.get("/{path:path}", include_in_schema=False)
    def interface(request: Request, path: str) -> Response:
        if path.startswith("api/"):
            raise HTTPException(405 if methods_of(request) else 404)
        if path in files:
            return FileResponse(files[path])
        index = STATIC / "index.html"
        if not index.exists():
            return HTMLResponse("<p>The interface has not been built. Run make demo.</p>", 503)
        page = index.read_text(encoding="utf-8").replace("__NONCE__", request.state.nonce)
        page = page.replace("__UPLOAD_LIMIT__", str(upload_limit))
        return HTMLResponse(page, headers={"Cache-Control": "no-store"})


def make_app(state: State | None, hosts: Collection[str] = (), token: str | None = None) -> FastAPI:
    """The application around a state; without one it can only describe itself.

    Parameters
    ----------
    hosts : names that it is called by, besides loopback and the address that a request came to
    """

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        if state:
            state.runner.executor.warm()
            state.warm_all()
        yield
        app.state.stopping = True
        if state:
            state.runner.close()
            state.store.close()

    app = FastAPI(
        title="Skeinwork",
        version=__version__,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        lifespan=lifespan,
        generate_unique_id_function=lambda route: route.name,
    )
    app.state.skeinwork = state
    app.state.stopping = False
    limit = state.upload_limit if state else 0
    app.add_middleware(GZipMiddleware, minimum_size=2000)
    app.add_middleware(BodyLimit, files=limit)
    app.add_middleware(Waiting)
    guard(app, hosts, token)
    answer_problems(app)
    for part in sorted(each.name for each in iter_modules(routes.__path__)):
        # As they were built: to include a router builds each of its routes once more, half of the time of a start.
        app.router.routes.extend(import_module(f"{routes.__name__}.{part}").router.routes)
    _serve_interface(app, limit)
    return app
