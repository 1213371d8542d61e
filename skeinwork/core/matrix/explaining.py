"""One cell of a weighted matrix explained: its formula with the numbers put in."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy

from skeinwork.core.matrix.global_weights import GLOBAL
from skeinwork.core.matrix.local_weights import LOCAL, Cells
from skeinwork.core.matrix.numbers import Base, said
from skeinwork.core.matrix.weighting import NORMS, Learnt, Weighting, cells_of, row_factors


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


def explain(row: scipy.sparse.csr_matrix, term: int, weighting: Weighting, learnt: Learnt) -> Explained:
    """Local × global × norm of one cell.

    Parameters
    ----------
    row : int[1, n_terms], the document's counts
    term : the column
    learnt : what the weights are worked out from
    """
    local, across = LOCAL[weighting.local_weight], GLOBAL[weighting.global_weight]
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
    title, formula = NORMS[weighting.norm]
    if weighting.norm == "none":
        return Factor(title, formula, "1", 1.0)
    local = LOCAL[weighting.local_weight].weights(cells_of(row, learnt.mean_length), weighting)
    across = GLOBAL[weighting.global_weight].weights(learnt.terms, weighting.base)
    weights = local * across[row.indices]
    factor = float(row_factors(weights, np.zeros(row.nnz, dtype=np.int64), 1, weighting.norm)[0])
    inside = weights if weighting.norm == "l1" else weights**2
    total, cells = said(inside.sum()), "1 term" if row.nnz == 1 else f"{row.nnz} terms"
    filled = f"1 / {total}" if weighting.norm == "l1" else f"1 / √{total}"
    edge = f"over {cells} of this document; one where nothing weighs anything stays as it is"
    return Factor(title, formula, filled if factor != 1 or row.nnz else "1", factor, edge)
