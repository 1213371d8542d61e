"""Requests of every kind at a running server: whatever is sent, the answer is as the API is described.

``make fuzz`` takes ten minutes, CI a minute of it. All checks of the tool are on; a failure is printed
with the request that reproduces it.
"""

from __future__ import annotations

import argparse
import os
import subprocess
import sys
import tempfile
from pathlib import Path

from skeinwork.demo.generator import write_files
from tests.shared import Server
from tests.test_faults import begin

HERE = Path(__file__).parent
TOOL = Path(sys.executable).with_name("schemathesis")
# Seconds without an answer that count as hanging, on however laden a machine; how fast answers are is the bench's.
HANG = 20
# Streams without end; and the one that brings the demo in, which is long work by intent.
WITHOUT = ("/api/jobs/stream", "/api/demo")


def prepare(server: Server, folder: Path) -> None:
    """A strand with everything on it, so that requests reach what is behind the first refusal."""
    made = begin(server, write_files(folder, size=200))
    server.wait(made["job"], "done")
    fit = {"method": "lda", "topics": 4, "iterations": 40}
    server.wait(server.post(f"/strands/{made['strand']}/fits", **fit)["job"], "done")


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--seconds", type=int, default=600)
    parser.add_argument("--seed", type=int, default=1)
    options = parser.parse_args()
    with tempfile.TemporaryDirectory() as name:
        server = Server(Path(name) / "data")
        try:
            prepare(server, Path(name))
            without = [part for path in WITHOUT for part in ("--exclude-path", path)]
            return subprocess.run(
                [
                    TOOL,
                    "--config-file",
                    str(HERE.parent / "schemathesis.toml"),
                    "run",
                    f"{server.base}/openapi.json",
                    "--checks",
                    "all",
                    *without,
                    "--max-time",
                    str(options.seconds),
                    "--seed",
                    str(options.seed),
                    "--workers",
                    "1",
                    "--max-response-time",
                    str(HANG),
                    "--no-color",
                    "--generation-database",
                    "none",
                    "--warnings",
                    "off",
                    "--continue-on-failure",
                    "--max-failures",
                    "40",
                ],
                cwd=name,
                env={**os.environ, "SCHEMATHESIS_HOOKS": "scripts.fuzz_checks"},
            ).returncode
        finally:
            server.stop()


if __name__ == "__main__":
    sys.exit(main())
