"""Does it hold? Statements pinned, and tested over other choices."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.errors import BadInputError
from skeinwork.core.prevalence.statements import SayingOf
from skeinwork.server.records import Made
from skeinwork.server.routing import Routes
from skeinwork.server.state import LabelsOf, RecordNumber, StateOf, StrandOf, ViewOf
from skeinwork.work.jobs.plans import Pinning, Trials
from skeinwork.work.screens.holds import Holds, holds
from skeinwork.work.strands import pins, strands
from skeinwork.work.strands.pins import PinRecord
from skeinwork.work.topics import opened_choice
from skeinwork.work.topics.statements import expect_sayable, is_present, pinned_on, stated, trials

router = Routes(prefix="/api/strands/{strand_id}", tags=["holds"])
Key = Annotated[str, Field(min_length=1, max_length=300)]


class NewPin(BaseModel):
    """The number of a pin."""

    pin: int


class Over(BaseModel):
    """Which statements are tested, and over which choices."""

    model_config = ConfigDict(extra="forbid")
    pins: list[Annotated[int, Field(ge=1, le=2**31 - 1)]] = Field(min_length=1, max_length=pins.MOST_PINS)
    over: list[Key] = Field([], max_length=200)


class Chosen(BaseModel):
    """One of the choices that a statement was tested over."""

    model_config = ConfigDict(extra="forbid")
    key: Key


@router.get("/holds")
def get_holds(state: StateOf, strand: StrandOf, view: ViewOf, labels: LabelsOf) -> Holds:
    """What was pinned, and how it came out."""
    with state.store.connection():
        pinned = pins.pins_of(strand)
    return holds(view, pinned, labels)


@router.post("/pins", status_code=201)
def add_pin(state: StateOf, strand: StrandOf, view: ViewOf, saying: SayingOf) -> NewPin:
    """Pin a statement on the strand's fit, or on its words, and test it as it is."""
    said = stated(saying)
    expect_sayable(view, said)
    of = pinned_on(view, said)
    if of is None:
        raise BadInputError("There is nothing to say it of yet.")
    with state.store.connection():
        number = pins.keep(strand, PinRecord(of=of, statement=said))
        first = next(trials(view, said))
        state.runner.start(Pinning.of(strands.wanted(strand).base, [(number, first)]), strand)
    return NewPin(pin=number)


@router.delete("/pins/{pin}", status_code=204)
def remove_pin(state: StateOf, strand: StrandOf, pin: RecordNumber) -> None:
    """Take a statement off; what was made for it stays."""
    with state.store.connection():
        pins.take_off(strand, pin)


@router.post("/pins/trials", status_code=202)
def make_trials(state: StateOf, strand: StrandOf, view: ViewOf, wanted: Over) -> Made:
    """Test statements over choices, in a job."""
    with state.store.connection():
        known = pins.pins_of(strand)
        base = strands.wanted(strand).base
    asked = [
        (number, trial)
        for number, pin in known.items()
        if number in wanted.pins and is_present(view, pin)
        for trial in trials(view, pin.statement, wanted.over)
    ]
    if not asked:
        raise BadInputError("None of these statements is of the strand's present results. Pin one anew.")
    with state.store.connection():
        return Made.of(strand, state.runner.start(Trials.of(base, asked), strand))


@router.post("/pins/{pin}/strand", status_code=201)
def open_choice(state: StateOf, strand: StrandOf, view: ViewOf, pin: RecordNumber, chosen: Chosen) -> Made:
    """A strand with the results of one choice, to look at and go on from."""
    with state.store.connection():
        plan, made = opened_choice.opened(state.store, strand, view, pin, chosen.key)
        return Made.of(made, state.runner.start(plan, made))
