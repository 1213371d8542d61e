"""Held fixed: what remains of each topic's differences and of its time, and what the regression can't say."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from pydantic import BaseModel

from skeinwork.core.in_words import percent
from skeinwork.core.prevalence.design_matrix import LEAST_UNITS, MOST_LEVELS, Regression
from skeinwork.core.prevalence.movement import SURE
from skeinwork.core.prevalence.residuals import Residual
from skeinwork.core.said import count, counted, decimal, listed, signed
from skeinwork.core.working import Line, Working
from skeinwork.work.evidence.topic import topic_of
from skeinwork.work.results.view import View
from skeinwork.work.screens.contrasts import chance
from skeinwork.work.steps.fitted import Interval, known
from skeinwork.work.steps.regression import Held, Outline, TermOf
from skeinwork.work.topics.breakdowns import design_fields, group_fields, unit_fields
from skeinwork.work.topics.prevalence import Seeds
from skeinwork.work.topics.regressions import design_of, number_fields, regression_of, suggestion

# Of a term, from which share on that the others tell of it little is left to bear its effect.
_MOSTLY_TOLD = 0.8
_NAMED = 3


class RegressionChoices(BaseModel):
    """What can stand in a regression, and what is suggested, with the reason."""

    factors: list[str]
    numbers: list[str]
    unit_fields: list[str]
    design_fields: list[str]
    dated: bool
    suggested: Regression | None
    why: str


class Point(BaseModel):
    """A prediction: what its terms are set to, documents that are there, and shares of the topics asked for."""

    given: list[str]
    documents: int
    shares: list[Interval | None]


class EffectPoints(BaseModel):
    """A term or a pair of terms with all its predictions."""

    terms: list[str]
    points: list[Point]


class Compared(BaseModel):
    """One part of an effect against the rest; for a pair how much more one differs at the other."""

    what: list[str]
    difference: float
    low: float
    high: float
    p: float


class TopicEffect(BaseModel):
    """Whether an effect on a topic is there; ``sentence`` is for a report, of its clearest part."""

    p: float | None
    adjusted: float | None
    sure: bool
    compared: list[Compared]
    sentence: str


class RegressedTopic(BaseModel):
    """A topic: how much of its scatter is told, each effect in their order, and what is missed."""

    topic: int
    explained: float
    effects: list[TopicEffect]
    fifths: list[Residual]
    parts: list[Residual]


class RegressionTable(BaseModel):
    """A regression; no topics before it was worked out.

    ``says`` is what was found, ``limits`` what the regression can't say.
    """

    made: bool
    terms: list[TermOf]
    effects: list[EffectPoints]
    topics: list[RegressedTopic]
    asked: list[int]
    says: str
    limits: list[str]


def regression_choices(view: View) -> RegressionChoices:
    found, why = suggestion(view)
    return RegressionChoices(
        factors=group_fields(view),
        numbers=number_fields(view),
        unit_fields=unit_fields(view),
        design_fields=view.cached("design fields", lambda: design_fields(view)),
        dated=view.corpus.has_dates,
        suggested=found,
        why=why,
    )


def regression_table(
    view: View, of: Regression, seeds: Seeds, topics: Sequence[int], labels: Mapping[int, str]
) -> RegressionTable:
    """The regression with predictions of the topics asked for.

    Raises
    ------
    BadInputError
        where there is no such topic, or the documents can't be regressed so.
    """
    asked = [topic_of(view, each) for each in dict.fromkeys(topics)]
    design_of(view, of)
    held = regression_of(view, of, seeds)
    if held is None:
        return RegressionTable(made=False, terms=[], effects=[], topics=[], asked=asked, says="", limits=[])
    outline, found = held.outline, held.found
    effects = [
        EffectPoints(terms=each.terms, points=[_point(held, at, asked) for at in range(*each.points)])
        for each in outline.effects
    ]
    rows = [_topic(view, held, of, k, k in asked, labels) for k in range(found.explained.shape[0])]
    rows.sort(key=lambda each: (min((e.adjusted or 1.0 for e in each.effects), default=1.0), -each.explained))
    return RegressionTable(
        made=True,
        terms=outline.terms,
        effects=effects,
        topics=rows,
        asked=asked,
        says=_says(outline, rows),
        limits=limits_said(held, of),
    )


def _point(held: Held, at: int, topics: list[int]) -> Point:
    found = held.found
    shares = [
        None if np.isnan(found.share[at, k]) else Interval.of(found.share[at, k], found.low[at, k], found.high[at, k])
        for k in topics
    ]
    return Point(given=held.outline.given[at], documents=held.outline.documents[at], shares=shares)


def _topic(
    view: View, held: Held, of: Regression, topic: int, whole: bool, labels: Mapping[int, str]
) -> RegressedTopic:
    outline, found = held.outline, held.found
    name = labels.get(topic) or view.topic_words(topic)
    effects = []
    for at, effect in enumerate(outline.effects):
        compared = [
            Compared(
                what=outline.contrasts[row],
                difference=found.difference[row, topic],
                low=found.difference_low[row, topic],
                high=found.difference_high[row, topic],
                p=found.p[row, topic],
            )
            for row in range(*effect.contrasts)
            if not np.isnan(found.p[row, topic])
        ]
        p, adjusted = known(found.effect_p[at, topic]), known(found.adjusted[at, topic])
        sure = adjusted is not None and adjusted < SURE
        effects.append(
            TopicEffect(
                p=p,
                adjusted=adjusted,
                sure=sure,
                compared=compared if whole else [],
                sentence=_sentence(held, of, name, effect.terms, compared, adjusted),
            )
        )
    return RegressedTopic(
        topic=topic,
        explained=float(found.explained[topic]),
        effects=effects,
        fifths=outline.fifths[topic] if whole else [],
        parts=outline.pairs[topic] if whole else [],
    )


def _sentence(
    held: Held, of: Regression, name: str, terms: list[str], compared: list[Compared], adjusted: float | None
) -> str:
    """The clearest part of an effect, for a report."""
    if not compared or adjusted is None:
        return ""
    outline, best = held.outline, min(compared, key=lambda each: (each.p, -abs(each.difference)))
    others = [each for each in of.terms if each not in terms]
    fixed = f"With {listed(others)} held fixed, “{name}”" if others else f"“{name}”"
    more = f"{signed(100 * best.difference, 1)} points (95 % interval {signed(100 * best.low, 1)} to "
    more += f"{signed(100 * best.high, 1)})"
    kinds = {each.name: each.kind for each in outline.terms}
    parts = [
        what if kinds[term] == "time" else f"at {term} {what}" for term, what in zip(terms, best.what, strict=True)
    ]
    rest = {"time": " against the time before", "number": "", "factor": " against the rest"}[kinds[terms[0]]]
    told = f"differs by {more} {parts[0]}{rest}"
    if len(terms) > 1:
        told = f"differs by {more} more {' '.join(parts)} than both alone say"
    sampled = f" of {count(outline.units)} {of.unit}" if of.unit else ""
    method = "least squares on shares" if of.link == "identity" else "a fractional logit"
    sure = "is" if adjusted < SURE else "is not surely"
    return (
        f"{fixed} {told}; the effect of {' × '.join(terms)} {sure} there (p {chance(adjusted)}, adjusted over "
        f"{counted(len(held.found.explained), 'topic')}). By {method}, over {counted(outline.rows, 'document')}"
        f"{sampled}."
    )


def _says(outline: Outline, topics: list[RegressedTopic]) -> str:
    """Of how many topics each effect is surely there, the outcome first."""
    sure = [sum(each.effects[at].sure for each in topics) for at in range(len(outline.effects))]
    named = [" × ".join(each.terms) for each in outline.effects]
    some = [f"{name} of {count(number)}" for name, number in zip(named, sure, strict=True) if number]
    none = [name for name, number in zip(named, sure, strict=True) if not number]
    fixed = ", each with the others held fixed" if len(outline.terms) > 1 else ""
    if not some:
        return f"Nothing here surely tells of any of {counted(len(topics), 'topic')}{fixed}."
    rest = f"; {listed(none)} of none" if none else ""
    told = ", ".join([some[0].replace(" of ", " surely tells of ", 1), *some[1:]])
    return f"Of {counted(len(topics), 'topic')} {told}{rest}{fixed}."


def limits_said(held: Held, of: Regression) -> list[str]:
    """What the regression can't say of these documents."""
    outline, said = held.outline, []
    if outline.left_out:
        said.append(f"Left out, since they lack one of these fields: {counted(outline.left_out, 'document')}.")
    said += [
        f"{counted(term.merged, 'value')} of {term.name} under {LEAST_UNITS} units, or beyond the {MOST_LEVELS} "
        "largest, are one together."
        for term in outline.terms
        if term.merged
    ]
    lost = [at for at in range(len(outline.given)) if np.isnan(held.found.share[at]).all()]
    if lost:
        named = listed([", ".join(outline.given[at]) for at in lost[:_NAMED]])
        more = f" and {count(len(lost) - _NAMED)} more" if len(lost) > _NAMED else ""
        said.append(f"Not to be told apart from the other terms, so that nothing is foretold of it: {named}{more}.")
    borne = np.isnan(held.found.low).all(axis=1) & ~np.isnan(held.found.share).all(axis=1)
    if borne.any():
        said.append(
            f"{count(int(borne.sum()))} of {count(len(borne))} predictions rest on fewer than {LEAST_UNITS} units in "
            "effect, and have no interval."
        )
    said += [
        f"The other terms tell {percent(term.told)} of {term.name}: its effect rests on the remaining "
        f"{percent(1.0 - term.told)}."
        for term in outline.terms
        if _MOSTLY_TOLD <= term.told < 1.0 - 1e-6
    ]
    for effect in outline.effects:
        there = outline.documents[slice(*effect.points)]
        empty = sum(not each for each in there)
        if len(effect.terms) > 1 and empty:
            said.append(
                f"Of {count(len(there))} parts of {' × '.join(effect.terms)} {count(empty)} hold no document: there "
                "the other parts and the form of the curve speak."
            )
    if outline.outside:
        said.append(
            f"Least squares foretell shares under 0 or over 1 in {count(outline.outside)} of "
            f"{count(len(outline.given) * len(held.found.explained))} cases, which are drawn at the edge; a logit has "
            "none."
        )
    if of.link == "logit" and len(outline.given):
        said.append("Differences are of shares, not of logits; they are averages over these documents.")
    return said


