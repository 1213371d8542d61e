"""Read a binary file in a process of its own, which ends where it would take too much memory.

A spreadsheet of 5 kB may have cells in its first and its last corner, which readers lay out with all
that is between; compressed tables and documents may unpack to far more than they are.
"""

from __future__ import annotations

import json
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.archive import most_bytes, too_large

_WORKER = Path(__file__).with_name("apart_worker.py")


def read_apart(reader: str, data: bytes, name: str, *arguments: str) -> Iterator[Any]:
    """What a reader of ``apart_worker`` finds in a file, value by value.

    Raises
    ------
    BadInputError
        where the file needs more memory than one may, or unpacks to more than the limit.
    ValueError
        where it is damaged.
    """
    process = subprocess.Popen(
        [sys.executable, "-I", str(_WORKER), reader, *arguments],
        stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL,
    )  # fmt: skip
    assert process.stdin and process.stdout
    try:
        try:
            process.stdin.write(data)
            process.stdin.close()
        except BrokenPipeError:
            pass
        read = 0
        for line in process.stdout:
            read += len(line)
            if read > most_bytes():
                raise too_large(name)
            value = json.loads(line)
            if value is True:
                return
            if isinstance(value, str):
                raise ValueError(value)
            yield value
        raise BadInputError(
            f"{name} would take more than 3 GB when laid out, far more than its size: its cells may "
            "lie far apart, or it unpacks to very much. Save what you need of it as CSV or plain text."
        )
    finally:
        process.kill()
        process.wait()
        process.stdout.close()
        process.stdin.close()
