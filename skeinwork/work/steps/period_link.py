"""Period link: the models of one period and of the next, held against each other on the documents of both."""

from __future__ import annotations

from typing import ClassVar

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.content import expect, expect_array
from skeinwork.core.errors import BadInputError
from skeinwork.core.progress import Report
from skeinwork.core.topics import alignment, streams
from skeinwork.core.topics.alignment import Fitted, token_flow
from skeinwork.core.topics.methods import method_of
from skeinwork.core.topics.model import TopicModel
from skeinwork.core.topics.streams import Link
from skeinwork.store.artefacts import Making
from skeinwork.work.steps.fit import FIT
from skeinwork.work.steps.matrix import MATRIX
from skeinwork.work.steps.part_fit import PART_FIT, PartFit
from skeinwork.work.steps.step import Arrays, Documents, Earlier, Inputs, Reads, Said, Step, Stored, counted, load

_IDENTITY = "^[0-9a-f]{64}$"
# Documents of a period that are placed among the topics of the other, drawn where there are more.
_PLACED = 3000
_ARRAYS = ("of_before", "of_after", "before", "after")


class PeriodLinkSettings(BaseModel):
    """The models of two parts."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    one: str = Field(pattern=_IDENTITY)
    other: str = Field(pattern=_IDENTITY)


class PeriodLinkSummary(BaseModel):
    """Threads between the topics of the first seed's models."""

    threads: int


class PeriodLinkStep(Step[PeriodLinkSettings, Link, PeriodLinkSummary]):
    name: ClassVar[str] = "period_link"
    called: ClassVar[str] = "the link of two periods"
    kept: ClassVar[bool] = False
    beside: ClassVar[bool] = True
    VERSION: ClassVar[int] = 1
    settings: ClassVar[type[BaseModel]] = PeriodLinkSettings
    summary: ClassVar[type[BaseModel]] = PeriodLinkSummary
    needs = (FIT, MATRIX)

    def parts(self, settings: PeriodLinkSettings) -> dict[str, int]:
        return {"streams": streams.VERSION, "alignment": alignment.VERSION}

    def reads(self, making: Making, inputs: Inputs) -> Reads:
        own, settings = super().reads(making, inputs), self.parse(making.settings)
        return Reads([*own.results, settings.one, settings.other], own.files)

    def seconds(self, making: Making, size: int) -> float:
        return 2e-5 * size

    def compute(self, earlier: Earlier, settings: PeriodLinkSettings, report: Report) -> tuple[Link, PeriodLinkSummary]:
        one, other = (self._part(earlier, each) for each in (settings.one, settings.other))
        counts, of = earlier.load(MATRIX).counts, FIT.parse(earlier.stored(FIT).making.settings)
        method = method_of(of)
        sizes = one.summary.topics, other.summary.topics
        if not all(sizes):
            nothing = Link(np.zeros((1, *sizes)), np.zeros((1, *sizes)), *(np.zeros((0, n, n)) for n in sizes))
            return nothing, _summary(nothing)

        def placed(model: TopicModel, part: PartFit, docs: NDArray[np.int64]) -> Fitted:
            share = method.place(model, counts[part.documents[docs]], of).share
            return Fitted(share, np.asarray(model.topic_word))

        def flow(part: PartFit, docs: NDArray[np.int64], before: Fitted, after: Fitted) -> NDArray[np.float64]:
            return token_flow(before, after, counts[part.documents[docs]])

        some = [_some(part) for part in (one, other)]
        found: dict[str, list[NDArray[np.float64]]] = {name: [] for name in _ARRAYS}
        pairs = list(zip(one.models, other.models, strict=False))
        for seed, (mine, next_) in enumerate(pairs):
            report("Following topics from one period to the next", seed / len(pairs))
            here, there = _own(mine, some[0]), _own(next_, some[1])
            found["of_before"].append(flow(one, some[0], here, placed(next_, one, some[0])))
            found["of_after"].append(flow(other, some[1], placed(mine, other, some[1]), there))
            if seed:
                found["before"].append(flow(one, some[0], _own(one.models[0], some[0]), here))
                found["after"].append(flow(other, some[1], _own(other.models[0], some[1]), there))
        link = Link(
            np.array(found["of_before"]),
            np.array(found["of_after"]),
            np.array(found["before"]).reshape(-1, sizes[0], sizes[0]),
            np.array(found["after"]).reshape(-1, sizes[1], sizes[1]),
        )
        return link, _summary(link)

    def _part(self, earlier: Earlier, identity: str) -> PartFit:
        if not earlier.inputs.has(identity):
            raise BadInputError("The model of a period is not there any more. Fit the parts again at Track.")
        return load(earlier.inputs, PART_FIT, earlier.inputs.result(identity))

    def save(self, value: Link) -> tuple[Arrays, Documents]:
        return {name: getattr(value, name) for name in _ARRAYS}, {}

    def load(self, stored: Stored, earlier: Earlier) -> Link:
        return Link(*(np.asarray(stored.array(name)) for name in _ARRAYS))

    def check(self, stored: Stored, earlier: Earlier) -> PeriodLinkSummary:
        link = self.load(stored, earlier)
        expect(link.of_before.ndim == 3 and len(link.of_before) > 0, "it links nothing")
        seeds, one, other = link.of_before.shape
        expect_array("of_before", link.of_before, np.float64, (seeds, one, other), 0.0)
        expect_array("of_after", link.of_after, np.float64, (seeds, one, other), 0.0)
        expect_array("before", link.before, np.float64, (seeds - 1, one, one), 0.0)
        expect_array("after", link.after, np.float64, (seeds - 1, other, other), 0.0)
        return _summary(link)

    def said(self, settings: PeriodLinkSettings, summary: PeriodLinkSummary) -> Said:
        return Said(name="from one period to the next", size=counted(summary.threads, "thread"))


PERIOD_LINK = PeriodLinkStep()


def _summary(link: Link) -> PeriodLinkSummary:
    return PeriodLinkSummary(threads=len(link.apart.alignment.threads))


def _some(part: PartFit) -> NDArray[np.int64]:
    """Documents of a part, or some of them, by rising place."""
    n = len(part.documents)
    if n <= _PLACED:
        return np.arange(n, dtype=np.int64)
    return np.sort(np.random.default_rng(n).choice(n, _PLACED, replace=False)).astype(np.int64)


def _own(model: TopicModel, docs: NDArray[np.int64]) -> Fitted:
    return Fitted(np.asarray(model.doc_topic)[docs], np.asarray(model.topic_word))
