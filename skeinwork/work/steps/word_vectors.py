"""Word vectors: words by the words that stand near them, or as a file has them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

import numpy as np
import scipy
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core import apart
from skeinwork.core.content import expect, expect_array, expect_pointer
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import readers
from skeinwork.core.formats.vectors import BadVector, read_word_vectors
from skeinwork.core.matrix.matrix import Matrix, term_stream
from skeinwork.core.progress import Report, part_of
from skeinwork.core.relate import truncated_svd as svd
from skeinwork.core.relate import word_contexts as contexts
from skeinwork.core.relate.neighbours import neighbours, unit_vectors
from skeinwork.core.relate.vector_settings import VectorFile, WordVectorsSettings
from skeinwork.core.text.clean import Cleaning
from skeinwork.store.artefacts import Making
from skeinwork.work.steps.cleaning import CLEANING
from skeinwork.work.steps.corpus import sound
from skeinwork.work.steps.matrix import MATRIX
from skeinwork.work.steps.step import Arrays, Documents, Earlier, Inputs, Reads, Said, Step, Stored, count, counted
from skeinwork.work.steps.tokens import TOKENS

# Lines that can't be read, of which each is told.
MOST_BAD = 1000
# Words of which the nearest is looked for, the most frequent.
COMPARED = 10_000
_SECONDS = 4e-7  # a byte


class WordVectorsSummary(BaseModel):
    """Words with a vector, its numbers, lines of a file that can't be read."""

    words: int
    dimensions: int
    bad: int = 0


@dataclass(frozen=True)
class WordVectors:
    """Words as vectors.

    Attributes
    ----------
    terms : int64[n_words], columns of the matrix, rising
    vectors : float32[n_words, n_dimensions]
    contexts : csr float32[n_words, n_words], how strongly words stand near each other; empty of a file
    nearest, cosine : int32[n_compared] and float32[n_compared], of the most frequent words the nearest of them
    bad : lines of a file that can't be read, the first of them
    """

    terms: NDArray[np.int64]
    vectors: NDArray[np.float32]
    contexts: scipy.sparse.csr_matrix
    nearest: NDArray[np.int32]
    cosine: NDArray[np.float32]
    bad: list[BadVector]


class WordVectorsStep(Step[WordVectorsSettings, WordVectors, WordVectorsSummary]):
    name: ClassVar[str] = "word_vectors"
    called: ClassVar[str] = "the word vectors"
    missing: ClassVar[str] = "Words have no vectors yet. Make them at Relate, Near words."
    beside: ClassVar[bool] = True
    VERSION: ClassVar[int] = 1
    settings: ClassVar[type[BaseModel]] = WordVectorsSettings
    summary: ClassVar[type[BaseModel]] = WordVectorsSummary
    needs = (MATRIX, CLEANING, TOKENS)

    def parts(self, settings: WordVectorsSettings) -> dict[str, int]:
        return {} if settings.file else {"contexts": contexts.VERSION, "svd": svd.VERSION}

    def reads(self, making: Making, inputs: Inputs) -> Reads:
        found, file = super().reads(making, inputs), making.settings["file"]
        return Reads(found.results, [file["sha256"]] if file else [])

    def seconds(self, making: Making, size: int) -> float:
        return 1 + _SECONDS * size * making.settings["dimensions"] / 100

    def compute(
        self, earlier: Earlier, settings: WordVectorsSettings, report: Report
    ) -> tuple[WordVectors, WordVectorsSummary]:
        made = word_vectors(earlier, earlier.load(CLEANING), earlier.load(MATRIX), settings, report)
        return made, _summary(made)

    def save(self, value: WordVectors) -> tuple[Arrays, Documents]:
        near = value.contexts
        return {
            "terms": value.terms,
            "vectors": value.vectors,
            "near": near.data,
            "near_indices": near.indices.astype(np.int32),
            "near_indptr": near.indptr.astype(np.int64),
            "nearest": value.nearest,
            "cosine": value.cosine,
        }, {"bad": [list(each) for each in value.bad]}

    def load(self, stored: Stored, earlier: Earlier) -> WordVectors:
        part = stored.array
        n = len(part("terms"))
        near = scipy.sparse.csr_matrix((part("near"), part("near_indices"), part("near_indptr")), shape=(n, n))
        bad = [BadVector(int(at), str(reason)) for at, reason in stored.document("bad")]
        return WordVectors(part("terms"), part("vectors"), near, part("nearest"), part("cosine"), bad)

    def check(self, stored: Stored, earlier: Earlier) -> WordVectorsSummary:
        made = self.load(stored, earlier)
        n_terms = earlier.load(MATRIX).counts.shape[1]
        terms = expect_array("terms", made.terms, np.int64, (None,), 0, n_terms - 1)
        expect(len(terms) >= 2 and (np.diff(terms) > 0).all(), "terms are not in order")
        expect_array("vectors", made.vectors, np.float32, (len(terms), None))
        near = made.contexts
        data = expect_array("near", near.data, np.float32, (None,), 0)
        expect_array("near_indices", near.indices, np.int32, (len(data),), 0, len(terms) - 1)
        expect_pointer("near_indptr", near.indptr.astype(np.int64), len(terms), len(data))
        compared = min(len(terms), COMPARED)
        expect_array("nearest", made.nearest, np.int32, (compared,), 0, compared - 1)
        expect_array("cosine", made.cosine, np.float32, (compared,), -1.01, 1.01)
        return _summary(made)

    def said(self, settings: WordVectorsSettings, summary: WordVectorsSummary) -> Said:
        """Where they are from, and of how many words."""
        of = settings.file.name if settings.file else f"{settings.window} words to either side"
        return Said(name=f"word vectors, {summary.dimensions}", size=f"{counted(summary.words, 'word')}, {of}")


