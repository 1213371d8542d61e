"""The document-term matrix of a strand: n-grams counted, pruned, in a stable order."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, model_validator

from skeinwork.core.matrix import counting
from skeinwork.core.text.clean import Cleaning

VERSION = 2


class MatrixSettings(BaseModel):
    """Which terms make the columns of the matrix."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    longest: int = Field(1, ge=1, le=4, description="longest n-gram, in words")
    bridge: bool = Field(False, description="n-grams may go over a removed word")
    min_documents: int = Field(
        5, ge=1, le=10**9, description="keep a term found in at least this many"
    )
    max_share: float = Field(0.5, gt=0, le=1, description="and in at most this share of documents")
    keep_top: int | None = Field(None, ge=1, description="then the most frequent this many")

    @model_validator(mode="after")
    def _possible(self) -> MatrixSettings:
        if self.keep_top is not None and self.keep_top > 5_000_000:
            raise ValueError("keep_top can be at most 5 000 000")
        return self


@dataclass(frozen=True)
class Counted:
    """Counts of all terms before pruning; pruning is a view of it."""

    counts: scipy.sparse.csr_matrix
    terms: list[str]
    display: list[str]
    lengths: NDArray[np.int8]

    @property
    def document_frequency(self) -> NDArray[np.int64]:
        """int64[n_terms]: documents that hold each term."""
        return np.bincount(self.counts.indices, minlength=len(self.terms)).astype(np.int64)

    @property
    def totals(self) -> NDArray[np.int64]:
        """int64[n_terms]: occurrences of each term."""
        weights = np.bincount(self.counts.indices, self.counts.data, len(self.terms))
        return np.rint(weights).astype(np.int64)


@dataclass(frozen=True)
class Matrix:
    """Document-term counts with their vocabulary, most frequent term first.

    Attributes
    ----------
    counts : int32[n_docs, n_terms]; documents left empty are zero rows
    terms, display : the forms, and the readable words they stand for
    lengths : int8[n_terms], words in each term
    """

    counts: scipy.sparse.csr_matrix
    terms: list[str]
    display: list[str]
    lengths: NDArray[np.int8]

    @property
    def empty_documents(self) -> NDArray[np.int64]:
        """Documents without any term."""
        return np.flatnonzero(np.diff(self.counts.indptr) == 0)

    @property
    def sparsity(self) -> float:
        """Share of cells that are zero; 1.0 for a matrix without cells."""
        cells = self.counts.shape[0] * self.counts.shape[1]
        return 1.0 - self.counts.nnz / cells if cells else 1.0


def words_of(matrix: Matrix) -> NDArray[np.int64]:
    """Words of every document that are terms, int64[n_docs]; n-grams count theirs again.

    Where no single word is a term, n-grams are all there is to count.
    """
    single = matrix.lengths == 1
    counts = matrix.counts[:, single] if single.any() and not single.all() else matrix.counts
    return np.asarray(counts.sum(axis=1), dtype=np.int64).ravel()


def count(cleaning: Cleaning, longest: int, bridge: bool = False) -> Counted:
    """Count all n-grams up to ``longest`` words; ``bridge``: they may go over removed words."""
    return Counted(*counting.count_terms(cleaning, longest, bridge))


def term_stream(cleaning: Cleaning, matrix: Matrix) -> tuple[NDArray[np.int32], NDArray[np.int64]]:
    """The words that cleaning left, as one-word terms of a matrix, for coherence windows.

    Returns
    -------
    ids : int32[n_left], -1 where pruning dropped the word
    doc_ptr : int64[n_docs + 1]
    """
    forms = cleaning.token_forms()
    kept = forms >= 0
    doc_ptr = np.concatenate([[0], np.cumsum(kept)])[cleaning.tokens.doc_ptr].astype(np.int64)
    place = {term: at for at, term in enumerate(matrix.terms)}
    single = np.array([place.get(form, -1) for form in cleaning.forms] + [-1], dtype=np.int32)
    return single[forms[kept]], doc_ptr


def kept_terms(counted: Counted, settings: MatrixSettings) -> NDArray[np.int64]:
    """Columns that pruning keeps, by falling total, then by term."""
    frequency = counted.document_frequency
    # Rounded, since 0.29 of 100 documents is a hair under 29.
    limit = round(settings.max_share * max(counted.counts.shape[0], 1), 6)
    kept = np.flatnonzero((frequency >= settings.min_documents) & (frequency <= limit))
    totals = counted.totals
    order = sorted(kept.tolist(), key=lambda at: (-totals[at], counted.terms[at]))
    return np.array(order[: settings.keep_top], dtype=np.int64)


def prune(counted: Counted, settings: MatrixSettings) -> Matrix:
    """The matrix of the terms that the settings keep."""
    kept = kept_terms(counted, settings)
    position = np.full(len(counted.terms), -1, dtype=np.int32)
    position[kept] = np.arange(len(kept), dtype=np.int32)
    columns = position[counted.counts.indices]
    rows = np.repeat(np.arange(counted.counts.shape[0]), np.diff(counted.counts.indptr))
    stay = columns >= 0
    counts = scipy.sparse.csr_matrix(
        (counted.counts.data[stay], (rows[stay], columns[stay])),
        shape=(counted.counts.shape[0], len(kept)),
        dtype=np.int32,
    )
    counts.sort_indices()
    return Matrix(
        counts,
        [counted.terms[at] for at in kept],
        [counted.display[at] for at in kept],
        counted.lengths[kept],
    )


def suggest_min_documents(n_docs: int) -> tuple[int, str]:
    """A minimum document frequency for a corpus of this size, and why."""
    value = max(2, min(50, round(n_docs * 0.002)))
    return value, f"{value}: two in a thousand of {n_docs} documents, between 2 and 50"
