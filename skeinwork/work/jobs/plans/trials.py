"""Try pinned statements over other choices."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, ClassVar

from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.said import counted
from skeinwork.store.artefacts import Making
from skeinwork.store.models import Pin
from skeinwork.store.store import Store
from skeinwork.work import steps
from skeinwork.work.jobs.plans.base import Plan, Task, Work, size_of, task_of
from skeinwork.work.topics.statements import Trial

_IDENTITY = "^[0-9a-f]{64}$"


class Asked(BaseModel):
    """A result to be made: of what, with which settings; ``pin`` and ``key`` where it is a test."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    step: str
    before: tuple[str, ...]
    settings: dict[str, Any]
    pin: int | None = None
    key: str = ""

    @property
    def making(self) -> Making:
        step = steps.STEPS[self.step]
        return step.current(Making(self.step, 0, self.settings, list(self.before), {}))


class Trials(Plan):
    """Everything that other choices need, each once, and the tests; one that makes nothing stops no other."""

    kind: ClassVar[str] = "trials"
    supersedes: ClassVar[bool] = True
    patient: ClassVar[bool] = True
    base: str = Field(pattern=_IDENTITY)
    asked: tuple[Asked, ...] = Field(min_length=1, max_length=100_000)

    @classmethod
    def of(cls, base: str, wanted: Iterable[tuple[int, Trial]]) -> Trials:
        """Tests of pins by their numbers."""
        found: dict[str, Asked] = {}
        for pin, trial in wanted:
            for making in (*trial.chain, trial.making):
                known = {"step": making.step, "before": tuple(making.inputs), "settings": dict(making.settings)}
                of = {"pin": pin, "key": trial.key} if making is trial.making else {}
                found.setdefault(making.identity, Asked(**known, **of))
        return cls(base=base, asked=tuple(found.values()))

    def title(self) -> str:
        return f"Does it hold? {counted(sum(each.pin is not None for each in self.asked), 'test')}"

    def tasks(self, store: Store) -> list[Task]:
        size = size_of(store.artefacts, self.base)
        found = [task_of(each.making, size) for each in self.asked]
        for task, each in zip(found, self.asked, strict=True):
            task.spared, task.soon = True, each.pin is not None
        return found

    def run(self, work: Work) -> None:
        work.do(*dict.fromkeys(each.step for each in self.asked))
        by_pin: dict[int, dict[str, str | None]] = {}
        for each in self.asked:
            if each.pin is not None:
                by_pin.setdefault(each.pin, {})[each.key] = work.dropped.get(each.making.identity)
        with work.store.connection():
            for row in Pin.select().where(Pin.id << list(by_pin)):
                now = {**row.failed, **by_pin[row.id]}
                failed = {key: why for key, why in now.items() if why is not None}
                Pin.update(failed=failed).where(Pin.id == row.id).execute()


class Pinning(Trials):
    """The test of a statement as it was pinned: soon, and beside what others need."""

    kind: ClassVar[str] = "pinning"
    supersedes: ClassVar[bool] = False
    patient: ClassVar[bool] = False

    def title(self) -> str:
        return "A statement as it was pinned"
