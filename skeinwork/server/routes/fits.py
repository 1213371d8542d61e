"""Fit and Choose: start fits and sweeps, compare what they gave, take one."""

from __future__ import annotations

from functools import partial
from typing import Any

import numpy as np
from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.errors import BadInputError
from skeinwork.core.topics import choose, matching, words
from skeinwork.core.topics.methods import METHODS, FitSettings, method_of
from skeinwork.core.topics.methods.base import MethodSettings, Verdict
from skeinwork.server.records import Made, fields_of
from skeinwork.server.routes.skeins import StrandRecord, describe
from skeinwork.server.state import Identity, NotFoundError, Selected, SelectedStrand, State, StateOf
from skeinwork.store.artefacts import DamagedResultError
from skeinwork.store.models import Result
from skeinwork.work import strands
from skeinwork.work.jobs import SweepRequest
from skeinwork.work.steps import FIT, MATRIX
from skeinwork.work.steps.fit import FitSummary
from skeinwork.work.steps.step import Said, load

router = APIRouter(prefix="/api/strands/{strand_id}", tags=["fit"])


class MadeFit(BaseModel):
    """One fit of the strand's matrix with its measures."""

    identity: str
    settings: FitSettings
    coherence: float
    exclusivity: float
    stability: float | None
    watched: float
    verdict: Verdict
    said: Said
    seconds: float
    current: bool


class FitList(BaseModel):
    fits: list[MadeFit]
    suggestion: str | None
    suggested: int | None
    candidates: list[int]
    usable: int


def topic_words(state: State, identity: str) -> np.ndarray[Any, Any]:
    return state.cache.get(
        ("topic words", identity),
        lambda: np.array(state.store.artefacts.open(identity).array("topic_word")),
    )


def readable(state: State, identities: list[str]) -> list[str]:
    """Those fits whose topics can be read; the files of damaged ones are removed."""
    artefacts, found = state.store.artefacts, []
    for identity in identities:
        try:
            artefacts.open(identity).array("topic_word")
            found.append(identity)
        except DamagedResultError:
            artefacts.set_aside(identity)
    return found


def _agreement(state: State, identities: list[str]) -> Any:
    return matching.stability([topic_words(state, each) for each in identities])


def _stability(state: State, rows: list[Result]) -> dict[str, float]:
    """Agreement of each fit with those of other seeds at the same count and settings."""
    alike: dict[Any, list[str]] = {}
    for row in rows:
        settings = {k: v for k, v in row.settings.items() if k != "seed"}
        alike.setdefault(tuple(sorted(settings.items(), key=str)), []).append(row.identity)
    found: dict[str, float] = {}
    for identities in alike.values():
        if len(identities) > 1:
            key = ("stability", *sorted(identities))
            members = sorted(identities)
            values = state.cache.get(key, partial(_agreement, state, members))
            found |= dict(zip(members, map(float, values), strict=True))
    return found


@router.get("/fits")
def list_fits(state: StateOf, chosen: SelectedStrand) -> FitList:
    """All fits of the present matrix, and a suggestion from them."""
    strand = chosen.strand
    with state.store.connection():
        rows = list(
            Result.select().where((Result.step == "fit") & (Result.parent == strand.matrix))
        ) if strand.matrix else []  # fmt: skip
    whole = set(readable(state, [row.identity for row in rows]))
    rows = [row for row in rows if row.identity in whole or row.identity == strand.fit]
    steady = _stability(state, [row for row in rows if row.identity in whole])
    made = {row.identity: FitSummary.model_validate(row.summary) for row in rows}
    parsed = {row.identity: FIT.parse(row.settings) for row in rows}
    fits = [
        MadeFit(
            identity=row.identity, settings=parsed[row.identity],
            coherence=made[row.identity].coherence, exclusivity=made[row.identity].exclusivity,
            stability=steady.get(row.identity), watched=made[row.identity].watched,
            verdict=made[row.identity].verdict, seconds=row.seconds,
            said=FIT.said(parsed[row.identity], made[row.identity]),
            current=row.identity == strand.fit,
        )
        for row in rows
    ]  # fmt: skip
    fits.sort(key=lambda fit: (fit.settings.topics, fit.settings.seed, fit.settings.iterations))
    coherent: dict[int, list[list[float]]] = {}
    stable: dict[int, list[float]] = {}
    for fit in fits:
        coherent.setdefault(fit.settings.topics, []).append(made[fit.identity].npmi)
        if fit.stability is not None:
            stable.setdefault(fit.settings.topics, []).append(fit.stability)
    suggestion = choose.suggest(coherent, stable) if len(coherent) > 1 else None
    matrix = state.store.artefacts.open(strand.matrix) if strand.matrix else None
    counted = MATRIX.summarised(matrix) if matrix else None
    return FitList(
        fits=fits, suggestion=suggestion.reason if suggestion else None,
        suggested=suggestion.topics if suggestion else None,
        candidates=suggestion.candidates if suggestion else [],
        usable=counted.documents - counted.emptied if counted else 0,
    )  # fmt: skip


