"""One cell of the matrix: its formula with the numbers put in, and under every other weighting."""

from __future__ import annotations

import numpy as np
from pydantic import BaseModel

from skeinwork.core.matrix.explaining import Explained, explain
from skeinwork.core.matrix.global_weights import GLOBAL
from skeinwork.core.matrix.local_weights import LOCAL
from skeinwork.core.matrix.weighting import NORMS, SCHEMES, Weighting
from skeinwork.work import documents, evidence
from skeinwork.work.documents import Segment
from skeinwork.work.evidence import EvidenceRequest
from skeinwork.work.strands import Wanted
from skeinwork.work.view import View
from skeinwork.work.weighed import Weighed, weighed


class FactorSaid(BaseModel):
    """A factor of a weight: formula, the same with numbers, value, and its edges in words."""

    title: str
    formula: str
    filled: str
    value: float
    edge: str


class NamedWeight(BaseModel):
    """The same cell under a usual combination."""

    name: str
    formula: str
    weight: float
    current: bool


class CellTable(BaseModel):
    """The same cell under every local (rows) and global (columns) weight, for one norm."""

    norm: str
    title: str
    weights: list[list[float]]


class CellAnswer(BaseModel):
    """A cell in full. ``passage`` shows the term in the document, where it stands there."""

    document: int
    name: str
    brief: str
    term: str
    display: str
    n: int
    documents_with: int
    of: int
    held_out: int
    length: int
    most: int
    mean_length: float
    weighting: str
    formula: str
    factors: list[FactorSaid]
    weight: float
    schemes: list[NamedWeight]
    rows: list[str]
    columns: list[str]
    tables: list[CellTable]
    passage: list[Segment]


def _explained(made: Weighed, row: int, term: int, weighting: Weighting) -> Explained:
    return explain(made.matrix.counts[[row]].tocsr(), term, weighting, made.learnt)


def _tables(made: Weighed, row: int, term: int) -> list[CellTable]:
    base = made.weighting
    return [
        CellTable(
            norm=norm, title=NORMS[norm][0],
            weights=[
                [
                    _explained(
                        made, row, term,
                        base.model_copy(
                            update={"local_weight": local, "global_weight": across, "norm": norm}
                        ),
                    ).weight
                    for across in GLOBAL
                ]
                for local in LOCAL
            ],
        )
        for norm in NORMS
    ]  # fmt: skip


def _passage(view: View, document: int, term: str, display: str) -> list[Segment]:
    """The term in the document, as it was counted where that is made already."""
    known = view.matrix_id is not None and term in view.term_place
    asked = {"term": term} if known else {"word": display}
    request = EvidenceRequest.model_validate(asked)
    return documents.passage(evidence.marked(view, request, document))


def cell(view: View, wanted: Wanted, document: int, term: str) -> CellAnswer:
    """A cell of the wanted matrix, explained."""
    made = weighed(view, wanted)
    row, column = made.row(document), made.column(term)
    counts, matrix = made.matrix.counts[[row]].tocsr(), made.matrix
    found = _explained(made, row, column, made.weighting)
    n = int(counts[0, column])
    return CellAnswer(
        document=document, name=documents.name(view, document), brief=documents.brief(view, document),
        term=term, display=matrix.display[column], n=n,
        documents_with=int(made.learnt.terms.df[column]), of=made.learnt.terms.n_docs,
        held_out=0 if matrix.test is None else int(np.sum(matrix.test)),
        length=int(counts.data.sum()), most=int(counts.data.max(initial=0)),
        mean_length=made.learnt.mean_length, weighting=made.weighting.in_words(),
        formula=made.weighting.formula(), weight=found.weight,
        factors=[FactorSaid(**vars(each)) for each in found.factors],
        schemes=[
            NamedWeight(
                name=name, formula=each.formula(), current=each == made.weighting,
                weight=_explained(made, row, column, each).weight,
            )
            for name, each in SCHEMES.items()
        ],
        rows=[each.title for each in LOCAL.values()],
        columns=[each.title for each in GLOBAL.values()],
        tables=_tables(made, row, column),
        passage=_passage(view, document, term, matrix.display[column]) if n else [],
    )  # fmt: skip
