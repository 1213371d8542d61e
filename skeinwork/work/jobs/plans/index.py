"""Index documents that were brought in with their results."""

from __future__ import annotations

from typing import ClassVar

from skeinwork.store.store import Store
from skeinwork.work.jobs.plans.base import INDEX, Plan, Task, Work, index_of, size_of


class Index(Plan):
    """The words of some corpora, for search."""

    kind: ClassVar[str] = "index"
    corpora: tuple[str, ...]

    def title(self) -> str:
        return "Index for search"

    def tasks(self, store: Store) -> list[Task]:
        return [index_of(each, size_of(store.artefacts, each)) for each in self.corpora]

    def run(self, work: Work) -> None:
        work.do(INDEX)
