"""Fit: a topic model of a matrix, its topics by falling share, measured."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, TypeAdapter

from skeinwork.core.content import expect
from skeinwork.core.errors import BadInputError
from skeinwork.core.matrix.matrix import Matrix, term_stream
from skeinwork.core.prevalence import prevalence
from skeinwork.core.progress import Report, part_of
from skeinwork.core.relate.neighbours import unit_vectors
from skeinwork.core.relate.vector_settings import DocumentVectorsSettings
from skeinwork.core.text.clean import Cleaning
from skeinwork.core.topics import held_out, matching, merging, methods, recovery
from skeinwork.core.topics.clustered import Clustered
from skeinwork.core.topics.gain import Foretold
from skeinwork.core.topics.measures import WITH_FIT, Texts
from skeinwork.core.topics.merging import merged_model
from skeinwork.core.topics.methods import FitSettings
from skeinwork.core.topics.methods.base import Method, MethodSettings, Vectors
from skeinwork.core.topics.model import Samples, TopicModel
from skeinwork.store.artefacts import Making
from skeinwork.work.steps.cleaning import CLEANING
from skeinwork.work.steps.document_vectors import DOCUMENT_VECTORS
from skeinwork.work.steps.fitted import FitSummary, fitted_to, summary_of, topic_tokens
from skeinwork.work.steps.forming import Forming
from skeinwork.work.steps.matrix import MATRIX
from skeinwork.work.steps.step import Arrays, Documents, Earlier, Inputs, Reads, Said, Step, Stored, load
from skeinwork.work.steps.tokens import TOKENS

BYTES_A_TOKEN = 10  # of those that a matrix counts, about
_SETTINGS: TypeAdapter[Any] = TypeAdapter(FitSettings)
_FORETOLD = ("better", "tokens")
_SAMPLES = ("data", "indices", "indptr", "prior")
_CLUSTERED = ("centres", "found", "nearest", "cosine")


def own_words(stored: Stored) -> NDArray[np.float64]:
    """What the words of a fit's topics have above those of all together, float64[n_topics, n_terms]."""
    return above_all(stored, FIT.summarised(stored))


def above_all(stored: Stored, said: FitSummary) -> NDArray[np.float64]:
    """The same of any stored topics with what was said of their shares."""
    return matching.own_words(np.asarray(stored.array("topic_word")), np.array([each.mean for each in said.share]))


def members(stored: Stored) -> list[list[int]]:
    """Of each topic of a fit the topics that were merged into it; itself where none were."""
    settings = FIT.parse(stored.making.settings)
    found = merging.members_of(settings.merged, settings.topics)
    if not settings.merged:
        return found
    by_first = {each[0]: each for each in found}
    return [by_first[int(first)] for first in stored.array(f"by_topic_{merging.FIRST_OF}")]


def foretold(stored: Stored) -> Foretold | None:
    """What a fit's topics foretell of documents held out; None where that is not kept."""
    if not stored.holds("foretold_better"):
        return None
    return Foretold(*(stored.array(f"foretold_{name}") for name in _FORETOLD))


def empty_said(empty: int, topics: int) -> str:
    """How many topics stayed empty."""
    return f"{empty} of {topics} topics stayed empty: this corpus does not fill {topics}."


def nothing_left(cleaning: Cleaning, terms: int) -> str:
    """Why a matrix has nothing to fit, and where that is mended."""
    before, left = cleaning.survivals[0].tokens, cleaning.survivals[-1].tokens
    if not before:
        return "The vocabulary is empty: no document has a word. Bring in others at Gather."
    if not left:
        return (
            f"The vocabulary is empty: the passes of Clean took all {before:,} tokens. See there which "
            "takes the most, and switch it off."
        )
    return (
        f"The vocabulary is empty: {left:,} tokens are left by Clean, but pruning left "
        f"{f'{terms:,} terms in no document' if terms else 'no term'}. Loosen it at Weigh."
    )


# The share of a fit that is done when it is measured.
_MEASURED = 0.95


