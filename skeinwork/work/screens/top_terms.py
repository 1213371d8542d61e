"""Top terms of the corpus, a group, a period or a document; two weightings side by side; curves."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, Field

from skeinwork.core.corpus.periods import Period, period_index
from skeinwork.core.in_words import percent
from skeinwork.core.matrix import curves
from skeinwork.core.matrix.weighting import GlobalName, LocalName, NormName
from skeinwork.work.results.view import View
from skeinwork.work.steps import FIT
from skeinwork.work.steps.step import count
from skeinwork.work.strands.strands import Wanted
from skeinwork.work.topics.breakdowns import group_fields, suggested_period
from skeinwork.work.weighting.weighted_matrix import Counting, Scope, Weighed, counting_of, sums_over, weighed


class TopQuery(Scope):
    """Whose top terms, and how many; a second weighting to compare with."""

    limit: int = Field(25, ge=1, le=200)
    local_weight: LocalName | None = None
    global_weight: GlobalName | None = None
    norm: NormName | None = None

    def other(self) -> dict[str, str]:
        """The second weighting, as far as it is given."""
        return self.model_dump(include={"local_weight", "global_weight", "norm"}, exclude_none=True)


class TopTerm(BaseModel):
    """A term with the sum of its weights, and its ranks; ``topic`` is the one that it is most of."""

    term: str
    display: str
    weight: float
    count: int
    documents: int
    rank: int
    other_weight: float | None
    other_rank: int | None
    topic: int | None


class TopTerms(BaseModel):
    """Terms by falling weight, summed over ``documents``; then those that only the other puts so high."""

    weighting: str
    other: str | None
    documents: int
    of: int
    terms: list[TopTerm]
    sample: int | None


def _ranks(score: NDArray[np.float64]) -> NDArray[np.int64]:
    """Rank of each term by falling score, from 1."""
    ranks = np.empty(len(score), dtype=np.int64)
    ranks[np.argsort(-score, kind="stable")] = np.arange(1, len(score) + 1)
    return ranks


def _topic_of(view: View) -> dict[str, int]:
    """The topic that each term of the fit is most of, weighed by how much of the text the topics are."""
    if view.identity(FIT) is None:
        return {}

    def find() -> dict[str, int]:
        share = np.array([each.mean for each in view.fit_summary.share])[:, None]
        leading = (np.asarray(view.model.topic_word) * share).argmax(axis=0)
        return dict(zip(view.fit_matrix.terms, leading.tolist(), strict=True))

    return view.cached("topics of terms", find)


def _documents_with(made: Weighed, rows: NDArray[np.int64]) -> NDArray[np.int64]:
    part = made.matrix.counts[rows]
    return np.bincount(part.indices, minlength=len(made.matrix.terms)).astype(np.int64)


def top_terms(view: View, wanted: Wanted, query: TopQuery) -> TopTerms:
    """The terms with the largest sums of weights over some documents."""
    made = weighed(view, wanted)
    rows = query.rows(view, made.documents)
    score = sums_over(made.weights, rows)
    counts = sums_over(made.matrix.counts, rows)
    there, ranks = _documents_with(made, rows), _ranks(score)
    chosen = np.argsort(-score, kind="stable")[: query.limit]
    chosen = chosen[there[chosen] > 0]
    second, other_ranks, name = None, None, None
    if query.other():
        other = weighed(view, wanted, wanted.weighting.model_copy(update=query.other()))
        second = sums_over(other.weights, rows)
        other_ranks, name = _ranks(second), other.weighting.in_words()
        more = np.argsort(-second, kind="stable")[: query.limit]
        chosen = np.concatenate([chosen, more[(there[more] > 0) & ~np.isin(more, chosen)]])
    topics, matrix = _topic_of(view), made.matrix
    return TopTerms(
        weighting=made.weighting.in_words(),
        other=name,
        documents=len(rows),
        of=len(made.documents),
        sample=made.sample,
        terms=[
            TopTerm(
                term=matrix.terms[at],
                display=matrix.display[at],
                weight=float(score[at]),
                count=int(counts[at]),
                documents=int(there[at]),
                rank=int(ranks[at]),
                other_weight=None if second is None else float(second[at]),
                other_rank=None if other_ranks is None else int(other_ranks[at]),
                topic=topics.get(matrix.terms[at]),
            )
            for at in chosen.tolist()
        ],
    )


class ScopeField(BaseModel):
    """A field with its values, the most frequent first."""

    field: str
    values: list[str]


class Scopes(BaseModel):
    """What top terms can be looked at by."""

    fields: list[ScopeField]
    period: Period | None
    periods: list[str]


def scopes(view: View) -> Scopes:
    """The groups and periods there are."""
    fields = []
    for name in group_fields(view):
        column = view.corpus.column(name)
        assert column is not None
        counts = np.bincount(column.codes[column.codes >= 0], minlength=len(column.values))
        order = np.argsort(-counts, kind="stable")
        fields.append(ScopeField(field=name, values=[column.values[at] for at in order.tolist()]))
    period = suggested_period(view)
    names: list[str] = []
    if period:
        index, names = period_index(view.corpus.days, view.corpus.precision, period)
        names = [names[at] for at in np.unique(index[index >= 0]).tolist()]
    return Scopes(fields=fields, period=period, periods=names)


class Curve(BaseModel):
    """A curve with what it says about this vocabulary."""

    points: list[list[int]]
    says: str


class Curves(BaseModel):
    """Of the single words that the wanted cleaning leaves, before pruning."""

    words: int
    tokens: int
    spectrum: Curve
    ranks: Curve
    growth: Curve
    sample: int | None


def _listed(points: curves.Pairs) -> list[list[int]]:
    return [list(each) for each in points]


def _share(part: float) -> str:
    return percent(part, 1 if part < 0.1 else 0)


def _spectrum(totals: NDArray[np.int64]) -> Curve:
    found = curves.spectrum(totals)
    once, words = int((totals == 1).sum()), int((totals > 0).sum())
    tokens = max(int(totals.sum()), 1)
    says = (
        f"{count(once)} of {count(words)} words occur once ({_share(once / max(words, 1))}); together they "
        f"are {_share(once / tokens)} of the text."
    )
    return Curve(points=_listed(found), says=says)


def _ranks_said(totals: NDArray[np.int64]) -> Curve:
    falling = np.sort(totals)[::-1]
    held = np.cumsum(falling) / max(int(falling.sum()), 1)
    half = int(np.searchsorted(held, 0.5)) + 1
    tenth = max(1, round(len(falling) / 10))
    says = (
        f"The {count(half)} most frequent words are half of the text, the first tenth ({count(tenth)}) "
        f"{_share(float(held[tenth - 1]))} of it."
        if len(falling)
        else "No word is left."
    )
    return Curve(points=_listed(curves.ranked(totals)), says=says)


def _growth(words: NDArray[np.int32]) -> Curve:
    found = curves.growth(words)
    if not found.points:
        return Curve(points=[], says="No word is left.")
    read, distinct = found.points[-1]
    tenth = max(read // 10, 1)
    new = (
        f"one in {count(round(tenth / found.last_tenth))} words read was new" if found.last_tenth else "no word was new"
    )
    says = (
        f"From half of the text to all of it the vocabulary grew from {count(found.half)} to "
        f"{count(distinct)} words; in the last tenth {new}."
    )
    return Curve(points=_listed(found.points), says=says)


def vocabulary_curves(view: View, wanted: Wanted) -> Curves:
    """Frequency spectrum, Zipf's and Heaps' curve of the wanted cleaning."""
    known = counting_of(view, wanted)
    return view.cached("curves", lambda: _curves(known), *known.key)


def _curves(known: Counting) -> Curves:
    counted = known.counted
    single = counted.lengths == 1
    totals = np.rint(np.bincount(counted.counts.indices, counted.counts.data, counted.n_terms)).astype(np.int64)[single]
    return Curves(
        words=int((totals > 0).sum()),
        tokens=int(totals.sum()),
        spectrum=_spectrum(totals),
        ranks=_ranks_said(totals),
        growth=_growth(known.tried.cleaning.token_forms()),
        sample=known.tried.sample,
    )
