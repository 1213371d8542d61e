"""Choose: the fits of a matrix compared, and a suggestion from them."""

from __future__ import annotations

from collections.abc import Sequence

from pydantic import BaseModel

from skeinwork.core.kinds import differing
from skeinwork.core.topics import choose
from skeinwork.core.topics.measures import BY, MEASURES, stability
from skeinwork.core.topics.methods import FitSettings
from skeinwork.core.topics.trace import Verdict
from skeinwork.store.models import Result
from skeinwork.work.results.view import View
from skeinwork.work.steps import FIT, MATRIX
from skeinwork.work.steps.fit import FitSummary, Interval, empty_said
from skeinwork.work.steps.matrix import MatrixSummary
from skeinwork.work.steps.step import Said, count
from skeinwork.work.topics import fits
from skeinwork.work.topics.fits import Poorer


class MadeFit(BaseModel):
    """One fit of the strand's matrix with its measures.

    ``series`` is the place of its series; ``gain`` how many nats a token it foretells better than one
    topic for all; ``poorer`` names a likelier seed of the same settings.
    """

    identity: str
    settings: FitSettings
    series: int
    measures: dict[str, float | None]
    empty: int
    gain: Interval | None
    poorer: Poorer | None
    watched: float
    verdict: Verdict
    said: Said
    seconds: float
    current: bool


class MeasureKind(BaseModel):
    """A measure of fits: what it is called, what it rewards and misses, whether more is better."""

    key: str
    title: str
    about: str
    rises: bool


class SweepSuggestion(BaseModel):
    """What to sweep over, and why."""

    counts: list[int]
    seeds: list[int]
    iterations: int
    why: str


class FitList(BaseModel):
    """Fits compared, one series of settings beside another.

    ``measures`` are those that any of the fits has, the one that counts are suggested by first.
    ``suggestion`` is of the series in ``series`` at ``of``; ``widen`` are counts to try where no
    optimum is in sight, ``doubt`` and ``notes`` what there is to say besides.
    """

    fits: list[MadeFit]
    measures: list[MeasureKind]
    series: list[str]
    of: int
    suggestion: str | None
    suggested: int | None
    candidates: list[int]
    widen: list[int]
    doubt: str | None
    notes: list[str]
    usable: int
    sweep: SweepSuggestion


def _suggest(made: Sequence[tuple[MadeFit, FitSummary]]) -> choose.Suggestion | None:
    coherent: dict[int, list[list[float]]] = {}
    stable: dict[int, list[float]] = {}
    gains: dict[int, list[tuple[float, float]]] = {}
    empty: dict[int, list[int]] = {}
    for fit, summary in made:
        known = [value for value in summary.measured[BY.key].topics if value is not None]
        if known:
            coherent.setdefault(fit.settings.topics, []).append(known)
        empty.setdefault(fit.settings.topics, []).append(fit.empty)
        if (steady := fit.measures[stability.KEY]) is not None:
            stable.setdefault(fit.settings.topics, []).append(steady)
        if summary.gain and summary.gain.low is not None:
            pair = (summary.gain.mean, summary.gain.low)
            gains.setdefault(fit.settings.topics, []).append(pair)
    return choose.suggest(coherent, stable, gains, empty) if len(coherent) > 1 else None


def measure_kinds() -> list[MeasureKind]:
    """The measures of a single fit."""
    return [
        MeasureKind(key=each.key, title=each.title, about=each.about, rises=each.rises) for each in MEASURES.values()
    ]


def _kinds(made: Sequence[MadeFit]) -> list[MeasureKind]:
    """The measures that any fit has."""
    steady = MeasureKind(key=stability.KEY, title=stability.TITLE, about=stability.ABOUT, rises=stability.RISES)
    known = {key for fit in made for key, value in fit.measures.items() if value is not None}
    return [each for each in (*measure_kinds(), steady) if each.key in known]


def _notes(made: Sequence[MadeFit], candidates: Sequence[int]) -> list[str]:
    """Empty topics, and seeds that stayed in a poorer mode."""
    found = []
    fullest = max(made, key=lambda fit: (fit.empty, -fit.settings.topics), default=None)
    if fullest and fullest.empty:
        found.append(empty_said(fullest.empty, fullest.settings.topics))
    behind = [fit for fit in made if fit.poorer and fit.settings.topics in candidates]
    if behind:
        worst = max(behind, key=lambda fit: fit.poorer.by if fit.poorer else 0.0)
        assert worst.poorer is not None
        found.append(
            f"{len(behind)} of the fits at these counts stayed in a poorer mode than another seed; at "
            f"{worst.settings.topics} topics seed {worst.settings.seed} is {worst.poorer.by:.2f} "
            f"{worst.poorer.unit} below seed {worst.poorer.seed}."
        )
    return found


