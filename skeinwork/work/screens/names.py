"""Names of the corpus: a table that the analyst edits, exports and brings back."""

from __future__ import annotations

from collections import Counter

from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.export import to_csv
from skeinwork.core.text.names import KINDS, MOST_EDITS, Kind, Name, NameEdits, edited, find_names
from skeinwork.core.text.variants import as_cell, from_cell
from skeinwork.work.results.view import View
from skeinwork.work.strands.tables import TableText, table_rows

_SHOWN = 300
_COLUMNS = ["name", "kind", "confidence", "reason", "mentions", "documents", "variants"]


class NameQuery(BaseModel):
    """Which names."""

    model_config = ConfigDict(extra="ignore", frozen=True)

    least: int = Field(3, ge=1, le=1_000_000, description="mentions")
    kind: Kind | None = None


class Names(BaseModel):
    """``kinds``: how many there are of each kind."""

    names: list[Name]
    total: int
    kinds: dict[Kind, int]


class NamesRead(BaseModel):
    """What a table says of names: the edits with it, and how many of its names the corpus has not."""

    edits: NameEdits
    rows: int
    unknown: int


def found_names(view: View) -> list[Name]:
    """All names of the corpus."""
    return view.cached("names", lambda: find_names(view.tokens, 1))


def _names(view: View, edits: NameEdits, least: int) -> list[Name]:
    return [each for each in edited(found_names(view), edits) if each.tokens >= least]


def names(view: View, edits: NameEdits, query: NameQuery) -> Names:
    """The names that are mentioned most."""
    found = _names(view, edits, query.least)
    counts = Counter(each.kind for each in found)
    shown = [each for each in found if query.kind in (None, each.kind)]
    return Names(names=shown[:_SHOWN], total=len(shown), kinds={kind: counts[kind] for kind in KINDS})


def as_table(found: list[Name]) -> bytes:
    """Names as CSV; of the variants each behind a semicolon, with its mentions."""
    rows = (
        [
            each.words,
            each.kind,
            round(each.confidence, 3),
            each.reason,
            each.tokens,
            each.documents,
            as_cell(each.variants),
        ]
        for each in found
    )
    return to_csv(_COLUMNS, rows)


def names_table(view: View, edits: NameEdits, query: NameQuery) -> bytes:
    """All names as CSV."""
    found = _names(view, edits, query.least)
    return as_table([each for each in found if query.kind in (None, each.kind)])


def read_names(view: View, edits: NameEdits, given: TableText) -> NamesRead:
    """The edits with those that a table makes: kinds, and variants brought under their names."""
    rows = table_rows(given.text, "name")
    known = {each.words.casefold(): each for each in _names(view, NameEdits(), 1)}
    written = {way.words.casefold(): each.words for each in known.values() for way in each.variants}
    kinds, merged, unknown = dict(edits.kinds), dict(edits.merged), 0
    for line, row in rows:
        name, kind = row.get("name", "").strip(), row.get("kind", "").strip().lower()
        if kind and kind not in KINDS:
            raise BadInputError(f"Line {line} of the table says “{kind[:40]}”; a kind is one of {', '.join(KINDS)}.")
        if name.casefold() not in known:
            unknown += 1
            continue
        if kind and known[name.casefold()].kind != kind:
            kinds[name.casefold()] = kind
        for variant in from_cell(row.get("variants", "")):
            other = written.get(variant.casefold(), name)
            if other.casefold() != name.casefold():
                merged[other.casefold()] = known[name.casefold()].words
    if max(len(kinds), len(merged)) > MOST_EDITS:
        raise BadInputError(f"That makes over {MOST_EDITS:,} changes to names. Bring in fewer.")
    return NamesRead(edits=NameEdits(kinds=kinds, merged=merged), rows=len(rows), unknown=unknown)
