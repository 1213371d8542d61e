"""Weigh: the vocabulary under the wanted pruning, live."""

from __future__ import annotations

from typing import Annotated, Any, Literal

import numpy as np
from fastapi import APIRouter, Query
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.matrix.matrix import Counted, Matrix, count, prune, suggest_min_documents
from skeinwork.core.matrix.weighting import FORMULAS, Scheme, inverse_document_frequency
from skeinwork.server.routes.clean import wanted_cleaning
from skeinwork.server.state import Selected, SelectedStrand
from skeinwork.work import strands

router = APIRouter(prefix="/api/strands/{strand_id}", tags=["weigh"])


class TermRow(BaseModel):
    term: str
    display: str
    words: int
    count: int
    documents: int
    share: float
    idf: float
    weight: float


class MinimumEffect(BaseModel):
    """How many terms would stay at a minimum number of documents."""

    minimum: int
    terms: int


class WantedMatrix(BaseModel):
    """The matrix under the wanted settings."""

    terms: int
    nonzero: int
    sparsity: float
    emptied: int
    documents: int
    tokens: int
    all_terms: int
    formula: str
    sample: int | None
    suggestion: str
    terms_by_minimum: list[MinimumEffect]


class Vocabulary(BaseModel):
    summary: WantedMatrix
    total: int
    rows: list[TermRow]


def _matrix(chosen: Selected) -> tuple[Counted, Matrix, int | None]:
    wanted = strands.wanted(chosen.strand)
    cleaning, sample = wanted_cleaning(chosen, wanted.clean)
    cache = chosen.state.cache
    base = (
        "counted",
        chosen.strand.corpus,
        wanted.clean.model_dump_json(),
        sample,
        wanted.weigh.longest,
    )
    counted = cache.get(base, lambda: count(cleaning, wanted.weigh.longest))
    key = (*base, wanted.weigh.model_dump_json())
    return counted, cache.get(key, lambda: prune(counted, wanted.weigh)), sample


def _columns(matrix: Matrix, scheme: Scheme) -> dict[str, NDArray[Any]]:
    """Count, document frequency, idf and total weight of every term."""
    counts = np.asarray(matrix.counts.sum(axis=0)).ravel()
    frequency = np.bincount(matrix.counts.indices, minlength=len(matrix.terms))
    idf = inverse_document_frequency(matrix.counts)
    weight = counts * idf if scheme == "tf-idf" else counts.astype(float)
    return {"count": counts, "documents": frequency, "idf": idf, "weight": weight,
            "words": matrix.lengths.astype(int)}  # fmt: skip


def _order(matrix: Matrix, columns: dict[str, NDArray[Any]], sort: str, find: str) -> list[int]:
    keep = np.arange(len(matrix.terms))
    if find:
        wanted = find.casefold()
        keep = np.array(
            [at for at in keep if wanted in matrix.terms[at] or wanted in matrix.display[at]],
            dtype=int,
        )
    key = sort.removeprefix("-")
    if key == "display":
        order = sorted(keep.tolist(), key=lambda at: matrix.display[at])
        return order[::-1] if sort.startswith("-") else order
    values = columns.get(key, columns["weight"])[keep]
    return keep[np.argsort(-values if sort.startswith("-") else values, kind="stable")].tolist()


@router.get("/vocabulary")
def vocabulary(
    chosen: SelectedStrand, scheme: Literal["counts", "tf-idf"] = "counts",
    sort: Annotated[str, Query(pattern="^-?(display|count|documents|idf|weight|words)$")] = "-weight",
    find: Annotated[str, Query(max_length=200)] = "", offset: Annotated[int, Query(ge=0, le=2**31)] = 0,
    limit: Annotated[int, Query(ge=1, le=200)] = 60,
) -> Vocabulary:  # fmt: skip
    """A page of the terms that the wanted settings keep, and the matrix they make."""
    counted, matrix, sample = _matrix(chosen)
    columns = _columns(matrix, scheme)
    order = _order(matrix, columns, sort, find)
    n_docs = max(matrix.counts.shape[0], 1)
    rows = [
        TermRow(
            term=matrix.terms[at], display=matrix.display[at], words=int(matrix.lengths[at]),
            count=int(columns["count"][at]), documents=int(columns["documents"][at]),
            share=float(columns["documents"][at] / n_docs), idf=float(columns["idf"][at]),
            weight=float(columns["weight"][at]),
        )
        for at in order[offset : offset + limit]
    ]  # fmt: skip
    frequency = np.sort(counted.document_frequency)
    minima = [1, 2, 3, 5, 8, 12, 20, 30, 50, 100, 200]
    by_minimum = [
        MinimumEffect(minimum=m, terms=int(len(frequency) - np.searchsorted(frequency, m)))
        for m in minima
    ]
    summary = WantedMatrix(
        terms=len(matrix.terms), nonzero=int(matrix.counts.nnz), sparsity=matrix.sparsity,
        emptied=len(matrix.empty_documents), documents=int(matrix.counts.shape[0]),
        tokens=int(matrix.counts.data.sum()), all_terms=len(counted.terms),
        formula=FORMULAS[scheme], sample=sample,
        suggestion=suggest_min_documents(len(chosen.view.corpus))[1], terms_by_minimum=by_minimum,
    )  # fmt: skip
    return Vocabulary(summary=summary, total=len(order), rows=rows)
