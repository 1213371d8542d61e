"""How far several raters agree."""

from __future__ import annotations

from collections import Counter
from collections.abc import Hashable, Sequence


def krippendorff_alpha(units: Sequence[Sequence[Hashable]]) -> float | None:
    """Krippendorff's alpha for nominal values: 1 where raters agree, 0 where they do as by chance.

    K. Krippendorff, *Computing Krippendorff's alpha-reliability*, 2011: one less the disagreement seen over that of
    all values dealt out at random. Units that fewer than two have rated say nothing.

    Parameters
    ----------
    units : for each unit the values that it was given, one from each who rated it

    Returns
    -------
    None where no unit has two values, or all values are the same

    >>> round(krippendorff_alpha([["a", "a"], ["a", "b"], ["b", "b"], ["b", "b"]]), 3)
    0.533
    """
    rated = [Counter(each) for each in units if len(each) > 1]
    totals: Counter[Hashable] = sum(rated, Counter())
    n = totals.total()
    apart = sum(
        sum(count * (values.total() - count) for count in values.values()) / (values.total() - 1) for values in rated
    )
    by_chance = sum(count * (n - count) for count in totals.values())
    return 1.0 - (n - 1) * apart / by_chance if by_chance else None