def regression_working(view: View, of: Regression, seeds: Seeds, topic: int, point: int) -> Working:
    """How one prediction came about, term by term."""
    topic_of(view, topic)
    held = regression_of(view, of, seeds)
    if held is None or not 0 <= point < len(held.outline.given):
        return Working(title="This regression has not been worked out.")
    outline, found = held.outline, held.found
    design = design_of(view, of)
    effect = next(each for each in outline.effects if each.points[0] <= point < each.points[1])
    labels = dict(zip(effect.terms, outline.given[point], strict=True))
    given = {name: design.terms[name].labels.index(label) for name, label in labels.items()}
    row = design.weight @ design.columns(np.arange(len(design.documents)), given)
    lines, first = [], 1
    b = found.coefficients[:, topic]
    lines.append(Line(name="constant", formula="b₀", numbers=decimal(b[0], 4), value=float(b[0])))
    widths = [(name, term.rows.shape[1]) for name, term in design.terms.items()]
    sizes = dict(widths)
    widths += [(f"{one} × {other}", sizes[one] * sizes[other]) for one, other in design.pairs]
    for name, width in widths:
        own = slice(first, first + width)
        first += width
        kept = [(x, beta) for x, beta in zip(row[own], b[own], strict=True) if abs(x * beta) > 5e-5]
        numbers = " + ".join(f"{decimal(x, 3)} × {decimal(beta, 4)}" for x, beta in kept[:6])
        more = f" + {len(kept) - 6} more" if len(kept) > 6 else ""
        lines.append(
            Line(name=name, formula="Σ x̄ b", numbers=f"{numbers}{more}" or "0", value=float(row[own] @ b[own]))
        )
    value = float(row @ b)
    logit = of.link == "logit"
    lines.append(Line(name="sum", formula="b₀ + Σ x̄ b", numbers="", value=value))
    if not np.isnan(found.share[point, topic]):
        share, low, high = (float(part[point, topic]) for part in (found.share, found.low, found.high))
        formula = "mean over documents of 1 / (1 + exp(−x b))" if logit else "the sum, between 0 and 1"
        lines.append(Line(name="share", formula=formula, numbers="", value=share))
        lines += [
            Line(name=name, formula="of a proportion of n units", numbers="", value=end)
            for name, end in (("low 95 %", low), ("high 95 %", high))
        ]
    where = ", ".join(f"{name} {label}" for name, label in labels.items())
    return Working(
        title=f"Foretold for {where}",
        lines=lines,
        note=f"x̄: columns averaged over {counted(outline.rows, 'document')}, with {where} given to all of them; a "
        "value of a field is 1 or 0 against its largest, numbers and the curve of time are in standard deviations. The "
        f"interval is from how the prediction moves when each of {count(outline.units)} units is left out, and from "
        "the saved samples.",
    )
