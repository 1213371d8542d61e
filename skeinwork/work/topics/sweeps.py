"""Fits that are compared: of the matrix by which they are, with what every measure says, beside words dealt out."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.kinds import differing
from skeinwork.core.topics.choose import Chance, CountFigures
from skeinwork.core.topics.measures import MEASURES, OF_FIT, OF_SEEDS, FitFigures
from skeinwork.core.topics.methods import method_of
from skeinwork.core.topics.methods.base import MethodSettings
from skeinwork.store.artefacts import DamagedResultError
from skeinwork.store.models import Result
from skeinwork.work.results.view import View
from skeinwork.work.steps import FIT, MATRIX, MEASURES_STEP, TWIN, twin
from skeinwork.work.steps.fit import foretold
from skeinwork.work.steps.fitted import FitSummary, Value
from skeinwork.work.steps.matrix import compared
from skeinwork.work.steps.measures import MeasuresSettings
from skeinwork.work.topics import fits

Series = tuple[Any, ...]


@dataclass(frozen=True)
class ComparedFit:
    """A fit with what every measure says of it.

    Attributes
    ----------
    series : what it has in common with those that differ by count, seed and iterations alone
    topics : what each measure of topics says, by its key and the number of top words
    whole : what measures of a fit as a whole say, and those of several seeds, by their keys
    """

    settings: MethodSettings
    series: Series
    topics: Mapping[str, Mapping[int, Value]]
    whole: dict[str, float | None]

    def value(self, key: str, top: int) -> float | None:
        """What a measure says of it, by so many top words."""
        if key not in MEASURES:
            return self.whole.get(key)
        said = self.topics.get(key, {}).get(top)
        return said.mean if said else None

    def of_topics(self, key: str, top: int) -> NDArray[np.float64]:
        """What a measure says of its topics that are not empty, float64[n_known]."""
        said = self.topics.get(key, {}).get(top)
        return np.array([each for each in said.topics if each is not None]) if said else np.zeros(0)


@dataclass(frozen=True)
class SweptFit(ComparedFit):
    """A fit of a matrix; ``measured`` says whether it was measured by all."""

    row: Result
    summary: FitSummary
    measured: bool

    @property
    def identity(self) -> str:
        return str(self.row.identity)


@dataclass(frozen=True)
class TwinFit(ComparedFit):
    """A fit to words dealt out at random, with the same measures."""


def matrices(view: View) -> list[str]:
    """The matrices whose fits are compared: the one with documents held out, and the strand's own."""
    making = view.matrix_record.making
    return list(dict.fromkeys([compared(making).identity, making.identity]))


@dataclass(frozen=True)
class Swept:
    """Fits and twins, the series of settings in an order, and what each is called."""

    fits: list[SweptFit]
    twins: list[TwinFit]
    series: list[Series]
    titles: list[str]

    def of(self, series: int) -> tuple[list[SweptFit], list[TwinFit]]:
        """Those of one series of settings."""
        wanted = self.series[series] if series < len(self.series) else ()
        return [each for each in self.fits if each.series == wanted], [t for t in self.twins if t.series == wanted]


def swept(view: View, rows: Sequence[Result], twins: Sequence[Result], reference: str | None = None) -> Swept:
    """What there is to compare.

    Parameters
    ----------
    rows : fits of the matrices; twins : of the same
    reference : a cleaning of other texts, in which coherence is looked at
    """
    made_since = ("continues", "merged")  # of a fit that was chosen
    known = [row for row in fits.distinct(view, rows) if not any(row.settings.get(each) for each in made_since)]
    whole = set(fits.readable(view, (row.identity for row in known)))
    known = _longest(row for row in known if row.identity in whole)
    steady = _of_seeds(
        view,
        ((row.identity, (_series(row), row.settings["topics"])) for row in known if fits.seeded(row.settings)),
        partial(fits.own_words, view),
    )
    made = [_swept(view, row, steady.get(row.identity, {}), reference) for row in known]
    made.sort(key=lambda each: (each.settings.topics, each.settings.seed))
    dealt = _twins(view, twins)
    series = list(dict.fromkeys(each.series for each in sorted(made, key=lambda each: each.row.number or 0)))
    by_series = {each.series: each.row for each in made}
    titles = [_title(view, by_series[each], len({key[0] for key in series}) > 1) for each in series]
    return Swept(made, dealt, series, titles)


def _series(row: Result) -> Series:
    """What it has in common with fits of other counts and seeds, and with shorter ones."""
    return _in_common(row.parent, row.settings)


def _in_common(matrix: str | None, settings: Any) -> Series:
    return (matrix, *(each for each in fits.series_of(settings) if each[0] != "iterations"))


def _longest(rows: Iterable[Result]) -> list[Result]:
    """Of fits that differ by their iterations alone the one that went furthest."""
    found: dict[Any, Result] = {}
    for row in sorted(rows, key=lambda each: each.settings["iterations"]):
        found[_series(row), row.settings["topics"], row.settings["seed"]] = row
    return list(found.values())


def _title(view: View, row: Result, tell_matrix: bool) -> str:
    settings = FIT.parse(row.settings)
    parts = [
        f"{name.replace('_', ' ')} {'; '.join(value) if isinstance(value, list) else value}"
        for name, value in differing(settings).items()
        if name not in ("method", "topics", "seed", "iterations")
    ]
    split = MATRIX.parse(view.store.open(str(row.parent)).making.settings).split
    held = ["documents held out" if split else "no documents held out"] if tell_matrix else []
    return ", ".join([method_of(settings).title, *parts, *held])


