"""The fits there are of a matrix, and how those that differ by seed alone agree."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.errors import NotFoundError
from skeinwork.core.identity import canonical_json
from skeinwork.core.topics import matching
from skeinwork.core.topics.methods import method_of
from skeinwork.store.artefacts import Artefact, DamagedResultError, Making
from skeinwork.store.models import Result
from skeinwork.work.results.view import View
from skeinwork.work.steps import FIT, fit
from skeinwork.work.steps.fitted import FitSummary

# Other seeds whose draws count in Track: more change an interval by a few percent and cost as much again.
MOST_SEEDS = 9


def of_matrix(matrix: str | None) -> list[Result]:
    """The fits of a matrix; call inside a connection."""
    return made_of([matrix] if matrix else [], FIT.name)


def made_of(parents: Iterable[str], step: str) -> list[Result]:
    """The results of one step that were made of some others; call inside a connection."""
    return list(Result.select().where((Result.step == step) & Result.parent.in_(list(parents))))


def apart_from_seed(settings: Any) -> tuple[Any, ...]:
    """Settings without the seed, to compare; those that a fit of before does not know are at their defaults."""
    whole = FIT.parse(settings).model_dump()
    return tuple(sorted(((k, _told(v)) for k, v in whole.items() if k != "seed"), key=str))


def _told(value: Any) -> Any:
    """A setting as something to look up by."""
    return canonical_json(value) if isinstance(value, dict) else value


def seeded(settings: Any) -> bool:
    """Whether another seed makes another fit."""
    parsed = FIT.parse(settings)
    return method_of(parsed).seeded(parsed)


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


def of_other_seeds(rows: Iterable[Result], settings: Any) -> list[Result]:
    """The fits that differ from these settings by the seed alone, of fits with each setting once.

    Of a fit whose topics were merged those that differ from the fit before.

    None where another seed makes the same fit: that they agree would say nothing.
    """
    if not seeded(settings):
        return []
    mine = apart_from_seed(_unmerged(settings))
    return [row for row in rows if row.settings["seed"] != settings["seed"] and apart_from_seed(row.settings) == mine]


def others_of(view: View, rows: Iterable[Result]) -> list[str]:
    """The fits that differ from the view's by the seed alone and can be read."""
    alike = of_other_seeds(distinct(view, rows), view.fit_record.making.settings)
    return readable(view, sorted(row.identity for row in alike))


def with_seed(view: View, seed: int) -> Making:
    """What the view's fit is with another seed."""
    made = view.fit_record.making
    return FIT.making(made.inputs[0], FIT.parse({**_unmerged(made.settings), "seed": seed}))


def _unmerged(settings: Any) -> dict[str, Any]:
    return {**settings, "merged": ()}


def whole_of(view: View) -> str:
    """The fit whose topics were merged; the view's own where none were."""
    return FIT.whole(view.fit_record.making).identity


def found_again(view: View, other: str) -> list[list[int]]:
    """The topics of another fit that each of the view's is found again as; none where it, or a part, is not."""
    whole = whole_of(view)
    topics, live, others = (
        len(view.model.topic_word),
        view.fit_summary.live,
        FIT.summarised(view.store.open(other)).live,
    )
    of = fit.members(view.fit_record)
    if whole != view.fit_record.identity:
        if not view.store.has(whole):
            return [[] for _ in range(topics)]
        live = FIT.summarised(view.store.open(whole)).live
    again = matching.found_again(own_words(view, whole), own_words(view, other))
    same = {live[at]: others[each] for at, each in enumerate(again.tolist()) if each >= 0}
    return [[same[each] for each in mine] if all(each in same for each in mine) else [] for mine in of]


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
    others = others_of(view, rows)
    if not others:
        return [0] * len(view.model.topic_word), 0

    def count() -> list[int]:
        return [int(sum(map(bool, each))) for each in zip(*(found_again(view, one) for one in others), strict=True)]

    return view.cached("recurrence", count, *others), len(others)


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
