"""What a plan is: the request behind a job, with all that it depends on, and its tasks."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, ClassVar, Protocol

from pydantic import BaseModel, ConfigDict

from skeinwork.core.errors import NO_DOCUMENTS, BadInputError
from skeinwork.store.artefacts import ArtefactStore, DamagedResultError, Making
from skeinwork.store.store import Store
from skeinwork.work import steps
from skeinwork.work.steps.corpus import wanted_corpus
from skeinwork.work.strands import strands
from skeinwork.work.strands.strands import Wanted

INDEX = "index"
_INDEXING = 4e-7  # seconds a byte


@dataclass
class Task:
    """One piece of a job: a result to be made, or the words of a corpus to be indexed.

    Attributes
    ----------
    what : the name of its step, or ``INDEX``
    seconds : it is expected to take, on some machine
    making : of the result; None where that is not known before an earlier task is done
    identity : of the corpus to be indexed
    early : whether it is begun before the others, for a first picture
    soon, late : whether it is begun as soon as what it is made from is there, or after all others
    spared : whether others go on where it can't be made; what is made from it is dropped with it
    before : the results that it is made from, once these are known
    heard : when some of it was first done, and how much: until then it waits, or its worker loads code
    """

    what: str
    seconds: float
    making: Making | None = None
    identity: str = ""
    early: bool = False
    soon: bool = False
    late: bool = False
    spared: bool = False
    before: Sequence[str] | None = None
    handle: Any = None
    begun: float | None = None
    spent: float | None = None
    heard: tuple[float, float] | None = None
    done: float = 0.0
    said: dict[str, Any] = field(default_factory=dict)


class Work(Protocol):
    """What a plan can have done."""

    store: Store
    strand_id: int
    dropped: dict[str, str]
    """Results that could not be made, and why, where others went on."""

    def do(self, *what: str, only: Collection[str] | None = None) -> list[str]:
        """Do all tasks of some steps side by side, the longest first; the identities of their results.

        One that is made from the result of another waits for it; ``only`` are the results to make now.
        """

    def add(self, tasks: Sequence[Task]) -> None:
        """More tasks, or what is known now of tasks that were expected."""

    def waiting(self, what: str) -> list[Task]:
        """Tasks of one kind that the plan does itself."""

    def in_turn(self, transactions: Iterator[int]) -> None:
        """Short transactions one after another, so that others write between them; stops when it is to."""

    def repair(self, identity: str) -> None:
        """Make a result again where it is damaged, and before it those that it was made from."""


class Plan(BaseModel):
    """A request for work that takes a while. It is stored with the job, and again run from there.

    Attributes
    ----------
    kind : of the job
    supersedes : a later one for the same strand takes the place of one at work
    patient : it takes long, so that others go first
    """

    model_config = ConfigDict(extra="forbid", frozen=True)
    kind: ClassVar[str]
    supersedes: ClassVar[bool] = False
    patient: ClassVar[bool] = False

    @abstractmethod
    def title(self) -> str:
        """What the work tray calls it."""

    @abstractmethod
    def tasks(self, store: Store) -> list[Task]:
        """All that it will take, in order."""

    @abstractmethod
    def run(self, work: Work) -> None:
        """Do the tasks, and put what they have made where it belongs."""


def task_of(making: Making, size: int) -> Task:
    """The task of making a result for a corpus of so many bytes."""
    return Task(making.step, steps.STEPS[making.step].seconds(making, size), making)


def index_of(corpus: str, size: int) -> Task:
    """The task of indexing a corpus."""
    return Task(INDEX, _INDEXING * size, identity=corpus)


def size_of(artefacts: ArtefactStore, corpus: str) -> int:
    """Bytes of text in a corpus."""
    try:
        return steps.CORPUS.summarised(artefacts.open(corpus)).bytes
    except DamagedResultError:
        return 0


def size_of_files(uploads: Path, sums: Sequence[str]) -> int:
    """Bytes of files that were brought in."""
    paths = [uploads / each for each in sums]
    return sum(path.stat().st_size for path in paths if path.exists())


def tasks_to_matrix(store: Store, wanted: Wanted) -> list[Task]:
    """Shape, index, tokenise, clean and weigh as wanted."""
    if not wanted.base:
        raise BadInputError(NO_DOCUMENTS)
    artefacts = store.artefacts
    size = size_of(artefacts, wanted.base)
    found = []
    if not artefacts.has(wanted.base):
        found.append(task_of(steps.remaking(artefacts, wanted.base), size))
    if wanted.shape:
        making = steps.CORPUS.shaped(wanted.base, wanted.shape)
        found += [task_of(making, size), index_of(making.identity, size)]
    corpus = wanted_corpus(wanted.base, wanted.shape)
    return found + [task_of(each, size) for each in steps.chain(corpus, wanted)[:-1]]


def chain_of(wanted: Wanted) -> dict[str, Making]:
    """What is made as wanted, by its steps."""
    return {each.step: each for each in steps.chain(wanted_corpus(wanted.base, wanted.shape), wanted)}


# The steps of fits, with that of vectors which some read.
FITTING = (steps.DOCUMENT_VECTORS.name, steps.FIT.name)


def fit_tasks(store: Store, wanted: Wanted, fits: Sequence[Any]) -> list[Task]:
    """Fits of the wanted matrix with several settings, and what they go on from."""
    matrix = chain_of(wanted)[steps.MATRIX.name]
    size = size_of(store.artefacts, wanted.base)
    found = {}
    for each in fits:
        for making in (*steps.FIT.first(matrix, each), steps.FIT.making(matrix.identity, each)):
            found[making.identity] = task_of(making, size)
    return list(found.values())


def run_to_tokens(work: Work) -> None:
    """Make the corpus that is wanted, index and tokenise it."""
    for what in (steps.CORPUS.name, INDEX, steps.TOKENS.name):
        work.do(what)


def run_to_matrix(work: Work, wanted: Wanted) -> None:
    """Do what ``tasks_to_matrix`` lists, and put it on the strand."""
    run_to_tokens(work)
    made = {steps.CORPUS.name: wanted_corpus(wanted.base, wanted.shape)}
    for step in (steps.CLEANING, steps.MATRIX):
        work.do(step.name)
        made[step.name] = chain_of(wanted)[step.name].identity
    with work.store.connection():
        strands.put(work.store, strands.get(work.strand_id), made)


def run_one_fit(work: Work, wanted: Wanted, only: Collection[str] | None = None) -> None:
    """Make the wanted fit, and put it on the strand where its documents are still there."""
    work.do(*FITTING, only=only)
    store, fit = work.store, chain_of(wanted)[steps.FIT.name].identity
    with store.connection():
        present = strands.get(work.strand_id)
        if strands.corpus_of(store.artefacts, fit) == present.results.get(steps.CORPUS.name):
            strands.take_fit(store, present, fit)
