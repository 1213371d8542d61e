"""Documents by the values of a field, and by the unit that was sampled."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.corpus.corpus import Corpus
from skeinwork.core.errors import BadInputError

FILE = "file"  # as a unit: the file that documents came from


def groups_of(corpus: Corpus, field: str) -> tuple[NDArray[np.int64], list[str]]:
    """Group of every document, -1 for none, and the names, the largest group first."""
    column = corpus.column(field)
    if column is None:
        raise BadInputError(f"There is no field “{field}” to group by.")
    counts = np.bincount(column.codes[column.codes >= 0], minlength=len(column.values))
    order = sorted(range(len(counts)), key=lambda at: (-counts[at], column.values[at]))
    place = np.full(len(counts) + 1, -1, dtype=np.int64)
    place[order] = np.arange(len(order))
    return place[column.codes], [column.values[at] for at in order]


def with_own_units(unit: NDArray[np.int64] | None, n_docs: int) -> NDArray[np.int64]:
    """The unit of every document, int64[n_docs], documents without one being units of their own.

    Parameters
    ----------
    unit : int64[n_docs], -1 for none; None where every document is a unit
    """
    alone = np.arange(n_docs, dtype=np.int64)
    return alone if unit is None else np.where(unit >= 0, unit, unit.max(initial=-1) + 1 + alone)


def units_of(corpus: Corpus, field: str | None) -> NDArray[np.int64] | None:
    """Unit of every document, -1 for one of its own; None where every document is one."""
    if field is None:
        return None
    column = corpus.column(field)
    if column is not None:
        return column.codes.astype(np.int64)
    if field == FILE:
        return corpus.sources.astype(np.int64)
    raise BadInputError(f"There is no field “{field}” that documents could belong together by.")