def _swept(view: View, row: Result, steady: dict[str, float], reference: str | None) -> SweptFit:
    settings, summary = FIT.parse(row.settings), FitSummary.model_validate(row.summary)
    topics = _measures(view, row.identity, reference)
    own = {key: {10: said} for key, said in summary.measured.items() if said.topics or said.mean is not None}
    whole = _whole(settings, summary) | {key: steady.get(key) for key in OF_SEEDS}
    return SweptFit(settings, _series(row), topics or own, whole, row, summary, topics is not None)


def _measures(view: View, fit: str, reference: str | None) -> Mapping[str, Mapping[int, Value]] | None:
    """What was measured of a fit; None where that was not done."""
    found = view.made(MEASURES_STEP, MEASURES_STEP.making(fit, MeasuresSettings(reference=reference)))
    return found.measured if found else None


def _whole(settings: MethodSettings, summary: FitSummary) -> dict[str, float | None]:
    finds = method_of(settings).finds
    told = method_of(settings).watches[0].unit == "share" and not finds
    figures = FitFigures(
        [each.mean for each in summary.share],
        summary.gain.mean if summary.gain else None,
        summary.watched if told else None,
        summary.verdict == "level",
        summary.watched if finds else None,
    )
    return {key: each.of_fit(figures) for key, each in OF_FIT.items()}


def _of_seeds(
    view: View, rows: Iterable[tuple[str, Any]], words: Callable[[str], NDArray[np.float64]]
) -> dict[str, dict[str, float]]:
    """What the measures of several seeds say of each fit that has others of its settings.

    Parameters
    ----------
    rows : identities, with what those have in common that differ by the seed alone
    words : what the words of the topics of one have above all others
    """
    alike: dict[Any, list[str]] = {}
    for identity, common in rows:
        alike.setdefault(common, []).append(identity)
    found: dict[str, dict[str, float]] = {}
    for members in map(sorted, alike.values()):
        if len(members) > 1:
            values = view.cache.get(("of seeds", *members), partial(_agreement, members, words))
            found |= {member: {key: float(row[at]) for key, row in values.items()} for at, member in enumerate(members)}
    return found


def _agreement(identities: list[str], words: Callable[[str], NDArray[np.float64]]) -> dict[str, NDArray[np.float64]]:
    own = [words(each) for each in identities]
    return {key: each.of_seeds(own) for key, each in OF_SEEDS.items()}


def _twins(view: View, rows: Sequence[Result]) -> list[TwinFit]:
    whole = [row for row in rows if _readable(view, row.identity)]
    steady = _of_seeds(
        view,
        ((row.identity, (_in_common(row.parent, row.settings["fit"]), row.settings["fit"]["topics"])) for row in whole),
        lambda identity: twin.own_words(view.store.open(identity)),
    )
    found = []
    for row in whole:
        settings, said = TWIN.parse(row.settings).fit, TWIN.summarised(view.store.open(row.identity))
        own = _whole(settings, said.fit) | {key: steady.get(row.identity, {}).get(key) for key in OF_SEEDS}
        found.append(TwinFit(settings, _in_common(row.parent, row.settings["fit"]), said.measured, own))
    return found


def _readable(view: View, identity: str) -> bool:
    """Whether a result of words dealt out can be read; the files of a damaged one are removed."""
    try:
        view.store.open(identity).array("topic_word")
    except DamagedResultError:
        view.store.set_aside(identity)
        return False
    return True


def figures_of(
    view: View, made: Sequence[SweptFit], by: str, top: int, leaving: Sequence[str] = ()
) -> list[CountFigures]:
    """What the fits of each count say, as a count is chosen by; without the measures that are not to count."""
    by_count: dict[int, list[SweptFit]] = {}
    for each in made:
        if len(each.of_topics(by, top)):
            by_count.setdefault(each.settings.topics, []).append(each)
    found = []
    for topics, some in sorted(by_count.items()):
        steady = [value for each in some if (value := each.whole.get("stability")) is not None]
        told = [foretold(view.store.open(each.row.identity)) for each in some]
        found.append(
            CountFigures(
                topics,
                [each.of_topics(by, top) for each in some],
                [] if "stability" in leaving else steady,
                [] if "held_out" in leaving else [each for each in told if each],
                [len(each.summary.empty) for each in some],
            )
        )
    return found


def chance_of(twins: Sequence[TwinFit], by: str, top: int) -> Chance | None:
    """What the words dealt out at random come to; None where that was not tried."""
    values = [each.of_topics(by, top) for each in twins]
    known = [each for each in values if len(each)]
    if not known:
        return None
    errors = [float(np.std(each, ddof=1) / np.sqrt(len(each))) if len(each) > 1 else 0.0 for each in known]
    steady = [value for each in twins if (value := each.whole.get("stability")) is not None]
    return Chance([(float(each.mean()), error) for each, error in zip(known, errors, strict=True)], steady)


def steadiest(made: Sequence[SweptFit]) -> SweptFit:
    """The fit most like all others of its count: in no poorer mode than one of them, and agreeing with them most."""
    behind = fits.poorer([each.row for each in made])
    level = [each for each in made if each.row.identity not in behind] or list(made)
    return max(level, key=lambda each: (each.whole.get("stability") or 0.0, -each.settings.seed))
