"""Count terms by document: from a cleaned token stream to a sparse document-term matrix."""

from __future__ import annotations

from typing import Any

import numpy as np
import scipy
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.text import segment
from skeinwork.core.text.clean import Cleaning

VERSION = 2


@njit(cache=True, nogil=True)
def count_by_document(ids: Any, doc_ptr: Any, n_terms: int) -> Any:
    """CSR arrays (data, indices, indptr) of how often each id occurs in each document.

    The reference for the tests is SciPy's own conversion from coordinates.

    Parameters
    ----------
    ids : int32[n_tokens], those below zero are passed over; doc_ptr : int64[n_docs + 1]

    Returns
    -------
    data, indices : int32[nnz], indices sorted within each row; indptr : int64[n_docs + 1]
    """
    n_docs = len(doc_ptr) - 1
    counts = np.zeros(n_terms, dtype=np.int32)
    indptr = np.zeros(n_docs + 1, dtype=np.int64)
    data = np.empty(len(ids), dtype=np.int32)
    indices = np.empty(len(ids), dtype=np.int32)
    filled = 0
    for doc in range(n_docs):
        first = filled
        for at in range(doc_ptr[doc], doc_ptr[doc + 1]):
            term = ids[at]
            if term >= 0:
                if counts[term] == 0:
                    indices[filled] = term
                    filled += 1
                counts[term] += 1
        row = indices[first:filled]
        row.sort()
        for at in range(first, filled):
            data[at] = counts[indices[at]]
            counts[indices[at]] = 0
        indptr[doc + 1] = filled
    return data[:filled].copy(), indices[:filled].copy(), indptr


def to_csr(
    ids: NDArray[np.int32], doc_ptr: NDArray[np.int64], n_terms: int
) -> scipy.sparse.csr_matrix:
    """Document-term counts.

    Parameters
    ----------
    ids : int32[n_tokens], term of each token, -1 for none; doc_ptr : int64[n_docs + 1]

    Returns
    -------
    int32[n_docs, n_terms], columns sorted within each row
    """
    data, indices, indptr = count_by_document(ids, doc_ptr, n_terms)
    return scipy.sparse.csr_matrix((data, indices, indptr), shape=(len(doc_ptr) - 1, n_terms))


def adjacent_pairs(
    left: NDArray[np.int64], right: NDArray[np.int64], breaks: NDArray[np.bool_], gap: int
) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Make longer n-grams: join what starts at a token with the word ``gap`` tokens on.

    Parameters
    ----------
    left : int64[n_tokens], id of the n-gram that starts at each token, or -1
    right : int64[n_tokens], id of the word at each token, or -1 where it was removed
    breaks : bool[n_tokens], whether a document, line, block or sentence ends before each token

    Returns
    -------
    ids : int64[n_tokens], id of the n-gram one word longer, or -1; none crosses a break or a
        removed token
    parts : int64[n_ngrams, 2], the shorter n-gram and the word each is made of
    """
    joined = np.full(len(left), -1, dtype=np.int64)
    if len(left) <= gap:
        return joined, np.zeros((0, 2), dtype=np.int64)
    both = (left[:-gap] >= 0) & (right[gap:] >= 0) & ~breaks[gap:]
    width = int(right.max(initial=0)) + 1
    keys = left[:-gap][both] * width + right[gap:][both]
    distinct, inverse = np.unique(keys, return_inverse=True)
    joined[:-gap][both] = inverse
    return joined, np.stack([distinct // width, distinct % width], axis=1)


def _bridged(
    cleaning: Cleaning, words: NDArray[np.int64], breaks: NDArray[np.bool_]
) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.bool_]]:
    """The stream without its removed words: n-grams go over where they stood, signs still part them.

    Returns the words, int64[n_docs + 1] bounds of the documents, and breaks; what parted a removed
    word from those before parts the next one.
    """
    tokens = cleaning.tokens
    stay = (words >= 0) | (tokens.classes[tokens.ids] != segment.WORD)
    until = np.cumsum(breaks)
    kept = np.flatnonzero(stay)
    before = np.concatenate([[0], until[kept[:-1]]]) if len(kept) else until[:0]
    doc_ptr = np.concatenate([[0], np.cumsum(stay)])[tokens.doc_ptr].astype(np.int64)
    return words[kept], doc_ptr, until[kept] > before


def count_terms(
    cleaning: Cleaning, longest: int, bridge: bool = False
) -> tuple[scipy.sparse.csr_matrix, list[str], list[str], NDArray[np.int8]]:
    """All n-grams of 1 to ``longest`` words, unpruned; ``bridge``: they go over removed words.

    Returns
    -------
    counts : int32[n_docs, n_terms]
    terms : the forms, joined by one space
    display : the readable words
    lengths : int8[n_terms], words in each term
    """
    word_at = cleaning.token_forms().astype(np.int64)
    doc_ptr = cleaning.tokens.doc_ptr
    breaks = cleaning.tokens.breaks.copy()
    breaks[cleaning.tokens.leads] = True
    if bridge and longest > 1:
        word_at, doc_ptr, breaks = _bridged(cleaning, word_at, breaks)
    terms, display = list(cleaning.forms), list(cleaning.display)
    lengths = [1] * len(terms)
    blocks = [to_csr(word_at.astype(np.int32), doc_ptr, len(terms))]
    current, names, shown = word_at, terms[:], display[:]
    for size in range(2, longest + 1):
        current, parts = adjacent_pairs(current, word_at, breaks, size - 1)
        names = [f"{names[a]} {cleaning.forms[b]}" for a, b in parts.tolist()]
        shown = [f"{shown[a]} {cleaning.display[b]}" for a, b in parts.tolist()]
        blocks.append(to_csr(current.astype(np.int32), doc_ptr, len(names)))
        terms += names
        display += shown
        lengths += [size] * len(names)
    widths = np.cumsum([0] + [block.shape[1] for block in blocks])
    merged = scipy.sparse.csr_matrix(_beside(blocks, widths)) if len(blocks) > 1 else blocks[0]
    return merged, terms, display, np.array(lengths, dtype=np.int8)


def _beside(
    blocks: list[scipy.sparse.csr_matrix], widths: NDArray[np.int64]
) -> scipy.sparse.csr_matrix:
    """The blocks side by side as one CSR matrix."""
    n_docs = blocks[0].shape[0]
    sizes = np.stack([np.diff(block.indptr) for block in blocks])
    indptr = np.concatenate([[0], np.cumsum(sizes.sum(axis=0))]).astype(np.int64)
    data = np.empty(indptr[-1], dtype=np.int32)
    indices = np.empty(indptr[-1], dtype=np.int32)
    offset = indptr[:-1].copy()
    for block, shift, size in zip(blocks, widths, sizes, strict=False):
        place = np.repeat(offset - block.indptr[:-1], size) + np.arange(block.nnz)
        data[place] = block.data
        indices[place] = block.indices + shift
        offset += size
    return scipy.sparse.csr_matrix((data, indices, indptr), shape=(n_docs, int(widths[-1])))
