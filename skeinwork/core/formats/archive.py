"""Archives (zip, tar, gzip) and folders: their members, within limits counted while unpacking.

One count holds for all that comes out of a file: archives, what is packed in them, office files. It
can be raised with ``--archive-limit``, which sets the environment variable
``SKEINWORK_ARCHIVE_LIMIT`` (megabytes unpacked) for the worker processes too.
"""

from __future__ import annotations

import gzip
import io
import os
import tarfile
import zipfile
import zlib
from collections.abc import Iterable, Iterator
from contextlib import contextmanager, suppress
from contextvars import ContextVar
from dataclasses import dataclass
from pathlib import Path, PurePosixPath
from typing import IO

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.records import Rejected

# Files in an archive.
MOST_MEMBERS = 100_000
# Times its size that an archive may unpack to.
_RATIO = 200
# Bytes up to which that is not asked.
_RATIO_FROM = 20_000_000
# Bytes that are unpacked at once.
_PIECE = 1 << 20
_FURNITURE = (".DS_Store", "Thumbs.db", "desktop.ini")
_EPOCH = (1980, 1, 1, 0, 0, 0)
Member = tuple[str, bytes]


def most_bytes() -> int:
    """How much may come out of one file."""
    return int(os.environ.get("SKEINWORK_ARCHIVE_LIMIT", "4000")) * 1_000_000


@dataclass
class _Out:
    """What has come out of a file, in bytes, and its own size."""

    packed: int
    total: int = 0


_OUT: ContextVar[_Out | None] = ContextVar("unpacked", default=None)


@contextmanager
def counted(packed: int) -> Iterator[None]:
    """Count what comes out of a file of so many bytes together, whatever lies in it."""
    if _OUT.get():
        yield
        return
    token = _OUT.set(_Out(packed))
    try:
        yield
    finally:
        with suppress(ValueError):  # a generator that was given up may end elsewhere
            _OUT.reset(token)


def count(size: int, name: str, packs: bool = True) -> None:
    """Note that so many bytes have come out.

    Parameters
    ----------
    packs : whether far more than was put in is suspicious, as it is not where values are kept once

    Raises
    ------
    BadInputError
        naming the limit that is reached.
    """
    if out := _OUT.get():
        out.total += size
        _check(out.total, out.packed if packs else out.total, name)


def _check(total: int, packed: int, name: str) -> None:
    if total > most_bytes():
        raise BadInputError(
            f"{name} unpacks to over the limit of {most_bytes():,} bytes and was refused. If it is "
            "meant to be so, raise the limit with --archive-limit."
        )
    if total > max(_RATIO_FROM, _RATIO * packed):
        raise BadInputError(
            f"{name} unpacks to over {_RATIO} times its size and was refused. If it is meant to be so, unpack it first."
        )


def _read(source: IO[bytes] | gzip.GzipFile, name: str) -> bytes:
    """All of a packed stream, counted while it is unpacked."""
    pieces = []
    while piece := source.read(_PIECE):
        count(len(piece), name)
        pieces.append(piece)
    return b"".join(pieces)


def open_zip(data: bytes, name: str) -> zipfile.ZipFile:
    """A zip file, unless it is damaged or would unpack to more than the limits.

    Raises
    ------
    BadInputError
        naming the limit.
    """
    try:
        found = zipfile.ZipFile(io.BytesIO(data))
    except (zipfile.BadZipFile, OSError, ValueError, NotImplementedError) as fault:
        raise BadInputError(f"{name} is damaged or breaks off. Pack or copy it again.") from fault
    listed = found.infolist()
    if len(listed) > MOST_MEMBERS:
        raise BadInputError(
            f"{name} holds {len(listed)} files, over the limit of {MOST_MEMBERS}, and was refused. "
            "Bring it in in parts."
        )
    out = _OUT.get() or _Out(len(data))
    _check(out.total + sum(each.file_size for each in listed), out.packed, name)
    return found


@contextmanager
def _member(archive: zipfile.ZipFile, member: str, name: str) -> Iterator[IO[bytes]]:
    try:
        with archive.open(member) as source:
            yield source
    except (zipfile.BadZipFile, zlib.error, EOFError, RuntimeError, NotImplementedError) as fault:
        raise BadInputError(f"{name} is damaged at {member}.") from fault


