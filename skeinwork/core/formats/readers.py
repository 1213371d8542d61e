"""Choose a reader for a file, and read it. A format is added by its file and its entry in ``FORMATS``.

A library that only one format needs is imported by its reader when it is used: together they would
take a fifth of the start.
"""

from __future__ import annotations

import io
import zipfile
from dataclasses import replace
from itertools import chain, islice
from pathlib import Path

from skeinwork.core.apart import Limits
from skeinwork.core.errors import BadInputError, SkeinworkError
from skeinwork.core.formats import (
    archive,
    delimited,
    epub,
    html,
    json_records,
    mail,
    markdown,
    nested,
    office,
    pdf,
    plain_text,
    references,
    tables,
    xml_records,
)
from skeinwork.core.formats.encoding import decode
from skeinwork.core.formats.format import Beginning, Format
from skeinwork.core.formats.records import FORMAT_NAMES, FileSettings, Noted, Record, Records, Rejected, Row, named_by
from skeinwork.core.formats.roles import guess_roles

# Bytes that a preview reads.
HEAD = 4_000_000
# Bytes up to which a file is previewed as a whole.
WHOLE = 8_000_000
_LONGEST_ROW = 3 * delimited.LONGEST_FIELD
# Odd rows that say nothing against a way of reading.
_FEW_ODD = 20
_CONTROLS = bytes({*range(1, 32), 127} - {*b"\t\n\v\f\r\x1b"})
_REFUSED = (
    (b"\xd0\xcf\x11\xe0", "an old office document"),
    (b"{\\rtf", "an RTF document"),
    (b"\x89PNG", "a picture"),
    (b"\xff\xd8\xff", "a picture"),
    (b"GIF8", "a picture"),
    (b"RIFF", "a sound, film or picture"),
    (b"ID3", "a sound"),
    (b"SQLite format 3", "a database file"),
    (b"7z\xbc\xaf", "a 7-Zip archive"),
    (b"Rar!", "a RAR archive"),
    (b"\x7fELF", "a program"),
    (b"MZ\x90", "a program"),
)


def _read_archive(data: bytes, name: str, settings: FileSettings) -> Records:
    """Every member by its own format; the settings that concern texts hold for all of them."""
    for found in archive.members(data, name):
        if isinstance(found, Rejected):
            yield found
            continue
        path, inner = found
        try:
            path, inner = archive.unpacked(inner, path)
            detected = _of_member(inner, path)
            if detected.format == "archive":
                yield Rejected(0, "is an archive inside an archive", path, path)
                continue
            shared = {"page": settings.page, "selector": settings.selector}
            records = read_records(inner, path, detected.model_copy(update=shared))
            yield from (_placed(record, path) for record in _with_text(records))
        except BadInputError as fault:
            reason = str(fault).removeprefix(f"{path} ").split(". ")[0].rstrip(".")
            yield Rejected(0, reason, path, path)


def _of_member(data: bytes, path: str) -> FileSettings:
    """The settings of a file in an archive, where plain text is one document a file."""
    found = detect_settings(data, path)
    whole = found.format == "text-lines"
    return found.model_copy(update={"format": "text-file"}) if whole else found


def _with_text(records: Records) -> Records:
    """The records of one member, the field that is their text called so, as in every other."""
    begin = list(islice(records, 50))
    rows = [record.cells for record in begin if isinstance(record, Row)]
    names = dict.fromkeys(name for cells in rows for name in cells)
    if not names or "text" in names:
        yield from chain(begin, records)
        return
    roles = guess_roles({name: [cells.get(name, "") for cells in rows] for name in names})
    text = named_by(roles, "text")
    for record in chain(begin, records):
        if isinstance(record, Row) and text in record.cells:
            cells = {("text" if key == text else key): v for key, v in record.cells.items()}
            record = replace(record, cells=cells)
        yield record


def _placed(record: Record, path: str) -> Record:
    """A record of a member, told where it is from."""
    if isinstance(record, Row) and "file" not in record.cells:
        return replace(record, place=path, cells={**record.cells, "file": path})
    return replace(record, place=path)


