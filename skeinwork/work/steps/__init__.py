"""The kinds of result, a tree: corpus > tokens > cleaning > matrix > fit is its chain, others hang beside.

They are written down here and only here. The server makes results as jobs, ``weave`` in line; both get the same bytes.
"""

from __future__ import annotations

from pathlib import Path
from typing import Any, Literal

from pydantic import create_model

from skeinwork.core.content import ContentError
from skeinwork.core.errors import NotFoundError, SkeinworkError
from skeinwork.core.progress import Report, silent
from skeinwork.store.artefacts import Artefact, ArtefactStore, Making
from skeinwork.work.steps import step as step_module
from skeinwork.work.steps.cleaning import CLEANING
from skeinwork.work.steps.co_occurrence import CO_OCCURRENCE
from skeinwork.work.steps.corpus import CORPUS
from skeinwork.work.steps.detectable import DETECTABLE
from skeinwork.work.steps.document_vectors import DOCUMENT_VECTORS
from skeinwork.work.steps.fit import FIT
from skeinwork.work.steps.group_counts import GROUP_COUNTS
from skeinwork.work.steps.group_words import GROUP_WORDS
from skeinwork.work.steps.groups import GROUPS
from skeinwork.work.steps.label_candidates import LABEL_CANDIDATES
from skeinwork.work.steps.maps import DOCUMENT_MAP, MAPS, TOPIC_MAP, WORD_MAP
from skeinwork.work.steps.matrix import MATRIX
from skeinwork.work.steps.measures import MEASURES_STEP
from skeinwork.work.steps.movement import MOVEMENT
from skeinwork.work.steps.part_fit import PART_FIT
from skeinwork.work.steps.period_link import PERIOD_LINK
from skeinwork.work.steps.regression import REGRESSION
from skeinwork.work.steps.step import Inputs, Link, OnDisk, Product, Step
from skeinwork.work.steps.tokens import TOKENS
from skeinwork.work.steps.topic_statement import TOPIC_STATEMENT
from skeinwork.work.steps.tree import TREE
from skeinwork.work.steps.twin import TWIN
from skeinwork.work.steps.word_statement import WORD_STATEMENT
from skeinwork.work.steps.word_vectors import WORD_VECTORS

__all__ = (
    "BESIDE",
    "CHAIN",
    "CLEANING",
    "COMPUTED",
    "CORPUS",
    "CO_OCCURRENCE",
    "DETECTABLE",
    "DOCUMENT_MAP",
    "DOCUMENT_VECTORS",
    "FIT",
    "GROUPS",
    "GROUP_COUNTS",
    "GROUP_WORDS",
    "KEPT",
    "LABEL_CANDIDATES",
    "MAPS",
    "MATRIX",
    "MEASURES_STEP",
    "MOVEMENT",
    "PART_FIT",
    "PERIOD_LINK",
    "REGRESSION",
    "STEPS",
    "TOKENS",
    "TOPIC_MAP",
    "TOPIC_STATEMENT",
    "TREE",
    "TWIN",
    "WORD_MAP",
    "WORD_STATEMENT",
    "WORD_VECTORS",
    "StepName",
    "Summaries",
    "beside",
    "chain",
    "examine",
    "make",
    "produce",
    "remaking",
)
# One is added by its file and its entry here, after those that it is made from.
_ALL: tuple[Link[Any, Any, Any], ...] = (
    *(CORPUS, TOKENS, CLEANING, MATRIX, FIT, TREE, GROUPS, GROUP_COUNTS, GROUP_WORDS),
    *(WORD_VECTORS, DOCUMENT_VECTORS, DOCUMENT_MAP, TOPIC_MAP, WORD_MAP),
    *(MEASURES_STEP, TWIN, LABEL_CANDIDATES, CO_OCCURRENCE, MOVEMENT, DETECTABLE, REGRESSION, PART_FIT, PERIOD_LINK),
    *(TOPIC_STATEMENT, WORD_STATEMENT),
)
STEPS: dict[str, Link[Any, Any, Any]] = {each.name: each for each in _ALL}
# What is computed with the settings wanted of a strand; others come with the comparison of fits.
COMPUTED: tuple[Step[Any, Any, Any], ...] = tuple(
    each for each in _ALL if isinstance(each, Step) and (each.kept or not each.beside)
)
# What a strand keeps and the analyst sees; a cleaning brings its tokens with it.
KEPT = tuple(each for each in _ALL if each.kept)
CHAIN = tuple(each for each in KEPT if not each.beside)
BESIDE = tuple(each for each in COMPUTED if each.beside)

StepName: Any = Literal[tuple(each.name for each in KEPT)]
# The summaries of a strand's results, by step.
Summaries: Any = create_model(  # type: ignore[call-overload]
    "Summaries", **{each.name: (each.summary | None, None) for each in KEPT}
)


def beside(name: str) -> Step[Any, Any, Any]:
    """The step of results beside the chain that is called so."""
    for step in BESIDE:
        if step.name == name:
            return step
    raise NotFoundError(f"There is no result beside the chain that is called “{name[:40]}”.")


def chain(corpus: str, wanted: Any) -> list[Making]:
    """What is made of a corpus with the settings wanted of a strand or a pattern, step by step."""
    made = {CORPUS.name: corpus}
    found: list[Making] = []
    for step in COMPUTED:
        if not step.beside:
            making = step.making([made[each.name] for each in step.parents], step.settings_of(wanted))
            made[step.name] = making.identity
            found.append(making)
    return found


def remaking(store: ArtefactStore, identity: str) -> Making:
    """What a result has to be made from again.

    Raises
    ------
    SkeinworkError
        where this version of the program would make another one.
    """
    made = store.open(identity).making
    making = STEPS[made.step].current(made)
    if making.identity != identity:
        raise SkeinworkError(
            f"The {made.step} was made by an earlier version of Skeinwork and can't be made again as "
            "it was. Rebuild (r) to make a present one."
        )
    return making


def produce(making: Making, inputs: Inputs, report: Report = silent) -> Product:
    """Compute a result from its inputs, wherever they lie."""
    return STEPS[making.step].produce(making, inputs, report)


def examine(stored: Artefact, store: ArtefactStore) -> None:
    """Raise ``ContentError`` unless a result is one that its step can have written."""
    step = STEPS.get(stored.making.step)
    if step is None:
        raise ContentError(f"no step makes “{stored.making.step[:40]}”")
    step_module.examine(OnDisk(store), step, stored)


def make(store: ArtefactStore, making: Making, uploads: Path = Path(), report: Report = silent) -> str:
    """The identity of a result, made where it is not there yet."""
    if not store.has(making.identity):
        for each in STEPS[making.step].goes_on_from(making, OnDisk(store, uploads)):
            make(store, each, uploads, report)
        store.write(making, *produce(making, OnDisk(store, uploads), report))
        if (step := STEPS[making.step]).goes_on:
            store.states(step.course(making)).only_last()
    return making.identity
