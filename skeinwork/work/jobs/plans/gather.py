"""Bring files in: make a corpus, then all that follows from it."""

from __future__ import annotations

from typing import ClassVar

from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.corpus.documents import Repeated
from skeinwork.core.corpus.gather import GatherSettings
from skeinwork.core.formats.records import FileSettings
from skeinwork.store.artefacts import Making
from skeinwork.store.store import Store
from skeinwork.work import steps
from skeinwork.work.jobs.plans.base import (
    FITTING,
    INDEX,
    Plan,
    Task,
    Work,
    index_of,
    run_to_tokens,
    size_of_files,
    task_of,
)
from skeinwork.work.jobs.plans.build import Build
from skeinwork.work.strands import strands
from skeinwork.work.strands.strands import Wanted
from skeinwork.work.strands.suggestions import suggested_cleaning, suggested_pruning


class GatheredFile(BaseModel):
    """A file brought in, and how it is to be read."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    sha256: str = Field(pattern="^[0-9a-f]{64}$")
    name: str = Field(min_length=1, max_length=255)
    settings: FileSettings


class GatherRequest(BaseModel):
    """Files to make a corpus of."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    files: tuple[GatheredFile, ...] = Field(min_length=1, max_length=10_000)
    repeated: Repeated = "number"

    def making(self) -> Making:
        """What the corpus is made from."""
        settings = GatherSettings.model_validate(
            {"files": [each.settings for each in self.files], "repeated": self.repeated}
        )
        return steps.CORPUS.of_files([(each.sha256, each.name) for each in self.files], settings)


class Gather(Plan):
    """A corpus of files, cleaned and weighed as wanted; the first one as suggested."""

    kind: ClassVar[str] = "gather"
    supersedes: ClassVar[bool] = True
    called: str
    request: GatherRequest
    wanted: Wanted
    refit: bool = False

    def title(self) -> str:
        return self.called

    def tasks(self, store: Store) -> list[Task]:
        making = self.request.making()
        size = size_of_files(store.uploads, making.inputs)
        wanted = self.wanted.model_copy(update={"base": making.identity, "shape": ()})
        following = steps.chain(making.identity, wanted)[: None if self.refit else -1]
        expected = [task_of(each, size) for each in following]
        for each in expected:  # the settings that are suggested are not known yet
            each.making = None
        return [task_of(making, size), index_of(making.identity, size), *expected]

    def run(self, work: Work) -> None:
        (corpus,) = work.do(steps.CORPUS.name)
        work.do(INDEX)
        store = work.store
        with store.connection():
            strands.take_base(store, strands.get(work.strand_id), corpus)
        wanted = strands.rebased(store, self.wanted, corpus)
        if not self.wanted.base:
            first = suggested_cleaning(store.artefacts.open(corpus)).settings
            with store.connection():
                wanted = strands.take_suggested(strands.get(work.strand_id), corpus, "clean", first)
        following = Build(wanted=wanted, refit=self.refit)
        tasks = following.tasks(store)
        work.add([each for each in tasks if self.wanted.base or each.what not in (steps.MATRIX.name, *FITTING)])
        if not self.wanted.base:
            run_to_tokens(work)
            weigh = suggested_pruning(store.artefacts, work.do(steps.CLEANING.name)[-1], wanted.weigh)
            with store.connection():
                wanted = strands.take_suggested(strands.get(work.strand_id), corpus, "weigh", weigh)
            following = Build(wanted=wanted, refit=self.refit)
            work.add(following.tasks(store))
        following.run(work)
