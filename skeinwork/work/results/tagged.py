"""Texts with the part of speech of every word, for the screens."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.errors import NotFoundError
from skeinwork.core.text.about import UNSURE
from skeinwork.core.text.clean import CleanSettings
from skeinwork.core.text.tagging import NAMES, TAGS, fine, tag_segments
from skeinwork.core.text.tagging.tagger import AS_WRITTEN, Reading
from skeinwork.core.text.tokenise import TokensSettings, tokenise
from skeinwork.work.results import cleaning_preview, documents
from skeinwork.work.results.documents import Segment
from skeinwork.work.results.parts import part_of
from skeinwork.work.results.view import View


class TagQuery(BaseModel):
    """A document, or a text typed in, and how it is read."""

    model_config = ConfigDict(extra="ignore", frozen=True)

    document: int | None = Field(None, ge=0, le=2**31)
    part: int = Field(0, ge=0, le=10**6, description="of a long document")
    text: str = Field("", max_length=20_000, description="a text typed in, in place of a document")
    context: bool = Field(True, description="a tag is read from the sentence, else from the word alone")
    capitals: bool = Field(True, description="capitals tell names")


class TagName(BaseModel):
    """A tag and what it is called."""

    tag: str
    name: str


class TaggedText(BaseModel):
    """A text cut at its words; of a word ``form`` is its tag, ``by`` what is finer, ``weight`` how sure.

    ``note``: what to know of it; empty where there is nothing.
    """

    segments: list[Segment]
    tags: list[TagName]
    note: str


def part_text(text: str, number: int) -> str:
    """The text of a part of a document."""
    data = text.encode("utf-8", "surrogatepass")
    part = part_of(data, number)
    return data[part.begin : part.end].decode("utf-8", "surrogatepass")


def segments_of(text: str, settings: TokensSettings, reading: Reading = AS_WRITTEN) -> list[Segment]:
    """A text with the tag of every word; signs are left plain."""
    tokens = tokenise([text], settings)
    found = tag_segments(tokens, sure=True, reading=reading)
    words = tokens.words(0)
    tags, sure = [TAGS[tag] for tag in found.tags.tolist()], found.sure.tolist()

    def mark(at: int) -> Segment | None:
        if tags[at] == "PUNCT":
            return None
        return Segment("", "tag", form=tags[at], by=fine(words[at], tags[at]) or None, weight=round(sure[at], 4))

    data = text.encode("utf-8", "surrogatepass")
    return documents.segments(data, tokens.starts, tokens.ends, mark)


def tagged(view: View, settings: CleanSettings, query: TagQuery) -> TaggedText:
    """A document or a text with its tags."""
    text, note = query.text, ""
    if query.document is not None and not text:
        if query.document >= len(view.corpus):
            raise NotFoundError(f"There is no document {query.document + 1}.")
        text = part_text(view.corpus.text(query.document), query.part)
        about = cleaning_preview.about_of(view)
        language = about.languages[about.language[query.document]]
        if language not in ("English", UNSURE):
            note = f"This document is taken to be in {language}; the tagger knows English alone."
    segments = segments_of(text, settings.tokenising(), Reading(query.context, query.capitals))
    return TaggedText(segments=segments, tags=names_of(segments), note=note)


def names_of(segments: list[Segment]) -> list[TagName]:
    """The tags that a text has, in words."""
    used = {each.form for each in segments if each.kind == "tag"}
    return [TagName(tag=tag, name=NAMES[tag]) for tag in TAGS if tag in used]
