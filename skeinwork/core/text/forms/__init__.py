"""Word-form methods. One is added by its file and its entry here."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from skeinwork.core.text.forms import porter

METHODS = {each.name: each for each in (porter.METHOD,)}

if TYPE_CHECKING:
    MethodName = str
else:
    MethodName = Literal[tuple(METHODS)]
