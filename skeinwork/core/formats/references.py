"""Exports of bibliographic services: RIS and BibTeX, with their abstracts."""

from __future__ import annotations

import logging
import re

from skeinwork.core.formats.format import Beginning, Format, of_text
from skeinwork.core.formats.records import Records, Rejected, Row

logging.getLogger("bibtexparser").setLevel(logging.CRITICAL)
logging.getLogger("bibtexparser.splitter").setLevel(logging.CRITICAL)
_RIS = {
    "TY": "type",
    "TI": "title",
    "T1": "title",
    "AU": "author",
    "A1": "author",
    "PY": "year",
    "Y1": "year",
    "DA": "date",
    "AB": "abstract",
    "N2": "abstract",
    "KW": "keywords",
    "JO": "source",
    "JF": "source",
    "T2": "source",
    "JA": "source",
    "DO": "doi",
    "ID": "identifier",
    "AN": "identifier",
    "UR": "url",
    "LA": "language",
    "PB": "publisher",
}
_TAG = re.compile(r"^([A-Z][A-Z0-9])  ?- ?(.*)$")
_LIKE_RIS = re.compile(r"\A\s*TY  ?- ", re.ASCII)


def looks_like_ris(text: str) -> bool:
    """Whether a text begins as a RIS reference does."""
    return bool(_LIKE_RIS.match(text.lstrip("\ufeff")))


def looks_like_bibtex(text: str) -> bool:
    """Whether a text begins with a BibTeX entry, comments aside."""
    return bool(re.match(r"(?:\s|%[^\n]*\n)*@\w+\s*[{(]", text[:5000]))


_LATEX = re.compile(r"[\\$~%{}&#^_]|--|``|''|[?!]`")


def _cells(fields: dict[str, list[list[str]]]) -> dict[str, str]:
    """One cell a field, of lines: repeated values joined; of two names for one thing the first."""
    return {
        name: "; ".join(map(" ".join, values if name in ("author", "keywords") else values[:1]))
        for name, values in fields.items()
    }


def _settled(cells: dict[str, str]) -> dict[str, str]:
    """A date where there is only a year; RIS writes 2014/01/14/ and 2014///."""
    year = cells.pop("year", "").strip("/ ")
    if not cells.get("date", "").strip("/ ") and year:
        cells["date"] = year
    if "date" in cells:
        cells["date"] = cells["date"].strip("/ ")
    return cells


def read_ris(text: str) -> Records:
    """References from ``TY`` to ``ER``; a line without a tag continues the one before."""
    fields: dict[str, list[list[str]]] = {}
    begun, last = 0, ""
    lines = text.split("\n")
    for number, line in enumerate(lines, start=1):
        found = _TAG.match(line.rstrip())
        if not found:
            if last and line.strip():
                fields[last][-1].append(line.strip())
            elif line.strip() and not begun:
                yield Rejected(number, "stands outside of any reference", line)
            continue
        tag, value = found[1], found[2].strip()
        if tag in ("TY", "ER") and begun:
            if tag == "TY":
                yield Rejected(begun, "has no end (ER); read up to the next", lines[begun - 1])
            yield Row(begun, _settled(_cells(fields)))
            fields, begun, last = {}, 0, ""
        if tag == "ER":
            continue
        begun = begun or number
        last = _RIS.get(tag, tag)
        fields.setdefault(last, []).append([value])
    if begun:
        yield Row(begun, _settled(_cells(fields)))


def read_bibtex(text: str) -> Records:
    """The entries of a BibTeX file, its accents decoded; what can't be read is rejected."""
    from bibtexparser.entrypoint import parse_string
    from bibtexparser.middlewares import LatexDecodingMiddleware
    from bibtexparser.model import Entry

    class Decoding(LatexDecodingMiddleware):
        """Nearly all values are plain, and decoding one takes a millisecond."""

        def _transform_python_value_string(self, python_string: str) -> tuple[str, str]:
            if not _LATEX.search(python_string):
                return python_string, ""
            return super()._transform_python_value_string(python_string)

    library = parse_string(text, append_middleware=[Decoding()])
    blocks = [*library.entries, *library.failed_blocks]
    for block in sorted(blocks, key=lambda each: each.start_line or 0):
        line = (block.start_line or 0) + 1
        if not isinstance(block, Entry):
            yield Rejected(line, "is not a readable entry", block.raw or "")
            continue
        cells = {"type": block.entry_type, "identifier": block.key}
        for entry_field in block.fields:
            name = entry_field.key.lower()
            value = " ".join(str(entry_field.value).replace("{", "").replace("}", "").split())
            name = {"journal": "source", "booktitle": "source"}.get(name, name)
            cells[name] = value.replace(" and ", "; ") if name == "author" else value
        yield Row(line, _settled(cells))


def _guess_ris(given: Beginning) -> str | None:
    return "ris" if looks_like_ris(given.begin) else None


def _guess_bibtex(given: Beginning) -> str | None:
    return "bibtex" if looks_like_bibtex(given.begin) and given.suffix != ".txt" else None


RIS = Format("ris", "RIS", of_text(lambda text, *_: read_ris(text)), ("encoding",), by_line=True, guess=_guess_ris)
BIBTEX = Format(
    "bibtex",
    "BibTeX",
    of_text(lambda text, *_: read_bibtex(text)),
    ("encoding",),
    beginning=lambda data: data[: data.rfind(b"\n@") + 1] or data,
    guess=_guess_bibtex,
)
