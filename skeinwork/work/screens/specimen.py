"""The specimen: what every pass does to each token of a document."""

from __future__ import annotations

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.errors import NotFoundError
from skeinwork.core.text import clean, tokenise
from skeinwork.core.text.about import unknown
from skeinwork.core.text.clean import CleanSettings
from skeinwork.work.results import cleaning_preview, documents
from skeinwork.work.results.cleaning_preview import Tried
from skeinwork.work.results.documents import TokenSegment
from skeinwork.work.results.parts import Part, part_of
from skeinwork.work.results.view import View

_NEAR_MEDIAN = 0.15
_LOOKED_AT = 300


class SpecimenQuery(BaseModel):
    """Which document, or a text typed in; the last pass to apply."""

    model_config = ConfigDict(extra="ignore", frozen=True)

    document: int | None = Field(None, ge=0, le=2**31, description="left out: a typical one")
    text: str = Field("", max_length=20_000, description="a text typed in, in place of a document")
    part: int = Field(0, ge=0, le=10**6, description="of a long document")
    until: str = Field("", max_length=60, description="the key of a pass; those after it are off")
    quick: bool = Field(True, description="from a sample where all would take too long")


class Specimen(BaseModel):
    """A document cut at its tokens. ``sample``: the passes know only so many documents.

    ``right_to_left``: most of its letters belong to scripts that are written so.
    """

    document: int | None
    name: str
    brief: str
    language: str
    segments: list[TokenSegment]
    part: int
    parts: int
    sample: int | None
    right_to_left: bool


def typical(tried: Tried) -> int:
    """A document of about median length on which the most passes are at work."""
    tokens = tried.cleaning.tokens
    sizes = np.diff(tokens.doc_ptr)
    if not sizes.any():
        return tried.documents[0]
    median = float(np.median(sizes[sizes > 0]))
    near = np.flatnonzero(np.abs(sizes - median) <= _NEAR_MEDIAN * median)
    near = near[:: max(1, len(near) // _LOOKED_AT)]
    at_work = []
    for document in near.tolist():
        ids = tokens.ids[tried.cleaning.rows(document)]
        decided = {*tried.cleaning.removed_by[ids].tolist(), *tried.cleaning.changed_by[ids].tolist()}
        at_work.append(len(decided))
    if not at_work:
        return tried.documents[int(np.argmin(np.abs(sizes - median)))]
    return tried.documents[int(near[int(np.argmax(at_work))])]


def _of_text(view: View, settings: CleanSettings, text: str) -> Specimen:
    """A text typed in. What the corpus decides (words in capitals) is not known of it."""
    about = unknown(1)
    tokens = tokenise.tokenise([text], settings.tokenising(), about=about)
    cleaning = clean.clean(tokens, settings, about, cleaning_preview.lists_of(view, settings))
    data = text.encode("utf-8", "surrogatepass")
    whole = Part(0, 1, 0, len(data))
    segments = documents.fate_segments(cleaning, settings, 0, data, whole, about.names()[0])
    return Specimen(
        document=None,
        name="Typed in",
        brief="",
        language="",
        segments=segments,
        part=0,
        parts=1,
        sample=None,
        right_to_left=documents.right_to_left(text),
    )


def specimen(view: View, settings: CleanSettings, query: SpecimenQuery) -> Specimen:
    """One document, or a text, under passes that may not have been applied yet."""
    if query.until:
        settings = settings.until(query.until)
    if query.text.strip():
        return _of_text(view, settings, query.text)
    if not 0 <= (query.document or 0) < len(view.corpus):
        raise NotFoundError(f"There is no document {(query.document or 0) + 1}.")
    document = query.document
    if document is None:
        document = view.cached("typical", lambda: typical(cleaning_preview.quick(view, settings, 0)))
    find = cleaning_preview.quick if query.quick else _with
    tried = find(view, settings, document)
    text, at = view.corpus.text(document), tried.place(document)
    data = text.encode("utf-8", "surrogatepass")
    part = part_of(data, query.part)
    language = tried.about.languages[tried.about.language[at]]
    return Specimen(
        document=document,
        name=documents.name(view, document),
        brief=documents.brief(view, document),
        language=language,
        sample=tried.sample,
        right_to_left=documents.right_to_left(text),
        segments=documents.fate_segments(tried.cleaning, settings, at, data, part, language),
        part=part.number,
        parts=part.of,
    )


def _with(view: View, settings: CleanSettings, document: int) -> Tried:
    """The whole, or as much of it as there is, with the document."""
    found = cleaning_preview.whole(view, settings)
    return found if document in found.documents else cleaning_preview.quick(view, settings, document)
