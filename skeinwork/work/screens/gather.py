"""Gather at a glance: documents, lengths, groups, dates, and what may spoil models."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

import numpy as np
from pydantic import BaseModel

from skeinwork.core.corpus.documents import Trouble
from skeinwork.core.corpus.periods import period_index
from skeinwork.core.corpus.shaping import Operation
from skeinwork.core.text.language import LANGUAGES
from skeinwork.work.results import documents
from skeinwork.work.results.flags import FLAGS
from skeinwork.work.results.view import View
from skeinwork.work.topics.breakdowns import suggested_period


class Bar(BaseModel):
    label: str
    count: int
    start: float | None = None
    end: float | None = None


class FieldSummary(BaseModel):
    """A field: what it holds (number, date, category, text), in how many documents, with examples."""

    name: str
    role: str
    holds: str
    filled: int
    distinct: int
    example: str
    values: list[Bar]


class TroubleKind(BaseModel):
    """One reason why rows were left out or noted, with how many and the first of them."""

    reason: str
    left_out: bool
    count: int
    rows: list[Trouble]


class LongDocument(BaseModel):
    document: int
    name: str
    words: int


class FlaggedSet(BaseModel):
    """Documents that may spoil models: how many, what they are, and the operation that drops them."""

    flag: str
    count: int
    said: str
    why: str
    out: Operation | None


class Overview(BaseModel):
    """A corpus at a glance."""

    documents: int
    words: int
    median_words: float
    lengths: list[Bar]
    period: str | None
    dates: list[Bar]
    fields: list[FieldSummary]
    flags: list[FlaggedSet]
    languages: list[Bar]
    longest: list[LongDocument]
    rejected_kinds: list[TroubleKind]
    rejected: int
    noted: int
    files: list[str]


def _length_bars(view: View) -> list[Bar]:
    lengths = view.lengths
    top = float(np.percentile(lengths, 99)) if len(lengths) else 0
    step = max(1, int(np.ceil(top / 24)))
    step = next((nice for nice in (1, 2, 5, 10, 20, 25, 50, 100, 200, 250, 500, 1000) if nice >= step), step)
    bins = np.minimum(lengths // step, 29)
    counts = np.bincount(bins, minlength=1)
    return [
        Bar(
            label=f"{at * step}–{(at + 1) * step - 1}" if at < 29 else f"{at * step} or more",
            count=int(count),
            start=at * step,
            end=(at + 1) * step if at < 29 else None,
        )
        for at, count in enumerate(counts)
    ]


def _fields(view: View) -> list[FieldSummary]:
    found = []
    for column in view.corpus.columns:
        counts = np.bincount(column.codes[column.codes >= 0], minlength=len(column.values))
        listed = column.role in ("group", "author", "source", "language")
        order: Any = np.argsort(-counts, kind="stable")[:60] if listed else []
        found.append(
            FieldSummary(
                name=column.name,
                role=column.role,
                holds=documents.holds(column),
                filled=int((column.codes >= 0).sum()),
                distinct=len(column.values),
                example=column.values[0][:80] if column.values else "",
                values=[Bar(label=column.values[at], count=int(counts[at])) for at in order],
            )
        )
    return found


def _languages(view: View) -> list[Bar]:
    counts = np.bincount(view.survey.language.astype(int) + 1, minlength=len(LANGUAGES) + 1)
    names = ("unsure", *LANGUAGES)
    order = np.argsort(-counts, kind="stable")
    return [Bar(label=names[at], count=int(counts[at])) for at in order if counts[at]]


def trouble_kinds(view: View, most: int) -> list[TroubleKind]:
    """What was left out and what was noted, by reason, the most frequent first; so many rows of each.

    Reasons that differ by numbers and quoted words are one.
    """
    kinds: dict[tuple[bool, str], TroubleKind] = {}
    for each in view.corpus_record.document("trouble"):
        plain, left_out = re.sub(r"“[^”]*”|\d+", "…", each["reason"]), each["raw"] is not None
        if (left_out, plain) not in kinds:
            kinds[left_out, plain] = TroubleKind(reason=each["reason"], left_out=left_out, count=0, rows=[])
        kind = kinds[left_out, plain]
        kind.count += 1
        if each["reason"] != kind.reason:
            kind.reason = plain
        if len(kind.rows) < most:
            kind.rows.append(Trouble(**{**each, "raw": each["raw"] and each["raw"][:500]}))
    return sorted(kinds.values(), key=lambda kind: (-kind.left_out, -kind.count))


def _flagged(view: View) -> Iterator[FlaggedSet]:
    for flag in FLAGS:
        if flag.out and (count := int(flag.mask(view).sum())):
            yield FlaggedSet(flag=flag.key, count=count, said=flag.in_words(view), why=flag.why, out=flag.out(view))


def overview(view: View) -> Overview:
    """Documents, lengths, groups, dates, and what may spoil models."""
    return view.cached("overview", lambda: _overview(view))


def _overview(view: View) -> Overview:
    period = suggested_period(view)
    dates: list[Bar] = []
    if period:
        index, names = period_index(view.corpus.days, view.corpus.precision, period)
        counts = np.bincount(index[index >= 0], minlength=len(names))
        dates = [Bar(label=name, count=int(c)) for name, c in zip(names, counts, strict=True)]
    summary = view.corpus_record.summary
    return Overview(
        documents=len(view.corpus),
        words=int(view.lengths.sum()),
        median_words=float(np.median(view.lengths)),
        lengths=_length_bars(view),
        period=period,
        dates=dates,
        fields=_fields(view),
        flags=list(_flagged(view)),
        languages=_languages(view),
        rejected_kinds=[each for each in trouble_kinds(view, 1) if each.left_out][:20],
        longest=[
            LongDocument(document=int(at), name=documents.name(view, int(at)), words=int(view.lengths[at]))
            for at in np.argsort(-view.lengths, kind="stable")[:5]
        ],
        rejected=summary["rejected"],
        noted=summary["noted"],
        files=view.corpus.names,
    )
