"""One cell of the matrix: its formula with the numbers put in, and under every other weighting."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy
from pydantic import BaseModel

from skeinwork.core.matrix.explaining import Explained, Factor, cell_weight, explain
from skeinwork.core.matrix.global_weights import GLOBAL, Terms
from skeinwork.core.matrix.local_weights import LOCAL
from skeinwork.core.matrix.norms import NORMS
from skeinwork.core.matrix.weighting import SCHEMES, Learnt, Weighting
from skeinwork.work import evidence
from skeinwork.work.evidence import EvidenceRequest
from skeinwork.work.results import documents
from skeinwork.work.results.documents import Segment
from skeinwork.work.results.view import View
from skeinwork.work.steps import MATRIX
from skeinwork.work.strands.strands import Wanted
from skeinwork.work.weighting.weighted_matrix import Weighed, weighed


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
    factors: tuple[Factor, Factor, Factor]
    weight: float
    schemes: list[NamedWeight]
    rows: list[str]
    columns: list[str]
    tables: list[CellTable]
    passage: list[Segment]


@dataclass(frozen=True)
class _Row:
    """A document's row with its own terms alone, and the one that is asked for."""

    counts: scipy.sparse.csr_matrix
    term: int
    learnt: Learnt

    def under(self, weighting: Weighting) -> Explained:
        return explain(self.counts, self.term, weighting, self.learnt)

    def weight(self, weighting: Weighting) -> float:
        return cell_weight(self.counts, self.term, weighting, self.learnt)


def _row(made: Weighed, document: int, term: int) -> _Row:
    counts = made.matrix.counts[[document]].tocsr()
    columns = np.unique(np.append(counts.indices, term))
    known = made.learnt.terms
    terms = Terms(known.n_docs, known.df[columns], known.total[columns], known.tf_log_tf[columns])
    own = Learnt(terms, made.learnt.mean_length)
    return _Row(counts[:, columns].tocsr(), int(np.searchsorted(columns, term)), own)


def _tables(row: _Row, base: Weighting) -> list[CellTable]:
    def weight(local: str, across: str, norm: str) -> float:
        parts = {"local_weight": local, "global_weight": across, "norm": norm}
        return row.weight(base.model_copy(update=parts))

    return [
        CellTable(
            norm=norm, title=each.title, weights=[[weight(local, across, norm) for across in GLOBAL] for local in LOCAL]
        )
        for norm, each in NORMS.items()
    ]


def _passage(view: View, document: int, term: str, display: str) -> list[Segment]:
    """The term in the document, as it was counted where that is made already."""
    known = view.identity(MATRIX) is not None and term in view.matrix.columns
    asked = {"term": term} if known else {"word": display}
    request = EvidenceRequest.model_validate(asked)
    return evidence.passage(view, request, document)


def cell(view: View, wanted: Wanted, document: int, term: str) -> CellAnswer:
    """A cell of the wanted matrix, explained."""
    made = weighed(view, wanted)
    column, matrix = made.column(term), made.matrix
    row = _row(made, made.row(document), column)
    found, counts = row.under(made.weighting), row.counts
    n = int(counts[0, row.term])
    return CellAnswer(
        document=document,
        name=documents.name(view, document),
        brief=documents.brief(view, document),
        term=term,
        display=matrix.display[column],
        n=n,
        documents_with=int(made.learnt.terms.df[column]),
        of=made.learnt.terms.n_docs,
        held_out=0 if matrix.test is None else int(np.sum(matrix.test)),
        length=int(counts.data.sum()),
        most=int(counts.data.max(initial=0)),
        mean_length=made.learnt.mean_length,
        weighting=made.weighting.in_words(),
        formula=made.weighting.formula(),
        weight=found.weight,
        factors=found.factors,
        schemes=[
            NamedWeight(name=name, formula=each.formula(), current=each == made.weighting, weight=row.weight(each))
            for name, each in SCHEMES.items()
        ],
        rows=[each.title for each in LOCAL.values()],
        columns=[each.title for each in GLOBAL.values()],
        tables=_tables(row, made.weighting),
        passage=_passage(view, document, term, matrix.display[column]) if n else [],
    )
