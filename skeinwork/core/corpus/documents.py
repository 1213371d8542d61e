"""Documents as they come from a file: its records identified, taken apart, unpacked, cut, dated."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Literal, NamedTuple

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import cut, dates, html
from skeinwork.core.formats.readers import FORMATS, read_records
from skeinwork.core.formats.records import FileSettings, Noted, Record, Rejected, Row, named_by

Repeated = Literal["number", "first", "refuse"]
# Which of several text fields of a record a document is.
TEXT_FIELD = "text field"


@dataclass(frozen=True)
class Trouble:
    """A place in a file, and what was wrong there. ``raw`` is set for what was left out."""

    file: str
    line: int
    reason: str
    raw: str | None = None
    unit: str = "line"


class Document(NamedTuple):
    """A text with its other cells, the line it stands on, its file, its day and how exact that is."""

    text: str
    cells: dict[str, str]
    line: int
    source: str
    day: int
    precision: str


def documents(
    paths: Sequence[tuple[Path, str]], settings: Sequence[FileSettings], repeated: Repeated
) -> Iterator[int | Document | Trouble]:
    """What is in files: the number of each file, then its documents and what was amiss.

    Raises
    ------
    BadInputError
        where a file is unreadable, or an identifier occurs twice and that is refused.
    """
    seen: dict[str, int] = {}
    for number, ((path, name), each) in enumerate(zip(paths, settings, strict=True)):
        yield number
        file = Documents(name, each, repeated, seen)
        for record in read_records(path.read_bytes(), name, each):
            yield from file.of(record)


class Documents:
    """The documents of one file, one record after the other."""

    def __init__(self, name: str, settings: FileSettings, repeated: Repeated, seen: dict[str, int]) -> None:
        self.out: list[Document | Trouble] = []
        self.name = name
        self.repeated = repeated
        self.seen = seen
        self.settings = settings
        self.unit = FORMATS[settings.format].unit
        self.texts = [name for name, role in settings.roles.items() if role == "text"] or [""]
        self.text = self.texts[0]
        # Whether a row is a document as it stands: no page to unpack, nothing to cut or take apart.
        self.plain = len(self.texts) == 1 and settings.cut.by == "nothing" and not settings.html_text
        self.date = named_by(settings.roles, "date")
        self.identifier = named_by(settings.roles, "identifier")

    def _where(self, record: Record) -> str:
        return f"{self.name}/{record.place}" if record.place else self.name

    def note(self, record: Record, reason: str, raw: str | None = None) -> None:
        trouble = Trouble(self._where(record), record.line, reason, raw, self.unit)
        self.out.append(trouble)

    def of(self, record: Record) -> list[Document | Trouble]:
        """What a record gives: documents, and notes of why it does not, or not as it stood."""
        self.out = []
        self._take(record)
        return self.out

    def _take(self, record: Record) -> None:
        if isinstance(record, Rejected):
            self.note(record, record.reason, record.raw)
        elif isinstance(record, Noted):
            self.note(record, record.reason)
        elif row := self._identified(record):
            if not any(name in row.cells for name in self.texts):
                self.note(row, f"has no field “{self.text}”; kept without text")
            if self.plain:
                return self._add(row)
            for each in self._apart(row):
                whole = self.unpacked(each)
                (parts,) = cut.pieces([whole], self.text, self.settings.cut)
                for part in parts:
                    self._add(self._numbered(part, part.cells["part"]) if len(parts) > 1 else part)

    def _apart(self, row: Row) -> list[Row]:
        """A row for each of its text fields that is filled, named in the field ``TEXT_FIELD``."""
        if len(self.texts) == 1:
            return [row]
        rest = {name: cell for name, cell in row.cells.items() if name not in self.texts}
        filled = [name for name in self.texts if row.cells.get(name, "").strip()] or [self.text]
        found = []
        for name in filled:
            cells = {**rest, self.text: row.cells.get(name, ""), TEXT_FIELD: name}
            each = replace(row, cells=cells, breaks=row.breaks if name == "text" else ())
            found.append(self._numbered(each, name) if len(filled) > 1 else each)
        return found

    def unpacked(self, row: Row) -> Row:
        """The row with the text of the HTML page that its field holds."""
        if not self.settings.html_text or not row.cells.get(self.text, "").strip():
            return row
        try:
            text, breaks = html.page_text(row.cells[self.text], self.settings)
        except html.DeepPageError as fault:
            self.note(row, f"{fault} Kept without text")
            return replace(row, cells={**row.cells, self.text: ""})
        if not text.strip():
            self.note(row, "has a page without text in the part that was asked for")
        return replace(row, cells={**row.cells, self.text: text}, breaks=breaks)

    def _identified(self, row: Row) -> Row | None:
        """The row with its identifier settled, or None where it is left out."""
        name, seen = self.identifier, self.seen
        given = row.cells.get(name, "").strip() if name else ""
        if not name or not given:
            return row
        times = seen[given] = seen.get(given, 0) + 1
        if times == 1:
            return row
        said = f"identifier “{given}” occurred before"
        if self.repeated == "refuse":
            raise BadInputError(
                f"{self.name}, {self.unit} {row.line}: the identifier “{given}” occurs twice. "
                "Number repeated identifiers, keep the first of each, or choose another field."
            )
        if self.repeated == "first":
            self.note(row, said, given)
            return None
        self.note(row, f"{said}; numbered")
        return replace(row, cells={**row.cells, name: f"{given} ({times})"})

    def _numbered(self, part: Row, piece: str) -> Row:
        """A piece of a record: its identifier is that of the whole with what the piece is called."""
        name = self.identifier
        if not name or not part.cells.get(name, "").strip():
            return part
        return replace(part, cells={**part.cells, name: f"{part.cells[name]}.{piece}"})

    def _called(self, cells: dict[str, str]) -> dict[str, str]:
        """The cells under the names that the fields have in the corpus."""
        if not self.settings.names:
            return cells
        called = {self.settings.names.get(name, name): cell for name, cell in cells.items()}
        if len(called) < len(cells):
            names = [self.settings.names.get(name, name) for name in cells]
            twice = next(name for name in names if names.count(name) > 1)
            raise BadInputError(f"{self.name}: two fields would be called “{twice}”. Call one of them otherwise.")
        return called

    def _add(self, row: Row) -> None:
        day, precision = dates.MISSING, "day"
        if self.date and (written := row.cells.get(self.date, "").strip()):
            parsed = dates.parse(written, self.settings.date_order)
            if parsed:
                day, precision = parsed
            else:
                self.note(row, f"“{written[:60]}” is not a date; kept without date")
        text = row.cells.get(self.text, "")
        cells = self._called({name: cell for name, cell in row.cells.items() if name != self.text})
        self.out.append(Document(text, cells, row.line, self._where(row), day, precision))
