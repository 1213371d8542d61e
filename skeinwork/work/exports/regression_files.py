"""Files of regressions: predictions, what is held against what, and how much is told."""

from __future__ import annotations

from collections.abc import Iterator

from skeinwork.core.formats.export import csv_rows
from skeinwork.core.prevalence.design_matrix import Regression
from skeinwork.core.progress import silent
from skeinwork.work.exports.labels import Labels, topic_names
from skeinwork.work.results.view import View
from skeinwork.work.steps.fitted import known
from skeinwork.work.steps.regression import Held, regressed
from skeinwork.work.topics.prevalence import Seeds, chains_of
from skeinwork.work.topics.regressions import regression_of, settings_of


def found_of(view: View, of: Regression, seeds: Seeds) -> Held:
    """As it was worked out for the screen, or now."""

    def made() -> Held:
        settings = settings_of(view, of, seeds)
        return regression_of(view, of, seeds) or regressed(
            view.model.drawn, view.corpus, settings, view.token_weights, chains_of(view, seeds), silent
        )

    return view.cached("regressed", made, of, seeds)


def regression_table(view: View, of: Regression, labels: Labels, seeds: Seeds) -> Iterator[bytes]:
    """Every prediction with its interval, every contrast with p, and each effect with the p of all its contrasts."""
    held, names = found_of(view, of, seeds), topic_names(view, labels)
    outline, found = held.outline, held.found
    rows: list[list[str | int | float | None]] = []
    for number, effect in enumerate(outline.effects):
        name = " × ".join(effect.terms)
        for k, label in enumerate(names):
            for at in range(*effect.points):
                figures = map(known, (found.share[at, k], found.low[at, k], found.high[at, k]))
                where = ", ".join(outline.given[at])
                rows.append([name, "foretold", where, k + 1, label, *figures, None, None, outline.documents[at]])
            for at in range(*effect.contrasts):
                ends = (found.difference[at, k], found.difference_low[at, k], found.difference_high[at, k])
                where = ", ".join(outline.contrasts[at])
                rows.append(
                    [name, "against the rest", where, k + 1, label, *map(known, (*ends, found.p[at, k])), None, None]
                )
            figures = map(known, (found.effect_p[number, k], found.adjusted[number, k]))
            rows.append([name, "any of it", None, k + 1, label, None, None, None, *figures, None])
    for k, label in enumerate(names):
        told = float(found.explained[k])
        rows.append([None, "share of the scatter that is told", None, k + 1, label, told, *[None] * 5])
    header = ["effect", "what", "where", "topic", "label", "value", "low 95 %", "high 95 %", "p"]
    return csv_rows([*header, "p adjusted over topics", "documents"], rows)