ARCHIVE = Format("archive", "an archive or folder", _read_archive, ("page", "selector"), unit="file")
# In the order in which they are guessed.
FORMATS: dict[str, Format] = {
    each.name: each
    for each in (
        delimited.FORMAT,
        tables.SPREADSHEET,
        tables.PARQUET,
        json_records.JSON,
        json_records.JSON_LINES,
        html.FORMAT,
        xml_records.FORMAT,
        references.RIS,
        references.BIBTEX,
        plain_text.LINES,
        plain_text.BLOCKS,
        plain_text.FILE,
        markdown.FORMAT,
        office.DOCX,
        office.ODT,
        epub.FORMAT,
        pdf.FORMAT,
        mail.FORMAT,
        ARCHIVE,
    )
}
FORMAT_NAMES[:] = FORMATS


def limits(size: int, looking: bool = False) -> Limits:
    """What reading a file of so many bytes may take, when it is read apart.

    Parameters
    ----------
    looking : somebody waits for the answer; reading the whole can be cancelled, and takes its time
    """
    if looking:
        return Limits(4.0, 700 * 2**20 + 3 * size)
    return Limits(60 + size / 100_000, 1300 * 2**20 + 10 * size)


def refuse_unreadable(data: bytes, name: str) -> None:
    """Raise ``BadInputError`` for what is no text: empty files and known binary formats."""
    if not data.strip():
        raise BadInputError(f"{name} is empty. Choose a file with at least one document.")
    for signature, what in _REFUSED:
        if data.startswith(signature):
            raise BadInputError(
                f"{name} is {what}, which can't be read here. Save its text or table as CSV, "
                "JSON Lines or plain text and bring that in."
            )
    begin = data[:100_000]
    wide = decode(data[:4000]).encoding.startswith(("utf-16", "utf-32"))
    for odd, what, share in ((b"\0", "NUL bytes", 0.02), (_CONTROLS, "control characters", 0.05)):
        found = len(begin) - len(begin.translate(None, odd))
        if found > max(_FEW_ODD, share * len(begin)) and not wide:
            raise BadInputError(f"{name} is not text: it holds {found} {what} near its beginning.")


