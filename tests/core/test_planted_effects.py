"""The effects that are planted in the demo are found, the flat theme is not."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.optimize import linear_sum_assignment

from skeinwork.core.prevalence.differences import differences
from skeinwork.core.prevalence.prevalence import prevalence
from skeinwork.core.prevalence.totals import UnitTotals, unit_totals
from skeinwork.core.topics.methods import lda
from skeinwork.core.topics.methods.lda import LdaSettings
from skeinwork.demo.generator import THEMES, Entry
from skeinwork.work.steps.fitted import token_weights
from tests.conftest import Prepared


class Tracked:
    """A fit of the demo at its true count, its topics matched to the themes."""

    def __init__(self, demo: Prepared, entries: list[Entry]) -> None:
        self.model = lda.fit(demo.matrix.counts, LdaSettings(topics=12, seed=2, iterations=200))
        self.entries = entries
        self.weights = token_weights(demo.matrix)
        truth = np.array([[e.mixture.get(theme, 0.0) for theme in THEMES] for e in entries])
        known = truth.sum(axis=1) > 0
        table = np.corrcoef(self.model.doc_topic[known].T, truth[known].T)[:12, 12:]
        rows, columns = linear_sum_assignment(-table)
        self.topic = {THEMES[theme]: int(k) for k, theme in zip(rows, columns, strict=True)}

    def of(self, theme: str, *tests: object) -> tuple[UnitTotals, int]:
        """What units hold in the cells that predicates of a row define."""
        cells = np.full(len(self.entries), -1)
        for number, test in enumerate(tests):
            for at, entry in enumerate(self.entries):
                if test(entry.row):  # type: ignore[operator]
                    cells[at] = number
        assert self.model.samples is not None
        totals = unit_totals(self.model.samples, self.weights, cells, len(tests))
        return totals, self.topic[theme]


@pytest.fixture(scope="module")
def tracked(demo: Prepared, entries: list[Entry]) -> Tracked:
    return Tracked(demo, entries)


def year(row: dict[str, str]) -> str:
    return row["date"][:4]


EFFECTS = {
    "storm winter": (
        "storm",
        lambda row: "2013-12" <= row["date"][:7] <= "2014-03" and row["harbour"] in ("Kelpwick", "Tarnholt"),
        lambda row: not "2013-12" <= row["date"][:7] <= "2014-03",
    ),
    "line closed": (
        "ferry",
        lambda row: row["harbour"] == "Quellan" and row["date"] < "2017-04",
        lambda row: row["harbour"] == "Quellan" and row["date"] >= "2017-04",
    ),
    "seabird rule": (
        "seabird",
        lambda row: row["writer"] == "warden" and year(row) in ("2019", "2020"),
        lambda row: row["writer"] == "warden" and year(row) < "2019",
    ),
    "engine trouble": ("engine", lambda row: row["harbour"] == "Ossingby", lambda row: row["harbour"] != "Ossingby"),
    "steady growth": (
        "visitors",
        lambda row: year(row) in ("2018", "2019", "2020"),
        lambda row: year(row) in ("2011", "2012", "2013"),
    ),
}


@pytest.mark.parametrize("effect", EFFECTS)
def test_planted_effects_are_found(tracked: Tracked, effect: str) -> None:
    theme, more, less = EFFECTS[effect]
    totals, topic = tracked.of(theme, more, less)
    found = differences(totals)
    assert found.low[0, topic] > 0 and found.adjusted[0, topic] < 0.01


def test_the_flat_theme_covers_no_change(tracked: Tracked) -> None:
    totals, topic = tracked.of("dues", lambda row: year(row) <= "2015", lambda row: year(row) > "2015")
    found = differences(totals)
    assert found.low[0, topic] <= 0 <= found.high[0, topic] and found.adjusted[0, topic] > 0.05
    years = [str(number) for number in range(2011, 2021)]
    totals, topic = tracked.of("dues", *[lambda row, y=y: year(row) == y for y in years])
    yearly = prevalence(totals)
    overall = (yearly.mean[:, topic] * yearly.documents).sum() / yearly.documents.sum()
    inside = (yearly.low[:, topic] <= overall) & (overall <= yearly.high[:, topic])
    assert inside.sum() >= 8
