"""Choose: what to sweep over, and how long that will take, measured on this corpus."""

from __future__ import annotations

import time
from collections.abc import Sequence

import numpy as np
from pydantic import BaseModel

from skeinwork.core.matrix.matrix import Matrix
from skeinwork.core.said import count, listed
from skeinwork.core.topics import choose
from skeinwork.core.topics.methods import METHODS, method_of
from skeinwork.core.topics.methods.base import MethodSettings
from skeinwork.store.models import Result
from skeinwork.work.jobs.plans import Sweep
from skeinwork.work.results.view import View
from skeinwork.work.steps import FIT
from skeinwork.work.steps.fitted import fitted_to
from skeinwork.work.steps.matrix import HELD_OUT, MatrixSummary, compared
from skeinwork.work.topics.sweeps import SweptFit

# Of a trial: its documents and tokens at most, its topics, and the iterations of its shorter and its longer fit.
_TRIAL_DOCUMENTS, _TRIAL_TOKENS, _TRIAL_TOPICS, _TRIAL_ITERATIONS = 30_000, 150_000, 10, (20, 50)


class SweepSuggestion(BaseModel):
    """What to sweep over, and why."""

    counts: list[int]
    seeds: list[int]
    iterations: int
    why: str


class SweepTime(BaseModel):
    """How many fits a sweep still has to make, how long that takes, and what that is told from."""

    fits: int
    there: int
    twins: int
    seconds: float
    told_from: str


def suggested_sweep(counted: MatrixSummary, made: Sequence[SweptFit]) -> SweepSuggestion:
    """Counts for a corpus of this size, seeds, and iterations that settle."""
    filled = max(1, counted.documents - counted.emptied)
    held = counted.held_out or round((HELD_OUT.share or 0.0) * filled)
    usable = max(1, filled - held)
    words = (counted.words or counted.tokens) * usable // filled
    moving = [fit.settings.iterations for fit in made if fit.summary.verdict == "still moving"]
    grid = choose.suggest_grid(usable, words, max(moving, default=0))
    why = (
        f"up to {grid.counts[-1]} topics for {count(usable)} documents of "
        f"{round(words / usable)} counted words on average; {count(held)} more are held out"
    )
    why += " at Weigh, by which fits are judged" if counted.held_out else " while counts are compared"
    if moving:
        verb = "fit was" if len(moving) == 1 else "fits were"
        why += f"; {len(moving)} {verb} still moving after {max(moving)} iterations"
        why += ", so twice as many" if grid.iterations == 2 * max(moving) else ""
    return SweepSuggestion(
        counts=grid.counts, seeds=list(range(1, grid.seeds + 1)), iterations=grid.iterations, why=why
    )


def sweep_time(view: View, plan: Sweep, workers: int, rows: Sequence[Result]) -> SweepTime:
    """How long a sweep of the present matrix takes, from fits that are there or a short trial on some documents.

    Parameters
    ----------
    rows : fits of the matrices that are compared
    """
    matrix, making = view.matrix, compared(view.matrix_record.making)
    wanted = plan.fits()
    new = [each for each in wanted if not view.store.has(FIT.making(making.identity, each).identity)]
    twins = [each.fit for each in plan.twins()]
    tokens = int(matrix.counts.sum())
    there = {name: _pace_of(rows, name, tokens) for name in {each.method for each in wanted}}
    paces = {name: pace or _pace(view, name, wanted) for name, pace in there.items()}
    seconds = sum(method_of(each).seconds(each, tokens) * paces[each.method] for each in (*new, *twins))
    longest = max((method_of(each).seconds(each, tokens) * paces[each.method] for each in new), default=0.0)
    tried = sorted(METHODS[name].title for name, pace in there.items() if not pace)
    known = f"a short trial of {listed(tried)} on documents of this corpus" if tried else "the fits that are there"
    return SweepTime(
        fits=len(new),
        there=len(wanted) - len(new),
        twins=len(twins),
        seconds=max(seconds / max(workers, 1), longest),
        told_from=f"{known}, for {workers} workers",
    )


def _pace_of(rows: Sequence[Result], method: str, tokens: int) -> float | None:
    """Seconds that one which the method foresees took in fits that are there; None where there are none."""
    found = []
    for row in rows:
        if row.seconds and (settings := FIT.parse(row.settings)).method == method:
            found.append(row.seconds / method_of(settings).seconds(settings, tokens))
    return float(np.median(found)) if found else None


def _pace(view: View, method: str, wanted: Sequence[MethodSettings]) -> float:
    """Seconds that one which the method foresees takes on this machine, from a trial on this corpus."""
    given = next(each for each in wanted if each.method == method)

    def tried() -> float:
        part = _part(view.matrix)
        topics = min(_TRIAL_TOPICS, int(np.count_nonzero(np.diff(part.counts.indptr))) // 2)
        spent, foreseen = [], []
        for iterations in _TRIAL_ITERATIONS:
            short = given.model_copy(update={"topics": max(topics, 2), "iterations": iterations})
            began = time.perf_counter()
            fitted_to(part, short)
            spent.append(time.perf_counter() - began)
            foreseen.append(method_of(short).seconds(short, int(part.counts.sum())))
        # What both begin with, and what is done once, takes less the longer a fit is.
        more = spent[1] - spent[0], foreseen[1] - foreseen[0]
        return more[0] / more[1] if min(more) > 0 else spent[1] / foreseen[1]

    return view.cached("pace", tried, method)


def _part(matrix: Matrix) -> Matrix:
    """Some of the documents with words, one in twenty of them held out."""
    sizes = np.asarray(matrix.counts.sum(axis=1)).ravel()
    drawn = np.random.default_rng(5).permutation(np.flatnonzero(sizes))[:_TRIAL_DOCUMENTS]
    most = max(int(np.searchsorted(np.cumsum(sizes[drawn]), _TRIAL_TOKENS)), 2)
    some = np.sort(drawn[:most])
    test = np.arange(len(some)) % 20 == 10
    return Matrix(matrix.counts[some], matrix.terms, matrix.display, matrix.lengths, test)
