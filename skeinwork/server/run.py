"""Start the server, with or without the demo corpus."""

from __future__ import annotations

import argparse
import socket
import sys
from pathlib import Path

import platformdirs
import uvicorn

from skeinwork.core.errors import BadInputError
from skeinwork.server.app import LOOPBACK, STATIC, make_app
from skeinwork.server.demo import ensure_demo
from skeinwork.server.state import State
from skeinwork.store.store import Store
from skeinwork.work import skeins
from skeinwork.work.executors import make_executor
from skeinwork.work.jobs import JobRunner


def open_state(
    folder: Path, workers: int | None = None, upload_limit_mb: int = 2000,
    scheduler: str | None = None,
) -> State:  # fmt: skip
    """The state of a data folder; results are computed here, or on a scheduler's cluster."""
    store = Store(folder)
    with store.connection():
        skeins.purge(store)
    try:
        executor = make_executor(store, workers, scheduler)
    except BaseException:
        store.close()
        raise
    return State(store, JobRunner(store, executor), upload_limit_mb * 1_000_000)


def _free_port(host: str, wanted: int) -> socket.socket:
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    listener = socket.socket(family)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listener.bind((host, wanted))
    except OSError as fault:
        listener.close()
        raise BadInputError(
            f"Port {wanted} on {host} can't be used ({fault.strerror}). Choose another with --port."
        ) from fault
    return listener


def serve(options: argparse.Namespace, demo: bool) -> int:
    """Serve until interrupted."""
    if not (STATIC / "index.html").exists():
        raise BadInputError("The interface has not been built. Run make demo in the project.")
    if options.host not in LOOPBACK and options.host != "::1" and not options.token:
        raise BadInputError(
            f"{options.host} can be reached from other machines, so an access token is needed. "
            "Add --token with a long random word."
        )
    name = "demo" if demo else "data"
    folder: Path = options.data or platformdirs.user_data_path("skeinwork") / name
    listener = _free_port(options.host, options.port)
    state = open_state(folder, options.workers, options.upload_limit, options.scheduler)
    opened = "/"
    if demo:
        opened = f"/strand/{ensure_demo(state.store, state.runner)}/track"
    port = listener.getsockname()[1]
    hosts = (*LOOPBACK, options.host, socket.gethostname())
    app = make_app(state, hosts, options.token)
    query = opened + (f"?token={options.token}" if options.token else "")
    print(
        f"Skeinwork is at http://{options.host}:{port}{query}  (data in {folder}; stop with Ctrl+C)"
    )
    sys.stdout.flush()
    config = uvicorn.Config(app, log_level="warning", timeout_graceful_shutdown=2)
    uvicorn.Server(config).run(sockets=[listener])
    return 0
