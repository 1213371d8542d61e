"""A corner of the matrix as a grid, and its strongest cells as rows."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, Literal

import numpy as np
import scipy
from numpy.typing import NDArray
from pydantic import BaseModel, Field

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.dates import MISSING
from skeinwork.work.results import documents
from skeinwork.work.results.view import View
from skeinwork.work.strands.strands import Wanted
from skeinwork.work.weighting.long_form import Long
from skeinwork.work.weighting.weighted_matrix import Scope, Weighed, weighed


class GridQuery(Scope):
    """Which corner, in which order."""

    rows_by: Literal["number", "weight", "date", "group"] = "weight"
    group: str | None = Field(None, max_length=200, description="the field that rows are ordered by")
    columns_by: Literal["weight", "count", "documents", "term"] = "weight"
    first_row: int = Field(0, ge=0, le=2**31)
    n_rows: int = Field(40, ge=1, le=120)
    first_column: int = Field(0, ge=0, le=2**31)
    n_columns: int = Field(20, ge=1, le=120)


class GridRow(BaseModel):
    """A document: ``held_out`` where it is of the test part."""

    document: int
    name: str
    detail: str
    sum: float
    held_out: bool


class GridColumn(BaseModel):
    term: str
    display: str
    sum: float


class Grid(BaseModel):
    """A corner: ``cells`` holds a list for every row; ``largest`` is the largest weight anywhere."""

    total_rows: int
    total_columns: int
    nonzero: int
    largest: float
    counts: bool
    rows: list[GridRow]
    columns: list[GridColumn]
    cells: list[list[float]]
    sample: int | None


def _row_order(view: View, made: Weighed, query: GridQuery) -> NDArray[np.int64]:
    rows = query.rows(view, made.documents)
    at = made.documents[rows]
    if query.rows_by == "weight":
        return rows[np.argsort(-made.sums[0][rows], kind="stable")]
    if query.rows_by == "date":
        days = view.corpus.days[at].astype(np.int64)
        return rows[np.argsort(np.where(days == MISSING, np.iinfo(np.int64).max, days), kind="stable")]
    if query.rows_by == "group":
        column = view.corpus.column(query.group or "")
        if column is None:
            raise BadInputError(f"There is no field “{query.group}” to order the documents by.")
        return rows[np.lexsort((-made.sums[0][rows], column.order()[at]))]
    return rows


def _column_order(made: Weighed, by: str) -> NDArray[np.int64]:
    matrix = made.matrix
    if by == "term":
        return np.argsort(np.array(matrix.display, dtype=object), kind="stable").astype(np.int64)
    if by == "documents":
        score = matrix.document_frequency.astype(float)
    elif by == "count":
        score = matrix.totals.astype(float)
    else:
        score = made.sums[1]
    return np.argsort(-score, kind="stable").astype(np.int64)


def grid(view: View, wanted: Wanted, query: GridQuery) -> Grid:
    """A page of the wanted matrix under the wanted weighting."""
    made = weighed(view, wanted)
    order = view.cached(
        "grid rows",
        lambda: _row_order(view, made, query),
        *made.key,
        query.rows_by,
        query.group,
        query.model_dump_json(include=set(Scope.model_fields)),
    )
    across = view.cached("grid columns", lambda: _column_order(made, query.columns_by), *made.key, query.columns_by)
    rows = order[query.first_row : query.first_row + query.n_rows]
    columns = across[query.first_column : query.first_column + query.n_columns]
    matrix, test = made.matrix, made.matrix.test
    return Grid(
        total_rows=len(order),
        total_columns=len(across),
        nonzero=int(made.weights.nnz),
        largest=float(np.abs(made.weights.data).max(initial=0.0)),
        counts=made.weighting.is_counts,
        rows=[
            GridRow(
                document=int(made.documents[at]),
                name=documents.name(view, int(made.documents[at])),
                detail=_detail(view, query, int(made.documents[at])),
                sum=float(made.sums[0][at]),
                held_out=test is not None and bool(test[at]),
            )
            for at in rows.tolist()
        ],
        columns=[
            GridColumn(term=matrix.terms[at], display=matrix.display[at], sum=float(made.sums[1][at]))
            for at in columns.tolist()
        ],
        cells=block(made.weights, rows, columns).tolist(),
        sample=made.sample,
    )


def _detail(view: View, query: GridQuery, document: int) -> str:
    """What rows are ordered by, where that is not a number of the grid."""
    if query.rows_by == "group" and (column := view.corpus.column(query.group or "")):
        return column.value(document) or "not given"
    return documents.day_label(view, document) or "" if query.rows_by == "date" else ""


def block(weights: scipy.sparse.csr_matrix, rows: NDArray[np.int64], columns: NDArray[np.int64]) -> NDArray[np.float64]:
    """Some rows and columns of a matrix, float64[n_rows, n_columns]."""
    place = np.full(weights.shape[1], -1, dtype=np.int64)
    place[columns] = np.arange(len(columns))
    part = weights[rows]
    out = np.zeros((len(rows), len(columns)))
    at = place[part.indices]
    there = at >= 0
    out[np.repeat(np.arange(len(rows)), np.diff(part.indptr))[there], at[there]] = part.data[there]
    return out


class CellsQuery(Scope):
    """Which cells, in which order."""

    sort: Literal["-weight", "weight", "-n", "-tf", "-idf", "document", "term"] = "-weight"
    find: str = Field("", max_length=200, description="in the term")
    offset: int = Field(0, ge=0, le=2**31)
    limit: int = Field(60, ge=1, le=200)


class CellRow(BaseModel):
    """A cell that is not zero: ``tf`` is n / len, ``idf`` the logarithm of N / df."""

    document: int
    name: str
    term: str
    display: str
    n: int
    tf: float
    idf: float
    weight: float


class CellRows(BaseModel):
    total: int
    base: str
    rows: list[CellRow]


def _chosen(view: View, wanted: Wanted, query: CellsQuery) -> tuple[Weighed, Long, NDArray[np.int64]]:
    """The cells that a query asks for, in its order."""
    made = weighed(view, wanted)
    table = view.cached("long form", lambda: Long(made), *made.key)
    order = view.cached("order of cells", lambda: table.order(query.sort), *made.key, query.sort)
    keep: NDArray[np.bool_] | None = None
    if query.given() or query.document is not None:
        meant = np.zeros(len(made.documents), dtype=bool)
        meant[query.rows(view, made.documents)] = True
        keep = meant[table.row]
    if query.find:
        wanted_text, matrix = query.find.casefold(), made.matrix
        terms = np.array(
            [
                wanted_text in term.casefold() or wanted_text in shown.casefold()
                for term, shown in zip(matrix.terms, matrix.display, strict=True)
            ],
            dtype=bool,
        )
        keep = terms[table.column] if keep is None else keep & terms[table.column]
    return made, table, order if keep is None else order[keep[order]]


def cells(view: View, wanted: Wanted, query: CellsQuery) -> CellRows:
    """A page of the cells that are not zero."""
    made, table, order = _chosen(view, wanted, query)
    matrix = made.matrix
    return CellRows(
        total=len(order),
        base=made.weighting.base,
        rows=[
            CellRow(
                document=int(made.documents[table.row[at]]),
                name=documents.name(view, int(made.documents[table.row[at]])),
                term=matrix.terms[table.column[at]],
                display=matrix.display[table.column[at]],
                **table.figures(at),
            )
            for at in order[query.offset : query.offset + query.limit].tolist()
        ],
    )


def cells_rows(view: View, wanted: Wanted, query: CellsQuery) -> Iterator[list[Any]]:
    """All of them, for a table: document, term, shown as, n, tf, idf, weight."""
    made, table, order = _chosen(view, wanted, query)
    terms, shown = made.matrix.terms, made.matrix.display
    for at in order.tolist():
        term = int(table.column[at])
        yield [int(made.documents[table.row[at]]) + 1, terms[term], shown[term], *table.figures(at).values()]
