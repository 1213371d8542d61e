"""What is most worth a look at a station before anything is selected there."""

from __future__ import annotations

from collections.abc import Callable
from itertools import pairwise
from typing import Any
from urllib.parse import urlencode

import numpy as np
from pydantic import BaseModel

from skeinwork.core.in_words import percent
from skeinwork.work.relate.branches import clusters
from skeinwork.work.relate.compared_words import compared
from skeinwork.work.relate.map_areas import density_of
from skeinwork.work.results.flags import FLAGS
from skeinwork.work.results.view import View
from skeinwork.work.screens.near_words import synonyms
from skeinwork.work.steps import (
    CLEANING,
    CORPUS,
    DOCUMENT_MAP,
    FIT,
    GROUP_WORDS,
    GROUPS,
    MATRIX,
    STEPS,
    TREE,
    WORD_VECTORS,
)
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
    return Opening(request=f"flag={flag.key}", why=f"{counted(count, 'document')} {flag.in_words(view)}: {flag.why}")


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
    part = percent(view.fit_summary.share[0].mean, 1)
    of = "all documents" if view.model.clustered else "all counted words"
    return Opening(request="topic=0", why=f"the largest topic: {part} of {of}")


def _tree(view: View) -> Opening | None:
    found = clusters(view, view.value(TREE).cut)
    stand = [each for each in found if len(each.branch.items) >= 3 and not np.isnan(each.recurrence)]
    if not stand:
        return None
    best = max(stand, key=lambda each: each.recurrence)
    return Opening(
        request=f"branch={best.branch.node}", why=f"the surest cluster of the tree comes back {best.recurrence:.2f}"
    )


def _groups(view: View) -> Opening | None:
    size = int((view.value(GROUPS).group == 0).sum())
    return Opening(request="members=0", why=f"the largest group, {counted(size, 'document')}")


def _group_words(view: View) -> Opening | None:
    made, terms = view.value(GROUP_WORDS), view.matrix_of(GROUP_WORDS)
    if np.isnan(made.p).all():
        return None
    group, at = np.unravel_index(np.nanargmin(made.p), made.p.shape)
    ratio = compared(view, int(group)).words.log_ratio[at]
    more = f"{2 ** abs(ratio):.1f} times as {'often' if ratio > 0 else 'rare'}"
    return Opening(
        request=urlencode({"term": terms.terms[at]}),
        why=f"“{terms.display[at]}” is told apart the most: {more} in {made.names[group]}",
    )


def _word_vectors(view: View) -> Opening | None:
    pairs = [pair for pair in synonyms(view).pairs if not pair.in_row and pair.documents[2]]
    if not pairs:
        return None
    one, other = pairs[0].one, pairs[0].other
    return Opening(
        request=urlencode({"term": one.term, "with_term": other.term}),
        why=f"“{one.display}” and “{other.display}” are each other’s nearest, with a cosine of {pairs[0].cosine:.2f}",
    )


def _document_map(view: View) -> Opening | None:
    found = density_of(view, "documents")
    if not len(found.peaks):
        return None
    size = int((found.area == 0).sum())
    return Opening(request="area=dense+0", why=f"the largest dense area of the map, {counted(size, 'document')}")


_BY_STEP: dict[Link[Any, Any, Any], Callable[[View], Opening | None]] = {
    CORPUS: _corpus,
    CLEANING: _cleaning,
    MATRIX: _matrix,
    FIT: _fit,
    TREE: _tree,
    GROUPS: _groups,
    GROUP_WORDS: _group_words,
    WORD_VECTORS: _word_vectors,
    DOCUMENT_MAP: _document_map,
}


def opening(view: View, name: str) -> Opening | None:
    """What to show of the result of a step; None where nothing stands out, or there is none yet."""
    identity, made = view.results.get(name), _BY_STEP.get(STEPS[name])
    if identity is None or made is None:
        return None
    return view.cached("opening", lambda: made(view), identity)
