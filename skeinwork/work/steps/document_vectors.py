"""Document vectors: from weights of terms, from word vectors, or as somebody else computed them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np
import scipy
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.content import expect, expect_array
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.vectors import BadVector, VectorRows
from skeinwork.core.matrix.matrix import Matrix
from skeinwork.core.matrix.weighting import Weighting, weigh
from skeinwork.core.progress import Report, part_of, silent
from skeinwork.core.relate import truncated_svd as svd
from skeinwork.core.relate import word_contexts
from skeinwork.core.relate.distances import unit_rows
from skeinwork.core.relate.neighbours import unit_vectors
from skeinwork.core.relate.vector_settings import DocumentVectorsSettings
from skeinwork.store.artefacts import Making
from skeinwork.work.steps.cleaning import CLEANING
from skeinwork.work.steps.corpus import CORPUS, base_of
from skeinwork.work.steps.matrix import MATRIX
from skeinwork.work.steps.step import Arrays, Documents, Earlier, Inputs, Reads, Said, Step, Stored, counted
from skeinwork.work.steps.supplied_vectors import vectors_of_field, vectors_of_file
from skeinwork.work.steps.tokens import TOKENS
from skeinwork.work.steps.word_vectors import MOST_BAD, word_vectors

_SECONDS = 3e-7  # a byte


class DocumentVectorsSummary(BaseModel):
    """Documents with a vector, its numbers, vectors that can't be read."""

    documents: int
    dimensions: int
    bad: int = 0


@dataclass(frozen=True)
class DocumentVectors:
    """Documents as vectors.

    Attributes
    ----------
    items : int64[n_items], documents, rising
    vectors : float32[n_items, n_dimensions]
    bad : of supplied ones that can't be read the first: the document as brought in, and why
    """

    items: NDArray[np.int64]
    vectors: NDArray[np.float32]
    bad: list[BadVector]


class DocumentVectorsStep(Step[DocumentVectorsSettings, DocumentVectors, DocumentVectorsSummary]):
    name: ClassVar[str] = "document_vectors"
    called: ClassVar[str] = "the document vectors"
    missing: ClassVar[str] = "Documents have no vectors yet. Make them at Relate, Alike documents."
    beside: ClassVar[bool] = True
    VERSION: ClassVar[int] = 1
    settings: ClassVar[type[BaseModel]] = DocumentVectorsSettings
    summary: ClassVar[type[BaseModel]] = DocumentVectorsSummary
    needs = (MATRIX, CLEANING, TOKENS)

    def parts(self, settings: DocumentVectorsSettings) -> dict[str, int]:
        if settings.of == "terms":
            return {"svd": svd.VERSION}
        return {"svd": svd.VERSION, "contexts": word_contexts.VERSION} if settings.of == "words" else {}

    def told(self, settings: DocumentVectorsSettings) -> dict[str, Any]:
        """Settings of other ways than the one that is taken make no difference."""
        other = {"terms": "words field file key", "words": "dimensions field file key"}
        supplied = {
            "field": "weighting dimensions words seed file key",
            "file": "weighting dimensions words seed field",
        }
        return {key: each for key, each in super().told(settings).items() if key not in (other | supplied)[settings.of]}

    def reads(self, making: Making, inputs: Inputs) -> Reads:
        """The corpus too where vectors are supplied, and the files that they are in."""
        found, settings = super().reads(making, inputs), self.parse(making.settings)
        files = [each.sha256 for each in (settings.file, settings.words.file) if each]
        if settings.of in ("field", "file"):
            earlier = Earlier(inputs, making.inputs)
            corpus = earlier.identity(CORPUS)
            found.results.append(corpus)
            base = base_of(inputs, corpus)
            found.results.append(base)
            files += inputs.result(base).making.inputs if settings.of == "field" else []
        return Reads(found.results, files)

    def seconds(self, making: Making, size: int) -> float:
        return 1 + _SECONDS * size * making.settings["dimensions"] / 100

    def compute(
        self, earlier: Earlier, settings: DocumentVectorsSettings, report: Report
    ) -> tuple[DocumentVectors, DocumentVectorsSummary]:
        made = _WAYS[settings.of](earlier, settings, report)
        if len(made.items) < 3:
            first = f" The first that can't be read {made.bad[0].reason}." if made.bad else ""
            raise BadInputError(f"{counted(len(made.items), 'document')} would have a vector; three are needed.{first}")
        return made, _summary(made)

    def save(self, value: DocumentVectors) -> tuple[Arrays, Documents]:
        bad = {"bad": [list(each) for each in value.bad]}
        return {"items": value.items, "vectors": value.vectors}, bad

    def load(self, stored: Stored, earlier: Earlier) -> DocumentVectors:
        bad = [BadVector(int(at), str(reason)) for at, reason in stored.document("bad")]
        return DocumentVectors(stored.array("items"), stored.array("vectors"), bad)

    def check(self, stored: Stored, earlier: Earlier) -> DocumentVectorsSummary:
        made = self.load(stored, earlier)
        n_docs = earlier.load(MATRIX).counts.shape[0]
        items = expect_array("items", made.items, np.int64, (None,), 0, n_docs - 1)
        expect(len(items) >= 3 and (np.diff(items) > 0).all(), "items are not in order")
        expect_array("vectors", made.vectors, np.float32, (len(items), None))
        return _summary(made)

    def said(self, settings: DocumentVectorsSettings, summary: DocumentVectorsSummary) -> Said:
        """Where they are from, and of how many documents."""
        return Said(name=f"document vectors, {summary.dimensions}", size=counted(summary.documents, "document"))


