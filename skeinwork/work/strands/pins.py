"""Statements that an analyst pinned on a strand, to be tested over other choices."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.errors import BadInputError, NotFoundError
from skeinwork.core.prevalence.statements import Pinned
from skeinwork.store.models import Pin, Strand

# More nobody reads in one list.
MOST_PINS = 200
Failed = dict[Annotated[str, Field(max_length=300)], Annotated[str, Field(max_length=2000)]]


class PinRecord(BaseModel):
    """A pin as it is kept: what it is of, a fit or a cleaning; and choices that made nothing, with why."""

    model_config = ConfigDict(extra="forbid")
    of: str = Field(pattern="^[0-9a-f]{64}$")
    statement: Pinned
    failed: Failed = Field({}, max_length=1000)


def record_of(row: Pin) -> PinRecord:
    return PinRecord(of=row.of, statement=Pinned.model_validate(row.statement), failed=row.failed)


def pins_of(strand: Strand) -> dict[int, PinRecord]:
    """All pins of a strand by their numbers, in order; call these inside a connection."""
    return {row.id: record_of(row) for row in Pin.select().where(Pin.strand == strand).order_by(Pin.id)}


def keep(strand: Strand, record: PinRecord) -> int:
    """Pin a statement, once; its number."""
    known = pins_of(strand)
    for number, each in known.items():
        if (each.of, each.statement) == (record.of, record.statement):
            return number
    if len(known) >= MOST_PINS:
        raise BadInputError(f"{MOST_PINS} statements are pinned. Take one off at Track, under “Does it hold?”, first.")
    made: int = Pin.create(strand=strand, **record.model_dump(mode="json")).id
    return made


def take_off(strand: Strand, number: int) -> None:
    """Take a pin off."""
    if not Pin.delete().where((Pin.id == number) & (Pin.strand == strand)).execute():
        raise NotFoundError("That statement is not pinned any more.")