def _zip_format(data: bytes, name: str) -> str:
    """An office document, a book, or an archive of files."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as found:
            names = set(found.namelist())
            kind = ""
            if "mimetype" in names:
                with found.open("mimetype") as source:
                    kind = source.read(100).decode("latin-1")
    except Exception:  # what a damaged archive raises is open; reading it says what is wrong
        return "archive"
    if "[Content_Types].xml" in names:
        if any(each.startswith("word/") for each in names):
            return "docx"
        if any(each.startswith("xl/") for each in names):
            return "spreadsheet"
        raise BadInputError(f"{name} is a presentation or drawing, which holds no documents.")
    if "epub" in kind:
        return "epub"
    if "opendocument.text" in kind:
        return "odt"
    return "spreadsheet" if "opendocument.spreadsheet" in kind else "archive"


def _binary_format(data: bytes, name: str) -> str | None:
    if data.startswith(b"PK\x03\x04"):
        return _zip_format(data, name)
    for each in FORMATS.values():
        if each.signature and data.startswith(each.signature):
            return each.name
    if data.startswith(b"\xd0\xcf\x11\xe0") and name.lower().endswith((".xls", ".xlt")):
        return "spreadsheet"
    return "archive" if archive.is_archive(data) else None


def guess_format(text: str, name: str) -> str:
    """The format of a text by content first, by name where the content leaves it open."""
    given = Beginning.of(text, name)
    guesses = (each.guess(given) for each in FORMATS.values())
    named = (each.name for each in FORMATS.values() if given.suffix in each.endings)
    if found := next(chain(filter(None, guesses), named), None):
        return found
    return "delimited" if delimited.looks_like_table(text) else "text-lines"


def detect_format(data: bytes, name: str) -> str:
    """The format of a file, or of its first part."""
    if binary := _binary_format(data, name):
        return binary
    refuse_unreadable(data, name)
    return "mail" if mail.looks_like_mail(data, name) else guess_format(decode(data).text, name)


def detect_settings(data: bytes, name: str) -> FileSettings:
    """Format, encoding, delimiter and place of the records, as far as they can be told.

    Raises
    ------
    BadInputError
        for what can't be read at all.
    """
    kind = detect_format(data, name)
    if kind == "spreadsheet":
        plain = FileSettings(format=kind, header=False)
        return tables.detect_table(read_records(data, name, plain), plain)
    if not FORMATS[kind].encoded and kind != "xml":
        return FileSettings(format=kind)
    decoded = decode(data)
    records = ""
    if kind in ("json", "xml"):
        records = nested.likely_records(outline(data, name, FileSettings(format=kind)))
    found = FileSettings(format=kind, encoding=decoded.encoding, records=records)
    return delimited.detect_table(decoded.text, found) if kind == "delimited" else found


def outline(data: bytes, name: str, settings: FileSettings) -> nested.Outline:
    """The tree of names in a JSON or XML file."""
    if settings.format == "xml":
        return nested.outline(xml_records.value_of(data, name))
    text = decode(data, settings.encoding).text
    try:
        return nested.outline(json_records.parse(text, name))
    except BadInputError:
        rows = [row.cells for row in json_records.read(text, name, "") if isinstance(row, Row)]
        if not text.lstrip().startswith("[") or not rows:
            raise
        return nested.outline(rows)


def head(path: Path, name: str) -> bytes:
    """As much of a file as a preview needs: its first part, where it is large and that is possible."""
    with path.open("rb") as source:
        data = source.read(HEAD)
        kind = detect_format(data, name) if len(data) == HEAD else "text-file"
        if not FORMATS[kind].by_line:
            beginning = FORMATS[kind].beginning if path.stat().st_size > WHOLE else None
            return beginning(data) if beginning else data + source.read()
        whole = _up_to_a_row if kind == "delimited" else _up_to_a_line
        while len(found := whole(data)) < len(data) / 2 and len(data) < _LONGEST_ROW:
            if not (more := source.read(HEAD)):  # most of what there is lies in a row without end
                return data
            data += more
        if data and not source.read(1):
            return data
    return found or data


def _up_to_a_line(data: bytes) -> bytes:
    return data[: data.rfind(b"\n") + 1]


def _up_to_a_row(data: bytes) -> bytes:
    """A table up to the last end of a line that is not inside a quoted cell, by its quotes."""
    end, odd = len(data), 0
    while (line := data.rfind(b"\n", 0, end)) >= 0:
        odd ^= data.count(b'"', line, end) % 2
        if not odd:
            return data[: line + 1]
        end = line
    return b""


def _as_text(record: Record) -> Records:
    """The record, NULs and halves of characters, which no text holds, replaced and noted."""
    if isinstance(record, Row):
        try:
            odd = b"\0" in "".join(chain(record.cells, record.cells.values())).encode()
        except UnicodeEncodeError:
            odd = True
        if odd:
            yield Noted(record.line, "holds NULs or halves of characters; shown as �", record.place)
            whole = {_whole(name): _whole(cell) for name, cell in record.cells.items()}
            record = replace(record, cells=whole)
    yield record


def _whole(text: str) -> str:
    found = text.encode("utf-16", "surrogatepass").decode("utf-16", "replace")
    return found.replace("\0", "�")


def read_records(data: bytes, name: str, settings: FileSettings) -> Records:
    """All records of a file.

    Raises
    ------
    BadInputError
        where it can't be read; readers of binary files raise nearly anything for a damaged one.
    """
    if FORMATS[settings.format].encoded:
        refuse_unreadable(data, name)
    chosen = FORMATS[settings.format]
    try:
        with archive.counted(len(data)):
            records = chosen.read(data, name, settings)
            del data  # a reader that has it as text needs the bytes no more
            for record in records:
                yield from _as_text(record)
    except (SkeinworkError, GeneratorExit, MemoryError):
        raise
    except Exception as fault:
        raise BadInputError(f"{name} is damaged, locked or not {chosen.label}; it can't be read.") from fault