def read_member(archive: zipfile.ZipFile, member: str, name: str) -> bytes:
    """One member's bytes, never more than it states."""
    with _member(archive, member, name) as source:
        return _read(source, name)


def extract_member(archive: zipfile.ZipFile, member: str, name: str, target: Path) -> None:
    """Write one member to a file, piece by piece."""
    with _member(archive, member, name) as source, target.open("wb") as out:
        while piece := source.read(_PIECE):
            count(len(piece), name)
            out.write(piece)


def _unwanted(path: str) -> bool:
    parts = PurePosixPath(path).parts
    return (
        not parts
        or path.endswith("/")
        or parts[0] == "__MACOSX"
        or parts[-1] in _FURNITURE
        or parts[-1].startswith("._")
    )


def _outside(path: str) -> bool:
    plain = path.replace("\\", "/")
    return plain.startswith("/") or ".." in PurePosixPath(plain).parts or plain[1:2] == ":"


def _rejected(path: str, reason: str) -> Rejected:
    return Rejected(0, reason, path, path)


def _zip_members(data: bytes, name: str) -> Iterator[Member | Rejected]:
    with open_zip(data, name) as archive:
        for each in archive.infolist():
            path = each.filename
            if each.is_dir() or _unwanted(path):
                continue
            if _outside(path):
                yield _rejected(path, "has a path outside of the archive")
            elif each.flag_bits & 1:
                yield _rejected(path, "is locked with a password")
            else:
                try:
                    yield path, read_member(archive, path, name)
                except BadInputError:
                    yield _rejected(path, "is damaged in the archive")


def _tar_members(data: bytes, name: str) -> Iterator[Member | Rejected]:
    try:
        with tarfile.open(fileobj=io.BytesIO(data), mode="r|*") as archive:
            for number, each in enumerate(archive):
                count(max(each.size, 512), name)
                if number >= MOST_MEMBERS:
                    raise BadInputError(
                        f"{name} holds over {MOST_MEMBERS} files and was refused. Bring it in in parts."
                    )
                if each.isdir() or _unwanted(each.name):
                    continue
                if _outside(each.name):
                    yield _rejected(each.name, "has a path outside of the archive")
                elif not each.isfile():
                    yield _rejected(each.name, "is a link or a device, not a file")
                elif (member := archive.extractfile(each)) is not None:
                    yield each.name, member.read()
    except (tarfile.TarError, OSError, EOFError, zlib.error) as fault:
        raise BadInputError(f"{name} is damaged or breaks off. Pack or copy it again.") from fault


def unpacked(data: bytes, name: str) -> Member:
    """A file that was packed alone with gzip, under its own name; any other as it is.

    Raises
    ------
    BadInputError
        where it is damaged or breaks off.
    """
    if not data.startswith(b"\x1f\x8b") or _is_tar(data):
        return name, data
    try:
        with gzip.open(io.BytesIO(data)) as source:
            return name.removesuffix(".gz"), _read(source, name)
    except (OSError, EOFError, zlib.error) as fault:
        raise BadInputError(f"{name} is damaged or breaks off. Pack or copy it again.") from fault


def is_archive(data: bytes) -> bool:
    """Whether the bytes begin as a zip, gzip, bzip2, xz or tar file."""
    begins = (b"PK\x03\x04", b"PK\x05\x06", b"\x1f\x8b", b"BZh", b"\xfd7zXZ\x00")
    return data.startswith(begins) or data[257:262] == b"ustar"


def members(data: bytes, name: str) -> Iterator[Member | Rejected]:
    """The files in an archive, in its order; what can't be unpacked is rejected with the reason."""
    if data.startswith((b"PK\x03\x04", b"PK\x05\x06")):
        yield from _zip_members(data, name)
    elif data.startswith(b"\x1f\x8b") and not _is_tar(data):
        yield unpacked(data, name)
    else:
        yield from _tar_members(data, name)


def _is_tar(data: bytes) -> bool:
    try:
        with gzip.open(io.BytesIO(data)) as source:
            return source.read(512)[257:262] == b"ustar"
    except (OSError, EOFError, zlib.error):
        return False


def pack(files: Iterable[Member]) -> bytes:
    """A folder as a zip file; the same files give the same bytes, whatever their order."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive:
        for path, data in sorted(files):
            archive.writestr(zipfile.ZipInfo(path, _EPOCH), data, zipfile.ZIP_DEFLATED, 1)
    return out.getvalue()
