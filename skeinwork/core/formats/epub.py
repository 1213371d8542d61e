"""EPUB: the chapters of a book in reading order, as one document with its headings."""

from __future__ import annotations

import posixpath
from urllib.parse import unquote

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import html
from skeinwork.core.formats.archive import open_zip, read_member
from skeinwork.core.formats.encoding import decode
from skeinwork.core.formats.format import Format
from skeinwork.core.formats.records import Break, FileSettings, Records, Rejected, Row
from skeinwork.core.formats.xml_records import parse

_SPACES = {
    "c": "urn:oasis:names:tc:opendocument:xmlns:container",
    "o": "http://www.idpf.org/2007/opf",
    "dc": "http://purl.org/dc/elements/1.1/",
}


def read(data: bytes, name: str) -> Records:
    """A book with its title, author, date and language; every chapter begins a heading.

    Raises
    ------
    BadInputError
        where it is none, or damaged.
    """
    with open_zip(data, name) as archive:
        known = set(archive.namelist())
        if "META-INF/container.xml" not in known:
            raise BadInputError(f"{name} is not an EPUB: it has no META-INF/container.xml.")
        container = parse(read_member(archive, "META-INF/container.xml", name), name)
        rootfile = container.find(".//c:rootfile", _SPACES)
        place = rootfile.get("full-path", "") if rootfile is not None else ""
        if place not in known:
            raise BadInputError(f"{name} is damaged: its list of contents is missing.")
        package = parse(read_member(archive, place, name), name)
        items = {each.get("id"): each.get("href", "") for each in package.iterfind(".//o:manifest/o:item", _SPACES)}
        spine = [items.get(each.get("idref"), "") for each in package.iterfind(".//o:spine/o:itemref", _SPACES)]
        texts, size, breaks = list[str](), 0, list[Break]()
        for href in spine:
            member = posixpath.normpath(posixpath.join(posixpath.dirname(place), unquote(href)))
            if not href or member not in known:
                yield Rejected(1, f"lacks its chapter {href or '(unnamed)'}", href)
                continue
            page = decode(read_member(archive, member, name)).text
            inner, marks = html.page_text(page, FileSettings(format="html", page="whole"))
            if not inner.strip():
                continue
            at = size + 2 if texts else 0
            size = at + len(inner)
            texts.append(inner)
            if not any(offset == 0 for _, offset, _ in marks):
                title = html.page_fields(html.parsed(page)).get("title", "")
                breaks.append(("heading", at, title))
            breaks += [(kind, at + offset, title) for kind, offset, title in marks]
    found = {"title": "dc:title", "author": "dc:creator", "date": "dc:date", "language": "dc:language"}
    fields = {key: package.findtext(f".//{tag}", namespaces=_SPACES) for key, tag in found.items()}
    cells = {key: value for key, value in fields.items() if value}
    yield Row(1, {**cells, "text": "\n\n".join(texts), "file": name}, breaks=tuple(breaks))


FORMAT = Format("epub", "an EPUB book", lambda data, name, _: read(data, name), single=True)