class FitStep(Step[MethodSettings, TopicModel, FitSummary]):
    name: ClassVar[str] = "fit"
    called: ClassVar[str] = "the fit and its labels"
    missing: ClassVar[str] = "There is no fit yet. Make one at Fit."
    choice: ClassVar[bool] = True
    goes_on: ClassVar[bool] = True
    wanted: ClassVar[str] = "fit"
    VERSION: ClassVar[int] = 1
    summary: ClassVar[type[BaseModel]] = FitSummary
    needs = (MATRIX, CLEANING, TOKENS)

    def parse(self, settings: Mapping[str, Any]) -> MethodSettings:
        parsed: MethodSettings = _SETTINGS.validate_python(settings)
        return parsed

    def parts(self, settings: MethodSettings) -> dict[str, int]:
        return {
            **methods.method_of(settings).parts(settings),
            **{each.key: each.VERSION for each in WITH_FIT.values() if each.VERSION},
            "prevalence": prevalence.VERSION,
            "held out": held_out.VERSION,
            "recovery": recovery.VERSION,
            **({"merging": merging.VERSION} if settings.merged else {}),
            **_parts_of_vectors(settings),
        }

    def seconds(self, making: Making, size: int) -> float:
        settings = self.parse(making.settings)
        whole = methods.method_of(settings).seconds(settings, size // BYTES_A_TOKEN)
        return 0.05 * whole if settings.merged else whole

    def told(self, settings: MethodSettings) -> dict[str, Any]:
        found = super().told(settings)
        if methods.method_of(settings).reads_vectors:
            found["vectors"] = DOCUMENT_VECTORS.told(vectors_of(settings))
        return found

    def course(self, making: Making) -> str:
        """That of the fit with the iterations, and what only its end heeds, of its method's defaults."""
        settings = self.parse(making.settings)
        fields = type(settings).model_fields
        usual = {name: fields[name].default for name in ("iterations", *methods.method_of(settings).finishing)}
        return self.making(making.inputs, settings.model_copy(update=usual)).identity

    def whole(self, making: Making) -> Making:
        """The fit before its topics were merged; itself where none were."""
        return self.making(making.inputs, self.parse(making.settings).model_copy(update={"merged": ()}))

    def first(self, matrix: Making, settings: MethodSettings) -> list[Making]:
        """What one with these settings is made from besides its matrix, in order; none where it begins by itself.

        The fit whose topics are merged, or the matrix and the fit that it goes on from, or the vectors that it reads.
        """
        if settings.merged:
            whole = settings.model_copy(update={"merged": ()})
            return [*self.first(matrix, whole), self.making(matrix.identity, whole)]
        if methods.method_of(settings).reads_vectors:
            return [DOCUMENT_VECTORS.making(matrix.identity, vectors_of(settings))]
        if settings.continues is None:
            return []
        wanted = MATRIX.parse(matrix.settings).model_copy(update={"split": settings.continues.split})
        part = MATRIX.making(matrix.inputs, wanted)
        alone = {"continues": None, "iterations": settings.continues.iterations}
        return [part, self.making(part.identity, settings.model_copy(update=alone))]

    def goes_on_from(self, making: Making, inputs: Inputs) -> list[Making]:
        return self.first(inputs.result(making.inputs[0]).making, self.parse(making.settings))

    def reads(self, making: Making, inputs: Inputs) -> Reads:
        """The fit that it goes on from too, with its matrix."""
        found = super().reads(making, inputs)
        found.results.extend(each.identity for each in self.goes_on_from(making, inputs))
        return found

    def compute(self, earlier: Earlier, settings: MethodSettings, report: Report) -> tuple[TopicModel, FitSummary]:
        method, matrix, cleaning = methods.method_of(settings), earlier.load(MATRIX), earlier.load(CLEANING)
        if not matrix.counts.nnz:
            raise BadInputError(nothing_left(cleaning, len(matrix.lengths)))
        texts = Texts(*term_stream(cleaning, matrix))
        if settings.merged:
            return self._merged(earlier, method, settings, matrix, texts)
        forming = Forming(method, settings, matrix, texts, part_of(report, 0, _MEASURED))
        states = earlier.inputs.states(self.course(self.making(earlier.last, settings)))
        begun, vectors = self._begun(earlier, settings, matrix), self.vectors(earlier, settings)
        model, gain = fitted_to(matrix, settings, forming, states, begun, vectors)
        report("Measuring the topics", _MEASURED)
        return model, summary_of(method, settings, model, matrix, texts, gain)

    def _merged(
        self, earlier: Earlier, method: Method[Any], settings: MethodSettings, matrix: Matrix, texts: Texts
    ) -> tuple[TopicModel, FitSummary]:
        """The fit with some topics taken together; what its trace and held-out documents said is still so."""
        if wrong := merging.trouble(settings.merged, settings.topics):
            raise BadInputError(f"Topics can't be merged: {wrong}. Choose others.")
        whole = self.first(earlier.stored(MATRIX).making, settings)[-1]
        if not earlier.inputs.has(whole.identity):
            raise BadInputError("The fit whose topics are merged is not there any more. Fit it again, then merge them.")
        stored = earlier.inputs.result(whole.identity)
        before = load(earlier.inputs, self, stored)
        model, _ = merged_model(before, settings.merged, topic_tokens(before, matrix), method.placed_by)
        said = summary_of(method, settings, model, matrix, texts, None)
        kept = self.summarised(stored)
        return model, said.model_copy(update={"gain": kept.gain, "remarks": kept.remarks})

    def _begun(self, earlier: Earlier, settings: MethodSettings, matrix: Matrix) -> TopicModel | None:
        """The topics of the fit that this one goes on from, of the terms of its own matrix."""
        found = self.first(earlier.stored(MATRIX).making, settings)
        if not found or methods.method_of(settings).reads_vectors:
            return None
        part, first = found
        if not (earlier.inputs.has(part.identity) and earlier.inputs.has(first.identity)):
            raise BadInputError(
                "The fit that this one goes on from is not there any more. Sweep that count and seed again at Choose."
            )
        begun = load(earlier.inputs, self, earlier.inputs.result(first.identity))
        terms = load(earlier.inputs, MATRIX, earlier.inputs.result(part.identity)).terms
        return begun.over_terms(matrix.columns_of(terms), len(matrix.terms))

    def vectors(self, earlier: Earlier, settings: MethodSettings) -> Vectors | None:
        """The vectors of documents that it reads, if it does."""
        if not methods.method_of(settings).reads_vectors:
            return None
        (making,) = self.first(earlier.stored(MATRIX).making, settings)
        if not earlier.inputs.has(making.identity):
            raise BadInputError("The vectors that this fit reads are not there any more. Fit it again.")
        made = load(earlier.inputs, DOCUMENT_VECTORS, earlier.inputs.result(making.identity))
        return Vectors(np.asarray(made.items), unit_vectors(made.vectors))

    def save(self, value: TopicModel) -> tuple[Arrays, Documents]:
        arrays: Arrays = {
            "topic_word": value.topic_word,
            "doc_topic": value.doc_topic,
            "trace": value.trace,
            **{f"by_topic_{name}": array for name, array in value.by_topic.items()},
            **{f"by_term_{name}": array for name, array in value.by_term.items()},
        }
        if value.samples:
            arrays |= {f"samples_{name}": getattr(value.samples, name) for name in _SAMPLES}
        if value.samples and value.samples.sizes is not None:
            arrays["samples_sizes"] = value.samples.sizes
        if value.clustered:
            arrays |= {f"clustered_{name}": getattr(value.clustered, name) for name in _CLUSTERED}
        if value.foretold:
            arrays |= {f"foretold_{name}": getattr(value.foretold, name) for name in _FORETOLD}
        by_term = {"by_term": list(value.by_term)} if value.by_term else {}
        return arrays, {"numbers": {"by_topic": list(value.by_topic), "overall": value.overall, **by_term}}

    def load(self, stored: Stored, earlier: Earlier) -> TopicModel:
        part = stored.array
        if not stored.holds("numbers"):  # of the first version
            return TopicModel(part("topic_word"), part("doc_topic"), None, part("trace"))
        numbers = stored.document("numbers")
        samples = Samples(*(part(f"samples_{name}") for name in _SAMPLES)) if stored.holds("samples_data") else None
        if samples and stored.holds("samples_sizes"):
            samples = replace(samples, sizes=part("samples_sizes"))
        return TopicModel(
            part("topic_word"),
            part("doc_topic"),
            samples,
            part("trace"),
            {name: part(f"by_topic_{name}") for name in numbers["by_topic"]},
            numbers["overall"],
            {name: part(f"by_term_{name}") for name in numbers.get("by_term", [])},
            foretold(stored),
            Clustered(*(part(f"clustered_{name}") for name in _CLUSTERED)) if stored.holds("clustered_found") else None,
        )

    def check(self, stored: Stored, earlier: Earlier) -> FitSummary:
        matrix, model = earlier.load(MATRIX), self.load(stored, earlier)
        counted = np.asarray(matrix.counts.sum(axis=1, dtype=np.int64)).ravel()
        model.check(counted, len(matrix.terms))
        settings, said = self.parse(stored.making.settings), self.summarised(stored)
        topics = len(model.topic_word)
        finds = methods.method_of(settings).finds
        expect(not merging.trouble(settings.merged, settings.topics), "its topics can't have been merged so")
        expect((topics <= settings.left if finds else topics == settings.left), "its topics are not as many as wanted")
        expect(topics == said.topics, "its topics are not as many as it says")
        expect((model.clustered is not None) == finds, "it has centres, or none")
        expect(len(said.npmi) == len(said.share) == topics, "its summary is of other topics")
        expect(all(0 <= k < topics for k in said.empty), "its summary is of other topics")
        return said

    def doubt(self, settings: MethodSettings, summary: FitSummary) -> str:
        return "" if summary.verdict == "level" else summary.verdict

    def said(self, settings: MethodSettings, summary: FitSummary) -> Said:
        """The method with its topics, and the seed."""
        method = methods.method_of(settings)
        name, size = method.said(settings)
        name = f"{method.title} {summary.topics}" if method.finds else name
        return Said(name=f"{name}, merged to {settings.left}" if settings.merged else name, size=size)


FIT = FitStep()


def _parts_of_vectors(settings: MethodSettings) -> dict[str, int]:
    if not methods.method_of(settings).reads_vectors:
        return {}
    return {"document vectors": DOCUMENT_VECTORS.VERSION, **DOCUMENT_VECTORS.parts(vectors_of(settings))}


def vectors_of(settings: MethodSettings) -> DocumentVectorsSettings:
    """How the vectors are made that a method reads."""
    found: DocumentVectorsSettings = settings.vectors  # type: ignore[attr-defined]
    return found
