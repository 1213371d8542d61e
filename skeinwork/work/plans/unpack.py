"""Bring a skein in from a file that another Skeinwork wrote."""

from __future__ import annotations

from typing import ClassVar

from pydantic import Field

from skeinwork.store.store import Store
from skeinwork.work import skein_file
from skeinwork.work.plans.base import INDEX, Plan, Task, Work
from skeinwork.work.plans.index import Index


class Unpack(Plan):
    """Everything of a skein, put where it belongs, and its documents indexed."""

    kind: ClassVar[str] = "unpack"
    sha256: str = Field(pattern="^[0-9a-f]{64}$")
    name: str

    def title(self) -> str:
        return f"Open {self.name}"

    def tasks(self, store: Store) -> list[Task]:
        return []

    def run(self, work: Work) -> None:
        store = work.store
        with store.connection():
            strand = skein_file.read(store, store.upload_path(self.sha256))
            corpora = tuple(skein_file.corpora(store, strand))
        work.add(Index(corpora=corpora).tasks(store))
        work.do(INDEX)
