"""What the analyst says of names: their kinds, and which are one."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import replace

from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.text.names.find import Kind, Name

_MOST = 100_000


class NameEdits(BaseModel):
    """Changes to the names that are found; names case folded.

    Attributes
    ----------
    kinds : what a name is
    merged : under which other name a name belongs
    """

    model_config = ConfigDict(extra="forbid", frozen=True)

    kinds: dict[str, Kind] = Field(default_factory=dict, max_length=_MOST)
    merged: dict[str, str] = Field(default_factory=dict, max_length=_MOST)

    def lead(self, name: str) -> str:
        """The name that a name ends up under; of a ring of merges the first by alphabet."""
        way = [name]
        while into := self.merged.get(way[-1].casefold(), ""):
            if into in way:
                return min(way[way.index(into) :])
            way.append(into)
        return way[-1]


def edited(names: Iterable[Name], edits: NameEdits) -> list[Name]:
    """Names as the analyst has them, the most frequent first.

    Documents of merged names are at most the sum of theirs; how many hold both is not known here.
    """
    groups: dict[str, list[Name]] = {}
    for name in names:
        groups.setdefault(edits.lead(name.words).casefold(), []).append(name)
    found = [_together(key, rows, edits) for key, rows in groups.items()]
    return sorted(found, key=lambda each: (-each.tokens, each.words))


def _together(key: str, rows: list[Name], edits: NameEdits) -> Name:
    lead = next((each for each in rows if each.words.casefold() == key), rows[0])
    variants: Counter[str] = Counter()
    for row in rows:
        variants.update(dict(row.variants))
    one = replace(
        lead, tokens=sum(row.tokens for row in rows), documents=sum(row.documents for row in rows),
        variants=tuple(sorted(variants.items(), key=lambda each: (-each[1], each[0]))),
    )  # fmt: skip
    kind = edits.kinds.get(lead.words.casefold())
    return replace(one, kind=kind, confidence=1.0, reason="set by hand") if kind else one
