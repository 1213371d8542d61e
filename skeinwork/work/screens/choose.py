"""Choose: the fits of a matrix compared, and a suggestion from them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field, field_validator

from skeinwork.core.errors import BadInputError
from skeinwork.core.kinds import named
from skeinwork.core.said import listed
from skeinwork.core.topics import choose
from skeinwork.core.topics.choose import CountFigures, Suggestion
from skeinwork.core.topics.measures import ALL, BY, COHERENCE, MEASURES, TOPS, USUAL
from skeinwork.core.topics.methods import FitSettings, method_of
from skeinwork.core.topics.methods.base import MOST_ITERATIONS
from skeinwork.core.topics.trace import Verdict
from skeinwork.store.models import Result
from skeinwork.work.jobs.plans import Measure
from skeinwork.work.results.view import View
from skeinwork.work.screens.between_counts import BetweenCounts, between_counts, columns_to_show
from skeinwork.work.screens.found_counts import all_found, found_said
from skeinwork.work.screens.measure_working import MeasureWorking, measure_working
from skeinwork.work.screens.sweep import SweepSuggestion, suggested_sweep
from skeinwork.work.steps import FIT, MATRIX
from skeinwork.work.steps.fit import empty_said
from skeinwork.work.steps.fitted import Interval
from skeinwork.work.steps.step import Said
from skeinwork.work.strands.choices import Vote
from skeinwork.work.topics import fits, sweeps
from skeinwork.work.topics.fits import Poorer
from skeinwork.work.topics.sweeps import ComparedFit, Swept, SweptFit, TwinFit

# Measures that a count may be chosen by after coherence.
Counting = Literal["stability", "held_out"]


class ComparedBy(BaseModel):
    """How fits are compared: by which series of settings, coherence and top words; what is not to count."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    series: int | None = Field(None, ge=0, le=10_000, description="of settings; the one with the most counts")
    by: named(COHERENCE) = BY.key  # type: ignore[valid-type]
    top: int = Field(USUAL, description="words of a topic", json_schema_extra={"enum": list(TOPS)})
    leaving: list[Counting] = Field([], max_length=2, description="measures that are not to count for a choice")
    reference: str | None = Field(None, pattern="^[0-9a-f]{64}$", description="cleaning of texts for coherence")

    @field_validator("top")
    @classmethod
    def _measured(cls, top: int) -> int:
        if top not in TOPS:
            raise ValueError(f"topics are measured by {listed([str(each) for each in TOPS])} words")
        return top


class MadeFit(BaseModel):
    """One fit with its measures.

    ``gain`` is how many nats a token it foretells better than one topic for all; ``poorer`` names a likelier
    seed of the same settings; ``measured`` says whether all measures were taken.
    """

    identity: str
    settings: FitSettings
    measures: dict[str, float | None]
    empty: int
    gain: Interval | None
    poorer: Poorer | None
    watched: float
    verdict: Verdict
    said: Said
    seconds: float
    current: bool
    measured: bool


class ChanceFit(BaseModel):
    """A fit to the same words dealt out at random."""

    topics: int
    seed: int
    measures: dict[str, float | None]


class MeasureKind(BaseModel):
    """A measure of fits: what it is called, what it rewards and misses, whether more is better.

    ``by_words`` says whether it looks at some top words; ``coherence`` whether counts may be suggested by it.
    """

    key: str
    title: str
    rewards: str
    misses: str
    rises: bool
    by_words: bool
    coherence: bool


class Candidate(BaseModel):
    """A count that may be chosen, with what speaks for it.

    ``best`` is its fit most like all others; ``worse`` by how many nats a token it foretells surely worse than
    the best candidate.
    """

    topics: int
    coherence: float
    error: float
    stability: float | None
    held_out: float | None
    worse: Interval | None
    empty: float
    fits: int
    settled: int
    best: str
    seed: int


class Longer(BaseModel):
    """Counts whose fits were still moving, and iterations to continue them to."""

    counts: list[int]
    iterations: int


class FitList(BaseModel):
    """Fits of one series of settings compared, beside words dealt out at random.

    ``measures`` are those that any of the fits has. ``reasons`` say why ``suggested`` is, or why nothing;
    ``widen`` are counts to try where no optimum is in sight, ``refine`` those between, ``doubt`` and ``notes``
    what there is to say besides. ``unmeasured`` fits lack some measures.
    """

    fits: list[MadeFit]
    chance: list[ChanceFit]
    measures: list[MeasureKind]
    series: list[str]
    of: int
    top: int
    by: str
    reasons: list[str]
    suggested: int | None
    candidates: list[Candidate]
    widen: list[int]
    refine: list[int]
    doubt: str | None
    longer: Longer | None
    notes: list[str]
    unmeasured: int
    usable: int
    sweep: SweepSuggestion


