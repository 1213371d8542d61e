"""One cell of a weighted matrix explained: its formula with the numbers put in."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy

from skeinwork.core.matrix.local_weights import Cells
from skeinwork.core.matrix.norms import NORMS
from skeinwork.core.matrix.numbers import Base
from skeinwork.core.matrix.weighting import Learnt, Weighting, cells_of, weigh


@dataclass(frozen=True)
class Factor:
    """A part of a weight: its name, formula, formula with numbers, value, and a word on its ends."""

    title: str
    formula: str
    filled: str
    value: float
    edge: str = ""


@dataclass(frozen=True)
class Explained:
    """A cell's weight as the product of its factors."""

    factors: tuple[Factor, Factor, Factor]
    weight: float


def _cell(row: scipy.sparse.csr_matrix, term: int, mean_length: float) -> Cells | None:
    """The one cell of a row that belongs to a term; None where it is zero."""
    at = np.flatnonzero(row.indices == term)
    every = cells_of(row, mean_length)
    return Cells(every.tf[at], every.length[at], every.most[at], mean_length) if len(at) else None


def cell_weight(row: scipy.sparse.csr_matrix, term: int, weighting: Weighting, learnt: Learnt) -> float:
    """The weight of one cell, without a word on it.

    Parameters
    ----------
    row : int[1, n_terms], the document's counts
    term : the column
    learnt : what the weights are worked out from
    """
    return float(weigh(row, weighting, learnt)[0, term])


def explain(row: scipy.sparse.csr_matrix, term: int, weighting: Weighting, learnt: Learnt) -> Explained:
    """Local × global × norm of one cell of a row, int[1, n_terms]; the parameters are those of ``cell_weight``."""
    local, across, _ = weighting.parts()
    cell, known, base = _cell(row, term, learnt.mean_length), learnt.terms.of(term), weighting.base
    sign = Base(base).sign
    value = float(local.weights(cell, weighting)[0]) if cell else 0.0
    first = Factor(
        local.title,
        local.formula.replace("{log}", sign),
        local.filled(cell, weighting) if cell else "0 (not in this document)",
        value,
        local.edge,
    )
    ends = f"in no document: {across.nowhere}; in every document: {across.everywhere}"
    ends = f"{across.smoothing}; {ends}" if across.smoothing else ends
    second = Factor(
        across.title,
        across.formula.replace("{log}", sign),
        across.filled(known, base),
        float(across.weights(known, base)[0]),
        ends.replace("{log}", sign),
    )
    third = _norm(row, weighting, learnt)
    return Explained((first, second, third), value * second.value * third.value)


def _norm(row: scipy.sparse.csr_matrix, weighting: Weighting, learnt: Learnt) -> Factor:
    norm = NORMS[weighting.norm]
    if not norm.scales:
        return Factor(norm.title, norm.formula, "1", 1.0)
    weights = weigh(row, weighting.model_copy(update={"norm": "none"}), learnt).data
    factor = float(norm.factors(weights, np.zeros(row.nnz, dtype=np.int64), 1)[0])
    cells = "1 term" if row.nnz == 1 else f"{row.nnz} terms"
    edge = f"over {cells} of this document; one where nothing weighs anything stays as it is"
    return Factor(norm.title, norm.formula, norm.filled(weights) if factor != 1 or row.nnz else "1", factor, edge)
