"""The matrix that is wanted, counted and weighed while its settings are being tried."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
import scipy
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.corpus.periods import Period
from skeinwork.core.errors import BadInputError, NotFoundError
from skeinwork.core.matrix import counting, pruning
from skeinwork.core.matrix.counting import Counted
from skeinwork.core.matrix.matrix import Matrix, prune
from skeinwork.core.matrix.matrix_settings import MatrixSettings
from skeinwork.core.matrix.pruning import Standing
from skeinwork.core.matrix.weighting import Learnt, Weighting, weigh
from skeinwork.work.evidence import EvidenceRequest, find
from skeinwork.work.results import cleaning_preview
from skeinwork.work.results.cleaning_preview import Tried
from skeinwork.work.results.view import View
from skeinwork.work.steps import CORPUS, MATRIX
from skeinwork.work.steps.matrix import split_of
from skeinwork.work.strands.strands import Wanted


@dataclass(frozen=True)
class Counting:
    """All n-grams of the wanted cleaning, and what they are judged by.

    Attributes
    ----------
    test : bool[n_docs], documents held out; None where none are
    key : what tells it from others in a cache
    """

    key: tuple[Any, ...]
    tried: Tried
    counted: Counted
    standing: Standing
    test: NDArray[np.bool_] | None

    @cached_property
    def documents(self) -> NDArray[np.int64]:
        """The document of the corpus that each row is, int64[n_rows]."""
        return np.asarray(self.tried.documents, dtype=np.int64)


def counting_of(view: View, wanted: Wanted, settings: MatrixSettings | None = None) -> Counting:
    """The n-grams of the wanted cleaning, under the wanted settings or others."""
    weigh_by = settings or wanted.weigh
    tried = cleaning_preview.whole(view, wanted.clean)
    # By the corpus and the settings alone: a rebuild makes nothing of it anew.
    of_terms = (view.identity(CORPUS), wanted.clean.model_dump_json(), tried.sample, weigh_by.longest, weigh_by.bridge)
    key = (*of_terms, weigh_by.split)

    def count() -> Counted:
        return counting.count(tried.cleaning, weigh_by.longest, weigh_by.bridge)

    counted = view.cache.get(("counted", *of_terms), count)

    def judged() -> Counting:
        test = split_of(tried.about, weigh_by.split)
        known = pruning.standing(counted, None if test is None else ~test)
        return Counting(key, tried, counted, known, test)

    return view.cache.get(("counting", *key), judged)


@dataclass(frozen=True)
class Weighed:
    """A matrix under a weighting. Rows are documents of the corpus, or of a sample of it.

    Attributes
    ----------
    weights : float64[n_rows, n_terms], with the sparsity of the counts
    documents : int64[n_rows], the document that each row is
    sample : how many documents it is of; None for all
    key : what tells it from others in a cache
    """

    key: tuple[Any, ...]
    matrix: Matrix
    weighting: Weighting
    learnt: Learnt
    weights: scipy.sparse.csr_matrix
    documents: NDArray[np.int64]
    sample: int | None

    def row(self, document: int) -> int:
        """The row of a document.

        Raises
        ------
        NotFoundError
            where it has none.
        """
        at = int(np.searchsorted(self.documents, document))
        if at == len(self.documents) or self.documents[at] != document:
            raise NotFoundError(f"Document {document + 1} is not among those that are weighed here.")
        return at

    def column(self, term: str) -> int:
        """The column of a term.

        Raises
        ------
        BadInputError
            where pruning dropped it, or no document holds it.
        """
        if term not in self.matrix.columns:
            raise BadInputError(f"“{term}” is not a term of this matrix. Loosen the limits at Weigh.")
        return self.matrix.columns[term]

    @cached_property
    def sums(self) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """Weight of every row and of every column."""
        by_row = np.asarray(self.weights.sum(axis=1), dtype=np.float64).ravel()
        return by_row, np.asarray(self.weights.sum(axis=0), dtype=np.float64).ravel()


def weighed(view: View, wanted: Wanted, weighting: Weighting | None = None) -> Weighed:
    """The wanted matrix under the wanted weighting, or under another."""
    chosen = weighting or wanted.weighting
    known = counting_of(view, wanted)
    of_matrix = (*known.key, wanted.weigh.model_dump_json())
    key = (*of_matrix, chosen.model_dump_json())
    matrix = view.cache.get(("pruned", *of_matrix), lambda: prune(known.counted, wanted.weigh, known.test))

    def make() -> Weighed:
        learnt = matrix.learn()
        weights = weigh(matrix.counts, chosen, learnt)
        return Weighed(key, matrix, chosen, learnt, weights, known.documents, known.tried.sample)

    return view.cache.get(("weighed", *key), make)


def made_weighed(view: View, weighting: Weighting) -> Weighed:
    """The matrix that was made, under a weighting."""

    def make() -> Weighed:
        learnt = view.matrix.learn()
        weights = weigh(view.matrix.counts, weighting, learnt)
        documents = np.arange(view.matrix.counts.shape[0])
        return Weighed(key, view.matrix, weighting, learnt, weights, documents, None)

    key = (view.identity(MATRIX), weighting.model_dump_json())
    return view.cached("made, weighed", make, *key)


class Scope(BaseModel):
    """Which documents are meant: all, those of a group, of a period, of both, or one."""

    model_config = ConfigDict(extra="ignore", frozen=True)

    field: str | None = Field(None, max_length=200, description="a field, with its value")
    value: str | None = Field(None, max_length=2000)
    period: Period | None = None
    at: str | None = Field(None, max_length=40, description="a period's name, such as 2014-Q1")
    document: int | None = Field(None, ge=0, le=2**31)

    def given(self) -> dict[str, object]:
        """What narrows, as evidence takes it."""
        return self.model_dump(include={"field", "value", "period", "at"}, exclude_none=True)

    def rows(self, view: View, documents: NDArray[np.int64]) -> NDArray[np.int64]:
        """The rows that are meant, of those of these documents."""
        if self.document is not None:
            return np.flatnonzero(documents == self.document)
        given = self.given()
        if not given:
            return np.arange(len(documents))

        def meant() -> NDArray[np.int64]:
            found = find(view, EvidenceRequest.model_validate(given))
            return np.flatnonzero(np.isin(documents, found.documents))

        return view.cached("scope", meant, self.model_dump_json(), len(documents))


def sums_over(weights: scipy.sparse.csr_matrix, rows: NDArray[np.int64] | Sequence[int]) -> NDArray[np.float64]:
    """The sum of each column over some rows, float64[n_terms]."""
    if len(rows) == weights.shape[0]:
        return np.asarray(weights.sum(axis=0), dtype=np.float64).ravel()
    return np.asarray(weights[np.asarray(rows)].sum(axis=0), dtype=np.float64).ravel()