def measure_kinds() -> list[MeasureKind]:
    """All measures, in the order of their charts."""
    return [
        MeasureKind(
            key=each.key,
            title=each.title,
            rewards=each.rewards,
            misses=each.misses,
            rises=each.rises,
            by_words=each.key in MEASURES,
            coherence=each.key in COHERENCE,
        )
        for each in ALL
    ]


@dataclass(frozen=True)
class _Looked:
    """The fits of the series that is asked for, with what they suggest."""

    found: Swept
    series: int
    made: list[SweptFit]
    dealt: list[TwinFit]
    counts: list[CountFigures]
    suggestion: Suggestion | None

    @property
    def candidates(self) -> list[int]:
        return self.suggestion.candidates if self.suggestion else []


def _look(view: View, rows: Sequence[Result], twins: Sequence[Result], how: ComparedBy) -> _Looked:
    found = sweeps.swept(view, rows, twins, how.reference)
    series = _series(found, how)
    made, dealt = found.of(series)
    counts = sweeps.figures_of(view, made, how.by, how.top, how.leaving)
    chance = sweeps.chance_of(dealt, how.by, how.top)
    suggestion = choose.suggest(counts, chance, COHERENCE[how.by].title) if len(counts) > 1 else None
    return _Looked(found, series, made, dealt, counts, suggestion)


def compared(view: View, rows: Sequence[Result], twins: Sequence[Result], how: ComparedBy) -> FitList:
    """Fits with their measures, and the count that they suggest.

    Parameters
    ----------
    rows : the fits of the matrices that are compared; twins : those of words dealt out at random
    """
    looked = _look(view, rows, twins, how)
    found, made, dealt, suggestion = looked.found, looked.made, looked.dealt, looked.suggestion
    listed_fits = _fits(view, made, how.top)
    known = {key for fit in listed_fits for key, value in fit.measures.items() if value is not None}
    candidates = _candidates(made, looked.counts, suggestion) if suggestion else []
    matrix = MATRIX.summarised(view.matrix_record)
    return FitList(
        fits=listed_fits,
        chance=[
            ChanceFit(topics=each.settings.topics, seed=each.settings.seed, measures=_values(each, how.top))
            for each in dealt
        ],
        measures=[each for each in measure_kinds() if each.key in known],
        series=found.titles,
        of=looked.series,
        top=how.top,
        by=how.by,
        reasons=suggestion.reasons if suggestion else [],
        suggested=suggestion.topics if suggestion else None,
        candidates=candidates,
        widen=suggestion.widen if suggestion and not all_found(made) else [],
        refine=suggestion.refine if suggestion else [],
        doubt=_doubt(made, looked.candidates),
        longer=_longer(made, looked.candidates),
        notes=[*_notes(listed_fits, looked.candidates, bool(dealt)), *found_said(made, dealt)],
        unmeasured=sum(not each.measured for each in made),
        usable=matrix.documents - matrix.emptied,
        sweep=suggested_sweep(matrix, found.fits),
    )


def between(
    view: View,
    rows: Sequence[Result],
    twins: Sequence[Result],
    how: ComparedBy,
    counts: Sequence[int],
    votes: Mapping[tuple[str, int], Vote],
) -> BetweenCounts:
    """Some counts side by side: those that are asked for, or the suggested one and those around it."""
    looked = _look(view, rows, twins, how)
    tried = sorted({each.settings.topics for each in looked.made})
    suggested = looked.suggestion.topics if looked.suggestion else None
    shown = [each for each in dict.fromkeys(sorted(counts)) if each in tried]
    shown = shown or columns_to_show(tried, looked.candidates, suggested)
    return between_counts(view, looked.made, shown, looked.candidates, votes)


def measuring(view: View, rows: Sequence[Result], how: ComparedBy, base: str) -> Measure:
    """How the fits of a series are measured."""
    found = sweeps.swept(view, rows, [])
    made = found.of(_series(found, how))[0]
    if not made:
        raise BadInputError("There are no fits to measure yet. Sweep first.")
    return Measure(fits=tuple(each.identity for each in made), base=base, reference=how.reference)


