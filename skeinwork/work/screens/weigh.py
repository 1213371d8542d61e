"""Weigh: the vocabulary under the wanted pruning and weighting, live."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.matrix.global_weights import GLOBAL
from skeinwork.core.matrix.local_weights import LOCAL, LocalOptions
from skeinwork.core.matrix.norms import NORMS
from skeinwork.core.matrix.numbers import Base
from skeinwork.core.matrix.weighting import SCHEMES, Weighting
from skeinwork.work.results.view import View
from skeinwork.work.strands.schemas import fields_of
from skeinwork.work.strands.strands import Wanted
from skeinwork.work.weighting.weighted_matrix import Weighed, counting_of, weighed


class TermRow(BaseModel):
    """A term with how often it occurs, in how many documents, its global weight, and its weights' sum."""

    term: str
    display: str
    words: int
    count: int
    documents: int
    share: float
    idf: float
    weight: float


class WantedMatrix(BaseModel):
    """The matrix under the wanted settings; ``held_out`` documents have no say in it."""

    terms: int
    nonzero: int
    sparsity: float
    emptied: int
    documents: int
    held_out: int
    tokens: int
    all_terms: int
    weighting: str
    formula: str
    sample: int | None


class Vocabulary(BaseModel):
    summary: WantedMatrix
    total: int
    rows: list[TermRow]


class TermQuery(BaseModel):
    """Which terms are wanted, in which order."""

    model_config = ConfigDict(extra="ignore", frozen=True)

    sort: str = Field("-weight", pattern="^-?(display|count|documents|idf|weight|words)$")
    find: str = Field("", max_length=200)
    offset: int = Field(0, ge=0, le=2**31)
    limit: int = Field(60, ge=1, le=200)


def _columns(made: Weighed) -> dict[str, NDArray[Any]]:
    """Count, document frequency, global weight and summed weight of every term."""
    matrix = made.matrix
    across = GLOBAL[made.weighting.global_weight].weights(made.learnt.terms, made.weighting.base)
    return {
        "count": matrix.totals,
        "documents": matrix.document_frequency,
        "idf": across,
        "weight": made.sums[1],
        "words": matrix.lengths.astype(int),
    }


def _order(made: Weighed, columns: dict[str, NDArray[Any]], query: TermQuery) -> list[int]:
    matrix, sort = made.matrix, query.sort
    keep = np.arange(len(matrix.terms))
    if query.find:
        wanted = query.find.casefold()
        keep = np.array([at for at in keep if wanted in matrix.terms[at] or wanted in matrix.display[at]], dtype=int)
    if sort.removeprefix("-") == "display":
        order = sorted(keep.tolist(), key=lambda at: matrix.display[at])
        return order[::-1] if sort.startswith("-") else order
    values = columns[sort.removeprefix("-")][keep]
    return keep[np.argsort(-values if sort.startswith("-") else values, kind="stable")].tolist()


def summary_of(view: View, wanted: Wanted, made: Weighed) -> WantedMatrix:
    """The wanted matrix in numbers."""
    matrix = made.matrix
    return WantedMatrix(
        terms=len(matrix.terms),
        nonzero=int(matrix.counts.nnz),
        sparsity=matrix.sparsity,
        emptied=len(matrix.empty_documents),
        documents=int(matrix.counts.shape[0]),
        held_out=0 if matrix.test is None else int(matrix.test.sum()),
        tokens=int(matrix.counts.data.sum()),
        all_terms=counting_of(view, wanted).counted.n_terms,
        weighting=made.weighting.in_words(),
        formula=made.weighting.formula(),
        sample=made.sample,
    )


def vocabulary(view: View, wanted: Wanted, query: TermQuery) -> Vocabulary:
    """A page of the terms that the wanted settings keep, and the matrix they make."""
    made = weighed(view, wanted)
    matrix, columns = made.matrix, _columns(made)
    order = _order(made, columns, query)
    n_docs = max(matrix.counts.shape[0], 1)
    rows = [
        TermRow(
            term=matrix.terms[at],
            display=matrix.display[at],
            words=int(matrix.lengths[at]),
            count=int(columns["count"][at]),
            documents=int(columns["documents"][at]),
            share=float(columns["documents"][at] / n_docs),
            idf=float(columns["idf"][at]),
            weight=float(columns["weight"][at]),
        )
        for at in order[query.offset : query.offset + query.limit]
    ]
    return Vocabulary(summary=summary_of(view, wanted, made), total=len(order), rows=rows)


class WeightChoice(BaseModel):
    """A weight that can be chosen: its name in settings, title, formula, and its ends in words."""

    name: str
    title: str
    formula: str
    ends: list[str]


class SchemeChoice(BaseModel):
    name: str
    weighting: Weighting


class WeightChoices(BaseModel):
    """All weights there are, and usual combinations; ``base`` says what another logarithm would change."""

    local_weights: list[WeightChoice]
    global_weights: list[WeightChoice]
    norms: list[WeightChoice]
    schemes: list[SchemeChoice]
    base: str
    logarithms: bool
    options: dict[str, Any]


def weight_choices(wanted: Weighting) -> WeightChoices:
    """The weights with the logarithm that is wanted."""
    sign = Base(wanted.base).sign

    def choice(name: str, title: str, formula: str, *ends: str) -> WeightChoice:
        said = [each.replace("{log}", sign) for each in ends]
        return WeightChoice(name=name, title=title, formula=formula.replace("{log}", sign), ends=said)

    return WeightChoices(
        local_weights=[choice(key, w.title, w.formula, w.edge) for key, w in LOCAL.items()],
        global_weights=[
            choice(
                key,
                w.title,
                w.formula,
                w.smoothing,
                f"in no document: {w.nowhere}",
                f"in every document: {w.everywhere}",
            )
            for key, w in GLOBAL.items()
        ],
        norms=[choice(key, each.title, each.formula, each.edge) for key, each in NORMS.items()],
        schemes=[SchemeChoice(name=key, weighting=each) for key, each in SCHEMES.items()],
        base=wanted.base_said(),
        logarithms=wanted.takes_logarithms,
        options=fields_of(LocalOptions, frozenset()),
    )
