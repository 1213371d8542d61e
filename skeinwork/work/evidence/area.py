"""What lies in an area of a map: drawn by hand, or dense by itself."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from skeinwork.work.evidence.base import Asked, Labels, Leading, Marks, Narrowing, Piece, Scores
from skeinwork.work.evidence.term import different_words, forms_in
from skeinwork.work.relate.map_areas import STEP_OF, MapOf, area_name, items_in, items_of_area
from skeinwork.work.relate.map_colours import coloured
from skeinwork.work.results.view import View
from skeinwork.work.steps import WORD_MAP
from skeinwork.work.steps.step import counted


class AskedArea(Asked):
    area: str | None = Field(
        None,
        max_length=4000,
        pattern=r"^(dense \d{1,4}|-?\d+(\.\d+)?,-?\d+(\.\d+)?( -?\d+(\.\d+)?,-?\d+(\.\d+)?){2,})$",
        description="corners of an area of a map, in turn: “1.5,2 3,2 3,4”; or a dense one by its number: “dense 0”",
    )
    area_of: MapOf = Field("documents", description="the map that it is drawn on")
    area_by: str | None = Field(
        None, max_length=220, description="of what lies in it only these: by what they are told"
    )
    area_only: str | None = Field(
        None, max_length=400, pattern=r"^\d{1,4}(\.\d{1,4})*$", description="and the values, by their numbers: “0.4”"
    )


class InArea(Narrowing):
    asked = AskedArea
    names = "area"

    def given(self, request: AskedArea) -> bool:
        return bool(request.area) and request.area_of != "words"

    def title(self, view: View, request: AskedArea, labels: Labels) -> str:
        return _named(view, request)

    def keep(self, view: View, request: AskedArea) -> NDArray[np.bool_]:
        kept = np.zeros(len(view.corpus), dtype=bool)
        kept[items_asked(view, request)] = True
        return kept


class WordsInArea(Leading):
    asked = AskedArea
    names = "area"

    def given(self, request: AskedArea) -> bool:
        return bool(request.area) and request.area_of == "words"

    def title(self, view: View, request: AskedArea, labels: Labels) -> str:
        return _named(view, request)

    def scores(self, view: View, request: AskedArea) -> Scores:
        here = view.matrix_of(WORD_MAP).counts[:, items_asked(view, request)]
        return Scores(different_words(here, view.lengths), "first those with the most different words of the area")

    def piece(self, view: View, request: AskedArea, document: int, score: float) -> Piece:
        items = items_asked(view, request)
        row = view.matrix_of(WORD_MAP).counts[document, items]
        return Piece(counted(row.nnz, "word"), f"{row.nnz} of {len(items)}, {counted(int(row.sum()), 'time')} in all")

    def marks(self, view: View, request: AskedArea, document: int) -> Marks:
        cleaning, matrix = view.cleaning_of(WORD_MAP), view.matrix_of(WORD_MAP)
        forms = cleaning.token_forms(document)
        wanted = {matrix.terms[at] for at in items_asked(view, request).tolist()}
        numbers = [at for form, at in forms_in(cleaning, forms).items() if form in wanted]
        return Marks(cleaning, np.isin(forms, numbers).astype(np.float64))


def items_asked(view: View, request: AskedArea) -> NDArray[np.int64]:
    """Items of an area, and of these only those of the values that are asked for."""
    items = _inside(view, request)
    if not request.area_by or not request.area_only:
        return items
    found = coloured(view, request.area_of, request.area_by)
    only = np.isin(found.codes, [int(each) for each in request.area_only.split(".")])
    return items[np.isin(items, view.value(STEP_OF[request.area_of]).items[only])]


def _inside(view: View, request: AskedArea) -> NDArray[np.int64]:
    asked = request.area or ""
    if asked.startswith("dense "):
        return items_of_area(view, request.area_of, int(asked.removeprefix("dense ")))
    corners = [tuple(map(float, each.split(","))) for each in asked.split(" ")]
    return items_in(view, request.area_of, np.array(corners))


def _named(view: View, request: AskedArea) -> str:
    asked = request.area or ""
    if asked.startswith("dense "):
        return area_name(view, request.area_of, int(asked.removeprefix("dense ")))
    return (
        f"{counted(len(items_asked(view, request)), 'word' if request.area_of == 'words' else 'document')} drawn round"
    )