def working(view: View, rows: Sequence[Result], how: ComparedBy, fit: str, key: str, topic: int) -> MeasureWorking:
    """How a measure of a fit came about."""
    found = sweeps.swept(view, rows, [], how.reference).fits
    series = next((each.series for each in found if each.identity == fit), None)
    alike = [each for each in found if each.series == series]
    return measure_working(view, alike, fit, key, topic, how.top, how.reference)


def _series(found: Swept, how: ComparedBy) -> int:
    """The series that is asked for, or that of the most counts; of several the latest."""
    if how.series is not None and how.series < len(found.series):
        return how.series

    def size(at: int) -> tuple[int, int]:
        return len({fit.settings.topics for fit in found.of(at)[0]}), at

    return max(range(len(found.series)), default=0, key=size)


def _values(fit: ComparedFit, top: int) -> dict[str, float | None]:
    return {each.key: fit.value(each.key, top) for each in ALL}


def _fits(view: View, made: Sequence[SweptFit], top: int) -> list[MadeFit]:
    behind = fits.poorer([each.row for each in made])
    current = current_fit(view)
    return [
        MadeFit(
            identity=each.row.identity,
            settings=each.settings,
            measures=_values(each, top),
            empty=len(each.summary.empty),
            gain=each.summary.gain,
            poorer=behind.get(each.row.identity),
            watched=each.summary.watched,
            verdict=each.summary.verdict,
            said=FIT.said(each.settings, each.summary),
            seconds=each.row.seconds,
            current=each.row.identity == current,
            measured=each.measured,
        )
        for each in made
    ]


def current_fit(view: View) -> str | None:
    """The fit of the strand, or the one that it goes on from; None where there is none."""
    identity = view.identity(FIT)
    if identity is None:
        return None
    making = view.fit_record.making
    first = FIT.first(view.store.open(making.inputs[0]).making, FIT.parse(making.settings))
    return first[-1].identity if first and first[-1].step == FIT.name else identity


def _candidates(made: Sequence[SweptFit], counts: Sequence[CountFigures], suggestion: Suggestion) -> list[Candidate]:
    found = []
    for count in (each for each in counts if each.topics in suggestion.candidates):
        there = [each for each in made if each.settings.topics == count.topics]
        best, worse = sweeps.steadiest(there), suggestion.worse.get(count.topics)
        found.append(
            Candidate(
                topics=count.topics,
                coherence=count.coherent,
                error=count.error,
                stability=count.steady,
                held_out=count.gain,
                worse=Interval.of(worse.mean, worse.low, worse.high) if worse else None,
                empty=count.bare,
                fits=len(there),
                settled=sum(each.summary.verdict == "level" for each in there),
                best=best.row.identity,
                seed=best.settings.seed,
            )
        )
    return found


def _notes(made: Sequence[MadeFit], candidates: Sequence[int], dealt: bool) -> list[str]:
    """Empty topics, seeds that stayed in a poorer mode, and that nothing says whether there is anything to find."""
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
    if made and not dealt and not any(fit.gain for fit in made):
        found.append(
            "No fit of this series foretells words of other documents, so that coherence alone says whether "
            "there is anything to find."
        )
    return found


def _doubt(made: Sequence[SweptFit], candidates: Sequence[int]) -> str | None:
    """How many fits at the candidates, or of all where there are none, were not level at the end."""
    there = [fit for fit in made if not candidates or fit.settings.topics in candidates]
    moving = [fit for fit in there if fit.summary.verdict != "level"]
    if not moving:
        return None
    verb = "was" if len(moving) == 1 else "were"
    return (
        f"{len(moving)} of the {len(there)} fits at these counts {verb} still moving at the last "
        "iteration, or too short to tell, so their measures may change."
    )


def _longer(made: Sequence[SweptFit], candidates: Sequence[int]) -> Longer | None:
    """How to continue the fits at the candidates, or all where there are none, that were still moving."""
    there = [fit for fit in made if not candidates or fit.settings.topics in candidates]
    moving = [fit for fit in there if fit.summary.verdict in ("still moving", "too short to tell")]
    if not moving or method_of(moving[0].settings).stops:
        return None
    counts = sorted({fit.settings.topics for fit in moving})
    return Longer(counts=counts, iterations=min(2 * max(fit.settings.iterations for fit in moving), MOST_ITERATIONS))
