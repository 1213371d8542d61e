"""Remove results and files that no skein has any more."""

from __future__ import annotations

from typing import ClassVar

from skeinwork.store import search
from skeinwork.store.artefacts import DamagedResultError
from skeinwork.store.models import Result, Upload
from skeinwork.store.store import Store
from skeinwork.work.jobs.plans.base import Plan, Task, Work, size_of
from skeinwork.work.results import finding
from skeinwork.work.steps import CORPUS
from skeinwork.work.steps.corpus import load_corpus
from skeinwork.work.strands.holdings import every, together

_RESULT = "result"
_A_FOLDER = 0.002
_UNINDEXING = 4e-7  # seconds a byte, as indexing takes


class Clear(Plan):
    """Results with the words of their documents in the index, and files that were brought in."""

    kind: ClassVar[str] = "clear"
    results: tuple[str, ...]
    files: tuple[str, ...]

    def title(self) -> str:
        return "Remove what was deleted"

    def tasks(self, store: Store) -> list[Task]:
        return [Task(_RESULT, _seconds(store, each), identity=each) for each in self.results]

    def run(self, work: Work) -> None:
        store = work.store
        with store.connection():
            kept = together(every().values())
        for task in work.waiting(_RESULT):
            if task.identity not in kept.results:
                _forget_words(work, task.identity)
                with store.connection():
                    store.artefacts.remove(task.identity)
                    Result.delete().where(Result.identity == task.identity).execute()
            task.done = 1.0
        for each in set(self.files) - kept.files:
            with store.connection():
                store.upload_path(each).unlink(missing_ok=True)
                Upload.delete().where(Upload.sha256 == each).execute()


def _seconds(store: Store, identity: str) -> float:
    """Next to nothing, but for a corpus, which is in the search index."""
    try:
        is_corpus = store.artefacts.open(identity).making.step == CORPUS.name
    except DamagedResultError:
        return _A_FOLDER
    return _A_FOLDER + (_UNINDEXING * size_of(store.artefacts, identity) if is_corpus else 0.0)


def _forget_words(work: Work, identity: str) -> None:
    """Take a corpus out of the search index; what is damaged can't be, and its words lead nowhere."""
    artefacts = work.store.artefacts
    try:
        stored = artefacts.open(identity)
        if stored.making.step != CORPUS.name:
            return
        corpus = load_corpus(stored)
    except DamagedResultError:
        return
    work.in_turn(search.forget_corpus(identity, finding.titles_of(corpus), corpus.texts()))
    work.in_turn(search.merge())
