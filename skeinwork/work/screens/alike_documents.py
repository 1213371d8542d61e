"""Relate, alike documents: what vectors they have, which are alike one and by which terms, what is near a middle."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.corpus.gather import vector_fields
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.vectors import BadVector
from skeinwork.core.relate.nearest import Falling, rank_weights, strongest
from skeinwork.core.relate.vector_settings import DocumentVectorsSettings
from skeinwork.core.working import Line
from skeinwork.work import evidence
from skeinwork.work.evidence import EvidenceRequest
from skeinwork.work.relate.nearness import (
    document_place,
    document_settings,
    near_direction,
    near_document,
    term_parts,
    typed_vector,
    unit_documents,
)
from skeinwork.work.results import documents
from skeinwork.work.results.view import View
from skeinwork.work.screens.working import cosine_line, sum_in_numbers
from skeinwork.work.steps import CORPUS, DOCUMENT_VECTORS
from skeinwork.work.steps.corpus import base_of
from skeinwork.work.steps.step import OnDisk, count, counted

_NEAREST = 25
_TERMS = 20
_MOST_BAD = 200


class BadRow(BaseModel):
    """A supplied vector that can't be read: the document as brought in, from 1, its name where it is there, and why."""

    number: int
    name: str
    reason: str


class AlikeScreen(BaseModel):
    """Document vectors as they are; ``begin`` is a document to begin with."""

    settings: DocumentVectorsSettings
    says: str
    documents: int
    without: int
    dimensions: int
    bad: list[BadRow]
    bad_rows: int
    begin: int


