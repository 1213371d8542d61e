"""What routes of several parts have in common."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Depends, Query

from skeinwork.core.text.query import Query as Words
from skeinwork.server.state import StateOf, ViewOf
from skeinwork.store import search
from skeinwork.work.results.finding import Ranked
from skeinwork.work.screens.documents import DocumentQuery

Offset = Annotated[int, Query(ge=0, le=2**31)]
QueryOf = Annotated[DocumentQuery, Query()]


class Routes(APIRouter):
    """The routes of one subject, named in the API's description as their functions are.

    The application takes them as they are built here; to include a router would build each once more.
    """

    def __init__(self, prefix: str, tags: list[Any]) -> None:
        super().__init__(prefix=prefix, tags=tags, generate_unique_id_function=lambda route: route.name)


def get_ranked(state: StateOf, view: ViewOf) -> Ranked:
    """The search index of the view's corpus."""

    def ranked(words: Words) -> list[int] | None:
        with state.store.connection():
            return search.find(view.corpus_record.identity, words)

    return ranked


RankedOf = Annotated[Ranked, Depends(get_ranked)]
