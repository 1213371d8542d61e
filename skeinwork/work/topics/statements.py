"""Pinned statements tested over other choices: what is made for each, and what came out."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Annotated, Any

from pydantic import Field, ValidationError

from skeinwork.core.corpus.grouping import units_of
from skeinwork.core.errors import BadInputError
from skeinwork.core.prevalence.selections import apart
from skeinwork.core.prevalence.statements import Outcome, Pinned, SayingOf
from skeinwork.core.progress import Report
from skeinwork.store.artefacts import ArtefactStore, Making
from skeinwork.work import steps
from skeinwork.work.alternatives import offered
from skeinwork.work.alternatives.base import Alternative, Kind
from skeinwork.work.results.view import View
from skeinwork.work.steps import CLEANING, CORPUS, FIT, MATRIX, TOPIC_STATEMENT, WORD_STATEMENT
from skeinwork.work.steps.corpus import wanted_corpus
from skeinwork.work.steps.fitted import token_weights
from skeinwork.work.steps.step import Step
from skeinwork.work.steps.topic_statement import TopicStatement
from skeinwork.work.steps.word_statement import WordStatement
from skeinwork.work.strands.pins import PinRecord
from skeinwork.work.strands.schemas import problems_in_words


@dataclass(frozen=True)
class Trial:
    """A statement under one choice.

    Attributes
    ----------
    kind, choice : None of the statement as it was pinned
    chain : what has to be made before it, in order; making : of the test itself
    """

    pinned: Pinned
    kind: Kind | None
    choice: Alternative | None
    chain: list[Making]
    making: Making

    @property
    def key(self) -> str:
        return self.choice.key if self.choice else ""


def of_step(pinned: Pinned) -> Step[Any, Any, Any]:
    """What a statement is tested on: a fit, or a matrix."""
    return MATRIX if pinned.topic is None else FIT


def pinned_on(view: View, pinned: Pinned) -> str | None:
    """The result that a statement is of when it is pinned now: the view's fit, or its cleaning."""
    return view.identity(CLEANING if pinned.topic is None else FIT)


def is_present(view: View, pin: PinRecord) -> bool:
    """Whether a pin is of what the view has now."""
    return pin.of == pinned_on(view, pin.statement)


def stated(saying: SayingOf) -> Pinned:
    """What is said as a statement; raises ``BadInputError`` where it says nothing."""
    try:
        return Pinned.model_validate(saying.model_dump())
    except ValidationError as fault:
        raise BadInputError(f"This can't be pinned: {problems_in_words(fault)}.") from fault


def expect_sayable(view: View, pinned: Pinned) -> None:
    """Raise ``BadInputError`` where there is no such topic or word, or one side has no documents."""
    if pinned.topic is not None and pinned.topic >= len(view.model.topic_word):
        raise BadInputError(f"The fit has no topic {pinned.topic + 1}.")
    if pinned.word is not None and pinned.word not in view.matrix.columns:
        raise BadInputError(f"“{pinned.word}” is no term of the matrix.")
    counted = token_weights(view.matrix_of(of_step(pinned))) > 0
    units_of(view.corpus, pinned.by.unit)
    for one, other in pinned.pairs():
        apart(view.corpus, pinned.by, one, other, counted)


def chain_to(chosen: Alternative, step: Step[Any, Any, Any]) -> list[Making]:
    """All that has to be made for a choice up to the result of a step, in order."""
    wanted = chosen.wanted
    corpus = [CORPUS.shaped(wanted.base, wanted.shape)] if wanted.shape else []
    made = steps.chain(wanted_corpus(wanted.base, wanted.shape), wanted)
    last = next(at for at, each in enumerate(made) if each.step == step.name)
    before = FIT.first(made[last - 1], wanted.fit) if step is FIT else []
    return [*corpus, *made[:last], *before, made[last]]


class PinnedOver(Pinned):
    """A statement, and the choices that it was tested over."""

    over: tuple[Annotated[str, Field(min_length=1, max_length=300)], ...] = Field(
        (), max_length=200, description="by their keys; those that a corpus doesn't offer are left out"
    )


def tried(view: View, pinned: Pinned) -> PinnedOver:
    """A statement with the choices that it was tested over."""
    keys = tuple(each.key for each in trials(view, pinned) if each.choice and view.store.has(each.making.identity))
    return PinnedOver.model_validate({**pinned.model_dump(), "over": keys})


def trials(view: View, pinned: Pinned, over: Collection[str] | None = None) -> Iterator[Trial]:
    """A statement as it was pinned, and under every choice that is offered, or some.

    Where a choice is about the unit alone, and that is the statement's own, nothing is another.
    """
    step = of_step(pinned)
    own = view.identity(step)
    assert own
    yield Trial(pinned, None, None, [], _making(view, pinned, pinned, own))
    for kind, choices in offered(view, step):
        for each in choices:
            if over is not None and each.key not in over:
                continue
            by = each.breakdown(pinned.by)
            if each.unit is None:
                chain = view.cached("chain to", partial(chain_to, each, step), step.name, each.key)
                yield Trial(pinned, kind, each, chain, _making(view, pinned, pinned, chain[-1].identity))
            elif by != pinned.by and by.group != by.unit:
                changed = pinned.model_copy(update={"by": by})
                yield Trial(pinned, kind, each, [], _making(view, pinned, changed, own))


def _making(view: View, pinned: Pinned, changed: Pinned, before: str) -> Making:
    said = changed.statement
    if pinned.word is not None:
        words = WordStatement.model_validate({**said, "cleaning": view.cleaning_record.identity, "word": pinned.word})
        return WORD_STATEMENT.making(before, words)
    topic = TopicStatement.model_validate({**said, "fit": view.fit_record.identity, "topic": pinned.topic})
    return TOPIC_STATEMENT.making(before, topic)


def make_trial(store: ArtefactStore, trial: Trial, uploads: Path, report: Report) -> None:
    """Make what a choice needs, and test it; one that makes nothing is left out."""
    try:
        for making in (*trial.chain, trial.making):
            steps.make(store, making, uploads, report)
    except BadInputError:
        if trial.choice is None:
            raise


def outcome_of(view: View, trial: Trial) -> Outcome | None:
    """What came out; None where it was not tested."""
    step = WORD_STATEMENT if trial.pinned.topic is None else TOPIC_STATEMENT
    return view.made(step, trial.making)
