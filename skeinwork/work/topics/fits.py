"""The fits there are of a matrix, and how those that differ by seed alone agree."""

from __future__ import annotations

from collections.abc import Iterable
from functools import partial
from typing import Any

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.errors import NotFoundError
from skeinwork.core.topics import matching
from skeinwork.core.topics.methods import method_of
from skeinwork.store.artefacts import Artefact, DamagedResultError, Making
from skeinwork.store.models import Result
from skeinwork.work.results.view import View
from skeinwork.work.steps import FIT, fit
from skeinwork.work.steps.fit import FitSummary

# Other seeds whose draws count in Track: more change an interval by a few percent and cost as much again.
MOST_SEEDS = 9


def of_matrix(matrix: str | None) -> list[Result]:
    """The fits of a matrix; call inside a connection."""
    if matrix is None:
        return []
    return list(Result.select().where((Result.step == FIT.name) & (Result.parent == matrix)))


def apart_from_seed(settings: Any) -> tuple[Any, ...]:
    """Settings without the seed, to compare; those that a fit of before does not know are at their defaults."""
    whole = FIT.parse(settings).model_dump()
    return tuple(sorted(((k, v) for k, v in whole.items() if k != "seed"), key=str))


def series_of(settings: Any) -> tuple[Any, ...]:
    """Settings without count and seed: fits that differ by these alone are one series."""
    return tuple(each for each in apart_from_seed(settings) if each[0] != "topics")


def distinct(view: View, rows: Iterable[Result]) -> list[Result]:
    """One fit for each setting: that of the present version, or else the latest.

    The same seed made twice, by two versions of the program, is one seed.
    """
    found: dict[Any, Result] = {}
    for row in sorted(rows, key=lambda each: (_present(view, each.identity), each.number or 0)):
        found[row.settings["seed"], apart_from_seed(row.settings)] = row
    return list(found.values())


def _present(view: View, identity: str) -> bool:
    try:
        return FIT.current(view.store.open(identity).making).identity == identity
    except (DamagedResultError, ValueError):
        return False


def own_words(view: View, identity: str) -> NDArray[np.float64]:
    """What the words of the topics of a fit have above all others; empty topics are left out.

    Returns
    -------
    float64[n_live, n_terms]
    """

    def made() -> NDArray[np.float64]:
        stored = view.store.open(identity)
        return fit.own_words(stored)[FIT.summarised(stored).live]

    return view.cache.get(("own words", identity), made)


def readable(view: View, identities: Iterable[str]) -> list[str]:
    """Those fits whose topics can be read; the files of damaged ones are removed."""
    found = []
    for identity in identities:
        try:
            view.store.open(identity).array("topic_word")
            found.append(identity)
        except DamagedResultError:
            view.store.set_aside(identity)
    return found


def stability(view: View, rows: Iterable[Result]) -> dict[str, float]:
    """Agreement of each fit with those of other seeds at the same count and settings."""
    alike: dict[Any, list[str]] = {}
    for row in rows:
        alike.setdefault(apart_from_seed(row.settings), []).append(row.identity)
    found: dict[str, float] = {}
    for members in map(sorted, alike.values()):
        if len(members) > 1:
            values = view.cache.get(("stability", *members), partial(_agreement, view, members))
            found |= dict(zip(members, map(float, values), strict=True))
    return found


def _agreement(view: View, identities: list[str]) -> Any:
    return matching.stability([own_words(view, each) for each in identities])


def of_other_seeds(rows: Iterable[Result], settings: Any) -> list[Result]:
    """The fits that differ from these settings by the seed alone, of fits with each setting once."""
    mine = apart_from_seed(settings)
    return [row for row in rows if row.settings["seed"] != settings["seed"] and apart_from_seed(row.settings) == mine]


def others_of(view: View, rows: Iterable[Result]) -> list[str]:
    """The fits that differ from the view's by the seed alone and can be read."""
    alike = of_other_seeds(distinct(view, rows), view.fit_record.making.settings)
    return readable(view, sorted(row.identity for row in alike))


def with_seed(view: View, seed: int) -> Making:
    """What the view's fit is with another seed."""
    made = view.fit_record.making
    return FIT.making(made.inputs[0], FIT.parse({**made.settings, "seed": seed}))


def seeds_let_in(view: View, rows: Iterable[Result]) -> tuple[int, ...]:
    """Other seeds whose draws count in Track: of fits as this version makes them, the lowest ones.

    Those that stayed in a poorer mode say nothing of how surely this fit is known.
    """
    mine, least = (
        view.fit_record.making.settings,
        view.fit_summary.watched - method_of(FIT.parse(view.fit_record.making.settings)).poorer,
    )
    alike = of_other_seeds(rows, mine)
    seeds = sorted(row.settings["seed"] for row in alike if FitSummary.model_validate(row.summary).watched > least)
    kept = [seed for seed in dict.fromkeys(seeds) if view.store.has(with_seed(view, seed).identity)]
    return tuple(kept[:MOST_SEEDS])


def recurrence(view: View, rows: Iterable[Result]) -> tuple[list[int], int]:
    """In how many other seeds of the same settings each topic of the view's fit is found again.

    An empty topic is found in none.
    """
    fit = view.fit_record
    others = others_of(view, rows)
    found = np.zeros(len(view.model.topic_word), dtype=np.int64)
    if not others:
        return found.tolist(), 0

    def count() -> NDArray[np.int64]:
        words = [own_words(view, each) for each in others]
        return matching.recurrence(own_words(view, fit.identity), words)

    found[view.fit_summary.live] = view.cached("recurrence", count, *others)
    return found.tolist(), len(others)


class Poorer(BaseModel):
    """A fit of the same settings with another seed that comes further, by how much of what unit."""

    by: float
    unit: str
    identity: str
    seed: int


def poorer(rows: Iterable[Result]) -> dict[str, Poorer]:
    """The fits that stayed in a poorer mode than one of another seed.

    Parameters
    ----------
    rows : fits of one matrix, each setting once
    """
    alike: dict[Any, list[tuple[float, Result]]] = {}
    for row in rows:
        watched = FitSummary.model_validate(row.summary).watched
        alike.setdefault(apart_from_seed(row.settings), []).append((watched, row))
    found = {}
    for members in alike.values():
        best, first = max(members, key=lambda each: each[0])
        for watched, row in members:
            method = method_of(FIT.parse(row.settings))
            if best - watched >= method.poorer:
                found[row.identity] = Poorer(
                    by=best - watched, unit=method.watches[0].unit, identity=first.identity, seed=first.settings["seed"]
                )
    return found


def open_fit(view: View, identity: str) -> Artefact:
    """A stored fit that is whole.

    Raises
    ------
    NotFoundError
        where it is not, or is no fit.
    """
    if not view.store.has(identity) or view.store.open(identity).making.step != FIT.name:
        raise NotFoundError("That fit does not exist any more.")
    return view.store.open(identity)
