"""The file of pinned statements: each as it was pinned, and under every choice that it was tested over."""

from __future__ import annotations

from collections.abc import Iterator

from skeinwork.core.formats.export import csv_rows
from skeinwork.work.exports.labels import Labels
from skeinwork.work.exports.pattern import Pattern
from skeinwork.work.results.view import View
from skeinwork.work.screens.holds import SAID, sentence_of
from skeinwork.work.topics.statements import outcome_of, trials


def statements_table(view: View, pattern: Pattern, labels: Labels) -> Iterator[bytes]:
    """A row for each test; estimates are differences of shares, of words log₂ of ratios."""
    names = {topic: each.label for topic, each in labels.items()}
    rows = (
        [
            sentence_of(view, pinned, names),
            trial.kind.title if trial.kind else "as pinned",
            trial.choice.title if trial.choice else None,
            SAID[found.verdict],
            *(found.estimate, found.low, found.high, found.p, found.adjusted),
            *(found.name, found.likeness, found.units, found.why or None),
        ]
        for pinned in pattern.pinned
        for trial in trials(view, pinned, pinned.over)
        if (found := outcome_of(view, trial))
    )
    header = ["statement", "kind of choice", "choice", "comes out", "estimate", "low 95 %", "high 95 %"]
    return csv_rows([*header, "p", "p adjusted", "found again as", "likeness", "smaller side", "why not tested"], rows)
