"""What encoding a file is written in, and what could not be read in it."""

from __future__ import annotations

import codecs
import re
from dataclasses import dataclass

from skeinwork.core.errors import BadInputError

OFFERED = ("utf-8", "utf-16-le", "utf-16-be", "cp1252", "iso-8859-15", "mac-roman", "cp437")
_DECLARED = re.compile(
    rb"""(?:<\?xml[^>]{0,100}encoding|<meta[^>]{0,200}charset)\s*=\s*["']?([\w.:-]{3,40})""", re.I
)
_MARKS = (
    (codecs.BOM_UTF8, "utf-8"),
    (codecs.BOM_UTF16_LE, "utf-16-le"),
    (codecs.BOM_UTF16_BE, "utf-16-be"),
)


@dataclass(frozen=True)
class Decoded:
    """A file's text, the encoding it was read in, and how many bytes had no character in it.

    Undecodable bytes stand in the text as U+FFFD; ``doubtful`` counts them, so that nothing is
    replaced silently. ``guessed`` says that no mark or strict reading settled the encoding.
    """

    text: str
    encoding: str
    doubtful: int
    guessed: bool


def detect(data: bytes) -> str:
    """Byte-order mark, UTF-16 by its NUL bytes, strict UTF-8, what it declares, Windows-1252."""
    for mark, encoding in _MARKS:
        if data.startswith(mark):
            return encoding
    sample = data[:4096]
    if len(sample) >= 4:
        if sample[1::2].count(0) > 0.4 * len(sample[1::2]) and sample[0::2].count(0) == 0:
            return "utf-16-le"
        if sample[0::2].count(0) > 0.4 * len(sample[0::2]) and sample[1::2].count(0) == 0:
            return "utf-16-be"
    try:
        data.decode("utf-8")
    except UnicodeDecodeError:
        return "utf-8" if _mostly_utf8(data) else _declared(data) or "cp1252"
    return "utf-8"


def _declared(data: bytes) -> str | None:
    """The encoding that an HTML page or XML file says it has, where that is a known one."""
    found = _DECLARED.search(data[:4096])
    try:
        name = codecs.lookup(found[1].decode()).name if found else None
    except (LookupError, UnicodeDecodeError):
        return None
    return None if name in ("utf-8", "utf-16", "utf-32") else name


def _mostly_utf8(data: bytes) -> bool:
    """A long UTF-8 file with a few broken bytes is still UTF-8."""
    broken = data.decode("utf-8", "replace").count("�")
    beyond_ascii = sum(map(data.count, range(0xC2, 0xF5)))
    return broken * 5 < beyond_ascii


def decode(data: bytes, encoding: str | None = None) -> Decoded:
    """Decode a whole file, by its detected or a chosen encoding.

    Raises
    ------
    BadInputError
        for an encoding that does not exist.
    """
    chosen = encoding or detect(data)
    try:
        codecs.lookup(chosen)
        "".encode(chosen)
    except LookupError as fault:
        raise BadInputError(f"There is no encoding “{chosen}”. Choose one of the list.") from fault
    for mark, marked in _MARKS:
        if chosen == marked and data.startswith(mark):
            data = data[len(mark) :]
    text = data.decode(chosen, "replace")
    doubtful = text.count("�") - data.count("�".encode(chosen, "ignore") or b"\0\0\0\0")
    return Decoded(text, chosen, max(doubtful, 0), chosen == "cp1252" == detect(data))
