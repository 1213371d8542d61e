"""Weigh: the vocabulary under the wanted pruning, live."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.matrix.matrix import Counted, Matrix, count, prune, suggest_min_documents
from skeinwork.core.matrix.weighting import FORMULAS, Scheme, inverse_document_frequency
from skeinwork.work import trying
from skeinwork.work.strands import Wanted
from skeinwork.work.view import View

_MINIMA = (1, 2, 3, 5, 8, 12, 20, 30, 50, 100, 200)


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


def _matrix(view: View, wanted: Wanted) -> tuple[Counted, Matrix, int | None]:
    tried = trying.whole(view, wanted.clean)
    cleaning, sample = tried.cleaning, tried.sample
    weigh = wanted.weigh
    key = (
        "counted",
        view.corpus_id,
        wanted.clean.model_dump_json(),
        sample,
        weigh.longest,
        weigh.bridge,
    )
    counted = view.cache.get(
        key, lambda: count(cleaning, wanted.weigh.longest, wanted.weigh.bridge)
    )
    pruned = (*key, wanted.weigh.model_dump_json())
    return counted, view.cache.get(pruned, lambda: prune(counted, wanted.weigh)), sample


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


class TermQuery(BaseModel):
    """Which terms are wanted, in which order."""

    model_config = ConfigDict(extra="ignore", frozen=True)

    scheme: Scheme = "counts"
    sort: str = Field("-weight", pattern="^-?(display|count|documents|idf|weight|words)$")
    find: str = Field("", max_length=200)
    offset: int = Field(0, ge=0, le=2**31)
    limit: int = Field(60, ge=1, le=200)


def vocabulary(view: View, wanted: Wanted, query: TermQuery) -> Vocabulary:
    """A page of the terms that the wanted settings keep, and the matrix they make."""
    counted, matrix, sample = _matrix(view, wanted)
    columns = _columns(matrix, query.scheme)
    order = _order(matrix, columns, query.sort, query.find)
    n_docs = max(matrix.counts.shape[0], 1)
    rows = [
        TermRow(
            term=matrix.terms[at], display=matrix.display[at], words=int(matrix.lengths[at]),
            count=int(columns["count"][at]), documents=int(columns["documents"][at]),
            share=float(columns["documents"][at] / n_docs), idf=float(columns["idf"][at]),
            weight=float(columns["weight"][at]),
        )
        for at in order[query.offset : query.offset + query.limit]
    ]  # fmt: skip
    frequency = np.sort(counted.document_frequency)
    by_minimum = [
        MinimumEffect(minimum=m, terms=int(len(frequency) - np.searchsorted(frequency, m)))
        for m in _MINIMA
    ]
    summary = WantedMatrix(
        terms=len(matrix.terms), nonzero=int(matrix.counts.nnz), sparsity=matrix.sparsity,
        emptied=len(matrix.empty_documents), documents=int(matrix.counts.shape[0]),
        tokens=int(matrix.counts.data.sum()), all_terms=len(counted.terms),
        formula=FORMULAS[query.scheme], sample=sample,
        suggestion=suggest_min_documents(len(view.corpus))[1], terms_by_minimum=by_minimum,
    )  # fmt: skip
    return Vocabulary(summary=summary, total=len(order), rows=rows)