DOCUMENT_VECTORS = DocumentVectorsStep()


def _summary(made: DocumentVectors) -> DocumentVectorsSummary:
    bad = {"bad": len(made.bad)} if made.bad else {}
    return DocumentVectorsSummary(documents=len(made.items), dimensions=made.vectors.shape[1], **bad)


def weighted(matrix: Matrix, weighting: Weighting) -> scipy.sparse.csr_matrix:
    """The weights of terms that vectors are made from, float64[n_docs, n_terms], as all machines have them."""
    found = scipy.sparse.csr_matrix(weigh(matrix.counts, weighting, matrix.learn()), dtype=np.float64, copy=True)
    found.data = np.round(found.data, 9)
    return found


def _of_terms(earlier: Earlier, settings: DocumentVectorsSettings, report: Report) -> DocumentVectors:
    return of_terms(earlier.load(MATRIX), settings, report)


def of_terms(matrix: Matrix, settings: DocumentVectorsSettings, report: Report = silent) -> DocumentVectors:
    """Weights of terms in their leading directions (Deerwester and others 1990)."""
    report("Weighing", 0.0)
    weights = weighted(matrix, settings.weighting)
    items = np.flatnonzero(np.diff(weights.indptr) > 0)
    found = svd.truncated_svd(weights[items], settings.dimensions, settings.seed, part_of(report, 0.1, 1.0))
    return _with_direction(items, (found.left * found.values).astype(np.float32))


def _of_words(earlier: Earlier, settings: DocumentVectorsSettings, report: Report) -> DocumentVectors:
    """The mean of the vectors of a document's words, each by its weight."""
    cleaning, matrix = earlier.load(CLEANING), earlier.load(MATRIX)
    words = word_vectors(earlier, cleaning, matrix, settings.words, part_of(report, 0.0, 0.9))
    weights = weighted(matrix, settings.weighting)[:, words.terms]
    means = unit_rows(weights) @ unit_vectors(words.vectors).astype(np.float64)
    return _with_direction(np.arange(len(means)), means.astype(np.float32))


def _with_direction(items: NDArray[np.int64], vectors: NDArray[np.float32]) -> DocumentVectors:
    held = vectors.any(axis=1)
    return DocumentVectors(items[held].astype(np.int64), vectors[held], [])


def _supplied(read: Callable[..., VectorRows]) -> Callable[..., DocumentVectors]:
    """Vectors that were read by the documents as brought in, for those that the corpus has."""

    def made(earlier: Earlier, settings: DocumentVectorsSettings, report: Report) -> DocumentVectors:
        found, numbers = read(earlier, settings, report), earlier.load(CORPUS).numbers
        if not len(found.at):
            return DocumentVectors(found.at, found.vectors, found.bad[:MOST_BAD])
        place = np.searchsorted(found.at, numbers)
        place[place == len(found.at)] = 0
        held = found.at[place] == numbers
        return DocumentVectors(np.flatnonzero(held), found.vectors[place[held]], found.bad[:MOST_BAD])

    return made


# Settings that each way heeds.
_HEEDED = {
    "terms": ("of", "weighting", "dimensions", "seed"),
    "words": ("of", "weighting", "words"),
    "field": ("of", "field"),
    "file": ("of", "file", "key"),
}
_WAYS = {
    "terms": _of_terms,
    "words": _of_words,
    "field": _supplied(vectors_of_field),
    "file": _supplied(vectors_of_file),
}
