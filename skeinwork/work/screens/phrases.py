"""Phrases of the corpus with their measures; ticked ones become terms in the pass Multiword terms."""

from __future__ import annotations

from collections.abc import Iterator

from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.formats.export import to_csv
from skeinwork.core.formats.word_list import check_word
from skeinwork.core.text import stopwords
from skeinwork.core.text.phrase_measures import Measure
from skeinwork.core.text.phrases import Phrase, find_phrases, ordered, suggested_least
from skeinwork.core.text.tagging import tag_segments
from skeinwork.core.text.variants import as_cell, from_cell
from skeinwork.work.results import cleaning_preview
from skeinwork.work.results.view import View
from skeinwork.work.steps.step import count
from skeinwork.work.strands.tables import TableText, table_rows

_SHOWN = 200
_COLUMNS = ["phrase", "tokens", "documents", "npmi", "pmi", "g2", "t", "c_value", "variants"]


class PhraseQuery(BaseModel):
    """Which runs of words, and by what they are ordered."""

    model_config = ConfigDict(extra="ignore", frozen=True)

    least: int | None = Field(None, ge=2, le=1_000_000, description="tokens; by the corpus where left out")
    longest: int = Field(4, ge=2, le=6, description="words")
    inside: bool = Field(False, description="function words may stand inside")
    nouns: bool = Field(False, description="noun phrases alone, by their parts of speech (English)")
    by: Measure = "g2"


class Phrases(BaseModel):
    """``least``: the tokens that a phrase needed, ``why`` so many where they were not given."""

    phrases: list[Phrase]
    total: int
    least: int
    why: str


def _found(view: View, query: PhraseQuery) -> tuple[list[Phrase], int]:
    """In the order that is asked for, with the tokens that a phrase needed."""
    tokens = view.tokens
    least = query.least or suggested_least(len(tokens.ids))
    about = cleaning_preview.about_of(view)
    spoken = {about.languages[at] for at in set(about.language.tolist())}
    stop = frozenset[str]().union(
        *(stopwords.words_of(each) for each in sorted(spoken & set(stopwords.languages()))),
        stopwords.words_of("English"),
    )
    tags = view.cached("tags", lambda: tag_segments(tokens).tags) if query.nouns else None
    found = view.cached(
        "phrases",
        lambda: find_phrases(tokens, stop, least, query.longest, query.inside, tags),
        least,
        query.longest,
        query.inside,
        query.nouns,
    )
    return ordered(found, query.by), least


def phrases(view: View, query: PhraseQuery) -> Phrases:
    """The phrases that hold together most."""
    found, least = _found(view, query)
    why = "" if query.least else f"three in a million of {count(len(view.tokens.ids))} tokens, and five at least"
    return Phrases(phrases=found[:_SHOWN], total=len(found), least=least, why=why)


def cells(found: list[Phrase]) -> Iterator[list[object]]:
    for each in found:
        measures = [round(getattr(each, name), 6) for name in _COLUMNS[3:8]]
        yield [each.words, each.tokens, each.documents, *measures, as_cell(each.variants)]


def as_table(found: list[Phrase]) -> bytes:
    """Phrases as CSV."""
    return to_csv(_COLUMNS, cells(found))


class PhrasesRead(BaseModel):
    """The terms that a table of phrases makes, for the pass Multiword terms."""

    terms: list[str]


def read_phrases(given: TableText) -> PhrasesRead:
    """Each row a term, its variants with it."""
    terms: list[str] = []
    for line, row in table_rows(given.text, "phrase"):
        phrase = row.get("phrase", "").strip()
        check_word(phrase, f"Line {line} of the table")
        others = [each for each in from_cell(row.get("variants", "")) if each != phrase]
        terms += [phrase, *(f"{each} = {phrase}" for each in others)] if phrase else []
    return PhrasesRead(terms=list(dict.fromkeys(terms)))


def phrases_table(view: View, query: PhraseQuery) -> bytes:
    """All phrases of a corpus as CSV."""
    return as_table(_found(view, query)[0])
