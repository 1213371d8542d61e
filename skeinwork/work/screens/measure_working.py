"""Choose: how a measure of a fit came about, topic by topic, pair by pair, match by match."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from pydantic import BaseModel, Field

from skeinwork.core.errors import NotFoundError
from skeinwork.core.said import counted, decimal
from skeinwork.core.topics import matching
from skeinwork.core.topics.measures import ALL, MEASURES, OF_SEEDS, Measured, Texts
from skeinwork.core.working import Line, Working
from skeinwork.work.results import documents
from skeinwork.work.results.view import View
from skeinwork.work.steps.fit import foretold
from skeinwork.work.steps.measures import MeasuresSettings, texts_of
from skeinwork.work.steps.step import Earlier, OnDisk
from skeinwork.work.topics import fits
from skeinwork.work.topics.comparison import view_of_fit
from skeinwork.work.topics.sweeps import SweptFit

# Parts, and documents, that are shown at most.
_MOST = 60


class TopicValue(BaseModel):
    """What a measure says of one topic; None for one that stayed empty."""

    topic: int
    title: str
    value: float | None


class WorkingPart(BaseModel):
    """One of the values of which a topic's is the mean."""

    terms: list[str]
    display: list[str]
    numbers: str
    value: float


class MatchedTopic(BaseModel):
    """The topic of another seed that a topic is matched to, and how like it is."""

    fit: str
    seed: int
    topic: int
    title: str
    cosine: float


class ForetoldDocument(BaseModel):
    """A document held out: its words foretold, and nats a word above one topic for all."""

    document: int
    name: str
    words: int
    better: float


class MeasureWorking(Working):
    """How a measure of a fit came about.

    ``topics`` are its values where it has one for each; ``parts`` and ``matches`` are those of the topic that is
    asked for; ``foretold`` are documents held out, the worst first.
    """

    value: float | None = None
    topic: int | None = None
    topics: list[TopicValue] = Field([])
    parts: list[WorkingPart] = Field([])
    matches: list[MatchedTopic] = Field([])
    foretold: list[ForetoldDocument] = Field([])


def measure_working(
    view: View, made: Sequence[SweptFit], identity: str, key: str, topic: int, top: int, reference: str | None
) -> MeasureWorking:
    """Of one of the compared fits.

    Parameters
    ----------
    made : all of its series; reference : a cleaning of other texts that coherence is looked at in
    """
    fit = next((each for each in made if each.identity == identity), None)
    kind = next((each for each in ALL if each.key == key), None)
    if fit is None or kind is None:
        raise NotFoundError("There is no such fit, or no such measure, among those compared.")
    seen = view_of_fit(view, identity)
    found = MeasureWorking(title=kind.title, value=fit.value(key, top), note=f"It does not see {kind.misses}.")
    if key in MEASURES:
        earlier = Earlier(OnDisk(view.store), [identity])
        texts = texts_of(earlier, MeasuresSettings(reference=reference), seen.fit_matrix)
        return _of_topics(seen, fit, found, key, _live(fit, topic), top, texts)
    if key in OF_SEEDS:
        return _of_seeds(view, seen, fit, made, found, _live(fit, topic))
    return _of_fit(view, fit, found, key)


def _live(fit: SweptFit, topic: int) -> int:
    """The topic that is asked for, or where that is empty, or none, the first."""
    if not fit.summary.live:
        raise NotFoundError("All topics of that fit stayed empty.")
    return topic if topic in fit.summary.live else fit.summary.live[0]


def _of_topics(
    seen: View, fit: SweptFit, found: MeasureWorking, key: str, topic: int, top: int, texts: Texts
) -> MeasureWorking:
    matrix, live = seen.fit_matrix, fit.summary.live
    looked_at = Measured(np.asarray(seen.model.topic_word)[live], matrix.lengths, texts)
    formula, parts = MEASURES[key].parts(looked_at, live.index(topic), top)
    values = MEASURES[key].of_topics(looked_at, top)
    known = values[np.isfinite(values)]
    lines = [
        Line(
            name="this topic",
            formula=formula,
            numbers=counted(len(parts), "part"),
            value=float(values[live.index(topic)]),
        ),
        Line(
            name="the fit",
            formula="the mean over topics that are not empty",
            numbers=counted(len(known), "topic"),
            value=float(known.mean()) if len(known) else 0.0,
        ),
    ]
    by_topic = dict(zip(live, values.tolist(), strict=True))
    return found.model_copy(
        update={
            "topic": topic,
            "lines": [each for each in lines if np.isfinite(each.value)],
            "topics": _values(seen, fit, by_topic),
            "parts": [
                WorkingPart(
                    terms=[matrix.terms[each] for each in part.terms],
                    display=[matrix.display[each] for each in part.terms],
                    numbers=part.numbers,
                    value=part.value,
                )
                for part in sorted(parts, key=lambda each: each.value)[:_MOST]
            ],
        }
    )


