"""Word-form methods. One is added by its file and its entry here."""

from __future__ import annotations

from functools import lru_cache
from typing import TYPE_CHECKING, Any, Literal

from pydantic import BaseModel

from skeinwork.core.kinds import NoOptions, together
from skeinwork.core.text.forms import lancaster, lemma, porter, snowball, table
from skeinwork.core.text.forms.base import Form, Method, Place

METHODS: dict[str, Method[Any]] = {
    each.name: each for each in (porter.METHOD, snowball.METHOD, lancaster.METHOD, lemma.METHOD, table.METHOD)
}

if TYPE_CHECKING:
    MethodName = str

    class AllOptions(NoOptions):
        """The options of all methods."""

else:
    MethodName = Literal[tuple(METHODS)]
    AllOptions = together("AllOptions", (each.options for each in METHODS.values()))


def options_of(method: Method[Any], settings: BaseModel) -> BaseModel:
    """What a method looks at of settings that hold the options of all."""
    return method.options.model_construct(**{name: getattr(settings, name) for name in method.options.model_fields})


@lru_cache(maxsize=16)
def former(method: str, options: BaseModel, place: Place = Place()) -> Form:
    """The forms of a method, remembered: cleanings have their words in common."""
    return remembered(METHODS[method].form(options, place))


def remembered(form: Form) -> Form:
    """The same, but each word is worked out once."""
    return lru_cache(maxsize=300_000)(form)
