"""Word-form methods. One is added by its file and its entry here."""

from __future__ import annotations

from functools import lru_cache
from typing import TYPE_CHECKING, Literal

from skeinwork.core.text.forms import lancaster, lemma, porter, snowball, table
from skeinwork.core.text.forms.base import Form, Options

METHODS = {each.name: each for each in (porter.METHOD, snowball.METHOD, lancaster.METHOD, lemma.METHOD, table.METHOD)}

if TYPE_CHECKING:
    MethodName = str
else:
    MethodName = Literal[tuple(METHODS)]


@lru_cache(maxsize=16)
def former(method: str, options: Options) -> Form:
    """The forms of a method with some options, remembered: cleanings have their words in common."""
    return lru_cache(maxsize=300_000)(METHODS[method].by(options))
