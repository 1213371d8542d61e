"""Weigh: the vocabulary and the matrix under the wanted pruning and weighting, live."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query, Response
from fastapi.responses import StreamingResponse

from skeinwork.core.formats.export import csv_rows
from skeinwork.core.matrix.matrix_settings import MatrixSettings
from skeinwork.server.records import saves, streamed
from skeinwork.server.routing import Routes
from skeinwork.server.state import StateOf, StrandOf, ViewOf
from skeinwork.work.screens import cell, grid, matrices, new_text, pruning, top_terms, weigh
from skeinwork.work.screens.cell import CellAnswer
from skeinwork.work.screens.grid import CellRows, CellsQuery, Grid, GridQuery
from skeinwork.work.screens.matrices import FilesOffered, MadeMatrix, SplitShown
from skeinwork.work.screens.new_text import NewText, WeighedTexts
from skeinwork.work.screens.pruning import Pruned
from skeinwork.work.screens.top_terms import Curves, Scopes, TopQuery, TopTerms
from skeinwork.work.screens.weigh import TermQuery, Vocabulary, WeightChoices
from skeinwork.work.strands import strands, uploads
from skeinwork.work.weighting import matrix_files
from skeinwork.work.weighting.weighted_matrix import made_weighed

router = Routes(prefix="/api/strands/{strand_id}", tags=["weigh"])
Outcome = Annotated[str | None, Query(max_length=200)]
TermOf = Annotated[str, Query(min_length=1, max_length=400)]


@router.get("/vocabulary")
def vocabulary(strand: StrandOf, view: ViewOf, query: Annotated[TermQuery, Query()]) -> Vocabulary:
    """A page of the terms that the wanted settings keep, and the matrix they make."""
    return weigh.vocabulary(view, strands.wanted(strand), query)


@router.get("/weights")
def list_weights(strand: StrandOf) -> WeightChoices:
    """The local, global and length weights there are, with their formulas."""
    return weigh.weight_choices(strands.wanted(strand).weighting)


@router.post("/pruning")
def try_pruning(strand: StrandOf, view: ViewOf, settings: MatrixSettings) -> Pruned:
    """What some limits would leave; nothing is changed by it."""
    return pruning.pruned(view, strands.wanted(strand), settings)


@router.get("/matrix/cell")
def explain_cell(
    strand: StrandOf, view: ViewOf, term: TermOf, document: Annotated[int, Query(ge=0, le=2**31)]
) -> CellAnswer:
    """One cell with the numbers of its formula, and under every other weighting."""
    return cell.cell(view, strands.wanted(strand), document, term)


@router.get("/matrix/grid")
def show_grid(strand: StrandOf, view: ViewOf, query: Annotated[GridQuery, Query()]) -> Grid:
    """A corner of the wanted matrix."""
    return grid.grid(view, strands.wanted(strand), query)


@router.get("/matrix/cells")
def list_cells(strand: StrandOf, view: ViewOf, query: Annotated[CellsQuery, Query()]) -> CellRows:
    """A page of the cells that are not zero, as rows."""
    return grid.cells(view, strands.wanted(strand), query)


@router.get("/matrix/cells.csv", **saves("text/csv"))
def cells_as_table(strand: StrandOf, view: ViewOf, query: Annotated[CellsQuery, Query()]) -> StreamingResponse:
    """All of them."""
    rows = grid.cells_rows(view, strands.wanted(strand), query)
    header = ["document", "term", "shown as", "n", "tf", "idf", "weight"]
    return streamed(csv_rows(header, rows), "cells.csv", "text/csv")


@router.get("/top-terms")
def list_top_terms(strand: StrandOf, view: ViewOf, query: Annotated[TopQuery, Query()]) -> TopTerms:
    """The top terms of the corpus, a group, a period or a document; with a second weighting beside."""
    return top_terms.top_terms(view, strands.wanted(strand), query)


@router.get("/scopes")
def list_scopes(view: ViewOf) -> Scopes:
    """Groups and periods that top terms can be looked at by."""
    return top_terms.scopes(view)


@router.get("/vocabulary/curves")
def show_curves(strand: StrandOf, view: ViewOf) -> Curves:
    """Frequency spectrum, ranks and growth of the vocabulary."""
    return top_terms.vocabulary_curves(view, strands.wanted(strand))


@router.post("/new-text")
def weigh_new_text(strand: StrandOf, view: ViewOf, given: NewText) -> WeighedTexts:
    """A text through the cleaning and vocabulary of the matrix, with the weights learnt there."""
    weighting = strands.wanted(strand).weighting
    return new_text.weigh_texts(view, weighting, [given.text], ["Typed in"])


@router.get("/new-text/{sha256}")
def weigh_new_file(state: StateOf, strand: StrandOf, view: ViewOf, sha256: str) -> WeighedTexts:
    """The first documents of a file, in the same way."""
    with state.store.connection():
        file = uploads.find(sha256)
    found = new_text.texts_of_file(state.store.upload_path(file.sha256), file.name)
    names, texts = [name for name, _ in found], [text for _, text in found]
    return new_text.weigh_texts(view, strands.wanted(strand).weighting, texts, names)


@router.get("/matrices")
def list_matrices(state: StateOf, strand: StrandOf, view: ViewOf) -> list[MadeMatrix]:
    """The matrices made of this cleaning, side by side."""
    with state.store.connection():
        rows = matrices.rows_of(strand)
    return matrices.matrices(view, rows)


@router.get("/matrix/split")
def show_split(strand: StrandOf, view: ViewOf) -> SplitShown:
    """The training and test part that are wanted."""
    return matrices.split_shown(view, strands.wanted(strand))


@router.get("/matrix/files")
def list_matrix_files(strand: StrandOf, view: ViewOf, outcome: Outcome = None) -> FilesOffered:
    """The files of the matrix that was made, with their sizes."""
    return matrices.files_offered(view, strands.wanted(strand), outcome)


@router.get("/matrix/files/{name}", **saves("application/octet-stream"))
def one_matrix_file(strand: StrandOf, view: ViewOf, name: str, outcome: Outcome = None) -> Response:
    """One of them, streamed."""
    file = matrices.file_named(name)
    made = made_weighed(view, strands.wanted(strand).weighting)
    written = file.write(matrix_files.asked(view, made, outcome))
    return streamed(written, name, "application/octet-stream")
