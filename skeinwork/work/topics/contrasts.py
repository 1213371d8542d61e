"""Any two selections of documents held against each other, topic by topic."""

from __future__ import annotations

from skeinwork.core.prevalence import selections
from skeinwork.core.prevalence.breakdown import Breakdown, Cells, Held, broken_down
from skeinwork.core.prevalence.selections import Compared, Selection
from skeinwork.work.results.view import View
from skeinwork.work.topics.prevalence import Seeds, chains_of, units_held


def compared(view: View, by: Breakdown, one: Selection, other: Selection | None, seeds: Seeds = ()) -> Compared:
    """One selection against another, or against all other documents, kept while it is looked at.

    Raises
    ------
    BadInputError
        where one of them has no documents.
    """

    def hold(of: Breakdown, cells: Cells | None) -> Held:
        if cells is None:
            return units_held(view, of, seeds)
        return broken_down(view.model.drawn, view.corpus, of, view.token_weights, chains_of(view, seeds), cells)

    def made() -> Compared:
        return selections.compared(view.corpus, by, one, other, view.token_weights > 0, hold)

    return view.cached("compared", made, by, one, other, seeds)
