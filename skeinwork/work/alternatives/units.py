"""Other units: what is taken for one that was sampled. Nothing is made anew for it."""

from __future__ import annotations

from collections.abc import Iterator

from skeinwork.core.said import count
from skeinwork.work.alternatives.base import Alternative, Kind, Present
from skeinwork.work.topics.breakdowns import suggested_units


def _offered(now: Present) -> Iterator[Alternative]:
    documents = count(int((now.tokens > 0).sum()))
    reason = f"as if each of {documents} documents were drawn by itself"
    yield Alternative("unit-documents", "documents as units", reason, now.wanted, unit=(None,))
    if not now.of_topics:
        return
    for each in now.view.cached("suggested units", lambda: suggested_units(now.view)):
        yield Alternative(f"unit-{each.unit}", f"{each.unit} as unit", each.why, now.wanted, unit=(each.unit,))


KIND = Kind("Units", _offered)
