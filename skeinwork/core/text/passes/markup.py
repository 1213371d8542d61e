"""Tags, comments and entities."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from skeinwork.core.in_words import percent
from skeinwork.core.text import markup
from skeinwork.core.text.mapped import Mapped
from skeinwork.core.text.passes.base import BasePass, TextPass
from skeinwork.core.text.sample import Sample


class MarkupPass(TextPass):
    """Strip tags and decode entities; block elements are breaks, where not told otherwise."""

    title = "Markup"
    about = "tags go, entities are decoded"
    kind: Literal["markup"] = "markup"
    tags: Literal["blocks as breaks", "drop", "keep"] = Field(
        "blocks as breaks", description="what becomes of tags; dropped, blocks only part words"
    )

    def said(self) -> str:
        return {
            "blocks as breaks": "tags go, blocks are breaks",
            "drop": "tags go, blocks are spaces",
            "keep": "tags stay",
        }[self.tags]

    @classmethod
    def suggested(cls, sample: Sample) -> tuple[tuple[BasePass, str], ...]:
        share = sample.share(markup.has_markup)
        return ((cls(), f"tags or entities in {percent(share)} of the texts" if share else ""),)

    def change(self, text: str) -> Mapped | None:
        if self.tags == "keep" or not markup.has_markup(text):
            return None
        return markup.strip(text, "\n" if self.tags == "blocks as breaks" else " ")
