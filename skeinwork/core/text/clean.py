"""A cleaning: one token stream taken through its passes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, model_validator

from skeinwork.core.text import passes
from skeinwork.core.text.passes import Forms, Pass
from skeinwork.core.text.segment import Segments
from skeinwork.core.text.tokenise import TokeniseSettings

VERSION = 1


class CleanSettings(BaseModel):
    """Tokenising rule and ordered passes."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    rule: TokeniseSettings = TokeniseSettings.model_validate({})
    passes: tuple[Pass, ...] = Field(passes.SUGGESTED, max_length=40)

    @model_validator(mode="after")
    def _once_each(self) -> CleanSettings:
        kinds = [each.kind for each in self.passes]
        if len(set(kinds)) < len(kinds):
            raise ValueError("each pass can stand in a cleaning once")
        return self

    def tokenising(self) -> TokeniseSettings:
        """The settings that the token stream depends on: the markup pass belongs to it."""
        strip = any(each.kind == "markup" and each.on for each in self.passes)
        return self.rule.model_copy(update={"strip_markup": strip})


@dataclass(frozen=True)
class Survival:
    """Tokens and distinct forms left after one pass."""

    kind: str
    tokens: int
    types: int


@dataclass(frozen=True)
class Cleaning:
    """What became of every type.

    Attributes
    ----------
    removed_by : int16[n_types], index of the pass that removed the type, or -1
    changed_by : int16[n_types], index of the last pass that changed its form, or -1
    form_of : int32[n_types], its form, or -1 where it was removed
    forms : the surviving forms, by first appearance of a type
    display : for each form the most frequent word it stands for
    survivals : tokens and types after tokenising and after each pass
    """

    removed_by: NDArray[np.int16]
    changed_by: NDArray[np.int16]
    form_of: NDArray[np.int32]
    forms: list[str]
    display: list[str]
    survivals: list[Survival]


def _display_forms(
    form_of: NDArray[np.int32], words: list[str], counts: NDArray[np.int64], n_forms: int
) -> list[str]:
    """The most frequent word of each form; ties go to the alphabetically first."""
    tallies: list[dict[str, int]] = [{} for _ in range(n_forms)]
    for form, word, count in zip(form_of.tolist(), words, counts.tolist(), strict=True):
        if form >= 0:
            tallies[form][word] = tallies[form].get(word, 0) + count
    return [min(tally, key=lambda word: (-tally[word], word)) for tally in tallies]


def clean(tokens: Segments, settings: CleanSettings) -> Cleaning:
    """Apply the passes in their order.

    Stop and domain words follow the reduction of the passes before them, so that a list still
    matches after stemming.
    """
    forms = Forms(tokens.types, tokens.classes)
    counts = np.bincount(tokens.ids, minlength=len(tokens.types)).astype(np.int64)
    removed_by = np.full(len(tokens.types), -1, dtype=np.int16)
    changed_by = np.full(len(tokens.types), -1, dtype=np.int16)
    readable = list(tokens.types)
    survivals = [Survival("tokens", int(counts.sum()), len(tokens.types))]
    for index, step in enumerate(settings.passes):
        if step.on:
            before = list(forms.current)
            gone = step.apply(forms) & forms.alive
            gone |= forms.alive & forms.matching(lambda form: not form)
            forms.alive &= ~gone
            removed_by[gone] = index
            forms.applied.append(step)
            for at, (old, new) in enumerate(zip(before, forms.current, strict=True)):
                if old != new:
                    changed_by[at] = index
            if step.kind != "word-forms":
                readable = _follow(readable, before, forms.current)
        left = {form for form, alive in zip(forms.current, forms.alive, strict=True) if alive}
        survivals.append(Survival(step.kind, int(counts[forms.alive].sum()), len(left)))
    index_of: dict[str, int] = {}
    form_of = np.full(len(tokens.types), -1, dtype=np.int32)
    for at in np.flatnonzero(forms.alive).tolist():
        form_of[at] = index_of.setdefault(forms.current[at], len(index_of))
    display = _display_forms(form_of, readable, counts, len(index_of))
    return Cleaning(removed_by, changed_by, form_of, list(index_of), display, survivals)


def _follow(readable: list[str], before: list[str], after: list[str]) -> list[str]:
    """Readable words take part in every change but the reduction to word forms."""
    return [
        new if word == old else word for word, old, new in zip(readable, before, after, strict=True)
    ]
