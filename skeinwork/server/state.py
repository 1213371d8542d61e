"""What every request can reach: the store, the jobs, and strands' views kept while looked at."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from typing import Annotated, Any

from fastapi import Depends, Path, Request

from skeinwork.core.errors import SkeinworkError
from skeinwork.store.artefacts import DamagedResultError
from skeinwork.store.models import Strand
from skeinwork.store.store import Store
from skeinwork.work.cache import Cache, Kept
from skeinwork.work.jobs import JobRunner
from skeinwork.work.view import View

VIEWS = 500 * 2**20
COMPUTED = 1000 * 2**20


class NotFoundError(SkeinworkError):
    """Something that is not there, or not any more."""


class State:
    """The application's state; ``cache`` holds views and what was computed from them."""

    def __init__(self, store: Store, runner: JobRunner, upload_limit: int) -> None:
        self.store = store
        self.runner = runner
        self.upload_limit = upload_limit
        self.views = Cache(VIEWS)
        self.cache = Cache(COMPUTED)

    def view(self, strand: Strand) -> View:
        """The view of a strand's present results."""
        key = (strand.corpus, strand.cleaning, strand.matrix, strand.fit)
        view = self.views.get(key, lambda: View(self.store.artefacts, *key))
        try:
            view.check()
        except DamagedResultError:
            self.views.drop(key)
            raise
        return view


def get_state(request: Request) -> State:
    found: State = request.app.state.skeinwork
    return found


RecordNumber = Annotated[int, Path(ge=1, le=2**31 - 1)]
StateOf = Annotated[State, Depends(get_state)]


def find_strand(strand_id: int) -> Strand:
    """A strand by number; call inside a connection."""
    strand: Strand | None = Strand.get_or_none(Strand.id == strand_id)
    if strand is None:
        raise NotFoundError(f"There is no strand {strand_id}.")
    return strand


class Selected:
    """A strand, and what has been made on it."""

    def __init__(self, state: State, strand: Strand) -> None:
        self.state = state
        self.strand = strand

    @cached_property
    def view(self) -> View:
        """What the strand holds, looked over once a request."""
        return self.state.view(self.strand)

    def cached(self, name: str, make: Callable[[], Kept], *key: Any) -> Kept:
        """A value that depends on the strand's results and ``key`` alone."""
        strand = self.strand
        made_from = (strand.corpus, strand.cleaning, strand.matrix, strand.fit)
        return self.state.cache.get((name, *made_from, *key), make)


Identity = Annotated[str, Path(pattern="^[0-9a-f]{64}$")]


def get_selected(state: StateOf, strand_id: RecordNumber) -> Selected:
    with state.store.connection():
        return Selected(state, find_strand(strand_id))


SelectedStrand = Annotated[Selected, Depends(get_selected)]
