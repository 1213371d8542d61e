"""Words of groups compared: all measures of a group against the others, or against one other."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.corpus.grouping import units_of
from skeinwork.core.errors import BadInputError
from skeinwork.core.false_discovery import false_discovery_rates
from skeinwork.core.relate.group_words import GroupWords, words_apart
from skeinwork.core.relate.significance import UnitCounts, significance, unit_counts
from skeinwork.work.results.view import View
from skeinwork.work.steps import GROUP_WORDS
from skeinwork.work.steps.group_words import GroupTerms, group_of_documents


@dataclass(frozen=True)
class Compared:
    """A group against the others, or against one other.

    Attributes
    ----------
    group, against : numbers of groups; None for all others
    words : measures by token
    p, adjusted : float64[n_terms], by unit; adjusted over all terms and all groups compared with it
    units, other_units : int64[n_terms], units on either side that have the term
    of, of_others : units on either side
    """

    group: int
    against: int | None
    words: GroupWords
    p: NDArray[np.float64]
    adjusted: NDArray[np.float64]
    units: NDArray[np.int64]
    other_units: NDArray[np.int64]
    of: int
    of_others: int
    lengths: float


def units_counted(view: View, only: tuple[int, int] | None = None) -> UnitCounts:
    """Words by unit and group, of all groups, or of two as the first and the second."""
    record = view.record(GROUP_WORDS)
    settings = GROUP_WORDS.parse(record.making.settings)

    def count() -> UnitCounts:
        group, _ = group_of_documents(view.corpus, settings)
        if only is not None:
            group = np.select([group == only[0], group == only[1]], [0, 1], -1)
        return unit_counts(view.matrix_of(GROUP_WORDS).counts, group, units_of(view.corpus, settings.unit))

    return view.cache.get(("units of words", record.identity, only), count)


def compared(view: View, group: int, against: int | None = None) -> Compared:
    """How the words of a group differ."""
    made = view.value(GROUP_WORDS)
    for each in (group, against):
        if each is not None and not 0 <= each < len(made.names):
            raise BadInputError(f"There is no group {each + 1}: {len(made.names)} are compared.")
    if group == against:
        raise BadInputError("A group is compared with another than itself. Choose another.")
    key = ("words compared", view.identity(GROUP_WORDS), group, against)
    return view.cache.get(
        key, lambda: _with_all(view, made, group) if against is None else _with_one(view, group, against)
    )


def _with_all(view: View, made: GroupTerms, group: int) -> Compared:
    whole, units = made.inside.sum(axis=0, dtype=np.int64), made.units.sum(axis=0, dtype=np.int64)
    adjusted = view.cache.get(("adjusted words", view.identity(GROUP_WORDS)), lambda: false_discovery_rates(made.p))
    inside = made.inside[group].astype(np.int64)
    return Compared(
        group,
        None,
        words_apart(inside, whole - inside),
        made.p[group],
        adjusted[group],
        made.units[group].astype(np.int64),
        units - made.units[group],
        int(made.group_units[group]),
        int(made.group_units.sum() - made.group_units[group]),
        float(made.lengths[group]),
    )


def _with_one(view: View, group: int, against: int) -> Compared:
    found = units_counted(view, (group, against))
    tested = significance(found)
    p = tested.p[0]
    return Compared(
        group,
        against,
        words_apart(tested.inside[0], tested.inside[1]),
        p,
        false_discovery_rates(p),
        tested.units[0],
        tested.units[1],
        int(found.units[0]),
        int(found.units[1]),
        found.lengths_ratio(0),
    )
