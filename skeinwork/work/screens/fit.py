"""Fit: the methods there are, and how one fit went."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import numpy as np
from pydantic import BaseModel

from skeinwork.core.errors import BadInputError
from skeinwork.core.said import signed
from skeinwork.core.topics import words
from skeinwork.core.topics.advice import Advice
from skeinwork.core.topics.held_out import training_part
from skeinwork.core.topics.methods import METHODS, FitSettings, method_of
from skeinwork.core.topics.methods.base import MOST_ITERATIONS, Method, MethodSettings, Watched
from skeinwork.store.artefacts import Artefact
from skeinwork.store.models import Result
from skeinwork.work.results.view import View
from skeinwork.work.screens.survivors import emptied_said
from skeinwork.work.steps import FIT, MATRIX
from skeinwork.work.steps.fit import empty_said, nothing_left
from skeinwork.work.steps.fitted import FitSummary
from skeinwork.work.steps.step import OnDisk, Said, count, load
from skeinwork.work.strands.schemas import fields_of
from skeinwork.work.topics import fits
from skeinwork.work.topics.fits import Poorer


class MethodKind(BaseModel):
    """A topic method: what it is called and is, the schema of its settings, what to begin with and to sweep over.

    ``finds`` where it says itself how many topics there are; ``reads_vectors`` by its setting ``vectors``.
    """

    method: str
    title: str
    about: str
    fields: dict[str, Any]
    suggested: FitSettings
    reads_vectors: bool
    finds: bool
    sweeps: list[str]


def methods() -> list[MethodKind]:
    """The topic methods there are."""
    return [
        MethodKind(
            method=each.name,
            title=each.title,
            about=each.about,
            fields=fields_of(each.settings, frozenset({"method", "continues", "merged", "vectors"})),
            suggested=each.settings.model_validate({}),
            reads_vectors=each.reads_vectors,
            finds=each.finds,
            sweeps=[name for name in each.sweeps if name != "topics"],
        )
        for each in METHODS.values()
    ]


class GoingOn(BaseModel):
    """That a fit can go on: after how many iterations its last state is, 0 where none is kept, and up to how many
    it would go; fewer than ``least`` begin anew, since their samples come from before that state."""

    reached: int
    least: int
    suggested: int


class FitDetail(BaseModel):
    """How a fit went: its trace and its topics' words, and what to say of it in sentences."""

    identity: str
    settings: FitSettings
    watches: list[Watched]
    trace: list[list[float]]
    top: list[list[str]]
    said: Said
    summary: FitSummary
    judged: list[str]
    poorer: Poorer | None
    going_on: GoingOn | None


def _going_on(view: View, stored: Artefact, settings: MethodSettings) -> GoingOn | None:
    """Twice the iterations: a trend over the last half is then seen over the half that is new.

    None for a fit that stopped by itself.
    """
    if method_of(settings).stops and FIT.summarised(stored).verdict == "level":
        return None
    reached = view.store.states(FIT.course(stored.making)).iterations()
    least = method_of(settings).least_to_go_on(reached)
    return GoingOn(reached=reached, least=least, suggested=min(max(2 * settings.iterations, least), MOST_ITERATIONS))


def _judged(
    summary: FitSummary, method: Method[Any], held: int, seeds: int, behind: bool, seeded: bool = True
) -> list[str]:
    """What the trace, other seeds, the empty topics and the words of other documents say, in sentences.

    ``held`` documents were held out at Weigh. There are fits of ``seeds`` other seeds, to one of which
    this one is ``behind``; ``seeded`` where they can differ.
    """
    change = None
    if (found := summary.change) and found.low is not None and found.high is not None:
        change = found.mean, found.low, found.high
    said = [method.judged(summary.verdict, change)]
    if not seeded:
        said.append("Every seed makes the same fit: its start holds no chance")
    elif not seeds:
        said.append("Whether another seed comes further is not known: none was fitted")
    elif not behind:
        said.append(f"No other seed of {seeds} is likelier by {method.poorer} {method.watches[0].unit} or more")
    if summary.empty:
        said.append(empty_said(len(summary.empty), summary.topics).rstrip("."))
    if summary.gain and summary.gain.low is not None:
        better = "better" if summary.gain.low > 0 else "not clearly better"
        others = f"the {count(held)} documents held out at Weigh" if held else "documents held out"
        said.append(
            f"It foretells words of {others} {better} than one topic for all: by "
            f"{signed(summary.gain.mean)} nats a token ({signed(summary.gain.low)} to "
            f"{signed(summary.gain.high or 0.0)})"
        )
    return [f"{each}." for each in said]


def detail(view: View, identity: str, rows: Iterable[Result]) -> FitDetail:
    """One fit in detail, whether or not it is the view's; ``rows`` are the fits of its matrix."""
    stored, inputs = fits.open_fit(view, identity), OnDisk(view.store)
    model = load(inputs, FIT, stored)
    matrix = view.store.open(stored.making.inputs[0])
    display, held = load(inputs, MATRIX, matrix).display, MATRIX.summarised(matrix).held_out
    settings, summary = FIT.parse(stored.making.settings), FIT.summarised(stored)
    there = fits.distinct(view, rows)
    others, behind = fits.of_other_seeds(there, stored.making.settings), fits.poorer(there).get(identity)
    return FitDetail(
        identity=identity,
        settings=settings,
        watches=list(method_of(settings).watches),
        trace=model.trace.tolist(),
        said=FIT.said(settings, summary),
        summary=summary,
        judged=_judged(
            summary, method_of(settings), held, len(others), behind is not None, method_of(settings).seeded(settings)
        ),
        poorer=behind,
        going_on=_going_on(view, stored, settings),
        top=[[display[t] for t in row] for row in words.top_words(np.asarray(model.topic_word), 8)],
    )


def _read(view: View, settings: MethodSettings) -> tuple[Any, dict[str, int]]:
    """The counts that a fit reads, int[n_docs, n_terms] without documents held out, and the columns of its terms."""
    if not view.matrix.counts.nnz:
        if taken := emptied_said(view.clean_settings, view.cleaning):
            raise BadInputError(f"The vocabulary is empty. {taken}")
        raise BadInputError(nothing_left(view.cleaning, len(view.matrix.terms)))
    read = method_of(settings).reads(settings, view.matrix.lengths)
    counts = view.matrix.counts[:, read] if not read.all() else view.matrix.counts
    test = view.matrix.test
    known = training_part(counts, None if test is None else np.asarray(test))
    return known, view.matrix.columns_named(np.flatnonzero(read))


def check(view: View, settings: Iterable[MethodSettings]) -> None:
    """Refuse at once what fits of the view's matrix would refuse later."""
    for each in settings:
        counts, columns = _read(view, each)
        method_of(each).check(counts, each, columns)


class SettingAdvice(BaseModel):
    """On one setting of a method; see ``Advice``."""

    setting: str
    advice: Advice


def advice(view: View, settings: MethodSettings, rows: Iterable[Result]) -> list[SettingAdvice]:
    """What each setting may be for the view's matrix; ``rows`` are the fits of it."""
    summaries = [(FIT.parse(row.settings), FitSummary.model_validate(row.summary)) for row in rows]
    moving = [made.iterations for made, summary in summaries if summary.verdict == "still moving"]

    def measured() -> list[SettingAdvice]:
        method, (counts, columns) = method_of(settings), _read(view, settings)
        method.check(counts, settings, columns)
        found = method.advice(counts, settings, columns, max(moving, default=0))
        return [SettingAdvice(setting=name, advice=each) for name, each in found.items()]

    return view.cached("advice", measured, settings.model_dump_json(), max(moving, default=0))
