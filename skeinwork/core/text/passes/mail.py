"""What e-mail carries beside its text."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Literal

from pydantic import Field

from skeinwork.core.in_words import percent
from skeinwork.core.text.mapped import Mapped, mapped
from skeinwork.core.text.passes.base import BasePass, TextPass
from skeinwork.core.text.sample import Sample

_QUOTED = re.compile(r"[ \t]{0,3}>")
_HEADER = re.compile(
    r"(?:From|To|Cc|Bcc|Subject|Date|Sent|Reply-To|Message-ID|In-Reply-To|References|Received|Sender"
    r"|Return-Path|MIME-Version|Content-[A-Za-z-]+|X-[A-Za-z0-9-]+):",
    re.IGNORECASE,
)
_FIELD = re.compile(r"[A-Za-z][A-Za-z0-9-]*:")
_RULE = re.compile(r"[ \t]*[-_=*]{3,}.*[-_=*]{3,}[ \t]*$|[ \t]*[-_=*]{5,}[ \t]*$")
# One line with a colon may be text; two known ones are a head.
_LEAST_HEADERS = 2
_MOST_INTRODUCING = 3  # lines
# Of the texts, those with quotes or headers from which the pass is suggested.
_SUGGESTED = 0.1


class MailPass(TextPass):
    """Remove quoted lines with the line that introduces them, signatures, and blocks of headers.

    A signature is what follows a line of two hyphens (RFC 3676, 4.3). Headers are fields in a row (RFC
    5322), two of them at least well known, with their continued lines and a rule above them.
    """

    title = "Mail"
    about = "quoted lines, signatures and headers of e-mail go"
    kind: Literal["mail"] = "mail"
    quotes: bool = Field(True, description="quoted lines")
    signatures: bool = Field(True, description="signatures")
    headers: bool = Field(True, description="blocks of headers")

    def said(self) -> str:
        what = {"quotes": self.quotes, "signatures": self.signatures, "headers": self.headers}
        return ", ".join(name for name, goes in what.items() if goes) or "nothing goes"

    @classmethod
    def suggested(cls, sample: Sample) -> tuple[tuple[BasePass, str], ...]:
        quoted = sample.share(lambda text: next(_quotes(text.splitlines()), None) is not None)
        headed = sample.share(lambda text: next(_headers(text.splitlines()), None) is not None)
        if max(quoted, headed) < _SUGGESTED:
            return ()
        return ((cls(), f"quoted lines in {percent(quoted)} of the texts, a block of headers in {percent(headed)}"),)

    def change(self, text: str) -> Mapped | None:
        lines = text.splitlines(keepends=True)
        gone = set[int]()
        if self.headers:
            gone.update(_headers(lines))
        if self.quotes:
            gone.update(_quotes(lines))
        if self.signatures:
            gone.update(_signature(lines))
        if not gone:
            return None
        return mapped((line, "" if at in gone else line) for at, line in enumerate(lines))


def _quotes(lines: list[str]) -> Iterator[int]:
    """Quoted lines, and the lines that introduce them: up to a colon, with a date or an address."""
    quoted = [_QUOTED.match(line) is not None for line in lines]
    for at in [at for at, each in enumerate(quoted) if each]:
        yield at
        before = at - 1
        while before >= 0 and not lines[before].strip():
            before -= 1
        if before < 0 or quoted[before] or not lines[before].rstrip().endswith(":"):
            continue
        first = before
        while first > max(0, before - _MOST_INTRODUCING + 1) and lines[first - 1].strip():
            if quoted[first - 1]:
                break
            first -= 1
        if re.search(r"\d|@", "".join(lines[first : before + 1])):
            yield from range(first, before + 1)


def _headers(lines: list[str]) -> Iterator[int]:
    at = 0
    while at < len(lines):
        first, known = at, 0
        while at < len(lines) and (
            _FIELD.match(lines[at]) or (at > first and lines[at][:1] in " \t" and lines[at].strip())
        ):
            known += _HEADER.match(lines[at]) is not None
            at += 1
        if known >= _LEAST_HEADERS:
            above = first - 1 if first and not lines[first - 1].strip() else first
            if above and _RULE.match(lines[above - 1].rstrip("\r\n")):
                first = above - 1
            yield from range(first, at)
        at = max(at, first + 1)


def _signature(lines: list[str]) -> Iterator[int]:
    marks = [at for at, line in enumerate(lines) if line.rstrip("\r\n") in ("-- ", "--")]
    if marks:
        yield from range(marks[-1], len(lines))
