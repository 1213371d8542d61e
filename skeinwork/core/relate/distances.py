"""How far words or documents are apart, from their counts or weights. One is added by its class and its entry.

J. Lin, *Divergence measures based on the Shannon entropy*, IEEE Transactions on Information Theory 37,
1991; E. Hellinger, *Neue Begründung der Theorie quadratischer Formen*, 1909; P. Jaccard, *Étude
comparative de la distribution florale*, 1901.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from typing import Any, ClassVar

import numpy as np
import scipy
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.errors import BadInputError

Rows = scipy.sparse.csr_matrix
Square = NDArray[np.float64]
# Items whose distances are held at once: 72 MB of them.
MOST_ITEMS = 3000


class Distance(ABC):
    """One way to tell how far two items are apart.

    Attributes
    ----------
    title, about : what the screens call it, and what it sees, in one line
    formula : of two items x and y
    profile : whether it compares shares, so that how often an item occurs makes no difference
    of_all : whether that of two items depends on all others
    """

    title: ClassVar[str]
    about: ClassVar[str]
    formula: ClassVar[str]
    profile: ClassVar[bool] = False
    of_all: ClassVar[bool] = False

    @abstractmethod
    def between(self, rows: Rows) -> Square:
        """Distances, float64[n_items, n_items], of rows that hold no negative number, float64[n_items, n_features]."""

    def numbers(self, x: NDArray[np.float64], y: NDArray[np.float64]) -> str:
        """The formula with the numbers of two items, float64[n_features]; empty where it has too many."""
        return ""


class Euclidean(Distance):
    """Straight-line distance between rows of counts or weights."""

    title = "Euclidean"
    about = "frequent items lie far from all others"
    formula = "√ Σ (x − y)²"

    def between(self, rows: Rows) -> Square:
        products = _products(rows)
        lengths = np.diagonal(products)
        return _rooted(lengths[:, None] + lengths[None, :] - 2 * products)

    def numbers(self, x: NDArray[np.float64], y: NDArray[np.float64]) -> str:
        return f"√ {((x - y) ** 2).sum():.4g}"


class ScaledEuclidean(Distance):
    """Euclidean distance after each feature was divided by its standard deviation over the items."""

    title = "Euclidean, scaled"
    about = "each document, or each word, counts alike: centred, divided by its standard deviation"
    formula = "√ Σ ((x − y) / s)²"
    of_all = True

    def between(self, rows: Rows) -> Square:
        n = rows.shape[0]
        mean = np.asarray(rows.mean(axis=0)).ravel()
        squares = np.asarray(rows.multiply(rows).sum(axis=0)).ravel()
        spread = np.sqrt(np.maximum(squares - n * mean**2, 0.0) / max(n - 1, 1))
        scale = np.divide(1.0, spread, out=np.zeros_like(spread), where=spread > 0)
        return Euclidean().between(scipy.sparse.csr_matrix(rows.multiply(scale[None, :])))


class Cosine(Distance):
    """One less the cosine of the angle between two rows."""

    title = "cosine"
    about = "the angle between two items, whatever their frequency"
    formula = "1 − Σ x y / (|x| |y|)"
    profile = True

    def between(self, rows: Rows) -> Square:
        return _bounded(1.0 - _products(unit_rows(rows)))

    def numbers(self, x: NDArray[np.float64], y: NDArray[np.float64]) -> str:
        return f"1 − {x @ y:.4g} / ({np.sqrt(x @ x):.4g} × {np.sqrt(y @ y):.4g})"


class Jaccard(Distance):
    """One less the share of features that two rows have in common, of those that either has (Jaccard 1901)."""

    title = "Jaccard"
    about = "of the documents with either, those without both; counts make no difference"
    formula = "1 − |X ∩ Y| / |X ∪ Y|"

    def between(self, rows: Rows) -> Square:
        there = rows.copy()
        there.data = np.ones(len(there.data))
        both = _products(there)
        sizes = np.diagonal(both)
        either = sizes[:, None] + sizes[None, :] - both
        return _bounded(1.0 - np.divide(both, either, out=np.zeros_like(both), where=either > 0))

    def numbers(self, x: NDArray[np.float64], y: NDArray[np.float64]) -> str:
        return f"1 − {int(((x != 0) & (y != 0)).sum()):,} / {int(((x != 0) | (y != 0)).sum()):,}"


class Hellinger(Distance):
    """Distance between the square roots of two distributions (Hellinger 1909), between 0 and 1."""

    title = "Hellinger"
    about = "square roots of shares: rare companions count too"
    formula = "√ (1 − Σ √(p q))"
    profile = True

    def between(self, rows: Rows) -> Square:
        roots = _shares(rows)
        roots.data = np.sqrt(roots.data)
        return _rooted(1.0 - _products(roots))

    def numbers(self, x: NDArray[np.float64], y: NDArray[np.float64]) -> str:
        return f"√ (1 − {np.sqrt(x / max(x.sum(), 1e-300) * y / max(y.sum(), 1e-300)).sum():.4g})"


class JensenShannon(Distance):
    """Square root of the Jensen-Shannon divergence in bits (Lin 1991), between 0 and 1."""

    title = "Jensen-Shannon"
    about = "how much tells two distributions apart, as a distance between 0 and 1"
    formula = "√ (½ Σ p log₂ (2p / (p + q)) + ½ Σ q log₂ (2q / (p + q)))"
    profile = True

    def between(self, rows: Rows) -> Square:
        shares = _shares(rows)
        columns = shares.tocsc()
        columns.sort_indices()
        n = rows.shape[0]
        shared = np.zeros((n, n))
        _add_shared(columns.indptr, columns.indices, columns.data, shared)
        whole = np.asarray(shares.sum(axis=1)).ravel()
        return _rooted((whole[:, None] + whole[None, :]) / 2 + shared + shared.T)


DISTANCES: dict[str, Distance] = {
    "cosine": Cosine(),
    "hellinger": Hellinger(),
    "jensen-shannon": JensenShannon(),
    "jaccard": Jaccard(),
    "euclidean": Euclidean(),
    "scaled": ScaledEuclidean(),
}


def distances(rows: Rows, by: str) -> Square:
    """Distances between rows.

    Parameters
    ----------
    rows : float64[n_items, n_features], no negative numbers: counts, or weights
    by : a key of ``DISTANCES``

    Returns
    -------
    float64[n_items, n_items], symmetric, 0 on the diagonal. An item without any number is as far from
    all others as can be by the bounded ones.

    Raises
    ------
    BadInputError
        for more than ``MOST_ITEMS`` items, or negative numbers.

    Examples
    --------
    >>> counts = scipy.sparse.csr_matrix([[2.0, 0, 1], [1, 0, 0.5], [0, 3, 0]])
    >>> distances(counts, "cosine").round(3).tolist()
    [[0.0, 0.0, 1.0], [0.0, 0.0, 1.0], [1.0, 1.0, 0.0]]
    """
    if rows.shape[0] > MOST_ITEMS:
        raise BadInputError(f"{rows.shape[0]:,} are too many to lay side by side. Take {MOST_ITEMS:,} or fewer.")
    if rows.nnz and rows.data.min() < 0:
        raise BadInputError("Distances are between counts or weights, and none of those is negative.")
    found = DISTANCES[by].between(scipy.sparse.csr_matrix(rows, dtype=np.float64))
    np.fill_diagonal(found, 0.0)
    return found


def squared_lengths(rows: Rows) -> NDArray[np.float64]:
    """Sum of squares of each row, float64[n_items]."""
    return np.asarray(rows.multiply(rows).sum(axis=1), dtype=np.float64).ravel()


def unit_rows(rows: Rows) -> Rows:
    """The rows brought to the length 1; one without any number stays as it is."""
    return _divided(rows, np.sqrt(squared_lengths(rows)))


def _products(rows: Rows) -> Square:
    """Inner products of all rows with one another; summed in one order, so the same bytes everywhere."""
    return np.asarray((rows @ rows.T).toarray(), dtype=np.float64)


def _divided(rows: Rows, by: NDArray[np.float64]) -> Rows:
    factor = np.divide(1.0, by, out=np.zeros_like(by), where=by > 0)
    return scipy.sparse.csr_matrix(scipy.sparse.diags_array(factor) @ rows)


def _shares(rows: Rows) -> Rows:
    return _divided(rows, np.asarray(rows.sum(axis=1), dtype=np.float64).ravel())


def _rooted(squares: Square) -> Square:
    """Roots of what rounding may have made a little negative."""
    return np.sqrt(np.maximum(squares, 0.0))


def _bounded(values: Square) -> Square:
    return np.clip(values, 0.0, 1.0)


@njit(cache=True, nogil=True)
def _add_shared(pointer: Any, items: Any, shares: Any, out: Any) -> None:
    """Add what two items share to ``out``, feature by feature: half of the divergence, less what either has alone.

    A feature that both have takes (p + q) / 2 from what they would be apart without it, and adds
    ½ p log₂ (2p / (p + q)) + ½ q log₂ (2q / (p + q)).
    """
    for feature in range(len(pointer) - 1):
        for one in range(pointer[feature], pointer[feature + 1]):
            p = shares[one]
            if p <= 0.0:
                continue
            for other in range(one + 1, pointer[feature + 1]):
                q = shares[other]
                if q > 0.0:
                    both = p + q
                    apart = 0.5 * (p * np.log2(2 * p / both) + q * np.log2(2 * q / both))
                    out[items[one], items[other]] += apart - both / 2
