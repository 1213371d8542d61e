"""Multiword terms: words that stand for one thing together become one token."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace
from typing import Any, Literal

import numpy as np
from pydantic import Field, field_validator

from skeinwork.core.text import segment
from skeinwork.core.text.passes.base import (
    BasePass,
    Forms,
    Joined,
    StreamPass,
    TypePass,
    Words,
    tidy_words,
)
from skeinwork.core.text.segment import Segments

_HYPHENS = "-‐‑"
_PARTS = re.compile(f"[{_HYPHENS}\\s]+")
_NAMED = 3


def _parts(words: str) -> list[str]:
    """A term without case, cut at spaces and hyphens: its variants are cut alike."""
    return [part for part in _PARTS.split(words.casefold()) if part]


class MultiwordPass(StreamPass):
    """Join listed terms into one token each, the longest match first.

    *South-westerly wind* is found in any case, with its hyphen or without. A removed word or a sign
    between the words keeps them apart, so the pass stands before those that remove.
    """

    title = "Multiword terms"
    about = "listed words that stand together become one term"
    kind: Literal["multiword"] = "multiword"
    terms: Words = Field((), description="terms of several words")

    _tidy = field_validator("terms")(tidy_words)

    def said(self) -> str:
        if not self.terms:
            return "none yet"
        return ", ".join(self.terms[:_NAMED]) + (", …" if len(self.terms) > _NAMED else "")

    def hint(self, before: Sequence[BasePass]) -> str:
        removing = [each for each in before if isinstance(each, TypePass) and not each.rewrites]
        named = ", ".join(each.title.lower() for each in removing if each.on)
        return f"Words that {named} removed before can't be joined." if named and self.terms else ""

    def _tree(self) -> dict[str, Any]:
        """The terms by their parts, one level a part; the number of a term ends it, under ""."""
        tree: dict[str, Any] = {}
        for number, term in enumerate(self.terms):
            at = tree
            for part in _parts(term):
                at = at.setdefault(part, {})
            at.setdefault("", number)
        tree.pop("", None)
        return tree

    def join(self, tokens: Segments, forms: Forms) -> Joined | None:
        tree = self._tree()
        if not tree:
            return None
        parts = [
            _parts(word) if alive else None
            for word, alive in zip(forms.surface, forms.alive & forms.open, strict=True)
        ]
        for at, word in enumerate(forms.surface):
            if word in _HYPHENS:
                parts[at] = []  # a hyphen that is a token of its own
        begins = np.array([each[0] in tree if each else False for each in parts])
        found = self._matches(tokens, tree, parts, np.flatnonzero(begins[tokens.ids]))
        return _joined(tokens, forms, self.terms, found) if found else None

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


def _joined(
    tokens: Segments, forms: Forms, terms: tuple[str, ...], found: list[tuple[int, int, int]]
) -> Joined:
    """The stream with each match as one token of a type of its own."""
    first, after, number = (np.array(each) for each in zip(*found, strict=True))
    scope = forms.scope[tokens.ids[first]]
    pairs = sorted(set(zip(number.tolist(), scope.tolist(), strict=True)))
    place = {pair: len(tokens.types) + at for at, pair in enumerate(pairs)}
    ids, ends = tokens.ids.copy(), tokens.ends.copy()
    made = [place[pair] for pair in zip(number.tolist(), scope.tolist(), strict=True)]
    source = np.empty(len(pairs), dtype=np.int64)
    source[np.array(made) - len(tokens.types)] = ids[first]
    ids[first], ends[first] = made, tokens.ends[after - 1]
    inside = np.zeros(len(ids) + 1, dtype=np.int32)
    np.add.at(inside, first + 1, 1)
    np.add.at(inside, after, -1)
    stay = np.cumsum(inside)[:-1] == 0
    doc_ptr = np.concatenate([[0], np.cumsum(stay)])[tokens.doc_ptr].astype(np.int64)
    named = [terms[each] for each, _ in pairs]
    classes = np.full(len(named), segment.MULTIWORD, dtype=np.uint8)
    joined = replace(
        tokens, ids=ids[stay], starts=tokens.starts[stay], ends=ends[stay], doc_ptr=doc_ptr,
        breaks=tokens.breaks[stay], opens=tokens.opens[stay], types=[*tokens.types, *named],
        classes=np.concatenate([tokens.classes, classes]),
    )  # fmt: skip
    written = ["_".join(term.split()) for term in named]
    return Joined(joined, forms.reduce(written, segment.MULTIWORD), source)
