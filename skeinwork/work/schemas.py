"""Settings as the screens draw them, from their classes."""

from __future__ import annotations

import datetime
from functools import cache
from typing import Annotated, Any

from pydantic import AfterValidator, BaseModel


@cache
def fields_of(settings: type[BaseModel], without: frozenset[str]) -> dict[str, Any]:
    """The schema of each setting, but for some; what may be left open has the type it has if not."""
    fields: dict[str, Any] = {}
    for name, field in settings.model_json_schema()["properties"].items():
        if name not in without:
            choices = [each for each in field.get("anyOf", []) if each.get("type") != "null"]
            fields[name] = {**field, **(choices[0] if choices else {}), "open": bool(choices)}
    return fields


def _zoned(at: datetime.datetime) -> datetime.datetime:
    return at.replace(tzinfo=datetime.UTC) if at.tzinfo is None else at


# When something was: records hold it in UTC without saying so.
Moment = Annotated[datetime.datetime, AfterValidator(_zoned)]
