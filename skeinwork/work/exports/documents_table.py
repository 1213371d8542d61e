"""Every document with its topics, as a table."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.formats.dates import MISSING, from_days
from skeinwork.core.formats.export import csv_rows
from skeinwork.work.evidence.topic import FEW_WORDS
from skeinwork.work.exports.labels import Labels, topic_names
from skeinwork.work.results.view import View

SURE = 0.8  # of the samples in which it should lead
_ROWS = 1000  # documents whose topics are laid out at a time


def _leading(view: View) -> Iterator[tuple[int, float, NDArray[np.float64]]]:
    """Of every document its leading topic, the share of the saved samples in which it leads, tokens of each topic."""
    samples, tokens = view.model.samples, view.assigned.tocsr()
    counts = [samples.counts(at) for at in range(len(samples))] if samples else []
    for first in range(0, tokens.shape[0], _ROWS):
        rows = slice(first, first + _ROWS)
        here = tokens[rows].toarray()
        leading = here.argmax(axis=1)
        leads = [each[rows].toarray().argmax(axis=1) == leading for each in counts]
        sure = np.mean(leads, axis=0) if leads else np.ones(len(leading))
        yield from zip(leading.tolist(), sure.tolist(), here, strict=True)


def _unsure(words: float, leads: float) -> str | None:
    """What there is to say against a leading topic."""
    if words < FEW_WORDS:
        return f"few words: {round(words)}"
    return "leading topic unsure" if leads < SURE else None


def documents_table(view: View, labels: Labels) -> Iterator[bytes]:
    """Every document with its fields, words, leading topic and shares of its counted words.

    A leading topic that few words or few of the saved samples bear out is marked.
    """
    corpus = view.corpus
    names = topic_names(view, labels)
    header = [
        "document",
        "file",
        "line",
        *(c.name for c in corpus.columns),
        "day",
        "words",
        "leading topic",
        "leads in samples",
        "note",
        *(f"share: {name}" for name in names),
    ]

    def rows() -> Iterator[list[Any]]:
        for at, (leading, leads, tokens) in enumerate(_leading(view)):
            day = int(corpus.days[at])
            size = view.assigned_sizes[at]
            shares = tokens / max(size, 1e-300)
            yield [
                at + 1,
                corpus.names[corpus.sources[at]],
                int(corpus.lines[at]),
                *(c.value(at) for c in corpus.columns),
                None if day == MISSING else from_days(day).isoformat(),
                int(view.lengths[at]),
                *([names[leading], leads, _unsure(size, leads)] if tokens.any() else [None] * 3),
                *(shares.tolist() if size else [None] * len(names)),
            ]

    return csv_rows(header, rows())


def vocabulary_table(view: View) -> Iterator[bytes]:
    """The columns of the matrix."""
    matrix = view.fit_matrix
    totals, frequency = matrix.totals, matrix.document_frequency
    rows = (
        [at + 1, term, matrix.display[at], int(matrix.lengths[at]), int(totals[at]), int(frequency[at])]
        for at, term in enumerate(matrix.terms)
    )
    return csv_rows(["column", "term", "shown as", "words", "count", "documents"], rows)


def rejected_table(view: View) -> Iterator[bytes]:
    """Everything that was left out or noted when the documents were brought in."""
    rows = (
        [each["file"], each["line"], each["reason"], each["raw"]] for each in view.corpus_record.document("trouble")
    )
    return csv_rows(["file", "line", "reason", "left out, as it was"], rows)
