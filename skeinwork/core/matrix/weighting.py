"""Weightings: views of the counts, local × global × length (G. Salton and C. Buckley, 1988).

What a weighting learns, it learns from the documents it is given; others are weighed by that.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import partial
from typing import TYPE_CHECKING, Annotated, Any, TypeAlias

import numpy as np
import scipy
from numpy.typing import NDArray
from pydantic import AfterValidator, BaseModel, ConfigDict, Field, WithJsonSchema

from skeinwork.core.matrix.global_weights import GLOBAL, Terms
from skeinwork.core.matrix.local_weights import LOCAL, Cells
from skeinwork.core.matrix.numbers import Base

# What a row is divided by: formula, and its value for the weights of one row.
NORMS: dict[str, tuple[str, str]] = {
    "none": ("none", "1"),
    "l1": ("sum to 1 (L1)", "1 / Σ |w|"),
    "l2": ("length 1 (L2)", "1 / √(Σ w²)"),
}


def _known(known: Mapping[str, object], name: str) -> str:
    if name not in known:
        raise ValueError(f"there is {', '.join(known)}")
    return name


def _named(known: Mapping[str, object]) -> Any:
    """The type of a setting that is one of some names."""
    listed = WithJsonSchema({"enum": list(known), "type": "string"})
    return Annotated[str, AfterValidator(partial(_known, known)), listed]


if TYPE_CHECKING:
    LocalName: TypeAlias = str
    GlobalName: TypeAlias = str
    NormName: TypeAlias = str
else:
    LocalName, GlobalName, NormName = _named(LOCAL), _named(GLOBAL), _named(NORMS)


class Weighting(BaseModel):
    """A local, a global and a length weight, in any combination."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    local_weight: LocalName = Field("raw", description="of the count within its document")
    global_weight: GlobalName = Field("none", description="of the term in all documents")
    norm: NormName = Field("none", description="of the document's row")
    base: Base = Field(Base.E, description="of the logarithms")
    k1: float = Field(1.2, strict=True, ge=0, le=100, description="BM25: how soon repeats stop to count")
    b: float = Field(0.75, strict=True, ge=0, le=1, description="BM25: how much the length counts")

    @property
    def is_counts(self) -> bool:
        """Whether the weights are the counts themselves."""
        return (self.local_weight, self.global_weight, self.norm) == ("raw", "none", "none")

    def in_words(self) -> str:
        """What it is called.

        >>> SCHEMES["tf-idf"].in_words(), Weighting(local_weight="log", norm="l2").in_words()
        ('tf-idf', '1 + log × none, length 1 (L2)')
        """
        plain = self.model_copy(update={"base": Base.E, "k1": 1.2, "b": 0.75})
        uses_bm25 = self.local_weight == "bm25" and (self.k1, self.b) != (1.2, 0.75)
        name = next((key for key, each in SCHEMES.items() if each == plain), "")
        if not name:
            name = f"{LOCAL[self.local_weight].title} × {GLOBAL[self.global_weight].title}"
            name += f", {NORMS[self.norm][0]}" if self.norm != "none" else ""
        details = [f"k1 {self.k1:g}, b {self.b:g}"] if uses_bm25 else []
        details += [Base(self.base).sign] if self.base != Base.E and self.takes_logarithms else []
        return f"{name} ({', '.join(details)})" if details else name

    @property
    def takes_logarithms(self) -> bool:
        """Whether the base makes a difference."""
        return self.local_weight == "log" or self.global_weight not in ("none", "entropy")

    def base_said(self) -> str:
        """What another base of the logarithm would change."""
        if not self.takes_logarithms:
            return "no logarithm is taken, or its base cancels out"
        if self.local_weight == "log" or self.global_weight == "smooth-plus-one":
            return "1 is added to a logarithm, so another base changes some weights more than others"
        if self.norm != "none":
            return "another base changes no weight: the length takes its factor out again"
        return "another base multiplies every weight by the same number, so no rank changes"

    def formula(self) -> str:
        """How a weight is worked out, in the signs of ``LOCAL``, ``GLOBAL`` and ``NORMS``."""
        parts = [LOCAL[self.local_weight].formula]
        if self.global_weight != "none":
            parts.append(GLOBAL[self.global_weight].formula)
        if self.norm != "none":
            parts.append(NORMS[self.norm][1])
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
    """The cells of counts that are not zero, row by row."""
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
    local = LOCAL[weighting.local_weight].weights(cells_of(counts, known.mean_length), weighting)
    across = GLOBAL[weighting.global_weight].weights(known.terms, weighting.base)
    data = local * across[counts.indices]
    if weighting.norm != "none":
        rows = np.repeat(np.arange(counts.shape[0]), np.diff(counts.indptr))
        data = data * row_factors(data, rows, counts.shape[0], weighting.norm)[rows]
    return scipy.sparse.csr_matrix((data, counts.indices.copy(), counts.indptr.copy()), shape=counts.shape)


def row_factors(data: NDArray[np.float64], rows: NDArray[np.int64], n_rows: int, norm: NormName) -> NDArray[np.float64]:
    """What each row is multiplied by, float64[n_rows]; 1 where nothing weighs anything."""
    powers = np.abs(data) if norm == "l1" else data**2
    size = np.bincount(rows, powers, n_rows)
    size = size if norm == "l1" else np.sqrt(size)
    return np.where(size > 0, 1.0 / np.where(size > 0, size, 1.0), 1.0)
