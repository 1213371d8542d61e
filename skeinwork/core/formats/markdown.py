"""Markdown: one document, its heading of fields apart."""

from __future__ import annotations

import json
import re

from skeinwork.core.formats import html, nested
from skeinwork.core.formats.format import Format, of_text, up_to_a_space
from skeinwork.core.formats.records import FileSettings, Noted, Records, Row


def read(text: str, name: str, settings: FileSettings) -> Records:
    """A Markdown file as one document; a heading of ``name: value`` lines gives fields."""
    import yaml
    from markdown_it import MarkdownIt

    fields: dict[str, str] = {}
    if found := re.match(r"---[ \t]*\n(.*?)\n(?:---|\.\.\.)[ \t]*(?:\n|\Z)", text, re.DOTALL):
        try:
            if any(isinstance(each, yaml.AliasEvent) for each in yaml.parse(found[1])):
                raise ValueError  # names that stand for values: a few can stand for very much
            given = yaml.safe_load(found[1])
            fields = nested.flatten(json.loads(json.dumps(given, default=str)))
            text = text[found.end() :]
        except (yaml.YAMLError, ValueError, RecursionError):
            yield Noted(1, "the heading between --- is not readable and was taken as text")
    page = MarkdownIt("commonmark").enable("table").render(text)
    whole = settings.model_copy(update={"page": "whole"})
    words, breaks = html.page_text(f"<body>{page}</body>", whole)
    title = {"title": breaks[0][2]} if breaks else {}
    if words.strip():
        yield Row(1, {**title, **fields, "text": words, "file": name}, breaks=breaks)


FORMAT = Format(
    "markdown",
    "Markdown",
    of_text(read),
    ("encoding",),
    beginning=up_to_a_space,
    single=True,
    endings=(".md", ".markdown"),
)
