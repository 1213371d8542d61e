"""E-mail: a message a file (.eml), or a mailbox of messages (mbox, RFC 4155)."""

from __future__ import annotations

import email
import email.policy
import re
from collections.abc import Iterator
from datetime import datetime
from email.header import decode_header, make_header
from email.message import Message
from email.utils import parsedate_to_datetime

from skeinwork.core.formats import html
from skeinwork.core.formats.encoding import decode
from skeinwork.core.formats.format import Format
from skeinwork.core.formats.records import FileSettings, Records, Rejected, Row

_BEGINS = re.compile(rb"^From [^\n]*\n(?=[!-9;-~]+:)", re.MULTILINE)
_HEADER = re.compile(rb"(?:[!-9;-~]+:[^\n]*\n(?:[ \t][^\n]*\n)*){2,}")
_KNOWN = re.compile(rb"^(?:from|to|subject|date|message-id|received|return-path):", re.I | re.M)


def looks_like_mail(data: bytes, name: str = "") -> bool:
    """Whether a file begins as a message or a mailbox does; one so named needs less for it."""
    begin = data[:20_000].replace(b"\r\n", b"\n")
    if found := re.match(rb"From [^\n]*\n", begin):
        begin = begin[found.end() :]
    header = _HEADER.match(begin)
    known = _KNOWN.findall(header.group()) if header else []
    return len(known) >= (1 if name.lower().endswith((".eml", ".mbox")) else 2)


def _messages(data: bytes) -> Iterator[tuple[int, bytes]]:
    """Each message with the line it begins on."""
    data = data.replace(b"\r\n", b"\n")
    boxed = data.startswith(b"From ")
    starts = [found.start() for found in _BEGINS.finditer(data)] if boxed else [0]
    line, before = 1, 0
    for number, start in enumerate(starts):
        end = starts[number + 1] if number + 1 < len(starts) else len(data)
        line += data.count(b"\n", before, start)
        before = start
        part = data[start:end]
        if part.startswith(b"From "):
            part = part.partition(b"\n")[2]
            part = re.sub(rb"^>(>*From )", rb"\1", part, flags=re.MULTILINE)
        yield line, part


def _header(message: Message, name: str) -> str:
    raw = message.get(name)
    if raw is None:
        return ""
    try:
        text = str(make_header(decode_header(str(raw))))
    except (LookupError, UnicodeError, ValueError):
        text = str(raw)
    return " ".join(text.split())


def _part_text(part: Message) -> str:
    raw = part.get_payload(decode=True)
    data = raw if isinstance(raw, bytes) else b""
    charset = part.get_content_charset()
    try:
        return data.decode(charset or "utf-8")
    except (LookupError, UnicodeError):
        return decode(data).text if data else ""


def _body(message: Message) -> tuple[str, list[str]]:
    """The plain text of a message, else that of its HTML; and the names of what is attached."""
    plain: list[str] = []
    pages: list[str] = []
    attached: list[str] = []
    for part in message.walk():
        if part.is_multipart():
            continue
        name = part.get_filename()
        if name or part.get_content_disposition() == "attachment":
            attached.append(name or "unnamed")
        elif part.get_content_type() == "text/plain":
            plain.append(_part_text(part))
        elif part.get_content_type() == "text/html":
            pages.append(_part_text(part))
    if any(text.strip() for text in plain):
        return "\n\n".join(text.strip("\r\n") for text in plain).replace("\r\n", "\n"), attached
    whole = FileSettings(format="html", page="whole")
    return "\n\n".join(html.page_text(page, whole)[0] for page in pages), attached


def _date(written: str) -> str:
    """A civil date from a Date header; the text as it stands where it can't be read."""
    try:
        found: datetime = parsedate_to_datetime(written)
    except (ValueError, TypeError, IndexError, OverflowError):
        return written
    return found.date().isoformat()


def read(data: bytes, name: str) -> Records:
    """Every message as a row; one that can't be taken apart is rejected with its line."""
    for line, raw in _messages(data):
        try:
            message = email.message_from_bytes(raw, policy=email.policy.compat32)
            text, attached = _body(message)
            cells = {
                "title": _header(message, "subject"),
                "author": _header(message, "from"),
                "to": _header(message, "to"),
                "date": _date(_header(message, "date")),
                "identifier": _header(message, "message-id"),
                "answers": _header(message, "in-reply-to"),
                "attachments": "; ".join(attached),
            }
        except Exception:  # hostile headers raise nearly anything; the other messages are good
            yield Rejected(line, "is not a readable message", decode(raw[:2000]).text)
            continue
        if not any(cells.values()) and not text.strip():
            yield Rejected(line, "holds neither headers nor text", decode(raw[:2000]).text)
            continue
        yield Row(line, {**cells, "text": text})


FORMAT = Format("mail", "e-mail", lambda data, name, _: read(data, name), by_line=True)
