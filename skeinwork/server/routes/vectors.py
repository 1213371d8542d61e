"""Relate: words and documents as vectors, and maps of them."""

from __future__ import annotations

from typing import Annotated

from fastapi import Path, Query, Response
from pydantic import BaseModel, Field

from skeinwork.core.relate.nearest import Falling
from skeinwork.server.records import saves, streamed
from skeinwork.server.routing import Routes
from skeinwork.server.state import ViewOf
from skeinwork.work.evidence import EvidenceRequest
from skeinwork.work.exports.vector_files import map_table, word_vectors_file
from skeinwork.work.relate.map_areas import MapOf
from skeinwork.work.screens import alike_documents, map, near_words
from skeinwork.work.screens.alike_documents import AlikeOne, AlikeScreen, DocumentPair, Middle, PlacedVector
from skeinwork.work.screens.map import MapAreas, MapColours, MapPoint, MapScreen, MapWorking, OnMap
from skeinwork.work.screens.near_words import Analogy, NearToWord, NearWordsScreen, Synonyms, WordPair

router = Routes(prefix="/api/strands/{strand_id}/relate", tags=["relate"])
Word = Annotated[str, Query(min_length=1, max_length=400)]
Document = Annotated[int, Path(ge=0, le=2**31)]


@router.get("/near-words")
def get_near_words(view: ViewOf) -> NearWordsScreen:
    """What the word vectors are of."""
    return near_words.near_words(view)


@router.get("/near-words/word")
def get_near_word(view: ViewOf, term: Word) -> NearToWord:
    """The words nearest to one, and its strongest contexts."""
    return near_words.near_word(view, term)


@router.get("/near-words/pair")
def get_word_pair(view: ViewOf, term: Word, other: Word) -> WordPair:
    """What makes two words near."""
    return near_words.word_pair(view, term, other)


@router.get("/near-words/analogy")
def get_analogy(view: ViewOf, first: Word, second: Word, third: Word) -> Analogy:
    """What stands to the third word as the second does to the first."""
    return near_words.analogy(view, first, second, third)


@router.get("/near-words/synonyms")
def get_synonyms(view: ViewOf) -> Synonyms:
    """Words that are each other's nearest."""
    return near_words.synonyms(view)


@router.get("/near-words/vectors.txt", **saves("text/plain"))
def word_vectors_txt(view: ViewOf) -> Response:
    """Word vectors, a word and its numbers a line."""
    return streamed(word_vectors_file(view), "word-vectors.txt", "text/plain")


@router.get("/alike")
def get_alike_documents(view: ViewOf) -> AlikeScreen:
    """What the document vectors are of."""
    return alike_documents.alike_documents(view)


@router.get("/alike/documents/{document}")
def get_alike(view: ViewOf, document: Document) -> AlikeOne:
    """The documents nearest to one."""
    return alike_documents.alike(view, document)


@router.get("/alike/documents/{document}/{other}")
def get_document_pair(view: ViewOf, document: Document, other: Document) -> DocumentPair:
    """What makes two documents alike."""
    return alike_documents.pair(view, document, other)


class OfSelected(EvidenceRequest):
    """What is selected, how many of its first documents count, and what each weighs."""

    first: int = Field(20, ge=1, le=200)
    falling: Falling = "equal"

    def request(self) -> EvidenceRequest:
        return EvidenceRequest(**self.model_dump(exclude={"first", "falling"}))


@router.get("/alike/middle")
def get_middle(view: ViewOf, of: Annotated[OfSelected, Query()]) -> Middle:
    """The middle of the first documents of what is selected."""
    return alike_documents.middle(view, of.request(), of.first, of.falling)


class TypedVector(BaseModel):
    """A vector as text."""

    vector: str = Field(min_length=1, max_length=200_000)


@router.post("/alike/vector")
def place_vector(view: ViewOf, typed: TypedVector) -> PlacedVector:
    """The documents nearest to a vector of which there is no text."""
    return alike_documents.beside_vector(view, typed.vector)


@router.get("/maps/{of}")
def get_map(view: ViewOf, of: MapOf) -> MapScreen:
    """A map with all of its points."""
    return map.map_screen(view, of)


@router.get("/maps/{of}/colours")
def get_colours(view: ViewOf, of: MapOf, by: Annotated[str, Query(max_length=220)]) -> MapColours:
    """What the points of a map are coloured by."""
    return map.colours(view, of, by)


@router.get("/maps/{of}/areas")
def get_areas(view: ViewOf, of: MapOf) -> MapAreas:
    """Where the points of a map lie close together."""
    return map.areas(view, of)


@router.get("/maps/{of}/points/{item}")
def get_point(view: ViewOf, of: MapOf, item: Document) -> MapPoint:
    """What one point of a map is."""
    return map.point(view, of, item)


@router.get("/maps/{of}/selected")
def get_on_map(view: ViewOf, of: MapOf, selected: Annotated[EvidenceRequest, Query()]) -> OnMap:
    """What of the evidence lies on a map, and how far it can be trusted there."""
    return map.on_map(view, of, selected)


@router.get("/maps/{of}/working")
def get_map_working(view: ViewOf, of: MapOf) -> MapWorking:
    """How the trustworthiness of a map came about."""
    return map.working(view, of)


@router.get("/maps/{of}/map.csv", **saves("text/csv"))
def map_csv(view: ViewOf, of: MapOf) -> Response:
    """Coordinates of all items of a map."""
    return streamed(map_table(view, of), f"map-of-{of}.csv", "text/csv")
