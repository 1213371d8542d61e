"""What a strand holds, loaded once and kept while it is looked at."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from pathlib import Path
from typing import Any, TypeVar

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.corpus.corpus import Corpus
from skeinwork.core.corpus.survey import Survey
from skeinwork.core.errors import BadInputError
from skeinwork.core.matrix.matrix import Matrix
from skeinwork.core.text.clean import Cleaning, CleanSettings
from skeinwork.core.text.segment import PUNCTUATION, SYMBOL, Segments
from skeinwork.core.topics.methods import method_of
from skeinwork.core.topics.model import TopicModel
from skeinwork.core.topics.words import titles
from skeinwork.store.artefacts import Artefact, ArtefactStore, DamagedResultError, Making
from skeinwork.work import steps
from skeinwork.work.results.cache import Cache
from skeinwork.work.steps.corpus import load_survey
from skeinwork.work.steps.fitted import FitSummary, document_sizes
from skeinwork.work.steps.step import Link, OnDisk, Step, load

Kept = TypeVar("Kept")
Made = TypeVar("Made")
_KEPT = 200 * 2**20


@dataclass(frozen=True)
class View:
    """A strand's results by step, each loaded when first asked for; ``cache`` keeps what is computed of them.

    Raises ``BadInputError`` with what to do first where a result does not exist yet.
    """

    store: ArtefactStore
    results: Mapping[str, str]
    cache: Cache = field(default_factory=lambda: Cache(_KEPT), repr=False, compare=False)
    uploads: Path = Path()
    loaded: dict[str, Any] = field(default_factory=dict, init=False, repr=False, compare=False)

    def cached(self, name: str, make: Callable[[], Made], *key: Any) -> Made:
        """A value that depends on the results of the chain and ``key`` alone."""
        return self.cache.get((name, *map(self.identity, steps.CHAIN), *key), make)

    def identity(self, step: Link[Any, Any, Any]) -> str | None:
        """The result of a step; None where there is none yet."""
        return self.results.get(step.name)

    def record(self, step: Link[Any, Any, Any]) -> Artefact:
        """The result of a step as it is stored."""
        identity = self.identity(step)
        if identity is None:
            raise BadInputError(step.missing)
        return self._whole(identity)

    def made(self, step: Link[Any, Kept, Any], making: Making) -> Kept | None:
        """A result that doesn't stand on the strand, loaded once; None where it was not made."""
        if not self.store.has(making.identity):
            return None
        loaded: Kept = self.cache.get(
            (step.name, making.identity), lambda: self._loaded(step, self.store.open(making.identity))
        )
        return loaded

    def value(self, step: Link[Any, Kept, Any]) -> Kept:
        """The result of a step, loaded once."""
        if step.name not in self.loaded:
            self.loaded[step.name] = self._loaded(step, self.record(step))
        found: Kept = self.loaded[step.name]
        return found

    def made_from(self, step: Step[Any, Any, Any]) -> Any:
        """What the result of a step was made from, which may be an earlier one than the strand's."""
        return self._kept(step.parents[0], self._earlier(self.record(step)))

    def _whole(self, identity: str) -> Artefact:
        stored = self.store.open(identity)
        if not self.store.has(identity):
            raise DamagedResultError(identity, stored.making.step)
        return stored

    def _earlier(self, stored: Artefact) -> Artefact:
        """What a result was made from."""
        return self._whole(stored.making.inputs[0])

    def check(self) -> None:
        """Raise ``DamagedResultError`` where a file of these results is not what was written."""
        seen: set[str] = set()
        waiting = [each for each in map(self.identity, steps.KEPT) if each]
        while waiting:
            if (identity := waiting.pop(0)) not in seen:
                seen.add(identity)
                made = self._whole(identity).making
                waiting += made.inputs if steps.STEPS[made.step].parents else []

    def _loaded(self, step: Link[Any, Kept, Any], stored: Artefact) -> Kept:
        return load(OnDisk(self.store), step, stored)

    @cached_property
    def corpus_record(self) -> Artefact:
        return self.record(steps.CORPUS)

    @property
    def corpus(self) -> Corpus:
        return self.value(steps.CORPUS)

    @cached_property
    def survey(self) -> Survey:
        return load_survey(self.corpus_record)

    @cached_property
    def cleaning_record(self) -> Artefact:
        return self.record(steps.CLEANING)

    @property
    def cleaning(self) -> Cleaning:
        return self.value(steps.CLEANING)

    @cached_property
    def clean_settings(self) -> CleanSettings:
        """What the cleaning was made with."""
        return steps.CLEANING.parse(self.cleaning_record.making.settings)

    @cached_property
    def tokens(self) -> Segments:
        return self._loaded(steps.TOKENS, self._earlier(self.cleaning_record))

    @cached_property
    def matrix_record(self) -> Artefact:
        return self.record(steps.MATRIX)

    @property
    def matrix(self) -> Matrix:
        return self.value(steps.MATRIX)

    @cached_property
    def fit_record(self) -> Artefact:
        return self.record(steps.FIT)

    @cached_property
    def fit_summary(self) -> FitSummary:
        return steps.FIT.summarised(self.fit_record)

    @property
    def model(self) -> TopicModel:
        return self.value(steps.FIT)

    def fit_of(self, identity: str) -> TopicModel:
        """Another fit than the strand's."""
        return self._loaded(steps.FIT, self._whole(identity))

    @cached_property
    def fit_matrix(self) -> Matrix:
        """The matrix that the fit was made on, which may be an earlier one."""
        return self.matrix_of(steps.FIT)

    @cached_property
    def fit_cleaning(self) -> Cleaning:
        """The cleaning that the fit was made on."""
        return self.cleaning_of(steps.FIT)

    def matrix_of(self, step: Link[Any, Any, Any]) -> Matrix:
        """The matrix that the result of a step was made on, which may be an earlier one."""
        return self._kept(steps.MATRIX, self.matrix_of_record(step))

    def matrix_of_record(self, step: Link[Any, Any, Any]) -> Artefact:
        """The same as it is stored."""
        stored = self.record(step)
        while stored.making.step != steps.MATRIX.name:
            stored = self._earlier(stored)
        return stored

    def cleaning_of(self, step: Link[Any, Any, Any]) -> Cleaning:
        """The cleaning that the result of a step was made on."""
        return self._kept(steps.CLEANING, self._earlier(self.matrix_of_record(step)))

    def _kept(self, step: Link[Any, Kept, Any], stored: Artefact) -> Kept:
        """A result, loaded once for all that were made on it."""
        if stored.identity == self.identity(step):
            return self.value(step)
        if stored.identity not in self.loaded:
            self.loaded[stored.identity] = self._loaded(step, stored)
        found: Kept = self.loaded[stored.identity]
        return found

    def topic_words(self, topic: int) -> str:
        """What to call a topic that has no label: the words that set it apart."""
        return self._titles[topic]

    @cached_property
    def _titles(self) -> list[str]:
        return titles(np.asarray(self.model.topic_word), self.fit_matrix.display)

    @cached_property
    def form_place(self) -> dict[str, int]:
        """Number of every form of the cleaning."""
        return {form: at for at, form in enumerate(self.cleaning.forms)}

    @cached_property
    def fit_form_place(self) -> dict[str, int]:
        """The same of the cleaning that the fit was made on."""
        return {form: at for at, form in enumerate(self.fit_cleaning.forms)}

    @cached_property
    def _fit_terms(self) -> NDArray[np.int64]:
        """Term of the fit's matrix for every form of its cleaning; -1 where pruning dropped it."""
        return self.fit_matrix.columns_of((*self.fit_cleaning.forms, ""))

    def topic_weights(self, document: int, tokens: NDArray[np.int64] | None = None) -> NDArray[np.float64]:
        """How much each token of a document, or each of some, is of each topic.

        Returns
        -------
        float64[n_topics, n_tokens]
        """
        terms = self.fit_terms(document)
        return self.term_topics(document, terms if tokens is None else terms[tokens])

    def fit_terms(self, document: int) -> NDArray[np.int64]:
        """The term of each token of a document, int64[n_tokens], -1 for none."""
        return self._fit_terms[self.fit_cleaning.token_forms(document)]

    def term_topics(self, document: int, terms: NDArray[np.int64]) -> NDArray[np.float64]:
        """The same of terms of a document, int64[n_asked]; -1 for none."""
        method = method_of(steps.FIT.parse(self.fit_record.making.settings))
        return method.token_weights(self.model, document, terms)

    @cached_property
    def lengths(self) -> NDArray[np.int64]:
        """Words of every document: tokens with a letter or digit, int64[n_docs]."""
        words = ~np.isin(self.tokens.classes, [PUNCTUATION, SYMBOL])
        running = np.concatenate([[0], np.cumsum(words[self.tokens.ids])])
        counted: NDArray[np.int64] = np.diff(running[self.tokens.doc_ptr])
        return counted

    @cached_property
    def assigned(self) -> scipy.sparse.csc_matrix:
        """Tokens of each topic in each document, the mean over saved samples, [n_docs, n_topics]."""
        return self.model.assigned(self.token_weights).tocsc()

    @cached_property
    def fit_shares(self) -> NDArray[np.float64]:
        """Share of each topic of all tokens, float64[n_topics]."""
        tokens = np.asarray(self.assigned.sum(axis=0), dtype=np.float64).ravel()
        return tokens / max(float(tokens.sum()), 1e-300)

    @cached_property
    def assigned_sizes(self) -> NDArray[np.float64]:
        """Tokens of each document, those in no topic with them, float64[n_docs]."""
        if self.model.samples and self.model.samples.sizes is not None:
            return np.asarray(self.model.samples.sizes)
        return np.asarray(self.assigned.sum(axis=1), dtype=np.float64).ravel()

    @cached_property
    def assigned_words(self) -> NDArray[np.int64]:
        """Words of each document that the fit's matrix counts, int64[n_docs]."""
        return np.asarray(self.fit_matrix.counts.sum(axis=1), dtype=np.int64).ravel()

    @cached_property
    def token_weights(self) -> NDArray[np.float64]:
        """What every document counts for in shares of all: its tokens that the fit counted, or 1."""
        return document_sizes(self.model, self.fit_matrix)
