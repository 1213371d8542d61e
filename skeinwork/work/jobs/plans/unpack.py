"""Bring a skein in from a file that another Skeinwork wrote."""

from __future__ import annotations

from typing import ClassVar

from pydantic import Field

from skeinwork.core.errors import BadInputError
from skeinwork.store.models import Upload
from skeinwork.store.store import Store
from skeinwork.work.jobs.plans.base import INDEX, Plan, Task, Work
from skeinwork.work.jobs.plans.index import Index
from skeinwork.work.strands import skein_file


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
        path = store.upload_path(self.sha256)
        if not path.exists():
            raise BadInputError(f"{self.name} was looked at already. Choose it again to open it.")
        try:
            with store.connection():
                strand = skein_file.read(store, path)
                corpora = tuple(skein_file.corpora(store, strand))
        except BadInputError:
            self._forget(store)
            raise
        self._forget(store)
        work.add(Index(corpora=corpora).tasks(store))
        work.do(INDEX)

    def _forget(self, store: Store) -> None:
        """What was opened is in the skein, and what was refused is of no use."""
        with store.connection():
            store.upload_path(self.sha256).unlink(missing_ok=True)
            Upload.delete().where(Upload.sha256 == self.sha256).execute()
