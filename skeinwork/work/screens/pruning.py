"""Pruning by sight: what limits that are being tried would leave, and what falls and comes back."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.matrix import pruning
from skeinwork.core.matrix.curves import spectrum
from skeinwork.core.matrix.matrix_settings import MatrixSettings
from skeinwork.core.matrix.suggesting import Suggestion, suggest_min_documents
from skeinwork.work.results.view import View
from skeinwork.work.steps import MATRIX
from skeinwork.work.strands.strands import Wanted
from skeinwork.work.weighting.weighted_matrix import Counting, counting_of

_LISTED = 40
_TITLES = {
    "go": "pinned to go",
    "letters": "letters",
    "documents": "documents",
    "count": "occurrences",
    "top": "first n or share",
    "stay": "pinned to stay",
}


class LimitEffect(BaseModel):
    """Terms and their tokens after one limit, in the order in which they are applied."""

    limit: str
    title: str
    terms: int
    tokens: int


class MovingTerm(BaseModel):
    """A term that falls or comes back. ``pinned`` is stay, go or empty."""

    term: str
    display: str
    count: int
    documents: int
    pinned: str


class Kept(BaseModel):
    """A matrix that would be made: numbers, and terms in a document (mean, quarters)."""

    terms: int
    nonzero: int
    sparsity: float
    per_document: float
    quarters: list[float]
    emptied: int
    tokens: int


class Beside(BaseModel):
    """What is compared with: the matrix that is made, or where there is none the edge of the limits."""

    made: bool
    falling: int
    falling_tokens: int
    returning: int
    returning_tokens: int
    falls: list[MovingTerm]
    returns: list[MovingTerm]


class Pruned(BaseModel):
    """What limits leave. ``least`` and ``most`` are the bounds in documents, ``of`` so many of them.

    ``absent`` is the sparsity limit that says the same as ``least``. ``spectrum`` lists how many terms
    are in so many documents. ``pinned_unknown`` are pins that no document holds.
    """

    kept: Kept
    whole: Kept
    limits: list[LimitEffect]
    least: int
    most: int
    of: int
    held_out: int
    absent: float
    spectrum: list[list[int]]
    beside: Beside
    suggestion: Suggestion
    pins: list[MovingTerm]
    pinned_unknown: list[str]
    sample: int | None


def _kept(known: Counting, mask: NDArray[np.bool_]) -> Kept:
    found = pruning.figures(known.counted, mask)
    return Kept(
        terms=found.terms,
        nonzero=found.nonzero,
        sparsity=found.sparsity,
        per_document=found.per_document,
        quarters=list(found.quarters),
        emptied=found.emptied,
        tokens=found.tokens,
    )


def _terms(known: Counting, columns: NDArray[np.int64], settings: MatrixSettings) -> list[MovingTerm]:
    """Terms in the order given."""
    names, shown = known.counted.names(columns), known.counted.shown(columns)
    pins = {**dict.fromkeys(settings.stay, "stay"), **dict.fromkeys(settings.go, "go")}
    standing = known.standing
    return [
        MovingTerm(
            term=name,
            display=display,
            count=int(standing.total[at]),
            documents=int(standing.df[at]),
            pinned=pins.get(name, ""),
        )
        for at, name, display in zip(columns.tolist(), names, shown, strict=True)
    ]


def _strongest(known: Counting, mask: NDArray[np.bool_]) -> NDArray[np.int64]:
    """The most frequent of some terms."""
    there = np.flatnonzero(mask)
    total = known.standing.total[there]
    if len(there) > _LISTED:
        there = there[np.argpartition(-total, _LISTED)[:_LISTED]]
        total = known.standing.total[there]
    return there[np.argsort(-total, kind="stable")]


def _made_mask(view: View, known: Counting, settings: MatrixSettings) -> NDArray[np.bool_] | None:
    """Which of the terms are in the matrix that is made, where that is of the same n-grams."""
    if view.identity(MATRIX) is None:
        return None
    made = MATRIX.parse(view.matrix_record.making.settings)
    if made.longest != settings.longest or made.bridge != settings.bridge:
        return None

    def find() -> NDArray[np.bool_]:
        mask = np.zeros(known.counted.n_terms, dtype=bool)
        columns = (known.counted.column(term) for term in view.matrix.terms)
        mask[[at for at in columns if at is not None]] = True
        return mask

    return view.cached("made terms", find, *known.key)


def _beside(
    view: View, known: Counting, settings: MatrixSettings, kept: NDArray[np.bool_], bounds: Sequence[int]
) -> Beside:
    made = _made_mask(view, known, settings)
    if made is not None and not np.array_equal(made, kept):
        falls, returns = made & ~kept, kept & ~made
    else:  # what one step of a limit would take, and give back
        df = known.standing.df
        falls = kept & ((df == bounds[0]) | (df == bounds[1]))
        returns = ~kept & (df > 0) & ((df == bounds[0] - 1) | (df == bounds[1] + 1))
        made = None
    total = known.standing.total
    return Beside(
        made=made is not None,
        falling=int(falls.sum()),
        falling_tokens=int(total[falls].sum()),
        returning=int(returns.sum()),
        returning_tokens=int(total[returns].sum()),
        falls=_terms(known, _strongest(known, falls), settings),
        returns=_terms(known, _strongest(known, returns), settings),
    )


def _limits(known: Counting, settings: MatrixSettings) -> tuple[list[LimitEffect], NDArray[np.bool_]]:
    total, found = known.standing.total, []
    kept = np.zeros(0, dtype=bool)
    for limit in pruning.limits(known.counted, known.standing, settings):
        kept = limit.kept
        found.append(
            LimitEffect(limit=limit.key, title=_TITLES[limit.key], terms=int(kept.sum()), tokens=int(total[kept].sum()))
        )
    return found, kept


def pruned(view: View, wanted: Wanted, settings: MatrixSettings) -> Pruned:
    """What some limits would leave of the wanted cleaning; nothing is changed by it."""
    known = counting_of(view, wanted, settings)
    counted, standing = known.counted, known.standing
    limits, kept = _limits(known, settings)
    n_docs = max(standing.n_docs, 1)
    least, most = pruning.document_bounds(settings, standing.n_docs)
    suggestion = view.cached("suggested minimum", lambda: suggest_min_documents(counted, standing), *known.key)
    listed = view.cached("spectrum", lambda: [list(e) for e in spectrum(standing.df)], *known.key)
    whole = view.cached("all terms", lambda: _kept(known, standing.df > 0), *known.key)
    pins = [(term, counted.column(term)) for term in (*settings.stay, *settings.go)]
    there = np.array([at for _, at in pins if at is not None], dtype=np.int64)
    return Pruned(
        kept=_kept(known, kept),
        whole=whole,
        limits=limits,
        least=least,
        most=most,
        of=standing.n_docs,
        held_out=0 if known.test is None else int(known.test.sum()),
        absent=1 - least / n_docs,
        spectrum=listed,
        beside=_beside(view, known, settings, kept, (least, most)),
        suggestion=suggestion,
        pins=_terms(known, there, settings),
        pinned_unknown=[term for term, at in pins if at is None],
        sample=known.tried.sample,
    )
