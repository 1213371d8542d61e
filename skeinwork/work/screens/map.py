"""Relate, the map: where items lie, how far that can be trusted, what lies close together, what one point is."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.errors import NotFoundError
from skeinwork.core.relate.density import SIDE
from skeinwork.core.relate.vector_settings import MapSettings
from skeinwork.core.working import Line
from skeinwork.work import evidence
from skeinwork.work.evidence import EvidenceRequest
from skeinwork.work.evidence.area import AskedArea, items_asked
from skeinwork.work.relate.map_areas import STEP_OF, MapOf, area_name, density_of, trust_of
from skeinwork.work.relate.map_colours import coloured, colourings
from skeinwork.work.results import documents
from skeinwork.work.results.view import View
from skeinwork.work.steps import WORD_MAP
from skeinwork.work.steps.maps import near_of
from skeinwork.work.steps.step import count, counted

_DECIMALS = 3
# Rows of the table of what is selected.
_ROWS = 200


class MapScreen(BaseModel):
    """A map: ``items`` and their places, mixed in their order so that none covers a group of others.

    ``trust`` is how far neighbours on it are neighbours, as a share; ``low`` and ``size`` its corner and side.
    """

    of: MapOf
    settings: MapSettings
    says: str
    trust: float
    trust_says: str
    items: list[int]
    x: list[float]
    y: list[float]
    low: list[float]
    size: float
    colours: list[str]


def map_screen(view: View, of: MapOf) -> MapScreen:
    """The map with all of its points."""
    step = STEP_OF[of]
    made, settings, found = view.value(step), step.parse(view.record(step).making.settings), density_of(view, of)
    order = _mixed(len(made.items))
    places = np.round(made.places[order].astype(np.float64), _DECIMALS)
    return MapScreen(
        of=of,
        settings=settings,
        says=_says(view, of, len(made.items)),
        trust=float(made.trust.mean()),
        trust_says=_trusted(len(made.items), len(made.looked_at)),
        items=made.items[order].tolist(),
        x=places[:, 0].tolist(),
        y=places[:, 1].tolist(),
        low=list(found.low),
        size=found.size,
        colours=colourings(view, of),
    )


def _mixed(n: int) -> NDArray[np.int64]:
    return np.random.default_rng(1).permutation(n)


def _says(view: View, of: MapOf, items: int) -> str:
    what = counted(items, "word" if of == "words" else "document")
    by = {"documents": "by their vectors", "topics": "by their topic shares", "words": "by their vectors"}[of]
    without = len(view.corpus) - items if of != "words" else 0
    left = f"; {counted(without, 'document')} with nothing to place by {'is' if without == 1 else 'are'} not on it"
    return f"{what} {by}. Near means alike; the axes mean nothing" + (left if without else "")


def _trusted(items: int, looked_at: int) -> str:
    of = f"of {count(looked_at)} drawn at random" if looked_at < items else f"of all {count(items)}"
    return f"{near_of(items)} nearest on the map, {of}: 1 where all are among the nearest in truth, .5 by chance"


class MapColours(BaseModel):
    """The value of each item in the order of the map, as a number among ``values``; −1 for none of them."""

    by: str
    codes: list[int]
    values: list[str]
    counts: list[int]
    topics: list[int] | None = None
    others: int = 0


def colours(view: View, of: MapOf, by: str) -> MapColours:
    """What items are coloured by: ``topic``, ``group`` or ``field NAME``."""
    found = coloured(view, of, by)
    counts = np.bincount(found.codes[found.codes >= 0], minlength=len(found.values))
    return MapColours(
        by=by,
        codes=found.codes[_mixed(len(found.codes))].tolist(),
        values=found.values,
        counts=counts.tolist(),
        topics=found.topics,
        others=int((found.codes < 0).sum()),
    )


class Area(BaseModel):
    """A dense area: its number, what it is called, where its peak is, how many lie in it."""

    area: int
    name: str
    x: float
    y: float
    items: int


class MapAreas(BaseModel):
    """Where items lie close together: a density over the square, rows from the bottom, and the areas."""

    side: int
    grid: list[float]
    areas: list[Area]
    outside: int


def areas(view: View, of: MapOf) -> MapAreas:
    """The density over a map, and its dense areas, the largest first, each called by its own words."""
    found = density_of(view, of)
    sizes = np.bincount(found.area[found.area >= 0], minlength=len(found.peaks)).tolist()
    return MapAreas(
        side=SIDE,
        grid=np.round(found.grid, 3).ravel().tolist(),
        areas=[
            Area(area=at, name=area_name(view, of, at), x=float(x), y=float(y), items=sizes[at])
            for at, (x, y) in enumerate(found.peaks.tolist())
        ],
        outside=int((found.area < 0).sum()),
    )


class MapRow(BaseModel):
    """An item of a map in a table."""

    item: int
    name: str
    brief: str
    x: float
    y: float


class MapPoint(BaseModel):
    """One item of a map: what it is called, and how it reads."""

    item: int
    name: str
    brief: str
    passage: str


def point(view: View, of: MapOf, item: int) -> MapPoint:
    """What one point of a map is."""
    made = view.value(STEP_OF[of])
    at = int(np.searchsorted(made.items, item))
    if at == len(made.items) or made.items[at] != item:
        raise NotFoundError("There is no such point on the map.")
    name, brief = _called(view, of, item)
    if of == "words":
        return MapPoint(item=item, name=name, brief=brief, passage=view.matrix_of(WORD_MAP).terms[item])
    data = view.corpus.data[view.corpus.pointer[item] : view.corpus.pointer[item + 1]][: 4 * documents.PASSAGE]
    text = " ".join(data.tobytes().decode("utf-8", "ignore").split())
    passage = text if len(text) <= documents.PASSAGE else f"{text[: documents.PASSAGE].rsplit(' ', 1)[0]} …"
    return MapPoint(item=item, name=name, brief=brief, passage=passage)


class OnMap(BaseModel):
    """What of some evidence lies on a map: its items, and how far their neighbourhoods can be trusted.

    ``rows`` are the first of them, for a table.
    """

    items: list[int]
    rows: list[MapRow]
    trust: float | None
    looked_at: int


def on_map(view: View, of: MapOf, selected: EvidenceRequest) -> OnMap:
    """The items of a map that are evidence; of words those that the evidence is of."""
    made = view.value(STEP_OF[of])
    found = _words(view, selected) if of == "words" else evidence.find(view, selected).documents
    items = found[np.isin(found, made.items)]
    said = trust_of(view, of, items)
    return OnMap(
        items=np.sort(items).tolist(),
        rows=[_row(view, of, at) for at in items[:_ROWS].tolist()],
        trust=said[0] if said else None,
        looked_at=said[1] if said else 0,
    )


def _words(view: View, selected: EvidenceRequest) -> NDArray[np.int64]:
    """The words that evidence is of: drawn round, or named by themselves."""
    asked = selected.model_dump()
    if asked.get("area") and asked.get("area_of") == "words":
        return items_asked(view, AskedArea.model_validate({key: asked[key] for key in AskedArea.model_fields}))
    named = [asked[key] for key in ("term", "with_term") if asked.get(key)]
    return np.asarray(view.matrix_of(WORD_MAP).columns_of(named), dtype=np.int64)


def _row(view: View, of: MapOf, item: int) -> MapRow:
    made = view.value(STEP_OF[of])
    x, y = made.places[np.searchsorted(made.items, item)].tolist()
    name, brief = _called(view, of, item)
    return MapRow(item=item, name=name, brief=brief, x=round(x, _DECIMALS), y=round(y, _DECIMALS))


def _called(view: View, of: MapOf, item: int) -> tuple[str, str]:
    if of != "words":
        return documents.name(view, item), documents.brief(view, item)
    matrix = view.matrix_of(WORD_MAP)
    return matrix.display[item], counted(int(matrix.counts[:, [item]].sum()), "time")


class MapWorking(BaseModel):
    """How the trustworthiness of a map came about."""

    lines: list[Line]
    note: str


def working(view: View, of: MapOf) -> MapWorking:
    """The trustworthiness with its own numbers."""
    made = view.value(STEP_OF[of])
    n, k = len(made.items), near_of(len(made.items))
    most = k * (2 * n - 3 * k - 1) / 2
    beyond = float(((1 - made.trust) * most).mean())
    line = Line(
        name="trustworthiness",
        formula="1 − 2 / (k (2n − 3k − 1)) · mean of Σ (rank − k)",
        numbers=f"1 − 2 / ({k} × {2 * n - 3 * k - 1:,}) × {beyond:.1f}",
        value=float(made.trust.mean()),
    )
    note = (
        f"Over neighbours on the map that are none of an item’s {k} nearest in truth; rank is where they come among "
        f"all {count(n)} by the cosine (Venna and Kaski 2001). The least of the {count(len(made.trust))} looked at: "
        f"{made.trust.min():.2f}; a tenth of them is under {np.quantile(made.trust, 0.1):.2f}."
    )
    return MapWorking(lines=[line], note=note)
