"""Multiword terms: words that stand for one thing together become one token."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Any, Literal

import numpy as np
from pydantic import Field, field_validator

from skeinwork.core.text import segment
from skeinwork.core.text.given_words import Words, named_words, tidy_words
from skeinwork.core.text.passes.base import BasePass, Forms, Joined, StreamPass, TypePass
from skeinwork.core.text.passes.joining import join_runs
from skeinwork.core.text.segment import Segments

_HYPHENS = "-‐‑"
_PARTS = re.compile(f"[{_HYPHENS}\\s]+")


def _parts(words: str) -> list[str]:
    """A term without case, cut at spaces and hyphens: its variants are cut alike."""
    return [part for part in _PARTS.split(words.casefold()) if part]


def _halves(term: str) -> tuple[str, str]:
    """The words that a term is found as, and what it is called."""
    found, _, called = (part.strip() for part in term.partition("="))
    return found, called or found


class MultiwordPass(StreamPass):
    """Join listed terms into one token each, the longest match first.

    *South-westerly wind* is found in any case, with its hyphen or without; ``winds from the south =
    southerly`` makes one term of another. A removed word or a sign between the words keeps them
    apart, so the pass stands before those that remove.
    """

    title = "Multiword terms"
    about = "listed words that stand together become one term"
    kind: Literal["multiword"] = "multiword"
    terms: Words = Field((), description="terms of several words; variant = term")

    _tidy = field_validator("terms")(tidy_words)

    def said(self) -> str:
        return named_words(self.terms, "none yet", 3)

    def hint(self, before: Sequence[BasePass]) -> str:
        removing = [each for each in before if isinstance(each, TypePass) and not each.rewrites]
        named = ", ".join(each.title.lower() for each in removing if each.on)
        return f"Words that {named} removed before can't be joined." if named and self.terms else ""

    def _tree(self) -> dict[str, Any]:
        """The terms by their parts, one level a part; the number of a term ends it, under ""."""
        tree: dict[str, Any] = {}
        for number, term in enumerate(self.terms):
            at = tree
            for part in _parts(_halves(term)[0]):
                at = at.setdefault(part, {})
            at.setdefault("", number)
        tree.pop("", None)
        return tree

    def join(self, tokens: Segments, forms: Forms) -> Joined | None:
        tree = self._tree()
        if not tree:
            return None
        parts = [
            _parts(word) if alive else None for word, alive in zip(forms.surface, forms.alive & forms.open, strict=True)
        ]
        for at, word in enumerate(forms.surface):
            if word in _HYPHENS:
                parts[at] = []  # a hyphen that is a token of its own
        begins = np.array([each[0] in tree if each else False for each in parts])
        found = self._matches(tokens, tree, parts, np.flatnonzero(begins[tokens.ids]))
        if not found:
            return None
        runs = [(first, after, _halves(self.terms[number])[1]) for first, after, number in found]
        return join_runs(tokens, forms, runs, segment.MULTIWORD)

    @staticmethod
    def _matches(
        tokens: Segments, tree: dict[str, Any], parts: list[list[str] | None], candidates: Any
    ) -> list[tuple[int, int, int]]:
        """First token, token after the last, and number of the term of every match."""
        found: list[tuple[int, int, int]] = []
        free, ids = 0, tokens.ids
        ends = tokens.doc_ptr[np.searchsorted(tokens.doc_ptr, candidates, side="right")]
        for first, last in zip(candidates.tolist(), ends.tolist(), strict=True):
            if first < free:
                continue
            node, best = tree, None
            for at in range(first, last):
                here = parts[ids[at]]
                for part in here or ():
                    node = node.get(part, {})
                if here is None or not node:
                    break
                if here and "" in node:
                    best = (first, at + 1, node[""])
            if best:
                found.append(best)
                free = best[1]
        return found
