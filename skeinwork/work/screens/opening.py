"""What is most worth a look at a station before anything is selected there."""

from __future__ import annotations

from collections.abc import Callable
from itertools import pairwise
from typing import Any
from urllib.parse import urlencode

import numpy as np
from pydantic import BaseModel

from skeinwork.work.results.flags import FLAGS
from skeinwork.work.results.view import View
from skeinwork.work.steps import CLEANING, CORPUS, FIT, MATRIX, STEPS
from skeinwork.work.steps.step import Link, counted
from skeinwork.work.steps.step import count as said


class Opening(BaseModel):
    """Evidence to begin with: a request as it stands in an address, and why that."""

    request: str
    why: str


def _corpus(view: View) -> Opening | None:
    counts = [(flag, int(flag.mask(view).sum())) for flag in FLAGS if flag.out]
    found = [(flag, count) for flag, count in counts if count]
    if not found:
        return None
    flag, count = max(found, key=lambda each: each[1])
    return Opening(request=f"flag={flag.key}", why=f"{counted(count, 'document')} {flag.said}: {flag.why}")


def _cleaning(view: View) -> Opening | None:
    survivals = view.cleaning.survivals
    removed = [before.tokens - after.tokens for before, after in pairwise(survivals)]
    if not any(removed):
        return None
    at = int(np.argmax(removed))
    title = view.clean_settings.passes[at].title
    return Opening(
        request=urlencode({"removed_by": survivals[at + 1].key}),
        why=f"{title} removed the most: {said(removed[at])} of {said(survivals[0].tokens)} tokens",
    )


def _matrix(view: View) -> Opening | None:
    matrix = view.matrix
    if not matrix.terms:
        return None
    counts = np.asarray(matrix.counts.sum(axis=0)).ravel()
    frequency = np.bincount(matrix.counts.indices, minlength=len(matrix.terms))
    at = int(np.argmax(counts * np.log(matrix.counts.shape[0] / np.maximum(frequency, 1))))
    return Opening(
        request=urlencode({"term": matrix.terms[at]}), why=f"“{matrix.display[at]}” has the largest sum of tf-idf"
    )


def _fit(view: View) -> Opening | None:
    part = f"{view.fit_summary.share[0].mean:.1%}".replace("%", "\u202f%")
    return Opening(request="topic=0", why=f"the largest topic: {part} of all counted words")


_BY_STEP: dict[Link[Any, Any, Any], Callable[[View], Opening | None]] = {
    CORPUS: _corpus,
    CLEANING: _cleaning,
    MATRIX: _matrix,
    FIT: _fit,
}


def opening(view: View, name: str) -> Opening | None:
    """What to show of the result of a step; None where nothing stands out, or there is none yet."""
    identity, made = view.results.get(name), _BY_STEP.get(STEPS[name])
    if identity is None or made is None:
        return None
    return view.cached("opening", lambda: made(view), identity)
