"""Which topics documents hold together: every pair against chance, each leading to its documents."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.errors import BadInputError
from skeinwork.core.in_words import percent
from skeinwork.core.said import counted
from skeinwork.core.working import Line, Working
from skeinwork.work.results.view import View
from skeinwork.work.steps import CO_OCCURRENCE, FIT
from skeinwork.work.steps.co_occurrence import SURE, CoOccurrenceSettings, Together

# Pairs that are listed; the grid has them all.
_LISTED = 40


class TopicPair(BaseModel):
    """Two topics, the documents that hold both, and how many would by chance.

    Attributes
    ----------
    effect : log₂ of observed over expected, half a document added to both
    p, adjusted : two-sided, the latter over all pairs (Benjamini and Hochberg)
    sure : whether the adjusted p is under .05; more : whether there are more than expected
    correlation : of the centred log-ratios of their shares
    """

    one: int
    other: int
    observed: int
    expected: float
    effect: float
    p: float
    adjusted: float
    sure: bool
    more: bool
    correlation: float


class TopicsTogether(BaseModel):
    """All pairs of topics, the clearest first; not made yet where there is none.

    ``order`` is one of the topics in which neighbours keep company; ``says`` what was counted and found.
    """

    made: bool
    share: float
    permutations: int
    documents: list[int]
    of: int
    order: list[int]
    pairs: list[TopicPair]
    listed: int
    says: str
    lean: float


def _found(view: View, settings: CoOccurrenceSettings) -> Together | None:
    return view.made(CO_OCCURRENCE, CO_OCCURRENCE.making(view.fit_record.identity, settings))


def together(view: View, settings: CoOccurrenceSettings) -> TopicsTogether:
    """Every pair of topics.

    Raises
    ------
    BadInputError
        where a document has one topic at most, so that none go together.
    """
    if view.model.clustered:
        raise BadInputError(
            "A document of this fit has one topic or none, so no two go together. Which are alike is seen at Fit, By "
            "vector, where nearest topics are taken together."
        )
    made = _found(view, settings)
    topics = FIT.summarised(view.fit_record).topics
    lean = -1.0 / max(topics - 1, 1)
    if made is None:
        return TopicsTogether(
            made=False,
            share=settings.share,
            permutations=settings.permutations,
            documents=[],
            of=0,
            order=[],
            pairs=[],
            listed=0,
            says="",
            lean=lean,
        )
    pairs = _pairs(made)
    return TopicsTogether(
        made=True,
        share=settings.share,
        permutations=made.found.permutations,
        documents=made.found.documents.tolist(),
        of=made.found.of,
        order=_order(made),
        pairs=pairs,
        listed=min(_LISTED, sum(each.sure for each in pairs)),
        says=_says(made, settings, pairs),
        lean=lean,
    )


def _pairs(made: Together) -> list[TopicPair]:
    found, effect = made.found, made.found.effect
    rows = [
        TopicPair(
            one=i,
            other=j,
            observed=int(found.observed[i, j]),
            expected=float(found.expected[i, j]),
            effect=float(effect[i, j]),
            p=float(found.p[i, j]),
            adjusted=float(found.adjusted[i, j]),
            sure=bool(found.adjusted[i, j] < SURE),
            more=bool(found.observed[i, j] > found.expected[i, j]),
            correlation=float(made.correlation[i, j]),
        )
        for i in range(len(found.documents))
        for j in range(i + 1, len(found.documents))
    ]
    return sorted(rows, key=lambda each: (each.p, -abs(each.effect)))


def _order(made: Together) -> list[int]:
    """By the second eigenvector of the sure excess: those that keep company lie together."""
    found = made.found
    excess = np.where(found.adjusted < SURE, found.effect, 0.0)
    np.fill_diagonal(excess, 0.0)
    near = excess - excess.min(initial=0.0)
    np.fill_diagonal(near, 0.0)
    laplacian = np.diag(near.sum(axis=1)) - near
    values, vectors = np.linalg.eigh(laplacian)
    second: NDArray[np.float64] = vectors[:, 1] if len(values) > 1 else vectors[:, 0]
    second = second * (1.0 if second[int(np.argmax(np.abs(second)))] > 0 else -1.0)
    return [int(each) for each in np.argsort(-second.round(9), kind="stable")]


def _says(made: Together, settings: CoOccurrenceSettings, pairs: list[TopicPair]) -> str:
    found = made.found
    several = float(found.documents.sum()) / max(found.of, 1)
    more = sum(each.sure and each.more for each in pairs)
    less = sum(each.sure and not each.more for each in pairs)
    return (
        f"{counted(found.of, 'document')} have a topic with {percent(settings.share)} or more of their counted words, "
        f"{several:.1f} each on average. Of {counted(len(pairs), 'pair')} {more} are together more often, {less} "
        f"less often than in {found.permutations:,} tables with as many documents to each topic and as many topics to "
        "each document (adjusted p under .05)."
    )


def pair_working(view: View, settings: CoOccurrenceSettings, one: int, other: int) -> Working:
    """How the figures of a pair came about."""
    made = _found(view, settings)
    if made is None or max(one, other) >= len(made.found.documents) or one == other:
        return Working(title="These two were not held against each other yet")
    found, (i, j) = made.found, (one, other)
    observed, expected, spread = int(found.observed[i, j]), found.expected[i, j], found.spread[i, j]
    a, b = int(found.documents[i]), int(found.documents[j])
    return Working(
        title="Documents that hold both",
        lines=[
            Line(
                name="if documents held equally many topics",
                formula="documents of one × documents of the other / documents",
                numbers=f"{a:,} × {b:,} / {found.of:,}",
                value=a * b / max(found.of, 1),
            ),
            Line(
                name="expected",
                formula="mean over the tables drawn",
                numbers=f"{found.permutations:,} tables, standard deviation {spread:.2f}",
                value=float(expected),
            ),
            Line(
                name="effect",
                formula="log₂ ((observed + ½) / (expected + ½))",
                numbers=f"log₂ ({observed + 0.5:,.1f} / {expected + 0.5:,.2f})",
                value=float(found.effect[i, j]),
            ),
            Line(
                name="p",
                formula="twice the smaller tail of the tables drawn",
                numbers=f"observed {observed:,}, {abs(observed - expected) / max(spread, 1e-9):.1f} standard "
                f"deviations {'above' if observed > expected else 'below'}",
                value=float(found.p[i, j]),
            ),
            Line(
                name="correlation",
                formula="of ln share − mean ln share, over documents",
                numbers=f"{-1 / max(len(found.documents) - 1, 1):.3f} where nothing goes with anything",
                value=float(made.correlation[i, j]),
            ),
        ],
        note="Tables are drawn by dealing out again, between two documents, what only one of them has. A tail of "
        "fewer than 25 tables is that of a binomial distribution with their mean and variance.",
    )
