"""Two fits side by side: topics matched, settings and measures that differ, documents that moved."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np
from pydantic import BaseModel

from skeinwork.core.topics.alignment import Became
from skeinwork.core.topics.words import top_words
from skeinwork.store.artefacts import DamagedResultError
from skeinwork.store.models import Result, TopicNote
from skeinwork.work.evidence.other_fit import MOVED
from skeinwork.work.results import documents
from skeinwork.work.results.view import View
from skeinwork.work.screens.choose import measure_kinds
from skeinwork.work.screens.versions import Difference, differing, settings_of
from skeinwork.work.steps import CHAIN, FIT
from skeinwork.work.steps.step import Said
from skeinwork.work.strands.carried import LEAST_MATCH
from skeinwork.work.strands.schemas import Moment
from skeinwork.work.topics.comparison import Comparison, compare, sentence

_WORDS = 6
_DOCUMENTS = 30

Notes = Mapping[int, TopicNote]


class OtherFit(BaseModel):
    """A fit of the same documents that the present one can be held against."""

    identity: str
    said: Said
    differs: list[str]
    made: Moment
    last: bool


class ComparedTopic(BaseModel):
    """A topic of one of two fits: its identity, what to call it, its share of the tokens, and what became of it."""

    topic: int
    dye: int
    label: str
    title: str
    words: list[str]
    share: float
    became: Became


class ComparedThread(BaseModel):
    """Tokens that are of one topic there and of another here, with their share of the tokens of both."""

    was: int
    now: int
    tokens: float
    of_was: float
    of_now: float
    became: Became


class ComparedSetting(BaseModel):
    """A setting that is not the same: of which step, here and there."""

    step: str
    setting: str
    difference: Difference


class ComparedMeasure(BaseModel):
    """What a measure says of both fits."""

    title: str
    rises: bool
    was: float | None
    now: float | None


class MovedDocument(BaseModel):
    """A document, its counted words, the share of it that lies elsewhere, and its leading topics there and here."""

    document: int
    name: str
    words: int
    moved: float
    was: int
    now: int


class ComparedFits(BaseModel):
    """The fit of the strand beside another one; ``sentence`` says what became of the topics.

    ``alike`` is the likeness from which a label follows a topic.
    """

    other: str
    alike: float
    said_was: Said
    said_now: Said
    sentence: str
    was: list[ComparedTopic]
    now: list[ComparedTopic]
    threads: list[ComparedThread]
    settings: list[ComparedSetting]
    measures: list[ComparedMeasure]
    documents: int
    moved: int
    first: list[MovedDocument]


def others(view: View, rows: Sequence[Result], before: str | None) -> list[OtherFit]:
    """The fits that the view's can be held against, the newest first.

    Parameters
    ----------
    rows : fits of the same documents; before : the one that the strand had before, if any
    """
    mine = view.fit_record.identity

    def listed() -> Iterator[OtherFit]:
        for row in rows:
            if row.identity == mine or not view.store.has(row.identity):
                continue
            try:
                stored = view.store.open(row.identity)
                said = FIT.said(FIT.parse(stored.making.settings), FIT.summarised(stored))
                differs = [_differs_in(each) for each in _settings(view, row.identity)]
            except DamagedResultError:
                continue
            last = row.identity == before
            yield OtherFit(
                identity=row.identity, said=said, differs=list(dict.fromkeys(differs)), made=row.created, last=last
            )

    return sorted(listed(), key=lambda each: not each.last)


def _differs_in(each: ComparedSetting) -> str:
    return f"{each.setting} {each.difference.there}" if each.step == FIT.name else f"another {each.step}"


def _settings(view: View, other: str) -> list[ComparedSetting]:
    found = []
    for step in CHAIN:
        here, there = (view.store.ancestor(each, step.name).identity for each in (view.fit_record.identity, other))
        if here != there:
            differs = differing(settings_of(view.store, here), settings_of(view.store, there))
            found += [ComparedSetting(step=step.name, setting=name, difference=each) for name, each in differs.items()]
    return found


def _dyes(compared: Comparison, now: Notes, then: Notes) -> list[int]:
    """Of the other fit's topics: their own where the strand had that fit, else those of the topics that they are."""
    same = {
        each.before: now[each.after].dye if each.after in now else each.after
        for each in sorted(compared.alignment.threads, key=lambda each: each.of_before)
        if each.became == "same"
    }
    used = {*same.values(), *(note.dye for note in now.values())}
    free = iter(dye for dye in range(2 * len(compared.alignment.before) + len(used)) if dye not in used)
    dyes = []
    for k in range(len(compared.alignment.before)):
        dyes.append(same[k] if k in same else then[k].dye if k in then else next(free))
    return dyes


def _topics(view: View, notes: Notes, dyes: Sequence[int], became: Sequence[Became]) -> list[ComparedTopic]:
    matrix, empty = view.fit_matrix, view.fit_summary.empty
    top = top_words(np.asarray(view.model.topic_word), _WORDS)
    found = []
    for k in range(len(top)):
        label = notes[k].label if k in notes else ""
        found.append(
            ComparedTopic(
                topic=k,
                dye=dyes[k],
                label=label,
                title=label or ("empty" if k in empty else view.topic_words(k)),
                words=[matrix.display[t] for t in top[k]],
                share=float(view.fit_shares[k]),
                became=became[k],
            )
        )
    return found


def _measures(view: View, then: View) -> list[ComparedMeasure]:
    def mean(of: View, key: str) -> float | None:
        said = of.fit_summary.measured.get(key)
        return said.mean if said else None

    kinds = measure_kinds()
    found = [
        ComparedMeasure(title=each.title, rises=each.rises, was=mean(then, each.key), now=mean(view, each.key))
        for each in kinds
    ]
    return [each for each in found if each.was is not None or each.now is not None]


def compared_fits(view: View, other: str, now: Notes, then: Notes) -> ComparedFits:
    """The view's fit beside another of the same documents.

    Parameters
    ----------
    now, then : what was said of the topics of both
    """
    compared = compare(view, other)
    alignment, there = compared.alignment, compared.then
    moved = compared.moved
    known = (compared.shares_then.sum(axis=1) > 0) & (compared.shares_now.sum(axis=1) > 0)
    words = view.assigned_sizes
    order = np.argsort(-(moved * words), kind="stable")[:_DOCUMENTS]
    dyes_now = [now[k].dye if k in now else k for k in range(len(alignment.after))]
    stored = view.store.open(other)
    return ComparedFits(
        other=other,
        alike=LEAST_MATCH,
        said_was=FIT.said(FIT.parse(stored.making.settings), there.fit_summary),
        said_now=FIT.said(FIT.parse(view.fit_record.making.settings), view.fit_summary),
        sentence=sentence(compared),
        was=_topics(there, then, _dyes(compared, now, then), alignment.before),
        now=_topics(view, now, dyes_now, alignment.after),
        threads=[
            ComparedThread(
                was=each.before,
                now=each.after,
                tokens=float(alignment.flow[each.before, each.after]),
                of_was=each.of_before,
                of_now=each.of_after,
                became=each.became,
            )
            for each in alignment.threads
        ],
        settings=_settings(view, other),
        measures=_measures(view, there),
        documents=int(known.sum()),
        moved=int((moved >= MOVED).sum()),
        first=[
            MovedDocument(
                document=at,
                name=documents.name(view, at),
                words=round(float(words[at])),
                moved=float(moved[at]),
                was=int(compared.shares_then[at].argmax()),
                now=int(compared.shares_now[at].argmax()),
            )
            for at in order.tolist()
            if moved[at] > 0
        ],
    )
