"""Settings of one kind among several, told apart by a field."""

from __future__ import annotations

from collections.abc import Sequence
from functools import reduce
from operator import or_
from typing import Annotated, Any

from pydantic import BaseModel, Field


def union(classes: Sequence[type[BaseModel]], field: str) -> Any:
    """The type of settings that are of one of several classes, named by a field of theirs."""
    if len(classes) == 1:
        return classes[0]
    return Annotated[reduce(or_, classes), Field(discriminator=field)]


def differing(settings: BaseModel) -> dict[str, Any]:
    """The settings that differ from their defaults, as JSON values; what tells kinds apart stays."""
    out = {}
    for name, field in type(settings).model_fields.items():
        value = getattr(settings, name)
        default = field.get_default(call_default_factory=True)
        if name in ("kind", "method") or field.is_required() or value != default:
            out[name] = _plain(value)
    return out


def _plain(value: Any) -> Any:
    if isinstance(value, BaseModel):
        return differing(value)
    if isinstance(value, list | tuple):
        return [_plain(each) for each in value]
    if isinstance(value, dict):
        return {key: _plain(each) for key, each in value.items()}
    return value
