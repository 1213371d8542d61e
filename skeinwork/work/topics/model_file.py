"""A fit as one open file, to place documents that it has not seen: a zip of JSON and .npy arrays.

``docs/model.md`` describes it; its schema, ``docs/model.schema.json``, is generated from ``Model``. What is read from
one is checked before anything counts with it: it may have been written by anybody.
"""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Annotated, Any, Literal

import numpy as np
import scipy
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from skeinwork import __version__
from skeinwork.core.content import ContentError, expect, expect_array
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.export import zipped
from skeinwork.core.matrix.matrix_settings import LONGEST
from skeinwork.core.matrix.new_texts import Known, known_forms
from skeinwork.core.text.clean import CleanSettings
from skeinwork.core.topics.methods import FitSettings, method_of
from skeinwork.core.topics.placing import Placed
from skeinwork.work.results import cleaning_preview
from skeinwork.work.results.view import View
from skeinwork.work.steps import CLEANING, FIT, MATRIX
from skeinwork.work.steps.step import Link

_RECORD = "model.json"
# Bytes that a file may hold unpacked: 500 topics of five million terms.
_MOST_BYTES = 20 * 2**30
Term = Annotated[str, Field(max_length=2000)]
Name = Annotated[str, Field(pattern=r"^\w{1,40}$")]


class TopicCalled(BaseModel):
    """A topic's label, empty where it has none, and the words that set it apart."""

    model_config = ConfigDict(extra="forbid")
    label: str = Field(max_length=200)
    words: str = Field(max_length=2000)


class Model(BaseModel):
    """All but the arrays.

    Attributes
    ----------
    fit : settings of the fit; clean : how its texts were cleaned
    lists : words of the saved lists that passes read, by checksum
    words : the form of every word of the corpus that has one alone, null where cleaning removed it
    terms : columns of the matrix, in their order; displays : how they are shown
    longest : words of the longest n-gram; bridge : n-grams go over removed words
    by_topic, by_term : names of further arrays of a number for each topic, and for each term
    overall : further numbers of the method's
    """

    model_config = ConfigDict(extra="forbid", title="Skeinwork model")

    skeinwork_model: Literal[1] = Field(1, description="version of this format")
    made_by: str = Field("", max_length=100)
    name: str = Field("", max_length=500)
    fit: FitSettings
    clean: CleanSettings
    lists: dict[str, list[Term]] = {}
    words: dict[Term, Term | None]
    terms: list[Term] = Field(max_length=5_000_000)
    displays: list[Term]
    longest: int = Field(1, ge=1, le=LONGEST)
    bridge: bool = False
    topics: list[TopicCalled] = Field(min_length=1, max_length=500)
    by_topic: list[Name] = Field([], max_length=20)
    by_term: list[Name] = Field([], max_length=20)
    overall: dict[Name, Annotated[float, Field(allow_inf_nan=False)]] = Field({}, max_length=20)


@dataclass(frozen=True)
class SavedFit:
    """A fit with all that it takes to place new texts.

    Attributes
    ----------
    topic_word : float64[n_topics, n_terms]
    by_topic, by_term : float64[n_topics] and float64[n_terms] each, as the method has them
    """

    model: Model
    topic_word: NDArray[np.float64]
    by_topic: Mapping[str, NDArray[np.float64]]
    by_term: Mapping[str, NDArray[np.float64]]

    @property
    def overall(self) -> Mapping[str, float]:
        """Further numbers of the method's."""
        return self.model.overall

    @property
    def known(self) -> Known:
        """What the corpus knew of words."""
        model = self.model
        return Known(
            model.clean,
            {name: frozenset(words) for name, words in model.lists.items()},
            model.words,
            {term: at for at, term in enumerate(model.terms)},
            model.longest,
            model.bridge,
        )

    def names(self) -> list[str]:
        """What to call the topics."""
        return [each.label or each.words or f"topic {k + 1}" for k, each in enumerate(self.model.topics)]

    def to_bytes(self) -> bytes:
        """The file."""
        record = self.model.model_dump(mode="json")
        parts = {_RECORD: (json.dumps(record, ensure_ascii=False, sort_keys=True) + "\n").encode("utf-8", "replace")}
        for name, array in {"topic_word": self.topic_word, **self.by_topic, **self.by_term}.items():
            npy = io.BytesIO()
            np.save(npy, np.ascontiguousarray(array), allow_pickle=False)
            parts[f"{name}.npy"] = npy.getvalue()
        return zipped(parts.items())

    def place(self, counts: scipy.sparse.csr_matrix) -> Placed:
        """Documents that it has not seen, int[n_docs, n_terms], among its topics."""
        settings = self.model.fit
        return method_of(settings).place(self, counts, settings)


