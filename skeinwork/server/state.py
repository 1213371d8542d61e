"""What every request can reach: the store, the jobs, and strands' views kept while looked at."""

from __future__ import annotations

import logging
import threading
from typing import Annotated

from fastapi import Depends, Path, Request
from peewee import JOIN, fn

from skeinwork.core.errors import NotFoundError, SkeinworkError
from skeinwork.store.artefacts import DamagedResultError
from skeinwork.store.models import Job, Strand
from skeinwork.store.store import Store
from skeinwork.work.jobs.runner import JobRunner
from skeinwork.work.results import other_cleanings
from skeinwork.work.results.cache import Cache
from skeinwork.work.results.view import View
from skeinwork.work.screens.warm_up import warm_up
from skeinwork.work.strands import strands, topic_notes
from skeinwork.work.topics import fits
from skeinwork.work.topics.prevalence import Seeds

LOG = logging.getLogger("skeinwork.server")
VIEWS = 500 * 2**20
COMPUTED = 1000 * 2**20
# Strands that are looked over at the start; others when they are opened.
_WARMED = 5


class State:
    """The application's state; ``cache`` holds what is computed from views."""

    def __init__(self, store: Store, runner: JobRunner, upload_limit: int) -> None:
        self.store = store
        self.runner = runner
        self.upload_limit = upload_limit
        self.views = Cache(VIEWS)
        self.cache = Cache(COMPUTED)
        runner.before_done = self.warm

    def view(self, strand: Strand) -> View:
        """The view of a strand's present results, looked over."""
        key = tuple(sorted(strand.results.items()))
        view = self.views.get(key, lambda: View(self.store.artefacts, dict(key), self.cache, self.store.uploads))
        try:
            view.check()
        except DamagedResultError:
            self.views.drop(key)
            raise
        return view

    def warm(self, strand_id: int) -> None:
        """Look a strand's results over and load what its screens begin with, ahead of the first request.

        What is wrong with them is said, and mended, when they are asked for.
        """
        try:
            with self.store.connection():
                strand: Strand | None = Strand.get_or_none(Strand.id == strand_id)
                before = other_cleanings.before(strand) if strand and strand.results else None
            if strand and strand.results:
                warm_up(self.view(strand), strands.wanted(strand), before)
        except SkeinworkError:
            return
        except Exception:
            LOG.exception("strand %s", strand_id)

    def warm_all(self) -> None:
        """The same for all strands in the background, the last that a job was at work for first."""
        with self.store.connection():
            last = fn.MAX(Job.id)
            found = Strand.select(Strand.id).join(Job, JOIN.LEFT_OUTER).group_by(Strand.id).order_by(last.desc())
            numbers = [each.id for each in found][:_WARMED]

        def each() -> None:
            for number in numbers:
                self.warm(number)

        threading.Thread(target=each, daemon=True).start()


def get_state(request: Request) -> State:
    found: State = request.app.state.skeinwork
    return found


RecordNumber = Annotated[int, Path(ge=1, le=2**31 - 1)]
Identity = Annotated[str, Path(pattern="^[0-9a-f]{64}$")]
StateOf = Annotated[State, Depends(get_state)]


def find_strand(strand_id: int) -> Strand:
    """A strand by number; call inside a connection."""
    strand: Strand | None = Strand.get_or_none(Strand.id == strand_id)
    if strand is None:
        raise NotFoundError(f"There is no strand {strand_id}.")
    _ = strand.results  # while there is a connection
    return strand


def get_strand(state: StateOf, strand_id: RecordNumber) -> Strand:
    with state.store.connection():
        return find_strand(strand_id)


StrandOf = Annotated[Strand, Depends(get_strand)]


def get_view(state: StateOf, strand: StrandOf) -> View:
    return state.view(strand)


ViewOf = Annotated[View, Depends(get_view)]


def get_seeds(state: StateOf, view: ViewOf) -> Seeds:
    """Other seeds of the strand's fit whose draws count in the intervals of Track."""
    with state.store.connection():
        rows = fits.of_matrix(view.fit_record.making.inputs[0])
    return fits.seeds_let_in(view, rows)


SeedsOf = Annotated[Seeds, Depends(get_seeds)]


def get_labels(state: StateOf, strand: StrandOf) -> dict[int, str]:
    """What the analyst calls the topics of the strand's fit."""
    with state.store.connection():
        return topic_notes.labels(strand)


LabelsOf = Annotated[dict[int, str], Depends(get_labels)]
