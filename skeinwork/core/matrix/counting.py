"""Count terms by document: from a cleaned token stream to a sparse document-term matrix."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property
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


def to_csr(ids: NDArray[np.int32], doc_ptr: NDArray[np.int64], n_terms: int) -> scipy.sparse.csr_matrix:
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


@njit(cache=True, nogil=True)
def _sorted_by(places: Any, keys: Any, shift: int, n_keys: int) -> Any:
    """Places sorted by their keys, those of equal keys as they were: a counting sort."""
    starts = np.zeros(n_keys + 1, dtype=np.int64)
    for place in places:
        starts[keys[place + shift] + 1] += 1
    for key in range(n_keys):
        starts[key + 1] += starts[key]
    out = np.empty(len(places), dtype=np.int32)
    for place in places:
        key = keys[place + shift]
        out[starts[key]] = place
        starts[key] += 1
    return out


@njit(cache=True, nogil=True)
def _numbered(left: Any, right: Any, breaks: Any, gap: int, n_left: int, n_right: int) -> Any:
    """Number the pairs that stand ``gap`` apart without a break, by first part, then by second."""
    size = len(left)
    joined = np.full(size, -1, dtype=np.int32)
    places = np.empty(size, dtype=np.int32)
    found = 0
    for at in range(size - gap):
        if left[at] >= 0 and right[at + gap] >= 0 and not breaks[at + gap]:
            places[found] = at
            found += 1
    places = _sorted_by(_sorted_by(places[:found], right, gap, n_right), left, 0, n_left)
    parts = np.empty((found, 2), dtype=np.int32)
    number = -1
    for at in places:
        a, b = left[at], right[at + gap]
        if number < 0 or parts[number, 0] != a or parts[number, 1] != b:
            number += 1
            parts[number, 0], parts[number, 1] = a, b
        joined[at] = number
    return joined, parts[: number + 1].copy()


def adjacent_pairs(
    left: NDArray[np.int32], right: NDArray[np.int32], breaks: NDArray[np.bool_], gap: int
) -> tuple[NDArray[np.int32], NDArray[np.int32]]:
    """Make longer n-grams: join what starts at a token with the word ``gap`` tokens on.

    Parameters
    ----------
    left : int32[n_tokens], id of the n-gram that starts at each token, or -1
    right : int32[n_tokens], id of the word at each token, or -1 where it was removed
    breaks : bool[n_tokens], whether a document, line, block or sentence ends before each token

    Returns
    -------
    ids : int32[n_tokens], id of the n-gram one word longer, or -1; none crosses a break or a
        removed token
    parts : int32[n_ngrams, 2], the shorter n-gram and the word each is made of, in their order
    """
    sizes = int(left.max(initial=-1)) + 1, int(right.max(initial=-1)) + 1
    ids, parts = _numbered(left, right, breaks, gap, *sizes)
    return ids, parts


def _bridged(
    cleaning: Cleaning, words: NDArray[np.int32], breaks: NDArray[np.bool_]
) -> tuple[NDArray[np.int32], NDArray[np.int64], NDArray[np.bool_]]:
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


@dataclass(frozen=True)
class Counted:
    """Counts of all n-grams before pruning; pruning is a view of it.

    A term is known by its words: millions of n-grams get their names only when asked for.

    Attributes
    ----------
    counts : int32[n_docs, n_terms]
    forms, word_display : of every single word, the form and what is shown for it
    parts : for each length from two on int32[n_ngrams, 2]: the n-gram one word shorter, among those
        of its length, and the word behind it
    first : int64[n_terms], the token at which each term first begins
    """

    counts: scipy.sparse.csr_matrix
    forms: list[str]
    word_display: list[str]
    parts: list[NDArray[np.int32]]
    first: NDArray[np.int64] = field(repr=False)

    @property
    def n_docs(self) -> int:
        return int(self.counts.shape[0])

    @property
    def n_terms(self) -> int:
        return int(self.counts.shape[1])

    @cached_property
    def starts(self) -> NDArray[np.int64]:
        """First column of the terms of one word, of two, ..., and the number of columns, int64[longest + 1]."""
        return np.cumsum([0, len(self.forms), *(len(each) for each in self.parts)])

    @cached_property
    def lengths(self) -> NDArray[np.int8]:
        """int8[n_terms]: words in each term."""
        return np.repeat(np.arange(1, len(self.starts)), np.diff(self.starts)).astype(np.int8)

    def words(self, columns: NDArray[np.int64], size: int) -> NDArray[np.int32]:
        """The words of terms, int64[n] columns, that have ``size`` of them, int32[n, size]."""
        out = np.empty((len(columns), size), dtype=np.int32)
        within = columns - self.starts[size - 1]
        for at in range(size - 1, 0, -1):
            parts = self.parts[at - 1]
            out[:, at] = parts[within, 1]
            within = parts[within, 0]
        out[:, 0] = within
        return out

    def _joined(self, columns: NDArray[np.int64], words: list[str]) -> list[str]:
        columns, names = np.asarray(columns, dtype=np.int64), [""] * len(columns)
        for size in range(1, len(self.starts)):
            here = np.flatnonzero(self.lengths[columns] == size)
            for at, row in zip(here, self.words(columns[here], size).tolist(), strict=True):
                names[at] = " ".join([words[word] for word in row])
        return names

    def names(self, columns: NDArray[np.int64]) -> list[str]:
        """The forms of some terms, int64[n] columns, joined by one space."""
        return self._joined(columns, self.forms)

    def shown(self, columns: NDArray[np.int64]) -> list[str]:
        """The readable words of some terms, int64[n] columns."""
        return self._joined(columns, self.word_display)

    @property
    def terms(self) -> list[str]:
        """The names of all terms."""
        return self.names(np.arange(self.n_terms))

    @cached_property
    def place(self) -> dict[str, int]:
        """The column of every single word."""
        return {form: at for at, form in enumerate(self.forms)}

    def column(self, term: str) -> int | None:
        """The column of a term; None where no document holds it."""
        for size in range(1, len(self.starts)):
            words = self._split(term, size)
            if words is not None and (found := self._find(words)) is not None:
                return found
        return None

    def _split(self, term: str, size: int) -> list[int] | None:
        """The words of a term of so many; a word may itself hold spaces."""
        if size == 1:
            return [self.place[term]] if term in self.place else None
        at = -1
        while (at := term.find(" ", at + 1)) >= 0:
            rest = self._split(term[at + 1 :], size - 1) if term[:at] in self.place else None
            if rest is not None:
                return [self.place[term[:at]], *rest]
        return None

    def _find(self, words: list[int]) -> int | None:
        within = words[0]
        for size, word in enumerate(words[1:], start=2):
            parts = self.parts[size - 2]
            low, high = np.searchsorted(parts[:, 0], [within, within + 1])
            within = int(low + np.searchsorted(parts[low:high, 1], word))
            if within == high or parts[within, 1] != word:
                return None
        return int(self.starts[len(words) - 1] + within)


def count(cleaning: Cleaning, longest: int, bridge: bool = False) -> Counted:
    """Count all n-grams of 1 to ``longest`` words, unpruned; ``bridge``: they go over removed words.

    >>> from skeinwork.core.text.clean import CleanSettings, clean
    >>> from skeinwork.core.text.tokenise import tokenise
    >>> settings = CleanSettings()
    >>> tokens = tokenise(["gale warning", "gale"], settings.tokenising())
    >>> counted = count(clean(tokens, settings), 2)
    >>> counted.terms, counted.counts.toarray().tolist()
    (['gale', 'warn', 'gale warn'], [[1, 1, 1], [1, 0, 0]])
    """
    words = cleaning.token_forms().astype(np.int32)
    doc_ptr = cleaning.tokens.doc_ptr
    breaks = cleaning.tokens.breaks.copy()
    breaks[cleaning.tokens.leads] = True
    if bridge and longest > 1:
        words, doc_ptr, breaks = _bridged(cleaning, words, breaks)
    blocks = [to_csr(words, doc_ptr, len(cleaning.forms))]
    firsts = [_first_places(words, len(cleaning.forms))]
    current, parts = words, []
    for size in range(2, longest + 1):
        current, made = adjacent_pairs(current, words, breaks, size - 1)
        blocks.append(to_csr(current, doc_ptr, len(made)))
        firsts.append(_first_places(current, len(made)))
        parts.append(made)
    counts = _beside(blocks) if len(blocks) > 1 else blocks[0]
    return Counted(counts, list(cleaning.forms), list(cleaning.display), parts, np.concatenate(firsts))


@njit(cache=True, nogil=True)
def _first_places(ids: Any, n_terms: int) -> Any:
    """The token at which each id first stands, int64[n_terms]."""
    first = np.full(n_terms, len(ids), dtype=np.int64)
    for at in range(len(ids) - 1, -1, -1):
        if ids[at] >= 0:
            first[ids[at]] = at
    return first


def _beside(blocks: list[scipy.sparse.csr_matrix]) -> scipy.sparse.csr_matrix:
    """The blocks side by side as one CSR matrix."""
    widths = np.cumsum([0] + [block.shape[1] for block in blocks])
    sizes = np.stack([np.diff(block.indptr) for block in blocks])
    indptr = np.concatenate([[0], np.cumsum(sizes.sum(axis=0))]).astype(np.int64)
    data = np.empty(indptr[-1], dtype=np.int32)
    indices = np.empty(indptr[-1], dtype=np.int32)
    offset = indptr[:-1].copy()
    for block, shift, size in zip(blocks, widths, sizes, strict=False):
        _put(block.data, block.indices, block.indptr, shift, offset, data, indices)
        offset += size
    return scipy.sparse.csr_matrix((data, indices, indptr), shape=(blocks[0].shape[0], int(widths[-1])))


@njit(cache=True, nogil=True)
def _put(data: Any, indices: Any, indptr: Any, shift: int, offset: Any, to_data: Any, to_indices: Any) -> None:
    """Put the rows of one matrix at their places among the rows of several."""
    for row in range(len(indptr) - 1):
        at = offset[row]
        for cell in range(indptr[row], indptr[row + 1]):
            to_data[at] = data[cell]
            to_indices[at] = indices[cell] + shift
            at += 1
