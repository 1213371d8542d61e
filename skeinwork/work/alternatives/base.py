"""What another choice is: all that is wanted with one thing decided otherwise."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.matrix.matrix import Matrix
from skeinwork.core.prevalence.breakdown import Breakdown
from skeinwork.core.text.clean import Cleaning
from skeinwork.work.results.view import View
from skeinwork.work.steps import FIT
from skeinwork.work.steps.corpus import base_of, operations_of
from skeinwork.work.steps.fitted import token_weights
from skeinwork.work.steps.step import OnDisk, Step
from skeinwork.work.strands.strands import Wanted


@dataclass(frozen=True)
class Alternative:
    """One thing decided otherwise.

    Attributes
    ----------
    key : for addresses and patterns, the same for the same choice
    title, reason : for the analyst: what it is, and why one would look, by what this corpus has
    wanted : all settings with it
    unit : another unit, which needs no other results; None where it is not about the unit
    """

    key: str
    title: str
    reason: str
    wanted: Wanted
    unit: tuple[str | None] | None = None

    def breakdown(self, by: Breakdown) -> Breakdown:
        """What a statement is tested by."""
        return by if self.unit is None else by.model_copy(update={"unit": self.unit[0]})


@dataclass(frozen=True)
class Present:
    """A fit, or a matrix where it is about words, and the settings that made it."""

    view: View
    step: Step[Any, Any, Any]
    wanted: Wanted

    @property
    def of_topics(self) -> bool:
        return self.step is FIT

    @property
    def matrix(self) -> Matrix:
        return self.view.matrix_of(self.step)

    @property
    def cleaning(self) -> Cleaning:
        return self.view.cleaning_of(self.step)

    @property
    def tokens(self) -> NDArray[np.float64]:
        """Counted tokens of every document."""
        return token_weights(self.matrix)

    def changed(self, **parts: Any) -> Wanted:
        """The same settings but for some parts."""
        return self.wanted.model_copy(update=parts)


@dataclass(frozen=True)
class Kind:
    """Choices of one kind: what they are called together, and which there are."""

    title: str
    offered: Callable[[Present], Iterator[Alternative]]


def present(view: View, step: Step[Any, Any, Any]) -> Present:
    """The settings of the view's fit, or of its matrix, as what a strand wants.

    A fit that goes on from another, or whose topics were merged, is made again as one by itself.
    """
    corpus, matrix = view.corpus_record, view.matrix_of_record(step)
    cleaning = view.store.open(matrix.making.inputs[0])
    settings: dict[str, Any] = {
        "base": base_of(OnDisk(view.store), corpus.identity),
        "shape": operations_of(corpus.making),
        "clean": dict(cleaning.making.settings),
        "weigh": dict(matrix.making.settings),
    }
    if step is FIT:
        settings["fit"] = {**view.fit_record.making.settings, "continues": None, "merged": ()}
    return Present(view, step, Wanted.model_validate(settings))
