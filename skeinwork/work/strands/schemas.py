"""What requests and files have in common: kinds of text with their limits, settings as drawn."""

from __future__ import annotations

import datetime
from functools import cache
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, Field, ValidationError


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

MOST_PROBLEMS = 20

# Texts that people write, typed or brought in.
MOST_NAME = 200
SkeinName = Annotated[str, Field(min_length=1, max_length=MOST_NAME)]
TopicLabel = Annotated[str, Field(max_length=200)]
# How a label came to a topic: by itself, or from a fit before, or from a table.
Came = Literal["", "same", "split", "merged", "table"]
Remark = Annotated[str, Field(max_length=20_000)]


def problems_in_words(fault: ValidationError) -> str:
    """What is wrong with a file's content, each with its place."""
    found = fault.errors(include_url=False)
    listed = "; ".join(
        f"{'.'.join(str(part) for part in each['loc']) or 'the file'}: {each['msg'].removeprefix('Value error, ')}"
        for each in found[:MOST_PROBLEMS]
    )
    return listed + (f"; and {len(found) - MOST_PROBLEMS} more" if found[MOST_PROBLEMS:] else "")
