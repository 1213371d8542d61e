"""Make a result again that was found damaged on disk."""

from __future__ import annotations

from typing import ClassVar

from skeinwork.store.store import Store
from skeinwork.work.jobs.plans.base import Plan, Task, Work


class Mend(Plan):
    """A damaged result, and before it what of its inputs is damaged too."""

    kind: ClassVar[str] = "mend"
    identity: str

    def title(self) -> str:
        return "Repair a damaged result"

    def tasks(self, store: Store) -> list[Task]:
        return []

    def run(self, work: Work) -> None:
        work.repair(self.identity)
