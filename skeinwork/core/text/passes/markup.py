"""Tags, comments and entities."""

from __future__ import annotations

from typing import Literal

from skeinwork.core.text import markup
from skeinwork.core.text.passes.base import TextPass


class MarkupPass(TextPass):
    """Strip tags and decode entities; block elements are breaks."""

    title = "Markup"
    about = "tags go, entities are decoded"
    kind: Literal["markup"] = "markup"

    def said(self) -> str:
        return "tags go, entities are decoded"

    def change(self, text: str) -> markup.Stripped | None:
        return markup.strip(text) if markup.has_markup(text) else None
