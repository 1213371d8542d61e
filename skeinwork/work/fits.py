"""The fits there are of a matrix, and how those that differ by seed alone agree."""

from __future__ import annotations

from collections.abc import Iterable
from functools import partial
from typing import Any

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.errors import NotFoundError
from skeinwork.core.topics import matching
from skeinwork.store.artefacts import Artefact, DamagedResultError
from skeinwork.store.models import Result
from skeinwork.work.view import View


def of_matrix(matrix: str | None) -> list[Result]:
    """The fits of a matrix; call inside a connection."""
    if matrix is None:
        return []
    return list(Result.select().where((Result.step == "fit") & (Result.parent == matrix)))


def apart_from_seed(settings: Any) -> tuple[Any, ...]:
    """Settings without the seed, to compare."""
    return tuple(sorted(((k, v) for k, v in settings.items() if k != "seed"), key=str))


def topic_words(view: View, identity: str) -> NDArray[np.float64]:
    """Words of the topics of a fit, float64[n_topics, n_terms]."""
    return view.cache.get(
        ("topic words", identity), lambda: np.array(view.store.open(identity).array("topic_word"))
    )


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
    return matching.stability([topic_words(view, each) for each in identities])


def recurrence(view: View, rows: Iterable[Result]) -> tuple[list[int], int]:
    """In how many other seeds of the same settings each topic of the view's fit is found again."""
    fit = view.fit_record
    mine = apart_from_seed(fit.making.settings)
    others = readable(view, sorted(
        row.identity for row in rows
        if row.identity != fit.identity and apart_from_seed(row.settings) == mine
    ))  # fmt: skip
    if not others:
        return [0] * len(view.model.topic_word), 0

    def count() -> NDArray[np.int64]:
        words = [topic_words(view, each) for each in others]
        return matching.recurrence(topic_words(view, fit.identity), words)

    return view.cached("recurrence", count, *others).tolist(), len(others)


def open_fit(view: View, identity: str) -> Artefact:
    """A stored fit that is whole.

    Raises
    ------
    NotFoundError
        where it is not, or is no fit.
    """
    if not view.store.has(identity) or view.store.open(identity).making.step != "fit":
        raise NotFoundError("That fit does not exist any more.")
    return view.store.open(identity)
