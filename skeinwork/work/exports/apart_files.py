"""Files of models apart: every topic of each part's own model, with what it came from."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.formats.export import csv_rows
from skeinwork.core.progress import silent
from skeinwork.work.exports.labels import Labels, topic_names
from skeinwork.work.results.view import View
from skeinwork.work.screens.apart import own_topics
from skeinwork.work.steps import PART_FIT
from skeinwork.work.steps.part_fit import PartFit, PartFitSettings, Parting
from skeinwork.work.steps.step import Earlier, OnDisk
from skeinwork.work.topics.apart import fits_of, settings_of


def _fitted(view: View, settings: PartFitSettings) -> PartFit:
    earlier = Earlier(OnDisk(view.store, view.uploads), [view.fit_record.identity])
    return PART_FIT.compute(earlier, settings, silent)[0]


def apart_table(view: View, parting: Parting, labels: Labels) -> Iterator[bytes]:
    """Every topic of every part: its words, what it came from, and the topics of the fit that its words were of."""
    names = topic_names(view, labels)
    rows: list[list[str | int | float | None]] = []
    for settings, made in zip(settings_of(view, parting, dealt=False), fits_of(view, parting), strict=True):
        fit = made or view.cached("part fit", partial(_fitted, view, settings), settings)
        part: list[str | int | float | None] = [settings.part, fit.summary.documents]
        for own in own_topics(view, fit):
            mine = [*part, own.own + 1, " ".join(own.words), own.tokens, own.share, own.came, own.held]
            shares = [_shares(fit.found.flow[0], topic, own.own, names) for topic in own.came_from]
            rows.extend([*mine, *each] for each in shares or [[None] * 4])
        if fit.summary.why:
            rows.append([*part, None, fit.summary.why, *[None] * 8])
    header = ["part", "documents", "its topic", "words", "tokens", "share of the part", "came from", "share of seeds"]
    return csv_rows([*header, "topic of the fit", "label", "share of that topic's tokens", "share of its tokens"], rows)


def _shares(flow: NDArray[np.float64], topic: int, own: int, names: list[str]) -> list[str | int | float | None]:
    went = float(flow[topic, own])
    of_topic, of_own = float(flow[topic].sum()), float(flow[:, own].sum())
    return [topic + 1, names[topic], went / max(of_topic, 1e-300), went / max(of_own, 1e-300)]
