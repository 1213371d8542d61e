"""What a format is: how one kind of file is known, and read."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import PurePath
from typing import NamedTuple

from skeinwork.core.formats.encoding import decode
from skeinwork.core.formats.records import FileSettings, Noted, Records

Reader = Callable[[bytes, str, FileSettings], Records]
# Bytes from which the format of a file is guessed.
_LOOKED_AT = 200_000


class Beginning(NamedTuple):
    """A text file, as a guess sees it.

    Attributes
    ----------
    text : what there is of it; begin : its first part, from the first character that is not blank
    suffix : of its name, in lower case
    """

    text: str
    begin: str
    suffix: str

    @classmethod
    def of(cls, text: str, name: str) -> Beginning:
        begin = text.lstrip("\ufeff \t\r\n")[:_LOOKED_AT]
        return cls(text, begin, PurePath(name).suffix.lower())


def never(_: Beginning) -> None:
    """The guess of a format that is known by other marks."""


@dataclass(frozen=True)
class Format:
    """How one kind of file is read.

    Attributes
    ----------
    name : in settings; label : what the screens call it
    settings : the names of those file settings that concern it
    unit : what a place in it is counted in
    by_line : whether its first part alone can be previewed
    beginning : makes a whole of the first part of a large file, for a preview
    single : whether a file is one document, whose fields are known before it is read
    signature : the bytes it begins with; endings : of the names of text files in it
    guess : the name of this format, or of a sister of it, where a text looks like one
    """

    name: str
    label: str
    read: Reader
    settings: tuple[str, ...] = ()
    unit: str = "line"
    by_line: bool = False
    beginning: Callable[[bytes], bytes] | None = None
    single: bool = False
    signature: bytes = b""
    endings: tuple[str, ...] = ()
    guess: Callable[[Beginning], str | None] = never

    @property
    def encoded(self) -> bool:
        """Whether its bytes are text in some encoding."""
        return "encoding" in self.settings

    @property
    def nested(self) -> bool:
        """Whether it has a tree of names."""
        return "records" in self.settings

    @property
    def paged(self) -> bool:
        """Whether it gives pages of HTML, or may."""
        return "page" in self.settings


def up_to_a_space(data: bytes) -> bytes:
    """The first part of a text, up to where a word ends."""
    return data[: data.rfind(b" ")] if b" " in data else data


def of_text(read: Callable[[str, str, FileSettings], Records]) -> Reader:
    """A reader of bytes from a reader of text; bytes outside of the encoding are noted."""

    def reader(data: bytes, name: str, settings: FileSettings) -> Records:
        decoded = decode(data, settings.encoding)
        del data
        if decoded.doubtful:
            yield Noted(0, f"{decoded.doubtful} bytes are not {settings.encoding}; shown as �")
        yield from read(decoded.text, name, settings)

    return reader