def _series_said(row: Result) -> str:
    """What sets a series of fits apart: its iterations, and what else was chosen but count and seed."""
    settings = FIT.parse(row.settings)
    chosen = {"iterations": settings.iterations, **differing(settings)}
    parts = [
        f"{name.replace('_', ' ')} {'; '.join(value) if isinstance(value, list) else value}"
        for name, value in chosen.items()
        if name not in ("method", "topics", "seed")
    ]
    return ", ".join([settings.method.upper(), *parts])


def _doubt(made: Sequence[MadeFit], candidates: Sequence[int]) -> str | None:
    """How many fits at the candidates, or of all where there are none, were not level at the end."""
    there = [fit for fit in made if not candidates or fit.settings.topics in candidates]
    moving = [fit for fit in there if fit.verdict != "level"]
    if not moving:
        return None
    verb = "was" if len(moving) == 1 else "were"
    return (
        f"{len(moving)} of the {len(there)} fits at these counts {verb} still moving at the last "
        "iteration, or too short to tell, so their measures may change. Sweep with more iterations "
        "before you rely on them."
    )


def _grid(counted: MatrixSummary, made: Sequence[MadeFit]) -> SweepSuggestion:
    filled = max(1, counted.documents - counted.emptied)
    usable = max(1, filled - counted.held_out)
    words = (counted.words or counted.tokens) * usable // filled
    moving = [fit.settings.iterations for fit in made if fit.verdict == "still moving"]
    grid = choose.suggest_grid(usable, words, max(moving, default=0))
    why = (
        f"up to {grid.counts[-1]} topics for {count(usable)} documents of "
        f"{round(words / usable)} counted words on average"
    )
    if counted.held_out:
        why += f"; {count(counted.held_out)} more are held out at Weigh, by which fits are judged"
    if moving:
        verb = "fit was" if len(moving) == 1 else "fits were"
        why += f"; {len(moving)} {verb} still moving after {max(moving)} iterations"
        why += ", so twice as many" if grid.iterations == 2 * max(moving) else ""
    return SweepSuggestion(
        counts=grid.counts, seeds=list(range(1, grid.seeds + 1)), iterations=grid.iterations, why=why
    )


def _fit(
    row: Result, series: int, steady: float | None, behind: Poorer | None, current: bool
) -> tuple[MadeFit, FitSummary]:
    settings, summary = FIT.parse(row.settings), FitSummary.model_validate(row.summary)
    made = MadeFit(
        identity=row.identity,
        settings=settings,
        series=series,
        measures={key: said.mean for key, said in summary.measured.items()} | {stability.KEY: steady},
        empty=len(summary.empty),
        gain=summary.gain,
        poorer=behind,
        watched=summary.watched,
        verdict=summary.verdict,
        said=FIT.said(settings, summary),
        seconds=row.seconds,
        current=current,
    )
    return made, summary


def compared(view: View, rows: Sequence[Result]) -> FitList:
    """Fits with their measures, and the count that the series of the most counts suggests."""
    rows = fits.distinct(view, rows)
    whole = set(fits.readable(view, (row.identity for row in rows)))
    rows = [row for row in rows if row.identity in whole or row.identity == view.identity(FIT)]
    steady = fits.stability(view, [row for row in rows if row.identity in whole])
    behind = fits.poorer(rows)
    kinds = {fits.series_of(row.settings): row for row in rows}
    place = {kind: at for at, kind in enumerate(kinds)}
    made = [
        _fit(
            row,
            place[fits.series_of(row.settings)],
            steady.get(row.identity),
            behind.get(row.identity),
            row.identity == view.identity(FIT),
        )
        for row in rows
    ]
    made.sort(key=lambda each: (each[0].series, each[0].settings.topics, each[0].settings.seed))
    fullest = max(
        range(len(kinds)),
        default=0,
        key=lambda at: (len({fit.settings.topics for fit, _ in made if fit.series == at}), at),
    )
    chosen = [each for each in made if each[0].series == fullest]
    suggestion = _suggest(chosen)
    counted = MATRIX.summarised(view.matrix_record)
    candidates = suggestion.candidates if suggestion else []
    return FitList(
        fits=[fit for fit, _ in made],
        measures=_kinds([fit for fit, _ in made]),
        series=[_series_said(row) for row in kinds.values()],
        of=fullest,
        suggestion=suggestion.reason if suggestion else None,
        suggested=suggestion.topics if suggestion else None,
        candidates=candidates,
        widen=suggestion.widen if suggestion else [],
        doubt=_doubt([fit for fit, _ in chosen], candidates),
        notes=_notes([fit for fit, _ in chosen], candidates),
        usable=counted.documents - counted.emptied,
        sweep=_grid(counted, [fit for fit, _ in made]),
    )
