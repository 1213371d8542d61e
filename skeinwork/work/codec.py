"""Core objects as arrays and documents of a stored result, and back."""

from __future__ import annotations

from dataclasses import asdict, fields
from typing import Any

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.corpus.corpus import Column, Corpus
from skeinwork.core.corpus.survey import Survey, survey
from skeinwork.core.matrix.weigh import Matrix
from skeinwork.core.text.clean import Cleaning, Survival
from skeinwork.core.text.segment import Segments
from skeinwork.core.topics.lda import TopicModel
from skeinwork.store.artefacts import Artefact

Arrays = dict[str, NDArray[Any]]
Documents = dict[str, Any]


SURVEY = tuple(each.name for each in fields(Survey))


def save_corpus(
    corpus: Corpus, known: Survey, trouble: list[Any], done: list[Any]
) -> tuple[Arrays, Documents]:
    arrays: Arrays = {
        name: getattr(corpus, name)
        for name in ("data", "pointer", "days", "precision", "lines", "sources", "numbers")
    }
    arrays |= {f"survey_{name}": getattr(known, name) for name in SURVEY}
    arrays |= {f"codes_{at}": column.codes for at, column in enumerate(corpus.columns)}
    columns = [{"name": c.name, "role": c.role, "values": c.values} for c in corpus.columns]
    documents = {"fields": columns, "names": corpus.names, "trouble": trouble, "done": done}
    return arrays, documents


def load_done(stored: Artefact) -> list[dict[str, Any]]:
    """What the operations on a corpus have done."""
    return stored.document("done") if stored.holds("done") else []


def load_survey(stored: Artefact) -> Survey:
    """The survey of a corpus, made now where an earlier version stored none."""
    if not stored.holds("survey_words"):
        return survey(load_corpus(stored))
    return Survey(**{name: stored.array(f"survey_{name}") for name in SURVEY})


def load_corpus(stored: Artefact) -> Corpus:
    columns = [
        Column(f["name"], f["role"], stored.array(f"codes_{at}"), f["values"])
        for at, f in enumerate(stored.document("fields"))
    ]
    part = stored.array
    pointer = part("pointer")
    own = np.arange(len(pointer) - 1, dtype=np.int32)
    numbers = part("numbers") if stored.holds("numbers") else own
    return Corpus(
        part("data"), pointer, columns, part("days"), part("precision"), part("lines"),
        part("sources"), numbers, stored.document("names"),
    )  # fmt: skip


def save_tokens(tokens: Segments) -> tuple[Arrays, Documents]:
    names = ("ids", "starts", "ends", "doc_ptr", "classes")
    return {name: getattr(tokens, name) for name in names}, {"types": tokens.types}


def load_tokens(stored: Artefact) -> Segments:
    part = stored.array
    return Segments(
        part("ids"), part("starts"), part("ends"), part("doc_ptr"), stored.document("types"),
        part("classes"),
    )  # fmt: skip


def save_cleaning(cleaning: Cleaning) -> tuple[Arrays, Documents]:
    names = ("removed_by", "changed_by", "form_of")
    documents = {
        "forms": cleaning.forms,
        "display": cleaning.display,
        "survivals": [asdict(each) for each in cleaning.survivals],
    }
    return {name: getattr(cleaning, name) for name in names}, documents


def load_cleaning(stored: Artefact) -> Cleaning:
    return Cleaning(
        stored.array("removed_by"), stored.array("changed_by"), stored.array("form_of"),
        stored.document("forms"), stored.document("display"),
        [Survival(**each) for each in stored.document("survivals")],
    )  # fmt: skip


def save_matrix(matrix: Matrix) -> tuple[Arrays, Documents]:
    counts = matrix.counts
    arrays: Arrays = {
        "data": counts.data, "indices": counts.indices, "indptr": counts.indptr.astype(np.int64),
        "shape": np.array(counts.shape, dtype=np.int64), "lengths": matrix.lengths,
    }  # fmt: skip
    return arrays, {"terms": matrix.terms, "display": matrix.display}


def _load_counts(stored: Artefact) -> scipy.sparse.csr_matrix:
    """The stored counts; memory-mapped, so never changed in place."""
    part = stored.array
    rows, columns = (int(n) for n in part("shape"))
    return scipy.sparse.csr_matrix(
        (part("data"), part("indices"), part("indptr")), shape=(rows, columns)
    )


def load_matrix(stored: Artefact) -> Matrix:
    counts, terms = _load_counts(stored), stored.document("terms")
    return Matrix(counts, terms, stored.document("display"), stored.array("lengths"))


def save_model(model: TopicModel) -> tuple[Arrays, Documents]:
    names = ("topic_word", "doc_topic", "draws", "alpha", "trace")
    return {name: getattr(model, name) for name in names}, {"priors": {"beta": model.beta}}


def load_model(stored: Artefact) -> TopicModel:
    part = stored.array
    return TopicModel(
        part("topic_word"), part("doc_topic"), part("draws"), part("alpha"),
        float(stored.document("priors")["beta"]), part("trace"),
    )  # fmt: skip
