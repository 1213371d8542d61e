"""Local weights: what a term's count says within its document (G. Salton and C. Buckley, 1988).

A weight is added by its class and its entry in ``LOCAL``. Cells that are zero stay zero under each.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, ClassVar

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, Field

from skeinwork.core.kinds import NoOptions, together
from skeinwork.core.matrix.numbers import Base, Logarithms, log, said

Values = NDArray[np.float64]


@dataclass(frozen=True)
class Cells:
    """Cells of a matrix that are not zero.

    Attributes
    ----------
    tf : float64[n], how often the term occurs in the document
    length : float64[n], the sum of the document's row
    most : float64[n], the largest count in the document's row
    mean_length : of the rows that the weighting is learnt from
    """

    tf: Values
    length: Values
    most: Values
    mean_length: float


class Local(ABC):
    """One way to weigh a count.

    Attributes
    ----------
    title, formula : what the screens call it; ``{log}`` in the formula is the logarithm in force
    edge : what becomes of the ends of the range
    logarithm : what another base of the logarithm does to it
    options : the class of its own parameters in a weighting
    """

    title: ClassVar[str]
    formula: ClassVar[str]
    edge: ClassVar[str]
    logarithm: ClassVar[Logarithms] = "none"
    options: ClassVar[type[BaseModel]] = NoOptions

    def said(self, options: Any) -> str:
        """Its parameters, where they are not those to begin with; else empty."""
        return ""

    @abstractmethod
    def weights(self, cells: Cells, options: Any) -> Values:
        """float64[n]; ``options`` is the weighting that is in force."""

    @abstractmethod
    def filled(self, cells: Cells, options: Any) -> str:
        """The formula with the numbers of one cell put in."""


class Raw(Local):
    """The count itself."""

    title, formula = "count", "tf"
    edge = "a term counts as often as it occurs"

    def weights(self, cells: Cells, options: Any) -> Values:
        return cells.tf

    def filled(self, cells: Cells, options: Any) -> str:
        return said(cells.tf)


class Presence(Local):
    """Whether the term is there at all."""

    title, formula = "presence", "1"
    edge = "once or often is the same"

    def weights(self, cells: Cells, options: Any) -> Values:
        return np.ones(len(cells.tf))

    def filled(self, cells: Cells, options: Any) -> str:
        return "1"


class Logarithm(Local):
    """A count that grows ever more slowly: 1 and its logarithm."""

    title, formula = "1 + log", "1 + {log} tf"
    edge = "a term that occurs once weighs 1"
    logarithm: ClassVar[Logarithms] = "added to"

    def weights(self, cells: Cells, options: Any) -> Values:
        return np.asarray(1.0 + log(cells.tf, options.base))

    def filled(self, cells: Cells, options: Any) -> str:
        return f"1 + {Base(options.base).sign} {said(cells.tf)}"


class Share(Local):
    """The count against the length of the document."""

    title, formula = "share of document", "tf / len"
    edge = "len is the sum of the document's row, so the terms of a document add up to 1"

    def weights(self, cells: Cells, options: Any) -> Values:
        return cells.tf / cells.length

    def filled(self, cells: Cells, options: Any) -> str:
        return f"{said(cells.tf)} / {said(cells.length)}"


class Augmented(Local):
    """The count against the largest of the document, between one half and one."""

    title, formula = "augmented", "0.5 + 0.5 · tf / max tf"
    edge = "max tf is the largest count in the document's row; the most frequent term weighs 1"

    def weights(self, cells: Cells, options: Any) -> Values:
        return 0.5 + 0.5 * cells.tf / cells.most

    def filled(self, cells: Cells, options: Any) -> str:
        return f"0.5 + 0.5 · {said(cells.tf)} / {said(cells.most)}"


class Bm25Options(NoOptions):
    """How soon repeats stop to count, and how much the length counts."""

    k1: float = Field(
        1.2,
        strict=True,
        ge=0,
        le=100,
        description="k1, how soon repeats stop to count",
        json_schema_extra={"with": {"local_weight": "bm25"}, "step": 0.1},
    )
    b: float = Field(
        0.75,
        strict=True,
        ge=0,
        le=1,
        description="b, how much the length counts",
        json_schema_extra={"with": {"local_weight": "bm25"}, "step": 0.05},
    )


class Bm25(Local):
    """S. Robertson and H. Zaragoza, *The probabilistic relevance framework*, 2009, equation 3.15."""

    title = "BM25"
    formula = "tf · (k1 + 1) / (tf + k1 · (1 − b + b · len / mean len))"
    edge = "never more than k1 + 1, however often a term occurs"
    options: ClassVar[type[Bm25Options]] = Bm25Options

    def said(self, options: Bm25Options) -> str:
        own = Bm25Options()
        return "" if (options.k1, options.b) == (own.k1, own.b) else f"k1 {options.k1:g}, b {options.b:g}"

    def weights(self, cells: Cells, options: Any) -> Values:
        k1, b = options.k1, options.b
        relative = cells.length / max(cells.mean_length, 1e-300)
        return cells.tf * (k1 + 1) / (cells.tf + k1 * (1 - b + b * relative))

    def filled(self, cells: Cells, options: Any) -> str:
        k1, b, tf = said(options.k1), said(options.b), said(cells.tf)
        relative = f"{said(cells.length)} / {said(cells.mean_length)}"
        return f"{tf} · ({k1} + 1) / ({tf} + {k1} · (1 − {b} + {b} · {relative}))"


LOCAL: dict[str, Local] = {
    "raw": Raw(),
    "presence": Presence(),
    "log": Logarithm(),
    "share": Share(),
    "augmented": Augmented(),
    "bm25": Bm25(),
}
if TYPE_CHECKING:

    class LocalOptions(NoOptions):
        """The parameters of all local weights."""

else:
    LocalOptions = together("LocalOptions", (each.options for each in LOCAL.values()))
