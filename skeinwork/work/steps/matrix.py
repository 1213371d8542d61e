"""Matrix: the terms of a cleaning counted by document, and pruned."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, ClassVar

import numpy as np
import scipy
from pydantic import BaseModel

from skeinwork.core.matrix import counting, matrix
from skeinwork.core.matrix.matrix import Matrix, MatrixSettings, words_of
from skeinwork.core.progress import Report
from skeinwork.store.artefacts import Making
from skeinwork.work.steps.cleaning import CLEANING
from skeinwork.work.steps.step import Arrays, Documents, Earlier, Said, Step, Stored, count
from skeinwork.work.steps.tokens import TOKENS


class MatrixSummary(BaseModel):
    """Terms, cells that are not zero, their share that is, documents without a term, tokens.

    ``words`` are the tokens without n-grams, which count theirs again; 0 in results of the first version.
    """

    terms: int
    nonzero: int
    sparsity: float
    emptied: int
    documents: int
    tokens: int
    words: int = 0


class MatrixStep(Step[MatrixSettings, Matrix, MatrixSummary]):
    name: ClassVar[str] = "matrix"
    called: ClassVar[str] = "the matrix"
    wanted: ClassVar[str] = "weigh"
    VERSION: ClassVar[int] = matrix.VERSION
    summary: ClassVar[type[BaseModel]] = MatrixSummary
    needs = (CLEANING, TOKENS)

    def parse(self, settings: Mapping[str, Any]) -> MatrixSettings:
        return MatrixSettings.model_validate(settings)

    def parts(self, settings: MatrixSettings) -> dict[str, int]:
        return {"counting": counting.VERSION}

    def seconds(self, making: Making, size: int) -> float:
        return 1e-7 * size * making.settings["longest"]

    def compute(
        self, earlier: Earlier, settings: MatrixSettings, report: Report
    ) -> tuple[Matrix, MatrixSummary]:
        report("Counting terms", 0.2)
        counted = matrix.count(earlier.load(CLEANING), settings.longest, settings.bridge)
        report("Pruning", 0.7)
        made = matrix.prune(counted, settings)
        return made, MatrixSummary(
            terms=len(made.terms), nonzero=int(made.counts.nnz), sparsity=made.sparsity,
            emptied=len(made.empty_documents), documents=int(made.counts.shape[0]),
            tokens=int(made.counts.data.sum()), words=int(words_of(made).sum()),
        )  # fmt: skip

    def save(self, value: Matrix) -> tuple[Arrays, Documents]:
        counts = value.counts
        arrays: Arrays = {
            "data": counts.data, "indices": counts.indices,
            "indptr": counts.indptr.astype(np.int64),
            "shape": np.array(counts.shape, dtype=np.int64), "lengths": value.lengths,
        }  # fmt: skip
        return arrays, {"terms": value.terms, "display": value.display}

    def load(self, stored: Stored, earlier: Earlier) -> Matrix:
        """The counts are memory-mapped, so never changed in place."""
        part = stored.array
        rows, columns = (int(n) for n in part("shape"))
        counts = scipy.sparse.csr_matrix(
            (part("data"), part("indices"), part("indptr")), shape=(rows, columns)
        )
        terms, display = stored.document("terms"), stored.document("display")
        return Matrix(counts, terms, display, part("lengths"))

    def said(self, settings: MatrixSettings, summary: MatrixSummary) -> Said:
        """What its terms are, and how many."""
        longest = settings.longest
        terms = f"1–{longest}-grams" if longest > 1 else "words"
        return Said(name=f"{terms}, counts", size=f"{count(summary.terms)} terms")


MATRIX = MatrixStep()
