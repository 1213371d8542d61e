"""Files of models apart: every topic of each part's own model with what it came from, and streams through periods."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.formats.export import csv_rows
from skeinwork.work.exports.labels import Labels, topic_names
from skeinwork.work.exports.topic_files import as_graphml, plain
from skeinwork.work.results.view import View
from skeinwork.work.screens.models_apart import own_topics
from skeinwork.work.screens.streams import Streams, streams
from skeinwork.work.steps.part_fit import Parting
from skeinwork.work.topics.partings import fits_of, settings_of


def apart_table(view: View, parting: Parting, labels: Labels) -> Iterator[bytes]:
    """Every topic of every part: its words, what it came from, and the topics of the fit that its words were of."""
    names = topic_names(view, labels)
    rows: list[list[str | int | float | None]] = []
    for settings, fit in zip(settings_of(view, parting, dealt=False), fits_of(view, parting), strict=True):
        if fit is None:
            continue
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


def _streams_of(view: View, parting: Parting) -> Streams:
    """The models of periods as streams; models have titles of their own, whatever the fit's topics are called."""
    return view.cached("streams", lambda: streams(view, parting, False, {}), parting)


def streams_table(view: View, parting: Parting) -> Iterator[bytes]:
    """Every thread from a topic of one period to one of the next, where all was made."""
    found = _streams_of(view, parting)
    topics = {(each.period, each.own): each for each in found.topics}
    leaving, arriving = (
        {(each.period, each.own): each.says for each in found.happenings if (each.kind in ("split", "ended")) is leaves}
        for leaves in (True, False)
    )
    rows: list[list[str | int | float | None]] = []
    for each in found.threads:
        one, other = topics[each.period, each.before], topics[each.period + 1, each.after]
        names = [
            value
            for topic in (one, other)
            for value in (found.periods[topic.period].name, topic.own + 1, topic.title, topic.share)
        ]
        happens = leaving.get((one.period, one.own)) or arriving.get((other.period, other.own))
        rows.append([*names, each.of_before, each.of_after, each.held, each.times, happens])
    header = ["period", "topic", "title", "share", "next period", "its topic", "its title", "its share"]
    return csv_rows(
        [*header, "share of the one in it", "share of the other in it", "share of seeds", "times the share", "happens"],
        rows,
    )


def streams_graph(view: View, parting: Parting) -> list[bytes]:
    """The same as a graph in GraphML: topics of periods joined by threads."""
    import networkx  # slow to import, and seldom needed

    found = _streams_of(view, parting)
    made: networkx.DiGraph[str] = networkx.DiGraph()
    for each in found.topics:
        period = found.periods[each.period].name
        numbers = {"share": each.share, "tokens": each.tokens, "topic_of_fit": each.whole + 1}
        made.add_node(f"{period} {each.own + 1}", period=period, label=plain(each.title), **numbers)
    for thread in found.threads:
        one, other = (found.periods[thread.period + at].name for at in (0, 1))
        numbers = {"weight": thread.of_before, "of_after": thread.of_after, "held": thread.held}
        made.add_edge(f"{one} {thread.before + 1}", f"{other} {thread.after + 1}", **numbers)
    return as_graphml(made)
