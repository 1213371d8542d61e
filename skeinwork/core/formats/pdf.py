"""PDF documents that carry their text; pictures of pages carry none."""

from __future__ import annotations

import io
import logging

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.format import Format
from skeinwork.core.formats.records import Break, Noted, Records, Rejected, Row

logging.getLogger("pypdf").setLevel(logging.CRITICAL)


def read(data: bytes, name: str) -> Records:
    """One document, its pages apart, with its title, author and date.

    Raises
    ------
    BadInputError
        if it is locked with a password.
    """
    from pypdf import PdfReader

    reader = PdfReader(io.BytesIO(data))
    if reader.is_encrypted and not reader.decrypt(""):
        raise BadInputError(f"{name} is locked with a password. Save it without one.")
    count = len(reader.pages)
    about = reader.metadata
    text, breaks, blank = "", list[Break](), 0
    for number in range(count):
        try:
            page = reader.pages[number].extract_text()
        except Exception:  # what a damaged page raises is open; the others are still good
            yield Noted(number + 1, f"page {number + 1} could not be read")
            page = ""
        blank += not page.strip()
        lead = "\n\n" if text else ""
        breaks.append(("page", len(text) + len(lead), str(number + 1)))
        text += lead + page
    if not text.strip():
        yield Rejected(1, "has no text layer: its pages are pictures", name)
        return
    if blank:
        yield Noted(1, f"{blank} of {count} pages have no text")
    fields = {"title": about.title, "author": about.author} if about else {}
    try:
        made = about.creation_date if about else None
    except ValueError:
        made = None
    cells = {key: str(value) for key, value in fields.items() if value}
    if made:
        cells["date"] = made.date().isoformat()
    yield Row(1, {**cells, "text": text, "file": name}, breaks=tuple(breaks))


FORMAT = Format(
    "pdf", "a PDF document", lambda data, name, _: read(data, name), unit="page", single=True, signature=b"%PDF"
)
