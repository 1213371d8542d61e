"""What the analyst says of names: their kinds, and which are one."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import replace
from functools import cached_property

from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.text.names.find import Kind, Name
from skeinwork.core.text.variants import Variant

# So many fit a request, and are far more than anybody makes.
MOST_EDITS = 100_000


class NameEdits(BaseModel):
    """Changes to the names that are found; names case folded.

    Attributes
    ----------
    kinds : what a name is
    merged : under which other name a name belongs
    """

    model_config = ConfigDict(extra="forbid", frozen=True)

    kinds: dict[str, Kind] = Field(default_factory=dict, max_length=MOST_EDITS)
    merged: dict[str, str] = Field(default_factory=dict, max_length=MOST_EDITS)

    @cached_property
    def _leads(self) -> dict[str, str]:
        """Where every merged name ends up; each way is gone once, however many begin on it."""
        leads: dict[str, str] = {}
        for name in self.merged:
            way: dict[str, str] = {}
            key, into = name, self.merged[name]
            while into and key not in leads and key not in way:
                way[key] = into
                key, lead = into.casefold(), into
                into = self.merged.get(key, "")
            if key in leads:
                lead = leads[key]
            elif key in way:
                ring = list(way)
                lead = min(way[each] for each in ring[ring.index(key) :])
            leads |= dict.fromkeys(way, lead if way else name)
        return leads

    def lead(self, name: str) -> str:
        """The name that a name ends up under; of a ring of merges the first by alphabet."""
        return self._leads.get(name.casefold(), name)


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
        variants.update({each.words: each.tokens for each in row.variants})
    one = replace(
        lead,
        tokens=sum(row.tokens for row in rows),
        documents=sum(row.documents for row in rows),
        variants=tuple(Variant(*each) for each in sorted(variants.items(), key=lambda each: (-each[1], each[0]))),
    )
    kind = edits.kinds.get(lead.words.casefold())
    return replace(one, kind=kind, confidence=1.0, reason="set by hand") if kind else one
