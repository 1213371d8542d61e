"""Names of the corpus: a table that the analyst edits, exports and brings back."""

from __future__ import annotations

from collections import Counter

from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.export import to_csv
from skeinwork.core.text.names import KINDS, MOST_EDITS, Kind, Name, NameEdits, edited, find_names
from skeinwork.work.results.view import View
from skeinwork.work.screens.phrases import Variant
from skeinwork.work.strands.tables import TableText, table_rows, variants_of

_SHOWN = 300
_COLUMNS = ["name", "kind", "confidence", "reason", "mentions", "documents", "variants"]


class NameQuery(BaseModel):
    """Which names."""

    model_config = ConfigDict(extra="ignore", frozen=True)

    least: int = Field(3, ge=1, le=1_000_000, description="mentions")
    kind: Kind | None = None


class NameRow(BaseModel):
    """A name, what it is taken for and why, and how else it is written."""

    words: str
    kind: Kind
    confidence: float
    reason: str
    tokens: int
    documents: int
    variants: list[Variant]


class Names(BaseModel):
    """``kinds``: how many there are of each kind."""

    names: list[NameRow]
    total: int
    kinds: dict[Kind, int]


class NamesRead(BaseModel):
    """What a table says of names: the edits with it, and how many of its names the corpus has not."""

    edits: NameEdits
    rows: int
    unknown: int


def _names(view: View, edits: NameEdits, least: int) -> list[Name]:
    found = view.cached("names", lambda: find_names(view.tokens, 1))
    return [each for each in edited(found, edits) if each.tokens >= least]


def names(view: View, edits: NameEdits, query: NameQuery) -> Names:
    """The names that are mentioned most."""
    found = _names(view, edits, query.least)
    counts = Counter(each.kind for each in found)
    shown = [each for each in found if query.kind in (None, each.kind)]
    rows = [
        NameRow(
            words=each.words,
            kind=each.kind,
            confidence=each.confidence,
            reason=each.reason,
            tokens=each.tokens,
            documents=each.documents,
            variants=[Variant(words=words, tokens=tokens) for words, tokens in each.variants],
        )
        for each in shown[:_SHOWN]
    ]
    return Names(names=rows, total=len(shown), kinds={kind: counts[kind] for kind in KINDS})


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
            "; ".join(f"{words} {tokens}" for words, tokens in each.variants),
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
    written = {words.casefold(): each.words for each in known.values() for words, _ in each.variants}
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
        for variant in variants_of(row.get("variants", "")):
            other = written.get(variant.casefold(), name)
            if other.casefold() != name.casefold():
                merged[other.casefold()] = known[name.casefold()].words
    if max(len(kinds), len(merged)) > MOST_EDITS:
        raise BadInputError(f"That makes over {MOST_EDITS:,} changes to names. Bring in fewer.")
    return NamesRead(edits=NameEdits(kinds=kinds, merged=merged), rows=len(rows), unknown=unknown)