def _values(seen: View, fit: SweptFit, values: dict[int, float]) -> list[TopicValue]:
    return [
        TopicValue(
            topic=k,
            title=seen.topic_words(k) if k in values else "stayed empty",
            value=values[k] if k in values and np.isfinite(values[k]) else None,
        )
        for k in range(fit.summary.topics)
    ]


def _of_seeds(
    view: View, seen: View, fit: SweptFit, made: Sequence[SweptFit], found: MeasureWorking, topic: int
) -> MeasureWorking:
    others = [each for each in made if each.settings.topics == fit.settings.topics and each.identity != fit.identity]
    own, live = fits.own_words(view, fit.identity), fit.summary.live
    cosines: dict[int, list[float]] = {k: [] for k in live}
    matches = []
    for other in others:
        for i, j, cosine in matching.match(own, fits.own_words(view, other.identity)):
            cosines[live[i]].append(cosine)
            if live[i] == topic:
                there = other.summary.live[j]
                title = view_of_fit(view, other.identity).topic_words(there)
                matches.append(
                    MatchedTopic(fit=other.identity, seed=other.settings.seed, topic=there, title=title, cosine=cosine)
                )
    means = {k: float(np.mean(each)) for k, each in cosines.items() if each}
    line = Line(
        name="this topic",
        formula="the mean cosine with the topics that it is matched to, of what their words have above all others",
        numbers=" + ".join(decimal(each.cosine, 3) for each in matches) + f" over {len(matches)}",
        value=means.get(topic, 0.0),
    )
    return found.model_copy(
        update={
            "topic": topic,
            "lines": [line] if matches else [],
            "topics": _values(seen, fit, means),
            "matches": matches,
        }
    )


def _of_fit(view: View, fit: SweptFit, found: MeasureWorking, key: str) -> MeasureWorking:
    told = foretold(view.store.open(fit.identity))
    if key != "held_out" or told is None or found.value is None:
        lines = [Line(name="the fit", formula="", numbers=fit.summary.remarks, value=found.value or 0.0)]
        return found.model_copy(update={"lines": lines if found.value is not None else []})
    gain = told.gain
    line = Line(
        name="the fit",
        formula="Σ (ln Σ θ(d, k) φ(k, w) − ln p(w)) / n, over the half of the words that is foretold",
        numbers=f"{decimal(float(told.better.sum()), 1)} nats / {counted(int(told.tokens.sum()), 'word')} of "
        f"{counted(gain.documents, 'document')}; 95 % interval {decimal(gain.low, 3)} to {decimal(gain.high, 3)}",
        value=gain.mean,
    )
    held = _foretold_documents(view, fit, told.tokens)
    order = np.argsort(told.better / told.tokens, kind="stable")[:_MOST].tolist() if held is not None else []
    named = [
        ForetoldDocument(
            document=int(held[at]),
            name=documents.name(view, int(held[at])),
            words=int(told.tokens[at]),
            better=float(told.better[at] / told.tokens[at]),
        )
        for at in order
        if held is not None
    ]
    return found.model_copy(update={"lines": [line], "foretold": named})


def _foretold_documents(view: View, fit: SweptFit, tokens: np.ndarray) -> np.ndarray | None:
    """Which documents were foretold, int64[n]; None where only some were, drawn by chance."""
    matrix = view_of_fit(view, fit.identity).fit_matrix
    if matrix.test is None:
        return None
    sizes = np.asarray(matrix.counts[:, np.asarray(matrix.lengths) == 1].sum(axis=1)).ravel()
    held = np.flatnonzero(np.asarray(matrix.test) & (sizes >= 2))
    return held if len(held) == len(tokens) else None
