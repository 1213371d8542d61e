"""The pattern file: a strand's steps and settings as JSON, to run again on other documents.

The schema is published in ``docs/pattern.schema.json`` and generated from this model.
"""

from __future__ import annotations

import json
import re
from typing import TYPE_CHECKING, Annotated, Any, Final, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError, create_model, field_serializer, model_validator

from skeinwork.core.corpus.gather import GatherSettings
from skeinwork.core.corpus.shaping import Operation
from skeinwork.core.errors import BadInputError
from skeinwork.core.matrix.matrix_settings import MatrixSettings
from skeinwork.core.matrix.weighting import Weighting
from skeinwork.core.prevalence.breakdown import Breakdown
from skeinwork.core.prevalence.design_matrix import Regression
from skeinwork.core.text.clean import CleanSettings
from skeinwork.core.topics.methods import FitSettings
from skeinwork.work import steps
from skeinwork.work.steps.part_fit import Parting
from skeinwork.work.strands.pins import MOST_PINS
from skeinwork.work.strands.schemas import problems_in_words
from skeinwork.work.strands.strands import SeedWords
from skeinwork.work.topics.fits import MOST_SEEDS
from skeinwork.work.topics.statements import PinnedOver

FORMAT_VERSION: Final = 18
_MANY_DIGITS = re.compile(r"\d{1000,}")


if TYPE_CHECKING:
    BesideSettings = BaseModel
else:
    BesideSettings = create_model(
        "BesideSettings",
        __config__=ConfigDict(extra="forbid"),
        __doc__="Settings of what is made beside the chain, where it is wanted.",
        **{step.name: (step.settings | None, None) for step in steps.BESIDE},
    )


class Pattern(BaseModel):
    """Steps and settings, no results: running a pattern fits anew."""

    model_config = ConfigDict(extra="forbid", title="Skeinwork pattern")

    skeinwork_pattern: Literal[1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16, 17, 18] = Field(
        FORMAT_VERSION,
        description="version of this format; 2 knows more file formats, and shape; 3 multiword terms, "
        "passes of one kind more than once, and the method of a fit; 4 more passes, and their limits; "
        "5 more methods of word forms, and quoted mail; 6 parts of speech, and fields of mentions; "
        "7 more ways to prune, pinned terms, a split, and weightings; 8 other seeds; 9 speakers; "
        "10 results beside the chain, and words for topics to begin with; 11 a fit that continues another; "
        "12 topics of a fit that are merged; 13 days and weeks, chosen days, design weights and a fixed "
        "composition of what is tracked; 14 regressions; 15 a model for each part; 16 statements that are tested over "
        "other choices; 17 vectors and maps beside the chain; 18 fits that read vectors",
    )
    name: str = Field("", max_length=500)
    gather: GatherSettings
    shape: tuple[Operation, ...] = Field((), max_length=200, description="operations on the corpus, in their order")
    clean: CleanSettings
    weigh: MatrixSettings
    weighting: Weighting = Weighting()
    seed_words: SeedWords = ()
    beside: BesideSettings = BesideSettings()
    fit: FitSettings
    other_seeds: tuple[Annotated[int, Field(ge=0, le=2**31 - 1)], ...] = Field(
        (), max_length=MOST_SEEDS, description="of fits whose draws count in the intervals of what is tracked"
    )
    track: list[Breakdown] = Field(default_factory=list, max_length=100)
    regress: list[Regression] = Field(default_factory=list, max_length=100)
    apart: list[Parting] = Field(
        default_factory=list, max_length=20, description="models for each part of the documents"
    )
    pinned: list[PinnedOver] = Field(
        default_factory=list, max_length=MOST_PINS, description="statements, tested over other choices"
    )

    @model_validator(mode="after")
    def _seeds(self) -> Pattern:
        if len({self.fit.seed, *self.other_seeds}) <= len(self.other_seeds):
            raise ValueError("other seeds are those that the fit does not have, each once")
        return self

    @field_serializer("beside")
    def _wanted(self, beside: BesideSettings) -> dict[str, Any]:
        return beside.model_dump(mode="json", exclude_none=True)

    def to_json(self) -> str:
        """The file's text."""
        return json.dumps(self.model_dump(mode="json"), indent=2, ensure_ascii=False) + "\n"


def read_pattern(text: str) -> Pattern:
    """Read a pattern file.

    Raises
    ------
    BadInputError
        naming every field that is unknown, missing or out of range.
    """
    try:
        raw = json.loads(text.removeprefix("\ufeff"))
    except RecursionError as fault:
        raise BadInputError("The pattern is nested too deep to be read.") from fault
    except json.JSONDecodeError as fault:
        raise BadInputError(
            f"The pattern is not JSON: line {fault.lineno}, column {fault.colno}: {fault.msg}."
        ) from fault
    except ValueError as fault:  # more digits than the program turns into a number
        found = _MANY_DIGITS.search(text)
        line = text.count("\n", 0, found.start()) + 1 if found else 1
        raise BadInputError(f"The pattern holds a number of thousands of digits, in line {line}.") from fault
    version = raw.get("skeinwork_pattern") if isinstance(raw, dict) else None
    if version is None:
        raise BadInputError("This is not a pattern: the field skeinwork_pattern is missing.")
    if isinstance(version, int) and version > FORMAT_VERSION:
        raise BadInputError(
            f"The pattern has format version {version}; this program reads up to {FORMAT_VERSION}. Update Skeinwork."
        )
    try:
        return Pattern.model_validate(raw)
    except RecursionError as fault:
        raise BadInputError("The pattern is nested too deep to be read.") from fault
    except ValidationError as fault:
        raise BadInputError(f"The pattern can't be used: {problems_in_words(fault)}.") from fault


def schema() -> dict[str, Any]:
    """The JSON Schema of a pattern."""
    described = Pattern.model_json_schema()
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **described}
