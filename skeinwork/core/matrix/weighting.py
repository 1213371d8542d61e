"""Weightings: views of the counts, local × global × length (G. Salton and C. Buckley, 1988).

What a weighting learns, it learns from the documents it is given; others are weighed by that.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, TypeAlias

import numpy as np
import scipy
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.kinds import named
from skeinwork.core.matrix.global_weights import GLOBAL, Global, Terms
from skeinwork.core.matrix.local_weights import LOCAL, Cells, Local, LocalOptions
from skeinwork.core.matrix.norms import NORMS, Norm
from skeinwork.core.matrix.numbers import Base

if TYPE_CHECKING:
    LocalName: TypeAlias = str
    GlobalName: TypeAlias = str
    NormName: TypeAlias = str
else:
    LocalName, GlobalName, NormName = named(LOCAL), named(GLOBAL), named(NORMS)


class _Parts(BaseModel):
    """The parts come before the parameters of any."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    local_weight: LocalName = Field("raw", description="of the count within its document")
    global_weight: GlobalName = Field("none", description="of the term in all documents")
    norm: NormName = Field("none", description="of the document's row")
    base: Base = Field(Base.E, description="of the logarithms")


class Weighting(LocalOptions, _Parts):
    """A local, a global and a length weight, in any combination."""

    def parts(self) -> tuple[Local, Global, Norm]:
        """What is multiplied."""
        return LOCAL[self.local_weight], GLOBAL[self.global_weight], NORMS[self.norm]

    @property
    def is_counts(self) -> bool:
        """Whether the weights are the counts themselves."""
        return (self.local_weight, self.global_weight, self.norm) == ("raw", "none", "none")

    def in_words(self) -> str:
        """What it is called.

        >>> SCHEMES["tf-idf"].in_words(), Weighting(local_weight="log", norm="l2").in_words()
        ('tf-idf', '1 + log × none, length 1 (L2)')
        """
        local, across, norm = self.parts()
        name = next((key for key, each in SCHEMES.items() if each.parts() == self.parts()), "")
        if not name:
            name = f"{local.title} × {across.title}" + (f", {norm.title}" if norm.scales else "")
        details = [local.said(self), Base(self.base).sign if self.base != Base.E and self.takes_logarithms else ""]
        said = ", ".join(filter(None, details))
        return f"{name} ({said})" if said else name

    @property
    def takes_logarithms(self) -> bool:
        """Whether the base makes a difference."""
        local, across, _ = self.parts()
        return {local.logarithm, across.logarithm} != {"none"}

    def base_said(self) -> str:
        """What another base of the logarithm would change."""
        local, across, norm = self.parts()
        if not self.takes_logarithms:
            return "no logarithm is taken, or its base cancels out"
        if "added to" in (local.logarithm, across.logarithm):
            return "1 is added to a logarithm, so another base changes some weights more than others"
        if norm.scales:
            return "another base changes no weight: the length takes its factor out again"
        return "another base multiplies every weight by the same number, so no rank changes"

    def formula(self) -> str:
        """How a weight is worked out, in the signs of ``LOCAL``, ``GLOBAL`` and ``NORMS``."""
        local, across, norm = self.parts()
        parts = [local.formula]
        if self.global_weight != "none":
            parts.append(across.formula)
        if norm.scales:
            parts.append(norm.formula)
        several = len(parts) > 1
        shown = [f"({each})" if several and " + " in each else each for each in parts]
        return "w = " + " × ".join(shown).replace("{log}", Base(self.base).sign)


SCHEMES: dict[str, Weighting] = {
    "counts": Weighting(),
    "presence": Weighting(local_weight="presence"),
    "tf-idf": Weighting(global_weight="idf"),
    "1 + log tf, idf, L2": Weighting(local_weight="log", global_weight="idf", norm="l2"),
    "tf, smooth idf + 1, L2": Weighting(global_weight="smooth-plus-one", norm="l2"),
    "log and entropy": Weighting(local_weight="log", global_weight="entropy"),
    "BM25": Weighting(local_weight="bm25", global_weight="idf"),
}


@dataclass(frozen=True)
class Learnt:
    """What a weighting takes from documents: their number, their terms, their mean length."""

    terms: Terms
    mean_length: float


def learn(counts: scipy.sparse.csr_matrix, rows: NDArray[np.bool_] | None = None) -> Learnt:
    """What the weights of documents are worked out from.

    Parameters
    ----------
    counts : int[n_docs, n_terms]
    rows : bool[n_docs], the documents to learn from; None for all
    """
    known = counts if rows is None else counts[rows]
    n_docs, n_terms = known.shape
    tf = known.data.astype(np.float64)
    sums = [
        np.bincount(known.indices, each, n_terms).astype(np.float64)
        for each in (None, tf, tf * np.log(np.maximum(tf, 1)))
    ]
    return Learnt(Terms(n_docs, *sums), float(tf.sum() / max(n_docs, 1)))


def cells_of(counts: scipy.sparse.csr_matrix, mean_length: float) -> Cells:
    """The cells of counts, int[n_docs, n_terms], that are not zero, row by row."""
    tf = counts.data.astype(np.float64)
    sizes = np.diff(counts.indptr)
    filled = np.flatnonzero(sizes)
    starts = counts.indptr[filled]
    rows = np.repeat(filled, sizes[filled])
    length, most = np.zeros(len(sizes)), np.zeros(len(sizes))
    if len(filled):
        length[filled] = np.add.reduceat(tf, starts)
        most[filled] = np.maximum.reduceat(tf, starts)
    return Cells(tf, length[rows], most[rows], mean_length)


def weigh(
    counts: scipy.sparse.csr_matrix, weighting: Weighting, learnt: Learnt | None = None
) -> scipy.sparse.csr_matrix:
    """The weighted matrix, with the counts' own sparsity pattern.

    Parameters
    ----------
    counts : int[n_docs, n_terms]; zero rows stay zero under every weighting
    learnt : from other documents with the same terms; None to learn from these

    Returns
    -------
    float64[n_docs, n_terms]; the counts are left as they are

    >>> counts = scipy.sparse.csr_matrix([[2, 0], [1, 3]])
    >>> weigh(counts, SCHEMES["tf-idf"]).toarray().round(4).tolist()
    [[0.0, 0.0], [0.0, 2.0794]]
    """
    known = learnt or learn(counts)
    local, across, norm = weighting.parts()
    data = local.weights(cells_of(counts, known.mean_length), weighting)
    data = data * across.weights(known.terms, weighting.base)[counts.indices]
    if norm.scales:
        rows = np.repeat(np.arange(counts.shape[0]), np.diff(counts.indptr))
        data = data * norm.factors(data, rows, counts.shape[0])[rows]
    return scipy.sparse.csr_matrix((data, counts.indices.copy(), counts.indptr.copy()), shape=counts.shape)
