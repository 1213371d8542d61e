"""Areas of a map: what lies in them, how dense it is, and what they are called."""

from __future__ import annotations

from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.errors import BadInputError
from skeinwork.core.relate.density import Density, density, in_polygon
from skeinwork.core.relate.group_words import words_apart
from skeinwork.core.relate.neighbours import unit_vectors
from skeinwork.core.relate.trustworthiness import trustworthiness
from skeinwork.work.results.view import View
from skeinwork.work.steps import DOCUMENT_MAP, TOPIC_MAP, WORD_MAP
from skeinwork.work.steps.maps import MapStep, near_of

MapOf = Literal["documents", "topics", "words"]
STEP_OF: dict[str, MapStep] = {"documents": DOCUMENT_MAP, "topics": TOPIC_MAP, "words": WORD_MAP}
NAMED_BY = 3
# An area has at least this share of the items, and so many of them.
_SHARE, _LEAST = 0.006, 5
# Selected items on whose neighbours the trustworthiness is looked at.
_LOOKED_AT = 200


def density_of(view: View, of: MapOf) -> Density:
    """How densely items lie on a map."""
    step = STEP_OF[of]
    made = view.value(step)
    least = max(_LEAST, int(_SHARE * len(made.items)))
    return view.cache.get(("density", view.identity(step)), lambda: density(made.places, least))


def items_in(view: View, of: MapOf, corners: NDArray[np.float64]) -> NDArray[np.int64]:
    """Items inside a polygon, by rising number."""
    made = view.value(STEP_OF[of])
    return np.asarray(made.items[in_polygon(made.places, corners)])


def items_of_area(view: View, of: MapOf, area: int) -> NDArray[np.int64]:
    """Items of a dense area.

    Raises
    ------
    BadInputError
        where there is none of that number.
    """
    found = density_of(view, of)
    if not 0 <= area < len(found.peaks):
        raise BadInputError(f"The map has no area {area + 1}.")
    return np.asarray(view.value(STEP_OF[of]).items[found.area == area])


def area_name(view: View, of: MapOf, area: int) -> str:
    """What a dense area is called: words that set its documents apart, or of words the most frequent in it."""
    items_of_area(view, of, area)
    return _names(view, of)[area]


def _names(view: View, of: MapOf) -> list[str]:
    step = STEP_OF[of]
    return view.cache.get(("names of areas", view.identity(step)), lambda: _named(view, of))


def _named(view: View, of: MapOf) -> list[str]:
    step, found = STEP_OF[of], density_of(view, of)
    matrix, items = view.matrix_of(step), view.value(step).items
    if of == "words":
        return [
            " ".join(matrix.display[at] for at in items[found.area == each][:NAMED_BY].tolist()) for each in _all(found)
        ]
    whole, names = np.asarray(matrix.counts[items].sum(axis=0), dtype=np.int64).ravel(), list[str]()
    for each in _all(found):
        inside = np.asarray(matrix.counts[items[found.area == each]].sum(axis=0), dtype=np.int64).ravel()
        order = np.argsort(-words_apart(inside, whole - inside).log_odds, kind="stable").tolist()
        names.append(" ".join(_different([matrix.display[at] for at in order[: 4 * NAMED_BY]])))
    return names


def _all(found: Density) -> range:
    return range(len(found.peaks))


def _different(shown: list[str]) -> list[str]:
    """The first of some terms of which none has a word of another."""
    said: list[str] = []
    for each in shown:
        if len(said) < NAMED_BY and not {*each.split(" ")} & {word for other in said for word in other.split(" ")}:
            said.append(each)
    return said


def trust_of(view: View, of: MapOf, items: NDArray[np.int64]) -> tuple[float, int] | None:
    """The trustworthiness of some items of a map, and on how many of them it was looked at; None without any."""
    step = STEP_OF[of]
    made = view.value(step)
    places = np.flatnonzero(np.isin(made.items, items))
    if not len(places):
        return None
    vectors: Any = view.cache.get(("unit vectors of a map", view.identity(step)), lambda: _vectors(view, step))
    asked = np.sort(np.random.default_rng(1).permutation(places)[:_LOOKED_AT])
    found = trustworthiness(vectors, np.asarray(made.places), asked, near_of(len(made.items)))
    return float(found.mean()), len(asked)


def _vectors(view: View, step: MapStep) -> NDArray[np.float32]:
    """The vectors that a map was laid out from, of length 1."""
    return unit_vectors(step.vectors_of(view.made_from(step))[1])
