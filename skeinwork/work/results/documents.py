"""Documents as the screens show them: filtered, sorted, and cut into marked segments."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.corpus.corpus import Column, Corpus
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import dates
from skeinwork.core.formats.dates import MISSING, MONTHS, PRECISIONS, from_days
from skeinwork.core.formats.readers import FORMATS
from skeinwork.core.text.about import UNSURE
from skeinwork.core.text.clean import Cleaning, CleanSettings
from skeinwork.core.text.passes.base import TextPass, TypePass
from skeinwork.work.results.parts import Part
from skeinwork.work.results.view import View
from skeinwork.work.steps.corpus import base_of
from skeinwork.work.steps.step import OnDisk

# Characters of a passage: some four lines beside a screen.
PASSAGE = 260
_NUMBER = re.compile(r"[-+]?\d[\d,. ]*%?")


@dataclass(frozen=True)
class Segment:
    """A piece of a text: ``kind`` says what became of it, ``form`` what it was brought to.

    ``by`` names the pass that decided, for people.
    """

    text: str
    kind: str = "plain"
    form: str | None = None
    by: str | None = None
    weight: float = 0.0


@dataclass(frozen=True)
class Step:
    """What a pass, by its name for people, made of a token."""

    by: str
    form: str


@dataclass(frozen=True)
class TokenSegment(Segment):
    """A token or what is between: ``key`` is that of the pass which decided, ``why`` which list it was on.

    ``trail`` is what each pass made of it.
    """

    key: str | None = None
    why: str = ""
    trail: tuple[Step, ...] = ()


Mark = Callable[[int], Segment | None]


def day_label(view: View, document: int) -> str | None:
    """A document's date to its precision, as ``14 Jan 2014``."""
    days = int(view.corpus.days[document])
    if days == MISSING:
        return None
    day, precision = from_days(days), PRECISIONS[view.corpus.precision[document]]
    month = f"{MONTHS[day.month - 1]} {day.year}"
    return str(day.year) if precision == "year" else month if precision == "month" else f"{day.day} {month}"


def name(view: View, document: int) -> str:
    return name_in(view.corpus, document)


def name_in(corpus: Corpus, document: int) -> str:
    """What to call a document: its title, identifier, or number."""
    for role in ("title", "identifier"):
        column = corpus.role(role)
        if column and (value := column.value(document)):
            return value
    return f"Document {corpus.numbers[document] + 1}"


def place(view: View, document: int) -> str:
    """Where a document comes from: its file, and the line, record or row it begins at."""
    name = view.corpus.names[view.corpus.sources[document]]
    line = int(view.corpus.lines[document])
    making = view.store.open(base_of(OnDisk(view.store), view.corpus_record.identity)).making.settings
    formats = dict(zip(making["names"], (each["format"] for each in making["files"]), strict=True))
    if name not in formats:  # a file in an archive, which may be of any format
        return f"{name}, at {line}" if line > 1 else name
    return f"{name}, {FORMATS[formats[name]].unit} {line}"


def fields(view: View, document: int) -> dict[str, str]:
    """All fields of a document that have a value."""
    found = {column.name: column.value(document) for column in view.corpus.columns}
    return {key: value for key, value in found.items() if value}


def brief(view: View, document: int) -> str:
    """Groups and date in one line."""
    parts = [c.value(document) for c in view.corpus.columns if c.role in ("group", "author")][:3]
    return " · ".join(part for part in (*parts, day_label(view, document)) if part)


