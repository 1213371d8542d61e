"""Vectors of a strand as they are asked for: of length 1, loaded once; what two words or documents share."""

from __future__ import annotations

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.errors import BadInputError, NotFoundError
from skeinwork.core.formats.vectors import read_vector
from skeinwork.core.relate.nearest import Falling, centroid, cosines, shared_parts
from skeinwork.core.relate.neighbours import unit_vectors
from skeinwork.core.relate.vector_settings import DocumentVectorsSettings, WordVectorsSettings
from skeinwork.work.results.view import View
from skeinwork.work.steps import DOCUMENT_VECTORS, MATRIX, WORD_VECTORS
from skeinwork.work.steps.document_vectors import weighted
from skeinwork.work.steps.step import count


def word_settings(view: View) -> WordVectorsSettings:
    """What the word vectors were made with."""
    return WORD_VECTORS.parse(view.record(WORD_VECTORS).making.settings)


def document_settings(view: View) -> DocumentVectorsSettings:
    """What the document vectors were made with."""
    return DOCUMENT_VECTORS.parse(view.record(DOCUMENT_VECTORS).making.settings)


def unit_words(view: View) -> NDArray[np.float32]:
    """Word vectors of length 1, float32[n_words, n_dimensions]."""
    key = ("unit words", view.identity(WORD_VECTORS))
    return view.cache.get(key, lambda: unit_vectors(view.value(WORD_VECTORS).vectors))


def unit_documents(view: View) -> NDArray[np.float32]:
    """Document vectors of length 1, float32[n_items, n_dimensions]."""
    key = ("unit documents", view.identity(DOCUMENT_VECTORS))
    return view.cache.get(key, lambda: unit_vectors(view.value(DOCUMENT_VECTORS).vectors))


def word_place(view: View, term: str) -> int:
    """Where a term stands among the words that have a vector.

    Raises
    ------
    BadInputError
        where it has none.
    """
    made, matrix = view.value(WORD_VECTORS), view.matrix_of(WORD_VECTORS)
    shown = {each.casefold(): at for at, each in reversed(list(enumerate(matrix.display)))}
    column = matrix.columns.get(term, matrix.columns.get(term.casefold(), shown.get(term.casefold(), -1)))
    place = int(np.searchsorted(made.terms, column))
    if column < 0 or place == len(made.terms) or made.terms[place] != column:
        raise BadInputError(
            f"“{term}” has no vector: it is none of the {count(len(made.terms))} words that have one. Type it as Weigh "
            "shows it."
        )
    return place


def document_place(view: View, document: int) -> int:
    """Where a document stands among those that have a vector."""
    items = view.value(DOCUMENT_VECTORS).items
    place = int(np.searchsorted(items, document))
    if place == len(items) or items[place] != document:
        raise NotFoundError("This document has no vector: nothing of it is counted, or none was supplied.")
    return place


def context_parts(view: View, one: int, other: int) -> NDArray[np.float64]:
    """What each context adds to the cosine of the contexts of two words, float64[n_words]."""
    near = view.value(WORD_VECTORS).contexts
    return shared_parts(*(near[at].toarray().ravel().astype(np.float64) for at in (one, other)))


def weights_of_documents(view: View) -> scipy.sparse.csr_matrix:
    """Weights of terms by which the words that documents share are told, float64[n_docs, n_terms]."""
    settings, matrix = document_settings(view), view.matrix_of(DOCUMENT_VECTORS)
    key = ("weights of vectors", view.matrix_of_record(DOCUMENT_VECTORS).identity, settings.weighting.model_dump_json())
    return view.cache.get(key, lambda: weighted(matrix, settings.weighting))


def term_parts(view: View, one: int, other: int) -> NDArray[np.float64]:
    """What each term adds to the cosine of the weights of two documents, float64[n_terms]."""
    weights = weights_of_documents(view)
    return shared_parts(*(weights[at].toarray().ravel() for at in (one, other)))


def near_direction(view: View, towards: NDArray[np.float64]) -> NDArray[np.float64]:
    """The cosine of every document with a direction, float64[n_docs]; −1 for one without a vector."""
    made = view.value(DOCUMENT_VECTORS)
    if len(towards) != made.vectors.shape[1]:
        raise BadInputError(
            f"The vector has {count(len(towards))} numbers where those of the documents have {made.vectors.shape[1]}."
        )
    found = np.full(view.matrix_of(MATRIX).counts.shape[0], -1.0)
    found[made.items] = cosines(unit_documents(view), towards)
    return found


def near_document(view: View, document: int) -> NDArray[np.float64]:
    """The cosine of every document with one."""
    return near_direction(view, unit_documents(view)[document_place(view, document)].astype(np.float64))


def near_middle(view: View, documents: NDArray[np.int64], weights: Falling) -> NDArray[np.float64]:
    """The cosine of every document with the middle of some, the first first."""
    made = view.value(DOCUMENT_VECTORS)
    place = np.searchsorted(made.items, documents)
    place[place == len(made.items)] = 0
    held = made.items[place] == documents
    if not held.any():
        raise BadInputError("None of the selected documents has a vector, so they have no middle. Select others.")
    return near_direction(view, centroid(unit_documents(view)[place[held]], weights))


def typed_vector(written: str) -> NDArray[np.float32]:
    """A vector that somebody typed.

    Raises
    ------
    BadInputError
        where it can't be read.
    """
    try:
        return read_vector(written)
    except ValueError as fault:
        raise BadInputError(f"The vector {fault}. Type numbers, apart by commas or spaces.") from fault
