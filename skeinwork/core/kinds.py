"""Settings of one kind among several, told apart by a field."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from functools import reduce
from operator import or_
from typing import Annotated, Any

from pydantic import (
    AfterValidator,
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Discriminator,
    WithJsonSchema,
    create_model,
    model_validator,
)


class Numbers(BaseModel):
    """Settings that take an integer as JSON has it: 12 and 12.0; what is marked strict takes nothing else."""

    @model_validator(mode="before")
    @classmethod
    def _whole(cls, given: Any) -> Any:
        if not isinstance(given, dict):
            return given
        return {name: int(v) if isinstance(v, float) and v.is_integer() else v for name, v in given.items()}


class NoOptions(BaseModel):
    """The options of one kind among several: fields of shared settings that only it looks at."""

    model_config = ConfigDict(extra="forbid", frozen=True)


def named(known: Mapping[str, object]) -> Any:
    """The type of a setting that is one of some names."""

    def check(name: str) -> str:
        if name not in known:
            raise ValueError(f"there is {', '.join(known)}")
        return name

    return Annotated[str, AfterValidator(check), WithJsonSchema({"enum": list(known), "type": "string"})]


def together(name: str, options: Iterable[type[BaseModel]]) -> Any:
    """A class with the options of all kinds, in their order."""
    own = [each for each in options if each is not NoOptions]
    # The last base comes first among the fields.
    return create_model(name, __base__=tuple(reversed(own)))


def union(classes: Sequence[type[BaseModel]], field: str, usual: str = "") -> Any:
    """The type of settings that are of one of several classes, named by a field; ``usual`` where it is absent."""
    if len(classes) == 1:
        return classes[0]

    def with_usual(given: Any) -> Any:
        return {field: usual, **given} if usual and isinstance(given, dict) else given

    return Annotated[reduce(or_, classes), Discriminator(field), BeforeValidator(with_usual)]


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