def holds(column: Column) -> str:
    """What the values of a field are: number, date, category or text."""
    values = column.values[:500]
    if not values:
        return "nothing"
    if all(_NUMBER.fullmatch(value) for value in values):
        return "number"
    if column.role == "date" or all(dates.parse(value) for value in values):
        return "date"
    filled = int((column.codes >= 0).sum())
    return "category" if len(column.values) <= max(2, filled // 2) else "text"


def sort(view: View, documents: NDArray[np.int64], by: str) -> NDArray[np.int64]:
    """Documents ordered by a field, ``date``, ``words`` or ``number``; ``-`` before it reverses."""
    key = by.removeprefix("-")
    if key == "number":
        values: NDArray[Any] = documents
    elif key == "words":
        values = view.lengths[documents]
    elif key == "date":
        values = np.where(view.corpus.days == MISSING, 2**31 - 1, view.corpus.days)[documents]
    else:
        column = view.corpus.column(key)
        if column is None:
            raise BadInputError(f"Documents can't be sorted by “{key}”.")
        values = column.order()[documents]
    return documents[np.argsort(-values if by.startswith("-") else values, kind="stable")]


def segments(
    data: bytes, starts: NDArray[np.int32], ends: NDArray[np.int32], mark: Mark, part: Part | None = None
) -> list[Segment]:
    """A text cut at its tokens; ``mark`` gives the segment of a token, or None for plain text.

    Parameters
    ----------
    data : the document's UTF-8 bytes
    starts, ends : byte offsets of its tokens
    mark : called with the token's number; the segment's text is filled in here
    part : of the document; None for all of it
    """
    out: list[Segment] = []
    at = part.begin if part else 0
    tokens = part.holds(starts, ends) if part else np.arange(len(starts))

    def plain(to: int) -> None:
        if to > at:
            out.append(Segment(data[at:to].decode("utf-8", "replace")))

    for token, start, end in zip(tokens.tolist(), starts[tokens].tolist(), ends[tokens].tolist(), strict=True):
        given = mark(token)
        if given is None or start < at:
            continue
        plain(start)
        text = data[start:end].decode("utf-8", "replace")
        out.append(replace(given, text=text))
        at = end
    plain(part.end if part else len(data))
    return out


def stretch(
    data: NDArray[np.uint8],
    starts: NDArray[np.int32],
    ends: NDArray[np.int32],
    weights: NDArray[np.float64],
    size: int = PASSAGE,
) -> Part:
    """The part of a document in which its ``passage`` lies, so that a long one is not cut as a whole.

    Parameters
    ----------
    data : uint8[n], the document's UTF-8 bytes
    starts, ends : byte offsets of its tokens
    weights : float64[n_tokens], of each
    """
    characters = np.concatenate([[0], np.cumsum((data & 0xC0) != 0x80)])
    begins, finishes = characters[starts], characters[ends]
    running = np.concatenate([[0.0], np.cumsum(weights)])
    last = np.searchsorted(finishes, begins + size, side="right")
    best = begins[int(np.argmax(running[last] - running[:-1]))] if len(starts) else 0
    first, behind = np.searchsorted(begins, best - 2 * size), np.searchsorted(finishes, best + 3 * size, side="right")
    begin = int(starts[first]) if first > 0 else 0
    return Part(0, 1, begin, int(ends[behind - 1]) if 0 < behind < len(ends) else len(data))


def passage(parts: list[Segment], size: int = PASSAGE, before: bool = False, after: bool = False) -> list[Segment]:
    """The stretch of about ``size`` characters that holds the most weight, cut at segments.

    ``before`` and ``after`` tell that the document has more text there.
    """
    lengths = np.array([len(part.text) for part in parts])
    if lengths.sum() <= size * 1.3 and not (before or after):
        return parts
    split = _finer(parts)
    ends = np.cumsum([len(part.text) for part in split])
    weights = np.concatenate([[0.0], np.cumsum([part.weight for part in split])])
    begins = ends - [len(part.text) for part in split]
    last = np.searchsorted(ends, begins + size, side="right").clip(max=len(split))
    gain = weights[last] - weights[: len(split)]
    first = int(np.argmax(gain))
    marked = first + np.flatnonzero([part.weight for part in split[first : int(last[first])]])
    if len(marked):  # half of the room behind the last mark goes before the first
        spare = (size - (ends[marked[-1]] - begins[first])) / 2
        first = int(np.searchsorted(begins, begins[first] - spare))
    stop = max(int(last[first]), first + 1)
    chosen = split[first:stop]
    lead = [Segment("… ")] if first or before else []
    tail = [Segment(" …")] if stop < len(split) or after else []
    return _joined([*lead, *chosen, *tail])


def _joined(parts: list[Segment]) -> list[Segment]:
    """Neighbouring plain segments as one."""
    out: list[Segment] = []
    for part in parts:
        if out and part.kind == "plain" == out[-1].kind:
            out[-1] = Segment(out[-1].text + part.text)
        else:
            out.append(part)
    return out


def _finer(parts: list[Segment]) -> list[Segment]:
    """Long unmarked stretches cut between words."""
    out = []
    for part in parts:
        if part.kind == "plain" and len(part.text) > 40:
            words = part.text.split(" ")
            out += [Segment(f"{word} ") for word in words[:-1]] + [Segment(words[-1])]
        else:
            out.append(part)
    return [part for part in out if part.text]


def fate_segments(
    cleaning: Cleaning, settings: CleanSettings, document: int, data: bytes, part: Part, language: str = UNSURE
) -> list[TokenSegment]:
    """The tokens of a part of a document with what became of each, and the pass that decided.

    What no token covers but white space was taken out by a text pass.
    """
    titles = [each.title.lower() for each in settings.passes]
    rows, tokens = cleaning.rows(document), cleaning.tokens

    def mark(token: int) -> TokenSegment:
        fate, form, by = cleaning.fate(rows.start + token)
        kind = int(tokens.ids[rows.start + token])
        trail = tuple(Step(titles[at], changed[kind]) for at, changed in enumerate(cleaning.trail) if kind in changed)
        if by < 0:
            return TokenSegment("", fate, form=form, trail=trail)
        step = settings.passes[by]
        before = trail[-1].form if trail else tokens.types[kind]
        why = step.reason(before, language) if fate == "removed" and isinstance(step, TypePass) else ""
        return TokenSegment("", fate, form, titles[by], 0.0, step.key, why, trail)

    pieces = segments(data, tokens.starts[rows], tokens.ends[rows], mark, part)
    text = [each for each in settings.passes if isinstance(each, TextPass) and each.on]
    return [
        piece
        if isinstance(piece, TokenSegment)
        else _taken_out(piece.text, text)
        if text and piece.text.strip()
        else TokenSegment(piece.text)
        for piece in pieces
    ]


def _taken_out(piece: str, passes: list[TextPass]) -> TokenSegment:
    """A piece of text that a text pass took out: the first that leaves nothing of it."""
    left = ((each, each.change(piece)) for each in passes)
    by = next((each for each, made in left if made and not made.text.strip()), passes[-1])
    return TokenSegment(piece, "removed", by=by.title.lower(), key=by.key)


def right_to_left(text: str) -> bool:
    """Whether most letters of a text are written from right to left."""
    letters = [sign for sign in text[:2000] if sign.isalpha()]
    back = sum(unicodedata.bidirectional(sign) in ("R", "AL") for sign in letters)
    return 2 * back > len(letters)
