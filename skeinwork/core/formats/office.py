"""Word-processor documents: DOCX and ODT, each one document with its headings."""

from __future__ import annotations

import io
from collections.abc import Iterator
from typing import Any

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.archive import open_zip, read_member
from skeinwork.core.formats.format import Format
from skeinwork.core.formats.records import Break, Records, Rejected, Row
from skeinwork.core.formats.xml_records import parse

_ODF = {
    "office": "urn:oasis:names:tc:opendocument:xmlns:office:1.0",
    "text": "urn:oasis:names:tc:opendocument:xmlns:text:1.0",
    "table": "urn:oasis:names:tc:opendocument:xmlns:table:1.0",
    "meta": "urn:oasis:names:tc:opendocument:xmlns:meta:1.0",
    "dc": "http://purl.org/dc/elements/1.1/",
}
_TEXT = f"{{{_ODF['text']}}}"


def _row(paragraphs: Iterator[tuple[str, bool]], fields: dict[str, str | None], name: str) -> Records:
    """One document from its paragraphs, each with whether it is a heading."""
    pieces: list[str] = []
    breaks: list[Break] = []
    size = 0
    for text, heading in paragraphs:
        if not text.strip():
            continue
        if heading:
            breaks.append(("heading", size, " ".join(text.split())[:200]))
        pieces.append(text)
        size += len(text) + 2
    if not pieces:
        yield Rejected(1, "holds no text", name)
        return
    cells = {key: value for key, value in fields.items() if value}
    yield Row(1, {**cells, "text": "\n\n".join(pieces), "file": name}, breaks=tuple(breaks))


def _docx(data: bytes) -> Iterator[Any]:
    """What a document says of itself, then its paragraphs, each with whether it is a heading."""
    from docx import Document
    from docx.table import Table

    document = Document(io.BytesIO(data))
    about = document.core_properties
    when = about.created.date().isoformat() if about.created else None
    yield {"title": about.title, "author": about.author, "date": when, "language": about.language}
    for block in document.iter_inner_content():
        if isinstance(block, Table):
            for row in block.rows:
                yield "\t".join(cell.text for cell in row.cells), False
        else:
            style = (block.style.name or "") if block.style is not None else ""
            yield block.text, style.startswith(("Heading", "Title"))


def read_docx(data: bytes, name: str) -> Records:
    """A DOCX document: paragraphs and tables in their order, with title, author and date."""
    open_zip(data, name).close()
    found = _docx(data)
    fields = next(found)
    yield from _row(found, fields, name)


def _odt_text(element: Any) -> str:
    """The text of a paragraph; tabs, breaks and repeated spaces are elements there."""
    out = [element.text or ""]
    for child in element:
        kind = child.tag.removeprefix(_TEXT)
        if kind == "tab":
            out.append("\t")
        elif kind == "line-break":
            out.append("\n")
        elif kind == "s":
            out.append(" " * min(int(child.get(f"{_TEXT}c", "1")), 1000))
        elif kind not in ("note", "annotation", "tracked-changes"):
            out.append(_odt_text(child))
        out.append(child.tail or "")
    return "".join(out)


def _odt_paragraphs(body: Any) -> Iterator[tuple[str, bool]]:
    for element in body.iter(f"{_TEXT}h", f"{_TEXT}p"):
        if any(True for _ in element.iterancestors(f"{_TEXT}note", f"{_TEXT}tracked-changes")):
            continue
        yield _odt_text(element), element.tag == f"{_TEXT}h"


def read_odt(data: bytes, name: str) -> Records:
    """An ODT document: headings and paragraphs, with title, author and date.

    Raises
    ------
    BadInputError
        where it is damaged.
    """
    with open_zip(data, name) as archive:
        names = archive.namelist()
        if "content.xml" not in names:
            raise BadInputError(f"{name} is damaged: it has no content.xml.")
        content = parse(read_member(archive, "content.xml", name), name)
        about = parse(read_member(archive, "meta.xml", name), name) if "meta.xml" in names else None
    fields = {}
    if about is not None:
        found = {"title": "dc:title", "author": "dc:creator", "date": "meta:creation-date", "language": "dc:language"}
        fields = {key: about.findtext(f".//{tag}", namespaces=_ODF) for key, tag in found.items()}
    body = content.find(".//office:text", _ODF)
    yield from _row(_odt_paragraphs(body) if body is not None else iter(()), fields, name)


DOCX = Format("docx", "a DOCX document", lambda data, name, _: read_docx(data, name), single=True)
ODT = Format("odt", "an ODT document", lambda data, name, _: read_odt(data, name), single=True)
