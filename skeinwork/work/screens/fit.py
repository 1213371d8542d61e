"""Fit: the methods there are, and how one fit went."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import numpy as np
from pydantic import BaseModel

from skeinwork.core.topics import words
from skeinwork.core.topics.methods import METHODS, FitSettings, method_of
from skeinwork.core.topics.methods.base import MethodSettings
from skeinwork.work import fits
from skeinwork.work.schemas import fields_of
from skeinwork.work.steps import FIT, MATRIX
from skeinwork.work.steps.fit import FitSummary
from skeinwork.work.steps.step import OnDisk, Said, load
from skeinwork.work.view import View


class MethodKind(BaseModel):
    """A topic method: what it is called, what it is, and the schema of its settings."""

    method: str
    title: str
    about: str
    fields: dict[str, Any]


def methods() -> list[MethodKind]:
    """The topic methods there are."""
    return [
        MethodKind(method=each.name, title=each.title, about=each.about,
                   fields=fields_of(each.settings, frozenset({"method"})))
        for each in METHODS.values()
    ]  # fmt: skip


class FitDetail(BaseModel):
    """How a fit went: its trace and its topics' words."""

    identity: str
    settings: FitSettings
    watches: list[str]
    trace: list[list[float]]
    top: list[list[str]]
    said: Said
    summary: FitSummary


def detail(view: View, identity: str) -> FitDetail:
    """One fit in detail, whether or not it is the view's."""
    stored, inputs = fits.open_fit(view, identity), OnDisk(view.store)
    model = load(inputs, FIT, stored)
    display = load(inputs, MATRIX, view.store.open(stored.making.inputs[0])).display
    settings, summary = FIT.parse(stored.making.settings), FIT.summarised(stored)
    return FitDetail(
        identity=identity, settings=settings, watches=list(method_of(settings).watches),
        trace=model.trace.tolist(), said=FIT.said(settings, summary), summary=summary,
        top=[[display[t] for t in row] for row in words.top_words(np.asarray(model.topic_word), 8)],
    )  # fmt: skip


def check(view: View, settings: Iterable[MethodSettings]) -> None:
    """Refuse at once what fits of the view's matrix would refuse later."""
    for each in settings:
        method_of(each).check(view.matrix.counts, each)
