"""Relate: what can be chosen before anything is made, and why it is suggested."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel

from skeinwork.core.matrix.weighting import SCHEMES, Weighting
from skeinwork.core.relate.distances import DISTANCES
from skeinwork.core.relate.linkage import LINKAGES
from skeinwork.work import steps
from skeinwork.work.results.view import View
from skeinwork.work.screens.alike_documents import fields_of_vectors
from skeinwork.work.steps.step import count, counted, plain
from skeinwork.work.topics.breakdowns import group_fields, suggested, suggested_period, unit_fields

# Words of which a tree can be read without folding much.
_READABLE = 300
# Numbers of a vector: more tell words apart that are used alike.
_DIMENSIONS = 100
# Documents above which a preview is offered.
_MANY = 5000


class Choice(BaseModel):
    """One way among several, with what it does in a line."""

    name: str
    title: str
    about: str


class NamedWeighting(BaseModel):
    name: str
    weighting: Weighting


class RelateChoices(BaseModel):
    """What there is to choose from; ``suggested`` are settings by step, ``why`` the reason for each.

    ``vector_fields`` are those of the files that hold vectors, ``naming_fields`` those whose values name one document.
    """

    distances: list[Choice]
    linkages: list[Choice]
    weightings: list[NamedWeighting]
    fields: list[str]
    units: list[str]
    periods: list[str]
    vector_fields: list[str]
    naming_fields: list[str]
    terms: int
    documents: int
    preview: int
    suggested: dict[str, dict[str, Any]]
    why: dict[str, str]


def choices(view: View) -> RelateChoices:
    """The choices for the strand's documents and terms."""
    counts = view.matrix.counts
    documents, terms = counts.shape
    fields, period = group_fields(view), suggested_period(view)
    # What is suggested for tracking is so by topics, of which there may be none yet.
    tracked = view.cached("suggested", lambda: suggested(view)).group if view.identity(steps.FIT) else None
    field = tracked or next(iter(fields), None)
    author = next((c.name for c in view.corpus.columns if c.role in ("author", "source")), None)
    by: dict[str, Any] = {"field": field} if field else {"period": period} if period else {}
    unit = {"unit": author} if author and author != field and author in unit_fields(view) else {}
    most = max(3, min(_READABLE, terms))
    of_words, of_documents = (max(2, min(_DIMENSIONS, each // 4)) for each in (terms, min(documents, terms)))
    supplied = fields_of_vectors(view)
    settings: dict[str, dict[str, Any]] = {
        steps.TREE.name: {"most": most},
        steps.GROUPS.name: {},
        steps.GROUP_COUNTS.name: {"most": max(3, min(20, documents // 10))},
        steps.GROUP_WORDS.name: {**by, **unit},
        steps.WORD_VECTORS.name: {"dimensions": of_words},
        steps.DOCUMENT_VECTORS.name: {"dimensions": of_documents}
        | ({"of": "field", "field": supplied[0]} if supplied else {}),
        **{each.name: {} for each in steps.MAPS},
    }
    return RelateChoices(
        distances=[Choice(name=key, title=each.title, about=each.about) for key, each in DISTANCES.items()],
        linkages=[Choice(name=key, title=each.title, about=each.about) for key, each in LINKAGES.items()],
        weightings=[NamedWeighting(name=name, weighting=each) for name, each in SCHEMES.items()],
        fields=fields,
        units=unit_fields(view),
        periods=[period] if period else [],
        vector_fields=supplied,
        naming_fields=[c.name for c in view.corpus.columns if len(c.values) == documents],
        terms=terms,
        documents=documents,
        preview=2000 if documents > _MANY else 0,
        suggested={name: plain(steps.beside(name).parse(given)) for name, given in settings.items()},
        why={
            steps.TREE.name: f"the {count(most)} heaviest of {counted(terms, 'term')}, folded below the cut",
            steps.GROUPS.name: "“1 + log tf, idf, L2”: no document counts for its length, words that all share little",
            steps.GROUP_WORDS.name: (
                f"{author} says who wrote or gave a document, and those of one may not be independent"
                if unit
                else "no field names an author or a source, so each document counts by itself"
            ),
            steps.WORD_VECTORS.name: f"{of_words} numbers: a fourth of {counted(terms, 'term')}, {_DIMENSIONS} at most",
            steps.DOCUMENT_VECTORS.name: (
                f"the field “{supplied[0]}” has the role vector"
                if supplied
                else f"{of_documents} numbers: a fourth of {counted(min(documents, terms), 'row')} or columns, "
                f"{_DIMENSIONS} at most"
            ),
        },
    )
