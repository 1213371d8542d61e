"""A token stream on its way through the passes of a cleaning."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.content import expect, expect_words
from skeinwork.core.text.about import UNSURE, About
from skeinwork.core.text.capitals import counts_apart_from_headings
from skeinwork.core.text.passes.base import BasePass, Forms, Mask, StreamPass, TextPass, TypePass
from skeinwork.core.text.segment import Segments

# Words that are shown as what a pass concerned.
_NAMED = 12


@dataclass(frozen=True)
class Survival:
    """Tokens and distinct forms left after one pass, by its key.

    ``concerned`` are words that the pass names, ``offered`` those that it could spare, the most
    frequent first.
    """

    key: str
    tokens: int
    types: int
    concerned: tuple[str, ...] = ()
    offered: tuple[str, ...] = ()

    def check(self) -> None:
        """Raise ``ContentError`` unless it is a key, two numbers and words."""
        numbers = type(self.tokens) is int and type(self.types) is int
        expect(isinstance(self.key, str) and numbers, "survivals hold what is no number")
        expect_words("survivals", [*self.concerned, *self.offered])


class Applying:
    """By type its form, readable word, and what decided; ``trail`` holds what each pass changed.

    Where passes are limited to some documents, or the language decides, a type is split by the part
    of the corpus that it stands in, so that passes still work by type.
    """

    def __init__(
        self, tokens: Segments, passes: Sequence[BasePass], about: About, lists: Mapping[str, frozenset[str]]
    ) -> None:
        self.joined = False
        asking = [
            each
            for each in passes
            if each.on and not isinstance(each, TextPass) and (each.within or each.by_language())
        ]
        self._meets: dict[str, Mask] = {}
        scope = np.zeros(0, dtype=np.int32)
        languages: Sequence[str] = (UNSURE,)
        if asking:
            of_document, languages = self._parts(asking, about)
            tokens, scope = _split(tokens, of_document, len(languages))
            self.joined = True
        self.forms = Forms(tokens.types, tokens.classes, counts_apart_from_headings(tokens))
        self.forms.lists = lists
        if asking:
            self.forms.scope, self.forms.languages = scope, languages
        self.named: tuple[tuple[str, ...], tuple[str, ...]] = ((), ())
        self.trail: list[dict[int, str]] = []
        self._numbered: NDArray[np.int64] | None = None  # the current form of each type
        self.removed_by = np.full(len(tokens.types), -1, dtype=np.int16)
        self.changed_by = np.full(len(tokens.types), -1, dtype=np.int16)
        self._take(tokens)

    def _parts(self, asking: Sequence[BasePass], about: About) -> tuple[NDArray[np.int32], list[str]]:
        """The part that each document belongs to, and the language of every part."""
        limits = {each.within.model_dump_json(): each.within for each in asking if each.within}
        meets = [about.meets(limit) for limit in limits.values()]
        spoken = any(each.by_language() for each in asking)
        known = about.language if spoken else np.zeros(len(about.language), dtype=np.int16)
        columns = np.stack([known, *meets], axis=1).astype(np.int16)
        parts, of_document = np.unique(columns, axis=0, return_inverse=True)
        for at, limit in enumerate(limits, start=1):
            self._meets[limit] = parts[:, at].astype(bool)
        languages = [about.languages[at] if spoken else UNSURE for at in parts[:, 0].tolist()]
        return of_document.ravel().astype(np.int32), languages

    def _take(self, tokens: Segments) -> None:
        self.tokens = tokens
        self.counts = np.bincount(tokens.ids, minlength=len(tokens.types)).astype(np.int64)

    def run(self, index: int, step: BasePass) -> None:
        """Apply one pass, where it is on."""
        self.trail.append({})
        forms, self.named = self.forms, ((), ())
        if not step.on or isinstance(step, TextPass):
            return  # off, or done before the text was cut into tokens
        forms.name_none()
        forms.limit, forms.tokens = step.within, self.tokens
        forms.open = ~forms.safe
        if step.within:
            forms.open &= self._meets[step.within.model_dump_json()][forms.scope]
        if isinstance(step, StreamPass):
            self._by_stream(index, step)
            forms.tokens = self.tokens
        if isinstance(step, TypePass):
            self._by_type(index, step)

    def _by_type(self, index: int, step: TypePass) -> None:
        forms, safe = self.forms, self.forms.safe
        before = list(forms.current) if step.rewrites else forms.current
        readable = list(forms.readable) if step.rewrites else forms.readable
        gone = step.apply(forms) & forms.alive & forms.open
        if step.rewrites:
            gone |= self._changed(index, step, before)
        self.named = (self._words(forms.concerned, readable), self._words(forms.offered, readable))
        forms.alive &= ~gone
        self.removed_by[gone] = index
        forms.applied.append(step)
        newly = forms.safe & ~safe
        self.named = (self._words(newly, readable), ()) if newly.any() else self.named

    def _changed(self, index: int, step: TypePass, before: list[str]) -> Mask:
        """Note what a pass changed; of which types nothing is left goes."""
        forms, empty, trail = self.forms, self.forms.none(), self.trail[-1]
        for at, (old, new) in enumerate(zip(before, forms.current, strict=True)):
            if old != new:
                trail[at] = new
                empty[at] = not new
                if step.readable and forms.readable[at] == old:
                    forms.readable[at] = new
        self.changed_by[list(trail)] = index
        self._numbered = None if trail else self._numbered
        return empty & forms.alive

    def _words(self, types: Mask, readable: list[str]) -> tuple[str, ...]:
        """The most frequent of some types, as they were read before the pass."""
        found = np.flatnonzero(types & self.forms.open)
        order = found[np.argsort(-self.counts[found], kind="stable")][:_NAMED]
        return tuple(dict.fromkeys(readable[at] for at in order.tolist()))

    def _by_stream(self, index: int, step: StreamPass) -> None:
        made = step.join(self.tokens, self.forms)
        if made is None:
            return
        old, self.joined = len(self.tokens.types), True
        self._take(made.tokens)
        self.forms.extend(made, self.counts)
        added = np.full(len(made.source), -1, dtype=np.int16)
        self.removed_by = np.concatenate([self.removed_by, added])
        self.changed_by = np.concatenate([self.changed_by, added])
        self.changed_by[old:] = index
        self._numbered = None
        self.trail[-1].update(enumerate(self.forms.current[old:], start=old))

    def survival(self, key: str) -> Survival:
        """What is left after the last pass, which has this key."""
        forms = self.forms
        if self._numbered is None:
            index: dict[str, int] = {}
            numbered = [index.setdefault(form, len(index)) for form in forms.current]
            self._numbered = np.array(numbered, dtype=np.int64)
        left = np.count_nonzero(np.bincount(self._numbered[forms.alive]))
        return Survival(key, int(self.counts[forms.alive].sum()), int(left), *self.named)


def _split(tokens: Segments, of_document: NDArray[np.int32], parts: int) -> tuple[Segments, NDArray[np.int32]]:
    """A stream whose types are split by the part of the corpus they stand in, and that part."""
    part = np.repeat(of_document, np.diff(tokens.doc_ptr))
    pairs = tokens.ids.astype(np.int64) * parts + part
    there = np.zeros(len(tokens.types) * parts, dtype=bool)
    there[pairs] = True
    found = np.flatnonzero(there)
    place = np.cumsum(there, dtype=np.int32) - 1
    kinds = found // parts
    split = replace(
        tokens,
        ids=place[pairs].astype(np.int32),
        classes=tokens.classes[kinds],
        types=[tokens.types[at] for at in kinds.tolist()],
    )
    return split, (found % parts).astype(np.int32)
