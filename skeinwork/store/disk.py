"""What is said when the disk of the data folder takes no more."""

from __future__ import annotations

import errno
import shutil
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from skeinwork.core.errors import SkeinworkError

_FULL = (errno.ENOSPC, errno.EDQUOT, errno.EFBIG)


class DiskError(SkeinworkError):
    """The data folder can't be written."""

    def __init__(self, folder: Path, fault: Exception, needed: int = 0) -> None:
        super().__init__(folder, fault, needed)
        if "cannot rollback" in str(fault) and isinstance(fault.__context__, Exception):
            fault = fault.__context__  # the database had rolled back by itself
        full = getattr(fault, "errno", None) in _FULL or "is full" in str(fault)
        wanted = f" {_megabytes(needed)} were needed;" if needed else ""
        what = "is full" if full else f"can't be written ({fault})"
        self.sentence = (
            f"The disk of the data folder {what}:{wanted} {_megabytes(_free(folder))} are free. Free "
            "some, then continue or try again; what was finished is kept."
        )

    def __str__(self) -> str:
        return self.sentence


@contextmanager
def disk_faults(folder: Path, needed: int) -> Iterator[None]:
    """Say of a write that fails how many bytes it needed, and how many are there."""
    try:
        yield
    except OSError as fault:
        raise DiskError(folder, fault, needed) from fault


def _free(folder: Path) -> int:
    try:
        return shutil.disk_usage(folder).free
    except OSError:
        return 0


def _megabytes(size: int) -> str:
    return f"{size / 1_000_000:,.1f} MB"