def alike_documents(view: View) -> AlikeScreen:
    """What the document vectors are of."""
    made, settings = view.value(DOCUMENT_VECTORS), document_settings(view)
    sizes = view.lengths[made.items]
    middle = int(made.items[np.argsort(sizes, kind="stable")[len(sizes) // 2]])
    return AlikeScreen(
        settings=settings,
        says=_says(view, settings),
        documents=len(made.items),
        without=len(view.corpus) - len(made.items),
        dimensions=made.vectors.shape[1],
        bad=[_bad(view, each) for each in made.bad[:_MOST_BAD]],
        bad_rows=len(made.bad),
        begin=middle,
    )


def _says(view: View, settings: DocumentVectorsSettings) -> str:
    made = view.value(DOCUMENT_VECTORS)
    of = {
        "terms": f"{settings.weighting.in_words()}, in its {made.vectors.shape[1]} leading directions",
        "words": "the mean of the vectors of its words, each by its weight",
        "field": f"as they stand in the field “{settings.field}”",
        "file": f"as they stand in {settings.file.name if settings.file else ''}",
    }
    return f"{counted(len(made.items), 'document')} as {made.vectors.shape[1]} numbers each: {of[settings.of]}"


def _bad(view: View, each: BadVector) -> BadRow:
    at = np.flatnonzero(view.corpus.numbers == each.at)
    name = documents.name(view, int(at[0])) if len(at) else ""
    return BadRow(number=each.at + 1, name=name, reason=each.reason)


def fields_of_vectors(view: View) -> list[str]:
    """Fields of the files with the role vector."""
    base = base_of(OnDisk(view.store), view.corpus_record.identity)
    return vector_fields(CORPUS.parse(view.store.open(base).making.settings))


class AlikeDocument(BaseModel):
    """A document with its cosine to what was asked for, and the terms that both have."""

    document: int
    name: str
    brief: str
    cosine: float
    shares: list[str]


class AlikeOne(BaseModel):
    """Documents alike one, the nearest first."""

    document: int
    name: str
    nearest: list[AlikeDocument]


def alike(view: View, document: int) -> AlikeOne:
    """The documents nearest to one, with the terms that they share."""
    cosine = near_document(view, document)
    cosine[document] = -2.0
    nearest = [_alike(view, at, float(cosine[at]), _shared(view, document, at)) for at in _best(cosine)]
    return AlikeOne(document=document, name=documents.name(view, document), nearest=nearest)


def _best(cosine: NDArray[np.float64]) -> list[int]:
    return [at for at in np.argsort(-cosine, kind="stable")[:_NEAREST].tolist() if cosine[at] > -1.0]


def _alike(view: View, at: int, cosine: float, shares: list[str]) -> AlikeDocument:
    return AlikeDocument(
        document=at, name=documents.name(view, at), brief=documents.brief(view, at), cosine=cosine, shares=shares
    )


def _shared(view: View, one: int, other: int, most: int = 4) -> list[str]:
    parts, display = term_parts(view, one, other), view.matrix_of(DOCUMENT_VECTORS).display
    return [display[at] for at in strongest(parts, most)]


class SharedTerm(BaseModel):
    """A term of both documents, and what it adds to the cosine of their weights."""

    term: str
    display: str
    adds: float


class DocumentPair(BaseModel):
    """Why two documents are alike: their cosine worked out, and the terms that they share."""

    one: str
    other: str
    lines: list[Line]
    shared: list[SharedTerm]
    shared_terms: int


def pair(view: View, one: int, other: int) -> DocumentPair:
    """What makes two documents alike."""
    places = [document_place(view, each) for each in (one, other)]
    vectors = view.value(DOCUMENT_VECTORS).vectors
    parts, matrix = term_parts(view, one, other), view.matrix_of(DOCUMENT_VECTORS)
    weights = document_settings(view).weighting.in_words()
    return DocumentPair(
        one=documents.name(view, one),
        other=documents.name(view, other),
        lines=[
            cosine_line(*(vectors[at].astype(np.float64) for at in places)),
            Line(
                name="cosine of their weights",
                formula=f"Σ w v / (|w| |v|), over terms of both; weighed by {weights}",
                numbers=sum_in_numbers(parts, "term"),
                value=float(parts.sum()),
            ),
        ],
        shared=[
            SharedTerm(term=matrix.terms[at], display=matrix.display[at], adds=float(parts[at]))
            for at in strongest(parts, _TERMS)
        ],
        shared_terms=int((parts > 0).sum()),
    )


class Middle(BaseModel):
    """Documents that a middle is of, with what each weighs, and the request for those near it."""

    title: str
    documents: list[int]
    names: list[str]
    weights: list[float]
    total: int
    request: EvidenceRequest


def middle(view: View, selected: EvidenceRequest, first: int, weights: Falling) -> Middle:
    """The middle of the first documents of what is selected."""
    found = evidence.find(view, selected)
    made = view.value(DOCUMENT_VECTORS)
    members = found.documents[np.isin(found.documents, made.items)][:first].tolist()
    if not members:
        raise BadInputError("None of what is selected has a vector, so it has no middle. Select other documents.")
    return Middle(
        title=evidence.title(view, selected, {}),
        documents=members,
        names=[documents.name(view, at) for at in members],
        weights=rank_weights(len(members), weights).tolist(),
        total=len(found.documents),
        request=EvidenceRequest.model_validate({"centre": ".".join(map(str, members)), "centre_weights": weights}),
    )


class PlacedVector(BaseModel):
    """A vector that was typed or brought in, beside the documents."""

    dimensions: int
    nearest: list[AlikeDocument]
    says: str


def beside_vector(view: View, written: str) -> PlacedVector:
    """The documents nearest to a vector.

    Raises
    ------
    BadInputError
        where it can't be read, or has not as many numbers as theirs.
    """
    vector = typed_vector(written)
    cosine = near_direction(view, vector.astype(np.float64))
    nearest = [_alike(view, at, float(cosine[at]), []) for at in _best(cosine)]
    own = unit_documents(view)
    said = f"of {count(len(own))} documents, the nearest has a cosine of {max(cosine.max(), -1.0):.2f} with it"
    return PlacedVector(dimensions=len(vector), nearest=nearest, says=said)