def saved_fit(view: View, labels: Mapping[int, str]) -> SavedFit:
    """The view's fit; ``labels`` are those of the topics that have one."""
    settings, known, matrix = FIT.parse(view.fit_record.making.settings), known_words(view, FIT), view.fit_matrix
    method, fitted = method_of(settings), view.model
    record = Model(
        made_by=f"Skeinwork {__version__}",
        fit=settings,
        clean=known.settings,
        lists={name: sorted(words) for name, words in known.lists.items()},
        words=dict(known.forms),
        terms=list(matrix.terms),
        displays=list(matrix.display),
        longest=known.longest,
        bridge=known.bridge,
        topics=[TopicCalled(label=labels.get(k, ""), words=view.topic_words(k)) for k in range(len(fitted.topic_word))],
        by_topic=list(method.placed_by),
        by_term=list(method.weighs_by),
        overall={name: fitted.overall[name] for name in method.told_by},
    )
    return SavedFit(
        record,
        np.asarray(fitted.topic_word),
        {name: np.asarray(fitted.by_topic[name]) for name in method.placed_by},
        {name: np.asarray(fitted.by_term[name]) for name in method.weighs_by},
    )


def known_words(view: View, step: Link[Any, Any, Any]) -> Known:
    """What the corpus knew of words where a result was made."""
    record, cleaning = view.matrix_of_record(step), view.cleaning_of(step)
    settings = CLEANING.parse(view.store.open(record.making.inputs[0]).making.settings)
    counting = MATRIX.parse(record.making.settings)
    forms = view.cache.get(("forms of words", record.making.inputs[0]), lambda: known_forms(cleaning))
    lists = cleaning_preview.lists_of(view, settings)
    return Known(settings, lists, forms, view.matrix_of(step).columns, counting.longest, counting.bridge)


def read_model(path: Path) -> SavedFit:
    """The fit in a file.

    Raises
    ------
    BadInputError
        saying what is wrong with it.
    """
    try:
        with zipfile.ZipFile(path) as archive:
            inside = sum(each.file_size for each in archive.infolist())
            if inside > _MOST_BYTES:
                raise BadInputError(f"{path.name} holds over {_MOST_BYTES // 2**30} GiB, more than is read.")
            model = Model.model_validate_json(archive.read(_RECORD))
            arrays = {name: _array(archive, name) for name in ("topic_word", *model.by_topic, *model.by_term)}
    except (OSError, KeyError, zipfile.BadZipFile, EOFError) as fault:
        raise BadInputError(f"{path.name} is no saved fit: {fault}") from fault
    except ValidationError as fault:
        first = fault.errors()[0]
        where = ".".join(map(str, first["loc"]))
        raise BadInputError(f"{path.name} is no saved fit of a version known here: {where}: {first['msg']}") from fault
    except ContentError as fault:
        raise BadInputError(f"{path.name} is damaged: {fault}") from fault
    try:
        return _checked(model, arrays)
    except ContentError as fault:
        raise BadInputError(f"{path.name} is damaged: {fault}") from fault


def _array(archive: zipfile.ZipFile, name: str) -> NDArray[Any]:
    try:
        loaded = np.load(io.BytesIO(archive.read(f"{name}.npy")), allow_pickle=False)
    except (ValueError, TypeError, MemoryError, OverflowError) as fault:
        raise ContentError(f"{name} is no array") from fault
    return np.ascontiguousarray(loaded)


def _checked(model: Model, arrays: dict[str, NDArray[Any]]) -> SavedFit:
    topics, terms = len(model.topics), len(model.terms)
    words = expect_array("topic_word", arrays.pop("topic_word"), np.float64, (topics, terms), 0.0, 1.0 + 1e-9)
    expect((np.abs(words.sum(axis=1) - 1) < 1e-6).all(), "topic_word has rows that do not sum to 1")
    named = ["topic_word", *model.by_topic, *model.by_term]
    expect(len(set(named)) == len(named), "an array stands twice")
    expect(len(set(model.terms)) == terms, "a term stands twice")
    expect(len(model.displays) == terms, "the terms are not as many as what they are shown as")
    by_topic = {name: expect_array(name, arrays[name], np.float64, (topics,), 0.0) for name in model.by_topic}
    by_term = {name: expect_array(name, arrays[name], np.float64, (terms,), 0.0) for name in model.by_term}
    method = method_of(model.fit)
    as_said = topics <= model.fit.left if method.finds else topics == model.fit.left
    expect(as_said, "its topics are not as many as its settings say")
    needed = {*method.placed_by} - {*by_topic} | {*method.weighs_by} - {*by_term} | {*method.told_by} - {*model.overall}
    expect(not needed, f"{', '.join(sorted(needed))} is missing")
    return SavedFit(model, words, by_topic, by_term)
