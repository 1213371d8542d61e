"""Choose: the fits of a matrix compared, and a suggestion from them."""

from __future__ import annotations

from collections.abc import Sequence

from pydantic import BaseModel

from skeinwork.core.topics import choose
from skeinwork.core.topics.methods import FitSettings
from skeinwork.core.topics.methods.base import Verdict
from skeinwork.store.models import Result
from skeinwork.work import fits
from skeinwork.work.steps import FIT, MATRIX
from skeinwork.work.steps.fit import FitSummary
from skeinwork.work.steps.matrix import MatrixSummary
from skeinwork.work.steps.step import Said, count
from skeinwork.work.view import View


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


class SweepSuggestion(BaseModel):
    """What to sweep over, and why."""

    counts: list[int]
    seeds: list[int]
    iterations: int
    why: str


class FitList(BaseModel):
    """Fits compared. ``doubt`` is what there is to say against the suggestion."""

    fits: list[MadeFit]
    suggestion: str | None
    suggested: int | None
    candidates: list[int]
    doubt: str | None
    usable: int
    sweep: SweepSuggestion


def _made(row: Result, steady: float | None, current: bool) -> tuple[MadeFit, FitSummary]:
    settings, summary = FIT.parse(row.settings), FitSummary.model_validate(row.summary)
    made = MadeFit(
        identity=row.identity, settings=settings, coherence=summary.coherence,
        exclusivity=summary.exclusivity, stability=steady, watched=summary.watched,
        verdict=summary.verdict, said=FIT.said(settings, summary), seconds=row.seconds,
        current=current,
    )  # fmt: skip
    return made, summary


def _suggest(made: Sequence[tuple[MadeFit, FitSummary]]) -> choose.Suggestion | None:
    coherent: dict[int, list[list[float]]] = {}
    stable: dict[int, list[float]] = {}
    for fit, summary in made:
        coherent.setdefault(fit.settings.topics, []).append(summary.npmi)
        if fit.stability is not None:
            stable.setdefault(fit.settings.topics, []).append(fit.stability)
    return choose.suggest(coherent, stable) if len(coherent) > 1 else None


def _doubt(made: Sequence[MadeFit], candidates: Sequence[int]) -> str | None:
    """How many fits at the candidates had not settled."""
    there = [fit for fit in made if fit.settings.topics in candidates]
    moving = [fit for fit in there if fit.verdict != "settled"]
    if not moving:
        return None
    verb = "was" if len(moving) == 1 else "were"
    return (
        f"{len(moving)} of the {len(there)} fits at these counts {verb} still moving at the last "
        "iteration, so their measures may change. Sweep with more iterations before you rely on them."
    )


def _grid(counted: MatrixSummary, made: Sequence[MadeFit]) -> SweepSuggestion:
    usable = max(1, counted.documents - counted.emptied)
    moving = [fit.settings.iterations for fit in made if fit.verdict == "still moving"]
    grid = choose.suggest_grid(usable, counted.tokens, max(moving, default=0))
    why = (
        f"up to {grid.counts[-1]} topics for {count(usable)} documents of "
        f"{round(counted.tokens / usable)} counted words on average"
    )
    if moving:
        verb = "fit was" if len(moving) == 1 else "fits were"
        why += f"; {len(moving)} {verb} still moving after {max(moving)} iterations"
        why += ", so twice as many" if grid.iterations == 2 * max(moving) else ""
    return SweepSuggestion(
        counts=grid.counts,
        seeds=list(range(1, grid.seeds + 1)),
        iterations=grid.iterations,
        why=why,
    )


def compared(view: View, rows: Sequence[Result]) -> FitList:
    """Fits with their measures, and the count that they suggest."""
    whole = set(fits.readable(view, (row.identity for row in rows)))
    steady = fits.stability(view, [row for row in rows if row.identity in whole])
    made = [
        _made(row, steady.get(row.identity), row.identity == view.fit_id)
        for row in rows if row.identity in whole or row.identity == view.fit_id
    ]  # fmt: skip
    made.sort(key=lambda each: (each[0].settings.topics, each[0].settings.seed,
                                each[0].settings.iterations))  # fmt: skip
    suggestion = _suggest(made)
    counted = MATRIX.summarised(view.matrix_record)
    fits_ = [fit for fit, _ in made]
    return FitList(
        fits=fits_, suggestion=suggestion.reason if suggestion else None,
        suggested=suggestion.topics if suggestion else None,
        candidates=suggestion.candidates if suggestion else [],
        doubt=_doubt(fits_, suggestion.candidates if suggestion else []),
        usable=counted.documents - counted.emptied, sweep=_grid(counted, fits_),
    )  # fmt: skip
