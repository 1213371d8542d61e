"""What routes of several parts take from a request."""

from __future__ import annotations

from typing import Annotated

from fastapi import Depends, Query

from skeinwork.core.text.query import Query as Words
from skeinwork.server.state import StateOf, ViewOf
from skeinwork.store import search
from skeinwork.work.results.finding import Ranked
from skeinwork.work.screens.documents import DocumentQuery

Offset = Annotated[int, Query(ge=0, le=2**31)]
QueryOf = Annotated[DocumentQuery, Query()]


def get_ranked(state: StateOf, view: ViewOf) -> Ranked:
    """The search index of the view's corpus."""

    def ranked(words: Words) -> list[int] | None:
        with state.store.connection():
            return search.find(view.corpus_record.identity, words)

    return ranked


RankedOf = Annotated[Ranked, Depends(get_ranked)]
