"""The document-term matrix of a strand: n-grams counted, pruned, in a stable order."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.content import expect, expect_array, expect_pointer, expect_words
from skeinwork.core.errors import BadInputError
from skeinwork.core.matrix import pruning
from skeinwork.core.matrix.counting import Counted
from skeinwork.core.matrix.matrix_settings import LONGEST, MatrixSettings
from skeinwork.core.matrix.weighting import Learnt, learn
from skeinwork.core.text.clean import Cleaning

VERSION = 2


@dataclass(frozen=True)
class Matrix:
    """Document-term counts with their vocabulary, most frequent term first.

    Attributes
    ----------
    counts : int32[n_docs, n_terms]; documents left empty are zero rows
    terms, display : the forms, and the readable words they stand for
    lengths : int8[n_terms], words in each term
    test : bool[n_docs], documents that are held out; None where none are
    """

    counts: scipy.sparse.csr_matrix
    terms: list[str]
    display: list[str]
    lengths: NDArray[np.int8]
    test: NDArray[np.bool_] | None = None

    def check(self, tokens: NDArray[np.int64]) -> None:
        """Raise ``ContentError`` unless it can be a matrix of documents.

        Parameters
        ----------
        tokens : int64[n_docs], tokens that cleaning left of each
        """
        n_docs, n_terms = self.counts.shape
        expect(n_docs == len(tokens), f"shape has {n_docs} documents where {len(tokens)} are wanted")
        expect_words("terms", self.terms, n_terms)
        expect_words("display", self.display, n_terms)
        expect_array("lengths", self.lengths, np.int8, (n_terms,), 1)
        data = expect_array("data", self.counts.data, np.int32, (None,), 1)
        indices = self.counts.indices
        expect(len(indices) == len(data), "indices and data are not of one length")
        expect_array("indices", indices, (np.int32, np.int64), (len(data),), 0, n_terms - 1)
        expect_pointer("indptr", self.counts.indptr.astype(np.int64), n_docs, len(data))
        expect(self.counts.has_canonical_format, "indices are not in order")
        most = LONGEST * tokens
        counted = np.asarray(self.counts.sum(axis=1, dtype=np.int64)).ravel()
        expect_array("data", counted, np.int64, (n_docs,), high=most)
        if self.test is not None:
            expect_array("test", self.test, np.bool_, (n_docs,))

    @cached_property
    def columns(self) -> dict[str, int]:
        """The column of every term."""
        return {term: column for column, term in enumerate(self.terms)}

    def column_of(self, term: str) -> int:
        """The column of a term.

        Raises
        ------
        BadInputError
            where there is none.
        """
        if term not in self.columns:
            raise BadInputError(f"“{term}” is not a term of this matrix.")
        return self.columns[term]

    def columns_named(self, terms: NDArray[np.int64]) -> dict[str, int]:
        """Where each of some terms, int64[n], stands among them, by how it is shown and by the term itself."""
        shown = {self.display[term].casefold(): at for at, term in enumerate(terms.tolist())}
        return shown | {self.terms[term].casefold(): at for at, term in enumerate(terms.tolist())}

    def columns_of(self, forms: Iterable[str]) -> NDArray[np.int64]:
        """The column of each form, int64[n_forms]; -1 for what is no term."""
        return np.array([self.columns.get(form, -1) for form in forms], dtype=np.int64)

    @property
    def empty_documents(self) -> NDArray[np.int64]:
        """Documents without any term, int64[n], by rising number."""
        return np.flatnonzero(np.diff(self.counts.indptr) == 0)

    @property
    def sparsity(self) -> float:
        """Share of cells that are zero; 1.0 for a matrix without cells."""
        cells = self.counts.shape[0] * self.counts.shape[1]
        return 1.0 - self.counts.nnz / cells if cells else 1.0

    @property
    def totals(self) -> NDArray[np.int64]:
        """How often each term occurs, int64[n_terms]."""
        return np.asarray(self.counts.sum(axis=0), dtype=np.int64).ravel()

    @property
    def document_frequency(self) -> NDArray[np.int64]:
        """Documents that hold each term, int64[n_terms]."""
        return np.bincount(self.counts.indices, minlength=len(self.terms)).astype(np.int64)

    def learn(self) -> Learnt:
        """What weightings take from the documents that are not held out."""
        return learn(self.counts, None if self.test is None else ~np.asarray(self.test))


def words_of(matrix: Matrix) -> NDArray[np.int64]:
    """Words of every document that are terms, int64[n_docs]; n-grams count theirs again.

    Where no single word is a term, n-grams are all there is to count.
    """
    single = matrix.lengths == 1
    counts = matrix.counts[:, single] if single.any() and not single.all() else matrix.counts
    return np.asarray(counts.sum(axis=1), dtype=np.int64).ravel()


def term_stream(cleaning: Cleaning, matrix: Matrix) -> tuple[NDArray[np.int32], NDArray[np.int64]]:
    """The words that cleaning left, as one-word terms of a matrix, for coherence windows.

    Documents held out have none: what is measured on them is of a fit that has not seen them.

    Returns
    -------
    ids : int32[n_left], -1 where pruning dropped the word
    doc_ptr : int64[n_docs + 1]
    """
    forms = cleaning.token_forms()
    kept = forms >= 0
    if matrix.test is not None:
        kept &= ~np.repeat(np.asarray(matrix.test), np.diff(cleaning.tokens.doc_ptr))
    doc_ptr = np.concatenate([[0], np.cumsum(kept)])[cleaning.tokens.doc_ptr].astype(np.int64)
    single = matrix.columns_of((*cleaning.forms, "")).astype(np.int32)
    return single[forms[kept]], doc_ptr


def prune(counted: Counted, settings: MatrixSettings, test: NDArray[np.bool_] | None = None) -> Matrix:
    """The matrix of the terms that the settings keep.

    Parameters
    ----------
    test : bool[n_docs], documents held out: they have no say in which terms stay, but keep their rows
    """
    known = pruning.standing(counted, None if test is None else ~test)
    kept = pruning.kept_terms(counted, settings, known)
    return Matrix(
        pruning.columns_of(counted.counts, kept), counted.names(kept), counted.shown(kept), counted.lengths[kept], test
    )