class MethodKind(BaseModel):
    """A topic method: what it is called, what it is, and the schema of its settings."""

    method: str
    title: str
    about: str
    fields: dict[str, Any]


@router.get("/methods")
def list_methods(chosen: SelectedStrand) -> list[MethodKind]:
    """The topic methods there are."""
    return [
        MethodKind(method=each.name, title=each.title, about=each.about,
                   fields=fields_of(each.settings, frozenset({"method"})))
        for each in METHODS.values()
    ]  # fmt: skip


class FitDetail(BaseModel):
    """How a fit went: its trace and its topics' words."""

    identity: str
    settings: FitSettings
    watches: list[str]
    trace: list[list[float]]
    top: list[list[str]]
    said: Said
    summary: FitSummary


@router.get("/fits/{identity}")
def get_fit(state: StateOf, chosen: SelectedStrand, identity: Identity) -> FitDetail:
    """One fit in detail."""
    artefacts = state.store.artefacts
    if not artefacts.has(identity) or artefacts.open(identity).making.step != "fit":
        raise NotFoundError("That fit does not exist any more.")
    stored = artefacts.open(identity)
    model = load(artefacts, FIT, stored)
    display = load(artefacts, MATRIX, artefacts.open(stored.making.inputs[0])).display
    settings, summary = FIT.parse(stored.making.settings), FIT.summarised(stored)
    return FitDetail(
        identity=identity, settings=settings, watches=list(method_of(settings).watches),
        trace=model.trace.tolist(), said=FIT.said(settings, summary), summary=summary,
        top=[[display[t] for t in row] for row in words.top_words(np.asarray(model.topic_word), 8)],
    )  # fmt: skip


@router.post("/fits", status_code=202)
def start_fit(state: StateOf, chosen: SelectedStrand, settings: FitSettings) -> Made:
    """Fit one model in a job, and put it on the strand."""
    _check(chosen, settings, [settings.topics])
    with state.store.connection():
        title = f"Fit {', '.join(method_of(settings).said(settings))}"
        job = state.runner.start("fit", chosen.strand, settings, title)
    return Made(strand=chosen.strand.id, job=job.id)


def _check(chosen: Selected, settings: MethodSettings, counts: list[int]) -> None:
    """Refuse at once what the fits would refuse later."""
    view = chosen.view
    if view.matrix_id and strands.standing(chosen.state.store, chosen.strand)["matrix"] == "ready":
        for count in counts:
            each = settings.model_copy(update={"topics": count})
            method_of(settings).check(view.matrix.counts, each)


@router.post("/sweeps", status_code=202)
def start_sweep(state: StateOf, chosen: SelectedStrand, request: SweepRequest) -> Made:
    """Fit models over topic counts and seeds in a job."""
    if any(not 2 <= count <= 500 for count in request.counts):
        raise BadInputError("Topic counts go from 2 to 500.")
    if len(set(request.counts)) * len(set(request.seeds)) > 500:
        raise BadInputError("A sweep has at most 500 fits. Ask for fewer counts or seeds.")
    _check(chosen, strands.wanted(chosen.strand).fit, [max(request.counts)])
    with state.store.connection():
        title = f"Sweep {len(set(request.counts))} counts × {len(set(request.seeds))} seeds"
        job = state.runner.start("sweep", chosen.strand, request, title)
    return Made(strand=chosen.strand.id, job=job.id)


class Take(BaseModel):
    model_config = ConfigDict(extra="forbid")
    fit: str = Field(pattern="^[0-9a-f]{64}$")


@router.post("/take")
def take(state: StateOf, chosen: SelectedStrand, choice: Take) -> StrandRecord:
    """Put a fit on the strand; labels follow the matched topics."""
    if not state.store.artefacts.has(choice.fit):
        raise NotFoundError("That fit does not exist any more.")
    if state.store.artefacts.ancestor(choice.fit, "corpus").identity != chosen.strand.corpus:
        raise BadInputError("That fit was made from other documents.")
    with state.store.connection():
        strands.take_fit(state.store, chosen.strand, choice.fit)
        return describe(state, chosen.strand)
