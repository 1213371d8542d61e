"""How the share of a cell came about: tokens over tokens by unit, the scatter of units, the interval."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from pydantic import BaseModel, Field

from skeinwork.core.corpus.grouping import FILE, units_of
from skeinwork.core.corpus.periods import said
from skeinwork.core.errors import BadInputError
from skeinwork.core.prevalence.breakdown import Breakdown, Cells, Held
from skeinwork.core.prevalence.prevalence import LEAST_UNITS, Moments, Spread, moments, pooled_over, spread_of
from skeinwork.core.prevalence.totals import UnitTotals
from skeinwork.core.said import count, decimal
from skeinwork.core.working import Line, Working
from skeinwork.work.evidence.topic import topic_of
from skeinwork.work.results import documents
from skeinwork.work.results.view import View
from skeinwork.work.topics.prevalence import Seeds, units_held

_UNITS = 12


class UnitOfTopic(BaseModel):
    """A unit: its tokens (or weight), those of the topic, its share, and its part of the cell or side.

    ``document`` where it is one.
    """

    name: str
    document: int | None
    side: str
    tokens: float
    of_topic: float
    part: float


class ShareWorking(Working):
    """A working with the units behind it, those that hold most of the topic first, and the share in every draw."""

    units: list[UnitOfTopic] = Field([])
    draws: list[float] = Field([])


def share_working(
    view: View, by: Breakdown, seeds: Seeds, topic: int, group: str | None, period: str | None
) -> ShareWorking:
    """Of one topic in one cell.

    Raises
    ------
    BadInputError
        where there is no such cell, or it has no documents.
    """
    topic_of(view, topic)
    held = units_held(view, by, seeds)
    row, totals = _row(held.cells, group, period), held.totals
    found = moments(totals)
    spread = spread_of(found, totals.spread, pooled_over(found))
    lines = share_lines(found, spread, row, topic)
    sampled = float(totals.spread[row, topic])
    lines.append(
        Line(
            name="variance that the saved samples add",
            formula="of s over samples, and over seeds where there are others",
            numbers=f"{count(len(view.model.drawn))} samples"
            + (f", {count(len(seeds))} other seeds" if len(seeds) > 1 else ", 1 other seed" if seeds else ""),
            value=sampled,
        )
    )
    where = ", ".join(filter(None, (group or "", said(period) if period else ""))) or "all documents"
    return ShareWorking(
        title=f"Share in {where}",
        lines=lines,
        units=units_of_topic(view, by, totals, topic, [[row]], [""]),
        draws=_draws(view, held, row, topic),
        note="A token of the topic: one that was given it, on average over the saved samples. n: units of a proportion "
        "that would vary as much, from how units scatter about s, leaned towards all topics and cells. "
        f"Under {LEAST_UNITS} units there is no interval.",
    )


def _draws(view: View, held: Held, row: int, topic: int) -> list[float]:
    """The cell's share of a topic in each saved sample; none where a method saves none."""
    if view.model.samples is None:
        return []
    samples = view.model.drawn
    docs = np.flatnonzero(held.cells.cells == row)
    weights = held.weights.weights[docs]
    found = []
    for sample in range(len(samples)):
        counts = samples.counts(sample)[docs]
        sizes = np.asarray(counts.sum(axis=1), dtype=np.float64).ravel()
        of_topic = counts[:, [topic]].toarray().ravel()
        part = np.divide(of_topic, sizes, out=np.zeros(len(docs)), where=sizes > 0)
        found.append(float(weights @ part / max(float(weights[sizes > 0].sum()), 1e-300)))
    return found


def _row(cells: Cells, group: str | None, period: str | None) -> int:
    if (group or "") not in cells.groups or (period or "") not in cells.periods:
        raise BadInputError("There is no such group or period in this breakdown.")
    row = int(cells.rows[cells.groups.index(group or ""), cells.periods.index(period or "")])
    if row < 0:
        raise BadInputError("There are no documents in this group and period.")
    return row


def share_lines(found: Moments, spread: Spread, row: int, topic: int, letter: str = "") -> list[Line]:
    """A share, what it rests on, and its ends."""
    share, weight = float(found.share[row, topic]), float(found.weight[row])
    units, effective = int(found.units[row]), float(spread.units[row, topic])
    lines = [
        Line(
            name=f"share s{letter}",
            formula="Σ tokens of the topic / Σ tokens, over units",
            numbers=f"{count(round(share * weight))} / {count(round(weight))}, of {count(units)} units",
            value=share,
        )
    ]
    if units < LEAST_UNITS:
        return lines
    low, high = (float(end[row, topic]) for end in spread.interval(0.025))
    scatter = float(found.variance[row, topic])
    lines += [
        Line(
            name=f"variance of s{letter} over units",
            formula="Σ (tᵤ − s wᵤ)² / (1 − wᵤ), w the unit’s part",
            numbers=f"{count(units)} units, as {decimal(float(found.effective[row]), 1)} that weigh the same",
            value=scatter,
        ),
        Line(
            name=f"units in effect n{letter}",
            formula="s (1 − s) / variance, leaned, with the samples’",
            numbers=f"{decimal(float(spread.freedom[row, topic]), 1)} degrees of freedom",
            value=effective,
        ),
        Line(
            name=f"low end l{letter}",
            formula="β quantile .025 of (s n + ½, (1 − s) n + ½)",
            numbers=f"s n {decimal(share * effective, 2)}, (1 − s) n {decimal((1 - share) * effective, 2)}",
            value=low,
        ),
        Line(name=f"high end u{letter}", formula="the same at .975", numbers="", value=high),
    ]
    return lines


def units_of_topic(
    view: View, by: Breakdown, totals: UnitTotals, topic: int, cells: Sequence[Sequence[int]], sides: Sequence[str]
) -> list[UnitOfTopic]:
    """The units that hold most of a topic, of some cells on each side."""
    held = np.zeros(len(totals.cell))
    mine = totals.topic == topic
    held[totals.entry_row[mine]] = totals.amount[mine]
    whole = totals.cell_weight
    found: list[UnitOfTopic] = []
    for mine, side in zip(cells, sides, strict=True):
        rows = np.flatnonzero(np.isin(totals.cell, mine))
        of_side = float(whole[list(mine)].sum())
        for row in rows[np.argsort(-held[rows], kind="stable")[: _UNITS // len(cells)]].tolist():
            name, document = _named(view, by.unit, int(totals.unit[row]))
            found.append(
                UnitOfTopic(
                    name=name,
                    document=document,
                    side=side,
                    tokens=float(totals.weight[row]),
                    of_topic=float(held[row]),
                    part=float(totals.weight[row]) / of_side,
                )
            )
    return found


def _named(view: View, field: str | None, unit: int) -> tuple[str, int | None]:
    """What a unit is called, and its document where it is one."""
    of = units_of(view.corpus, field)
    if of is None:
        return documents.name(view, unit), unit
    beyond = int(of.max(initial=-1)) + 1
    if unit >= beyond:
        return documents.name(view, unit - beyond), unit - beyond
    if field == FILE and view.corpus.column(FILE) is None:
        return view.corpus.names[unit], None
    column = view.corpus.column(str(field))
    assert column is not None
    return column.values[unit], None
