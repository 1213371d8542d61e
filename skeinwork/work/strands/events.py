"""Events: dated lines on the charts of a skein."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.errors import BadInputError, NotFoundError
from skeinwork.core.formats import dates
from skeinwork.store.models import Event

EventLabel = Annotated[str, Field(min_length=1, max_length=80)]


class EventRecord(BaseModel):
    id: int
    day: str
    label: str


class NewEvent(BaseModel):
    model_config = ConfigDict(extra="forbid")
    day: str = Field(max_length=40, examples=["2014-01-14"])
    label: EventLabel


def events_of(skein: int) -> list[EventRecord]:
    """A skein's events, by date; call these inside a connection."""
    rows = Event.select().where(Event.skein == skein).order_by(Event.day)
    return [EventRecord(id=row.id, day=row.day, label=row.label) for row in rows]


def add(skein: int, new: NewEvent) -> None:
    """Add an event.

    Raises
    ------
    BadInputError
        where its day is no date.
    """
    parsed = dates.parse(new.day)
    if parsed is None:
        raise BadInputError(f"“{new.day}” is not a date. Write it as 2014-01-14 or 14 Jan 2014.")
    day = dates.from_days(parsed[0]).isoformat()
    Event.create(skein=skein, day=day, label=new.label.strip())


def remove(skein: int, event: int) -> None:
    """Remove an event."""
    mine = (Event.id == event) & (Event.skein == skein)
    if not Event.delete().where(mine).execute():
        raise NotFoundError("That event is gone already.")
