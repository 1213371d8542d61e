"""Matrix: the terms of a cleaning counted by document, and pruned."""

from __future__ import annotations

from typing import Any, ClassVar

import numpy as np
import scipy
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.errors import BadInputError
from skeinwork.core.matrix import counting, matrix, split
from skeinwork.core.matrix.matrix import Matrix, words_of
from skeinwork.core.matrix.matrix_settings import MatrixSettings
from skeinwork.core.matrix.split import Split, held_out, kin_of
from skeinwork.core.progress import Report
from skeinwork.core.text.about import About
from skeinwork.store.artefacts import Making
from skeinwork.work.steps.cleaning import CLEANING
from skeinwork.work.steps.corpus import CORPUS, corpus_with_about
from skeinwork.work.steps.step import Arrays, Documents, Earlier, Inputs, Reads, Said, Step, Stored, count, counted
from skeinwork.work.steps.tokens import TOKENS


class MatrixSummary(BaseModel):
    """Terms, cells that are not zero, their share that is, documents without a term, tokens.

    ``words`` are the tokens without n-grams, which count theirs again; 0 in results of the first version.
    ``held_out`` are documents kept for a test.
    """

    terms: int
    nonzero: int
    sparsity: float
    emptied: int
    documents: int
    tokens: int
    words: int = 0
    held_out: int = 0


# The share of the documents by which fits are compared, where Weigh holds none out.
HELD_OUT = Split(share=0.2)


def split_of(about: About, wanted: Split | None) -> NDArray[np.bool_] | None:
    """Which documents are held out, bool[n_docs]; None where there is no split.

    Raises
    ------
    BadInputError
        where the documents lack the field that both parts are to be alike in, or that is not to be parted.
    """
    if wanted is None:
        return None

    def codes(name: str | None, what: str) -> NDArray[np.int64] | None:
        if name is None:
            return None
        if name not in about.fields:
            raise BadInputError(
                f"The split is to {what} “{name}”, a field that the documents lack. They have "
                f"{', '.join(about.fields) or 'none'}. Choose one of these, or none, at Weigh."
            )
        return about.fields[name][0].astype(np.int64)

    n_docs = len(about.language)
    near = np.arange(n_docs, dtype=np.int32) if about.near is None else about.near
    outcome, group = (codes(wanted.outcome, "be alike in"), codes(wanted.together, "keep together by"))
    return held_out(wanted, n_docs, outcome, kin_of(near, group))


class MatrixStep(Step[MatrixSettings, Matrix, MatrixSummary]):
    name: ClassVar[str] = "matrix"
    called: ClassVar[str] = "the matrix"
    missing: ClassVar[str] = "There is no matrix yet. Rebuild at Weigh."
    wanted: ClassVar[str] = "weigh"
    VERSION: ClassVar[int] = matrix.VERSION
    settings: ClassVar[type[BaseModel]] = MatrixSettings
    summary: ClassVar[type[BaseModel]] = MatrixSummary
    needs = (CLEANING, TOKENS)

    def parts(self, settings: MatrixSettings) -> dict[str, int]:
        held = {"split": split.VERSION} if settings.split else {}
        return {"counting": counting.VERSION, **held}

    def told(self, settings: MatrixSettings) -> dict[str, Any]:
        """How the first terms are chosen matters only where some are."""
        chooses = settings.keep_top is not None or settings.keep_share is not None
        told = super().told(settings)
        return told if chooses else {key: each for key, each in told.items() if key != "top_by"}

    def reads(self, making: Making, inputs: Inputs) -> Reads:
        """The corpus too, where documents are held out."""
        found = super().reads(making, inputs)
        if making.settings.get("split"):
            found.results.append(inputs.result(found.results[-1]).making.inputs[0])
        return found

    def seconds(self, making: Making, size: int) -> float:
        return 1e-7 * size * making.settings["longest"]

    def compute(self, earlier: Earlier, settings: MatrixSettings, report: Report) -> tuple[Matrix, MatrixSummary]:
        report("Counting terms", 0.2)
        counts = counting.count(earlier.load(CLEANING), settings.longest, settings.bridge)
        report("Pruning", 0.7)
        about = corpus_with_about(earlier.stored(CORPUS))[1] if settings.split else None
        made = matrix.prune(counts, settings, split_of(about, settings.split) if about else None)
        return made, _summary(made)

    def save(self, value: Matrix) -> tuple[Arrays, Documents]:
        counts = value.counts
        arrays: Arrays = {
            "data": counts.data,
            "indices": counts.indices,
            "indptr": counts.indptr.astype(np.int64),
            "shape": np.array(counts.shape, dtype=np.int64),
            "lengths": value.lengths,
        }
        if value.test is not None:
            arrays["test"] = value.test
        return arrays, {"terms": value.terms, "display": value.display}

    def load(self, stored: Stored, earlier: Earlier) -> Matrix:
        """The counts are memory-mapped, so never changed in place."""
        part = stored.array
        rows, columns = (int(n) for n in part("shape"))
        counts = scipy.sparse.csr_matrix((part("data"), part("indices"), part("indptr")), shape=(rows, columns))
        terms, display = stored.document("terms"), stored.document("display")
        test = part("test") if stored.holds("test") else None
        return Matrix(counts, terms, display, part("lengths"), test)

    def check(self, stored: Stored, earlier: Earlier) -> MatrixSummary:
        cleaning = earlier.load(CLEANING)
        kept = np.concatenate([[0], np.cumsum(cleaning.token_forms() >= 0)])
        matrix = self.load(stored, earlier)
        matrix.check(np.diff(kept[cleaning.tokens.doc_ptr]))
        return _summary(matrix)

    def said(self, settings: MatrixSettings, summary: MatrixSummary) -> Said:
        """What its terms are, and how many."""
        longest = settings.longest
        terms = f"1–{longest}-grams" if longest > 1 else "words"
        held = f", {count(summary.held_out)} held out" if summary.held_out else ""
        return Said(name=f"{terms}, counts", size=counted(summary.terms, "term") + held)


def _summary(made: Matrix) -> MatrixSummary:
    held = {} if made.test is None else {"held_out": int(made.test.sum())}
    return MatrixSummary(
        terms=len(made.terms),
        nonzero=int(made.counts.nnz),
        sparsity=made.sparsity,
        emptied=len(made.empty_documents),
        documents=int(made.counts.shape[0]),
        tokens=int(made.counts.data.sum()),
        words=int(words_of(made).sum()),
        **held,
    )


MATRIX = MatrixStep()


def compared(making: Making) -> Making:
    """The matrix by which fits of one are compared: itself, or with a fifth held out where it holds none out."""
    settings = MATRIX.parse(making.settings)
    return making if settings.split else MATRIX.making(making.inputs, settings.model_copy(update={"split": HELD_OUT}))
