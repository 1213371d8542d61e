"""Does it hold? Pinned statements as they were pinned and over other choices, with what came out of each."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from functools import cache

from pydantic import BaseModel

from skeinwork.core.in_words import percent
from skeinwork.core.prevalence.selections import Selection
from skeinwork.core.prevalence.statements import Outcome, Pinned, Verdict
from skeinwork.core.said import count, counted, decimal, listed, signed
from skeinwork.core.topics.same_documents import LEAST
from skeinwork.core.working import Line, Working
from skeinwork.work.alternatives import offered
from skeinwork.work.results.view import View
from skeinwork.work.screens.contrasts import chance
from skeinwork.work.steps import FIT, MATRIX
from skeinwork.work.strands.pins import PinRecord
from skeinwork.work.topics.statements import Trial, is_present, outcome_of, trials

SAID: dict[Verdict, str] = {
    "holds": "holds",
    "leans": "as stated, but not surely",
    "turns": "the other way round, but not surely",
    "reversed": "the other way round",
    "untold": "too few units to tell",
    "lost": "not there to be tested",
}


# Choices that are named where a statement doesn't hold; more are counted, and seen in the table.
_NAMED = 6


class HeldMark(BaseModel):
    """A statement under one choice; no verdict where it was not tested.

    ``made`` says whether all that the choice needs is there, so that it can be opened as a strand.
    """

    key: str
    kind: str
    title: str
    reason: str
    verdict: Verdict | None
    says: str
    estimate: float | None
    low: float | None
    high: float | None
    made: bool
    working: Working | None


class PinnedEntry(BaseModel):
    """A pinned statement: in words, as pinned, and under other choices; ``of_before`` is of an earlier result."""

    id: int
    topic: int | None
    word: str | None
    field: str | None
    sides: list[Selection]
    sentence: str
    of_before: bool
    mark: HeldMark | None
    marks: list[HeldMark]
    says: list[str]


class ChoiceEntry(BaseModel):
    """A choice that can be made otherwise; ``missing`` results have to be made for it."""

    key: str
    title: str
    reason: str
    missing: int


class KindEntry(BaseModel):
    """Choices of a kind."""

    title: str
    choices: list[ChoiceEntry]


class Holds(BaseModel):
    """All pinned statements, the choices they can be tested over, and what each verdict is called."""

    pins: list[PinnedEntry]
    kinds: list[KindEntry]
    verdicts: dict[Verdict, str]


def holds(view: View, pins: Mapping[int, PinRecord], labels: Mapping[int, str]) -> Holds:
    """The statements of a strand, the last pinned first."""
    # Choices have most results in common: each is looked for once.
    there = cache(view.store.has)
    of_pins = {number: list(trials(view, pin.statement)) for number, pin in pins.items() if is_present(view, pin)}
    entries = [
        _entry(view, number, pin, labels, of_pins.get(number), there) for number, pin in reversed(list(pins.items()))
    ]
    return Holds(pins=entries, kinds=_kinds(view, list(of_pins.values()), there), verdicts=SAID)


def _kinds(view: View, of_pins: Sequence[Sequence[Trial]], there: Callable[[str], bool]) -> list[KindEntry]:
    """The choices for the statements there are, all where there are none: fewer where all are of words."""
    step = MATRIX if of_pins and all(tried[0].pinned.topic is None for tried in of_pins) else FIT
    missing: dict[str, set[str]] = {}
    for each in (trial for tried in of_pins for trial in tried):
        gone = {made.identity for made in each.chain if not there(made.identity)}
        missing.setdefault(each.key, set()).update(gone)
    kinds = []
    for kind, choices in offered(view, step):
        some = [
            ChoiceEntry(key=each.key, title=each.title, reason=each.reason, missing=len(missing.get(each.key, ())))
            for each in choices
            if each.key in missing or not of_pins
        ]
        if some:
            kinds.append(KindEntry(title=kind.title, choices=some))
    return kinds


def sentence_of(view: View, pinned: Pinned, labels: Mapping[int, str]) -> str:
    """What is said, in words."""
    if pinned.word is not None:
        column = int(view.matrix.columns_of((pinned.word,))[0])
        word = view.matrix.display[column] if column >= 0 else pinned.word
        return f"There is {pinned.said(f'of the word “{word}”')}."
    assert pinned.topic is not None
    topics = len(view.model.topic_word)
    name = labels.get(pinned.topic) or (view.topic_words(pinned.topic) if pinned.topic < topics else "")
    return f"There is {pinned.said(f'of “{name}”')}."


def _entry(
    view: View,
    number: int,
    pin: PinRecord,
    labels: Mapping[int, str],
    tried: Sequence[Trial] | None,
    there: Callable[[str], bool],
) -> PinnedEntry:
    """A pin with its trials, which one of an earlier result has none of."""
    pinned, present = pin.statement, tried is not None
    found = [(each, outcome_of(view, each)) for each in tried or ()]
    marks = [_mark(each, made, pin, there) for each, made in found]
    return PinnedEntry(
        id=number,
        topic=pinned.topic if present else None,
        word=pinned.word,
        field=pinned.by.group,
        sides=list(pinned.sides),
        sentence=sentence_of(view, pinned, labels if present else {}),
        of_before=not present,
        mark=marks[0] if marks else None,
        marks=marks[1:],
        says=list(_says(found, pinned)),
    )


def _mark(trial: Trial, made: Outcome | None, pin: PinRecord, there: Callable[[str], bool]) -> HeldMark:
    failed = pin.failed.get(trial.key, "") if made is None else ""
    return HeldMark(
        key=trial.key,
        kind=trial.kind.title if trial.kind else "",
        title=trial.choice.title if trial.choice else "as pinned",
        reason=trial.choice.reason if trial.choice else "",
        verdict=made.verdict if made else "lost" if failed else None,
        says=_came_out(made, trial.pinned) if made else failed,
        estimate=made.estimate if made else None,
        low=made.low if made else None,
        high=made.high if made else None,
        made=bool(trial.choice) and all(there(each.identity) for each in trial.chain),
        working=_working(made, trial) if made and made.adjusted is not None else None,
    )


def _size(value: float, pinned: Pinned) -> str:
    """An estimate as people say it: of the first side less the other."""
    value = -value if pinned.less else value
    if pinned.word is None:
        return f"{signed(100 * value, 1)} points"
    return f"{decimal(2 ** abs(value), 1)} times as {'frequent' if value >= 0 else 'rare'}"


def _came_out(made: Outcome, pinned: Pinned) -> str:
    said = SAID[made.verdict].capitalize()
    if made.why:
        return f"{said}: {made.why.removesuffix('.')}."
    if made.estimate is None or made.adjusted is None:
        return f"{said}: one side has {counted(made.units, 'unit')}."
    ends = f" ({_ends(made.low, made.high, pinned)})" if made.low is not None and made.high is not None else ""
    where = f", at the least sure of {counted(len(pinned.sides) - 1, 'step')}" if len(pinned.sides) > 2 else ""
    return f"{said}: {_size(made.estimate, pinned)}{ends}, p {chance(made.adjusted)}, adjusted{where}."


def _ends(low: float, high: float, pinned: Pinned) -> str:
    """In points, or in times."""
    low, high = (-high, -low) if pinned.less else (low, high)
    if pinned.word is None:
        return f"95 % interval {signed(100 * low, 1)} to {signed(100 * high, 1)}"
    return f"95 % interval {decimal(2**low, 1)} to {decimal(2**high, 1)} times"


def _says(found: Sequence[tuple[Trial, Outcome | None]], pinned: Pinned) -> Iterator[str]:
    """How often it holds, where it fails, and how far the estimates lie apart."""
    tried = [(each, made) for each, made in found if each.choice and made]
    if not tried:
        return
    held = sum(made.verdict == "holds" for _, made in tried)
    yield f"Holds under {count(held)} of {counted(len(tried), 'other choice')}."
    for verdict, said in SAID.items():
        some = [each.choice.title for each, made in tried if made.verdict == verdict and each.choice]
        if some and verdict != "holds":
            named = "all" if len(some) == len(tried) > 1 else f"{len(some)}" if len(some) > _NAMED else listed(some)
            yield f"{said.capitalize()}: {named}."
    sign = -1 if pinned.less else 1
    estimates = sorted((made.estimate for _, made in tried if made.estimate is not None), key=lambda each: sign * each)
    ends = list(dict.fromkeys(_size(estimates[at], pinned) for at in (0, -1) if estimates))
    if ends:
        yield f"Estimates lie from {ends[0]} to {ends[1]}." if len(ends) > 1 else f"Estimates are {ends[0]}."


def _working(made: Outcome, trial: Trial) -> Working:
    """The figures of a mark."""
    assert made.estimate is not None and made.p is not None and made.adjusted is not None
    topic = trial.pinned.word is None
    lines = [
        Line(
            name="found again as",
            formula="correlation of its shares over documents" if topic else "tokens with both forms ÷ with either",
            numbers=f"{'topic' if topic else 'column'} {count(made.place + 1)}, “{made.name}”",
            value=made.likeness,
        ),
        Line(
            name="estimate",
            formula="share of the one − share of the other" if topic else "log₂ (rate of the one ÷ rate of the other)",
            numbers=f"at step {made.pair + 1} of {max(len(trial.pinned.sides) - 1, 1)}, above 0 as stated",
            value=made.estimate,
        ),
    ]
    ends = {"low 95 %": made.low, "high 95 %": made.high}
    lines += [
        Line(name=name, formula="an end of what is not rejected at .05", numbers="", value=value)
        for name, value in ends.items()
        if value is not None
    ]
    by = trial.choice.breakdown(trial.pinned.by) if trial.choice else trial.pinned.by
    numbers = f"{counted(made.units, 'unit')} ({by.unit or 'documents'}) on the smaller side"
    lines.append(Line(name="p", formula="of this statement alone", numbers=numbers, value=made.p))
    family = counted(made.family, "topic" if topic else "test") + ("" if topic else " of words and groups")
    rates = "rate of false discoveries (Benjamini and Hochberg)"
    lines.append(Line(name="p adjusted", formula=rates, numbers=f"over {family}", value=made.adjusted))
    return Working(title=trial.choice.title if trial.choice else "as pinned", lines=lines, note=_note(topic))


def _note(topic: bool) -> str:
    if not topic:
        return "The word is the form that most of its tokens have there. p by unit, as at Relate."
    return (
        "A topic is found again where its shares go with those of the pinned one over documents, and with no other's "
        f"more: a correlation of {decimal(LEAST, 1)} or above, so that {percent(LEAST**2)} of its scatter is theirs. "
        "p inverts the interval, as at Track."
    )
