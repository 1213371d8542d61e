"""Labels from elsewhere: of earlier fits that no topic has any more, and of a table, told by its words."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.topics import matching
from skeinwork.core.topics.words import top_words
from skeinwork.store.artefacts import DamagedResultError
from skeinwork.store.models import TopicNote
from skeinwork.work.results.view import View
from skeinwork.work.steps import MATRIX, fit
from skeinwork.work.steps.step import OnDisk, load
from skeinwork.work.strands.schemas import Remark, TopicLabel
from skeinwork.work.strands.tables import TableText, table_rows

# Words of a topic among which those of a table are looked for.
_AMONG = 30
# The share of a row's words that a topic needs to be taken for it.
_LEAST = 0.4


class LostLabel(BaseModel):
    """A label of an earlier fit that no topic has now, and the topic that is nearest to what it was."""

    label: str
    note: str
    family: str
    nearest: int | None
    likeness: float | None


class TableLabel(BaseModel):
    """A row of a table with the topic that its words are of; None where no topic has enough of them.

    ``found`` of the row's ``words`` are among the topic's strongest.
    """

    line: int
    label: TopicLabel
    note: Remark
    family: TopicLabel
    words: int
    found: int
    topic: int | None


class LabelTable(TableText):
    """A table with the columns ``label`` and ``words``, the words of a topic by space, comma or semicolon.

    ``apply`` gives the labels to the topics; else it is only looked at. ``fit`` guards against another one.
    """

    model_config = ConfigDict(extra="forbid")
    fit: str = Field(pattern="^[0-9a-f]{64}$")
    apply: bool = False


def lost_labels(view: View, notes: Sequence[TopicNote]) -> list[LostLabel]:
    """What topics of earlier fits were called and no topic of the present one is, the latest first.

    Parameters
    ----------
    notes : all of the strand, those written last first
    """
    mine = view.fit_record.identity
    present = {note.label.casefold() for note in notes if note.fit == mine and note.label}
    found: dict[str, LostLabel] = {}
    for note in notes:
        key = note.label.casefold()
        if note.fit == mine or not note.label or key in present or key in found:
            continue
        nearest, likeness = _nearest(view, note.fit, note.topic)
        found[key] = LostLabel(label=note.label, note=note.note, family=note.family, nearest=nearest, likeness=likeness)
    return list(found.values())


def _nearest(view: View, other: str, topic: int) -> tuple[int | None, float | None]:
    """The topic whose words are nearest to those of a topic of an earlier fit, and how near."""

    def made() -> np.ndarray:
        stored = view.store.open(other)
        terms = load(OnDisk(view.store), MATRIX, view.store.open(stored.making.inputs[0])).terms
        words = fit.own_words(stored), fit.own_words(view.fit_record)
        return matching.similarity(*matching.on_shared_terms(words[0], terms, words[1], view.fit_matrix.terms))

    try:
        near = view.cached("likeness to", made, other)
    except DamagedResultError:
        return None, None
    if topic >= len(near) or not near.size:
        return None, None
    near = near[topic].copy()
    near[view.fit_summary.empty] = -1.0
    best = int(near.argmax())
    return best, round(float(near[best]), 4)


def labels_of_table(view: View, given: LabelTable) -> list[TableLabel]:
    """Each row with the topic that has most of its words; no topic is given two rows.

    Raises
    ------
    BadInputError
        where the table has no such columns.
    """
    rows = table_rows(given.text, "label")
    table_rows(given.text, "words")
    matrix, top = view.fit_matrix, top_words(np.asarray(view.model.topic_word), _AMONG)
    strongest = [
        {matrix.terms[term].casefold() for term in row} | {matrix.display[term].casefold() for term in row}
        for row in top
    ]
    words = [_words(row.get("words", "")) for _, row in rows]
    hits = np.array([[sum(word in mine for word in each) for mine in strongest] for each in words], dtype=np.float64)
    chosen = _assigned(hits, [len(each) for each in words])
    return [
        TableLabel(
            line=line,
            label=row.get("label", "").strip()[:200],
            note=row.get("note", "").strip()[:20_000],
            family=row.get("family", "").strip()[:200],
            words=len(words[at]),
            found=int(hits[at, chosen[at]]) if at in chosen else int(hits[at].max(initial=0)),
            topic=chosen.get(at),
        )
        for at, (line, row) in enumerate(rows)
    ]


def _words(cell: str) -> list[str]:
    separated = cell.replace(";", ",")
    parts = separated.split(",") if "," in separated else separated.split()
    return [each.strip().casefold() for each in parts if each.strip()]


def _assigned(hits: np.ndarray, words: Sequence[int]) -> Mapping[int, int]:
    """The topic of each row that has enough of its words, each topic once, so that most words are found."""
    from scipy.optimize import linear_sum_assignment

    if not hits.size:
        return {}
    rows, topics = linear_sum_assignment(-hits)
    pairs = zip(rows.tolist(), topics.tolist(), strict=True)
    return {row: topic for row, topic in pairs if words[row] and hits[row, topic] >= _LEAST * words[row]}
