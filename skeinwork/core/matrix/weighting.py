"""Weighting schemes: views of the counts (G. Salton and C. Buckley, 1988)."""

from __future__ import annotations

from typing import Literal

import numpy as np
import scipy
from numpy.typing import NDArray

Scheme = Literal["counts", "tf-idf"]
FORMULAS: dict[Scheme, str] = {
    "counts": "w(t, d) = tf(t, d), how often term t occurs in document d",
    "tf-idf": "w(t, d) = tf(t, d) · ln(N / df(t)), natural logarithm, no smoothing",
}


def inverse_document_frequency(counts: scipy.sparse.csr_matrix) -> NDArray[np.float64]:
    """ln(N / df) of every term; K. Spärck Jones, *A statistical interpretation of term specificity*, 1972.

    Parameters
    ----------
    counts : int[n_docs, n_terms]

    Returns
    -------
    float64[n_terms]; 0 where no document holds the term
    """
    n_docs, n_terms = counts.shape
    frequency = np.bincount(counts.indices, minlength=n_terms)
    return np.where(frequency > 0, np.log(max(n_docs, 1) / np.maximum(frequency, 1)), 0.0)


def weigh(counts: scipy.sparse.csr_matrix, scheme: Scheme) -> scipy.sparse.csr_matrix:
    """The weighted matrix, with the counts' own sparsity pattern.

    Parameters
    ----------
    counts : int[n_docs, n_terms]; scheme : one of ``FORMULAS``

    Returns
    -------
    float64[n_docs, n_terms]; the counts are left as they are
    """
    data = counts.data.astype(np.float64)
    if scheme == "tf-idf":
        data *= inverse_document_frequency(counts)[counts.indices]
    return scipy.sparse.csr_matrix(
        (data, counts.indices.copy(), counts.indptr.copy()), shape=counts.shape
    )