WORD_VECTORS = WordVectorsStep()


def _summary(made: WordVectors) -> WordVectorsSummary:
    bad = {"bad": len(made.bad)} if made.bad else {}
    return WordVectorsSummary(words=len(made.terms), dimensions=made.vectors.shape[1], **bad)


def word_vectors(
    earlier: Earlier, cleaning: Cleaning, matrix: Matrix, settings: WordVectorsSettings, report: Report
) -> WordVectors:
    """Vectors of the words of a matrix, as wanted.

    Raises
    ------
    BadInputError
        under three words.
    """
    terms = np.sort(np.flatnonzero(matrix.lengths == 1)[: settings.most])
    if len(terms) < 3:
        raise BadInputError(f"Vectors are of three words or more, and {count(len(terms))} are left by Weigh.")
    if settings.file:
        return _of_file(earlier, matrix, terms, settings.file, report)
    report("Counting what stands near", 0.0)
    ids, doc_ptr = term_stream(cleaning, matrix)
    place = np.full(matrix.counts.shape[1] + 1, -1, np.int32)
    place[terms] = np.arange(len(terms), dtype=np.int32)
    near = contexts.context_counts(place[ids], doc_ptr, len(terms), settings.window)
    weights = contexts.shifted_pmi(near, settings.shift, settings.smoothing)
    if not weights.nnz:
        raise BadInputError("No word stands near another more often than by chance. Widen the window, or shift less.")
    found = svd.truncated_svd(weights, settings.dimensions, settings.seed, part_of(report, 0.2, 1.0))
    vectors = (found.left * np.sqrt(found.values)).astype(np.float32)
    # A word that has no context has no direction.
    held = np.diff(weights.indptr) > 0
    weights = scipy.sparse.csr_matrix(weights[held][:, held], dtype=np.float32)
    return _whole(terms[held].astype(np.int64), vectors[held], weights, [])


def _whole(
    terms: NDArray[np.int64], vectors: NDArray[np.float32], near: scipy.sparse.csr_matrix, bad: list[BadVector]
) -> WordVectors:
    found = neighbours(unit_vectors(vectors[:COMPARED]), 1)
    return WordVectors(terms, vectors, near, found.near.ravel(), found.cosine.ravel(), bad)


def _of_file(
    earlier: Earlier, matrix: Matrix, terms: NDArray[np.int64], file: VectorFile, report: Report
) -> WordVectors:
    """The vectors that a file has of the words."""
    path = sound(earlier.inputs.file(file.sha256), file.sha256, file.name)
    wanted = {matrix.terms[at]: at for at in terms.tolist()}
    found = apart.one(
        read_word_vectors,
        path,
        file.name,
        frozenset(wanted),
        name=lambda: file.name,
        limits=readers.limits(path.stat().st_size),
        watch=lambda: report("Reading vectors", 0.1),
    )
    columns = np.array([wanted[word] for word in found.words], dtype=np.int64)
    if len(columns) < 3:
        raise BadInputError(f"{file.name} has vectors of {counted(len(columns), 'word')} of this corpus. Take another.")
    order = np.argsort(columns)
    nothing = (np.zeros(0, np.float32), np.zeros(0, np.int32), np.zeros(len(columns) + 1, np.int64))
    none = scipy.sparse.csr_matrix(nothing, shape=(len(columns), len(columns)))
    return _whole(columns[order], found.vectors[order], none, found.bad[:MOST_BAD])
