"""Start the server, with or without the demo corpus."""

from __future__ import annotations

import argparse
import contextlib
import signal
import socket
import sys
from pathlib import Path
from types import FrameType
from urllib.parse import quote

import platformdirs
import uvicorn
from fastapi import FastAPI

from skeinwork.core.errors import UsageError
from skeinwork.server.app import STATIC, make_app
from skeinwork.server.demo import ensure_demo
from skeinwork.server.guard import check_token, host_of, is_loopback, written
from skeinwork.server.state import State
from skeinwork.store.store import Store
from skeinwork.work import steps
from skeinwork.work.jobs.executors import make_executor
from skeinwork.work.jobs.executors.base import Executor
from skeinwork.work.jobs.runner import JobRunner
from skeinwork.work.strands import storage


def open_state(
    folder: Path, workers: int | None = None, upload_limit_mb: int = 2000, scheduler: str | None = None
) -> State:
    """The state of a data folder; results are computed here, or on a scheduler's cluster."""
    store = Store(folder, steps.examine)
    try:
        executor = make_executor(store, workers, scheduler)
    except BaseException:
        store.close()
        raise
    return state_of(store, executor, upload_limit_mb)


def state_of(store: Store, executor: Executor, upload_limit_mb: int = 2000) -> State:
    """The state of an open store whose results are made by an executor."""
    runner = JobRunner(store, executor)
    storage.clear_at_start(store, runner)
    return State(store, runner, upload_limit_mb * 1_000_000)


def _free_port(host: str, wanted: int) -> socket.socket:
    try:
        family = socket.getaddrinfo(host, wanted, type=socket.SOCK_STREAM)[0][0]
        # Named as TCP, so that answers are sent at once: else each waits 40 ms for an acknowledgement.
        listener = socket.socket(family, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    except (OSError, UnicodeError) as fault:
        raise UsageError(f"There is no address {host} here. Give another with --host.") from fault
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listener.bind((host, wanted))
    except OSError as fault:
        listener.close()
        raise UsageError(
            f"Port {wanted} on {host} can't be used ({fault.strerror}). Choose another with --port."
        ) from fault
    return listener


def _addresses(host: str) -> list[str]:
    """Names and addresses that the server can be reached by, the likeliest first."""
    if host not in ("0.0.0.0", "::"):
        return [host]
    found = [socket.gethostname()]
    with contextlib.suppress(OSError), socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        probe.connect(("192.0.2.1", 9))  # an address for examples: nothing is sent
        found.insert(0, probe.getsockname()[0])
    with contextlib.suppress(OSError):
        found += [str(each[4][0]) for each in socket.getaddrinfo(socket.gethostname(), None)]
    return list(dict.fromkeys(found))


def _told_at_once(server: uvicorn.Server, app: FastAPI) -> uvicorn.Server:
    """A server that tells what would listen for ever that it is over, as soon as it is asked to end."""
    ends = server.handle_exit

    def handle_exit(sig: int, frame: FrameType | None) -> None:
        app.state.stopping = True
        ends(sig, frame)

    server.handle_exit = handle_exit
    return server


def serve(options: argparse.Namespace, demo: bool) -> int:
    """Serve until interrupted."""
    if not (STATIC / "index.html").exists():
        raise UsageError("The interface has not been built. Run make demo in the project.")
    if options.token:
        check_token(options.token)
    elif not is_loopback(host_of(written(options.host))):
        raise UsageError(
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
    known = _addresses(options.host)
    hosts = [host_of(written(each)) for each in (*known, socket.gethostname(), *options.allow_host)]
    app = make_app(state, hosts, options.token)
    query = opened + (f"?token={quote(options.token, safe='')}" if options.token else "")
    first, *others = (f"http://{written(each)}:{port}{query}" for each in known)
    print(f"Skeinwork is at {first}  (data in {folder}; stop with Ctrl+C)")
    for other in others:
        print(f"             or {other}")
    sys.stdout.flush()
    config = uvicorn.Config(app, log_level="warning", timeout_graceful_shutdown=2)
    # Raised again when all is closed: an exit then takes what the workers' queues hold with it.
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    _told_at_once(uvicorn.Server(config), app).run(sockets=[listener])
    return 0
