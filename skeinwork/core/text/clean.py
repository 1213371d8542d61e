"""A cleaning: one token stream taken through its passes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, model_validator

from skeinwork.core.kinds import differing
from skeinwork.core.text import passes
from skeinwork.core.text.capitals import counts_apart_from_headings
from skeinwork.core.text.passes import Pass
from skeinwork.core.text.passes.base import BasePass, Forms, Mask, StreamPass, TextPass, TypePass
from skeinwork.core.text.segment import Segments
from skeinwork.core.text.tokenise import TokeniseSettings, TokensSettings

VERSION = 3
_NAMED = 12
Fate = Literal["kept", "changed", "removed"]


class CleanSettings(BaseModel):
    """Tokenising rule and ordered passes; the same kind of pass may stand in it more than once."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    rule: TokeniseSettings = TokeniseSettings.model_validate({})
    passes: tuple[Pass, ...] = Field(passes.SUGGESTED, max_length=40, validate_default=True)

    @model_validator(mode="after")
    def _name_each(self) -> CleanSettings:
        """Give every pass without a key the next one of its kind."""
        keys = default_keys(self.passes)
        named = tuple(
            each if each.key else each.model_copy(update={"key": key})
            for each, key in zip(self.passes, keys, strict=True)
        )
        if len({each.key for each in named}) < len(named):
            raise ValueError("two passes have the same key")
        object.__setattr__(self, "passes", named)
        return self

    def tokenising(self) -> TokensSettings:
        """The settings that the token stream depends on: the text passes belong to it."""
        text = tuple(each for each in self.passes if isinstance(each, TextPass) and each.on)
        return TokensSettings(**dict(self.rule), text=text)


def default_keys(listed: tuple[BasePass, ...]) -> list[str]:
    """Keys for passes by their order: the kind, then the kind with a number; none is taken twice."""
    taken = {each.key for each in listed if each.key}
    keys = []
    for each in listed:
        key, number = each.kind, 1
        while not each.key and key in taken:
            number += 1
            key = f"{each.kind}-{number}"
        keys.append(each.key or key)
        taken.add(keys[-1])
    return keys


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


@dataclass(frozen=True)
class Cleaning:
    """What became of every token. Ask it by token; its arrays are by type.

    Attributes
    ----------
    tokens : the stream that the passes left: the one they began with, unless one joined tokens
    removed_by : int16[n_types], index of the pass that removed the type, or -1
    changed_by : int16[n_types], index of the last pass that changed its form, or -1
    form_of : int32[n_types], its form, or -1 where it was removed
    forms : the surviving forms, by first appearance of a type
    display : for each form the most frequent word it stands for
    survivals : tokens and types after tokenising and after each pass
    joined : whether ``tokens`` is another stream than the one the passes began with
    """

    tokens: Segments
    removed_by: NDArray[np.int16]
    changed_by: NDArray[np.int16]
    form_of: NDArray[np.int32]
    forms: list[str]
    display: list[str]
    survivals: list[Survival]
    joined: bool = False

    def rows(self, document: int) -> slice:
        """The tokens of a document."""
        return slice(int(self.tokens.doc_ptr[document]), int(self.tokens.doc_ptr[document + 1]))

    def token_forms(self, document: int | None = None) -> NDArray[np.int32]:
        """The form of each token of a document, or of all; -1 where it was removed."""
        ids = self.tokens.ids if document is None else self.tokens.ids[self.rows(document)]
        return self.form_of[ids]

    def fate(self, token: int) -> tuple[Fate, str | None, int]:
        """What became of a token, its form, and the pass that decided (-1: none)."""
        kind = int(self.tokens.ids[token])
        if (by := int(self.removed_by[kind])) >= 0:
            return "removed", None, by
        form, changed = int(self.form_of[kind]), int(self.changed_by[kind])
        if form < 0:
            return "removed", None, -1
        if changed < 0 or self.forms[form] == self.tokens.types[kind]:
            return "kept", None, -1
        return "changed", self.forms[form], changed

    def decided(self, by: int, document: int | None = None) -> NDArray[np.bool_]:
        """Whether a pass removed, joined or was the last to change each token of a document, or of all."""
        ids = self.tokens.ids if document is None else self.tokens.ids[self.rows(document)]
        return (self.removed_by[ids] == by) | (self.changed_by[ids] == by)

    def families(self, most: int) -> list[tuple[str, dict[str, int]]]:
        """Forms that bring several words together, the widest first, with the tokens of each word."""
        counts = np.bincount(self.tokens.ids, minlength=len(self.tokens.types))
        members: dict[int, dict[str, int]] = {}
        for kind in np.flatnonzero(self.form_of >= 0).tolist():
            family = members.setdefault(int(self.form_of[kind]), {})
            word = self.tokens.types[kind].casefold()
            family[word] = family.get(word, 0) + int(counts[kind])
        wide = [item for item in members.items() if len(item[1]) > 1]
        wide.sort(key=lambda item: (-len(item[1]), -sum(item[1].values())))
        return [(self.forms[form], words) for form, words in wide[:most]]


class _Work:
    """A stream on its way through the passes: by type its form, readable word, and what decided."""

    def __init__(self, tokens: Segments) -> None:
        self.joined = False
        self.forms = Forms(tokens.types, tokens.classes, counts_apart_from_headings(tokens))
        self.named: tuple[tuple[str, ...], tuple[str, ...]] = ((), ())
        self.removed_by = np.full(len(tokens.types), -1, dtype=np.int16)
        self.changed_by = np.full(len(tokens.types), -1, dtype=np.int16)
        self._take(tokens)

    def _take(self, tokens: Segments) -> None:
        self.tokens = tokens
        self.counts = np.bincount(tokens.ids, minlength=len(tokens.types)).astype(np.int64)

    def run(self, index: int, step: BasePass) -> None:
        """Apply one pass."""
        if isinstance(step, TypePass):
            self._by_type(index, step)
        elif isinstance(step, StreamPass):
            self._by_stream(index, step)

    def _by_type(self, index: int, step: TypePass) -> None:
        forms, before = self.forms, list(self.forms.current)
        readable = list(forms.readable)
        forms.name_none()
        gone = step.apply(forms) & forms.alive
        gone |= forms.alive & forms.matching(lambda form: not form)
        self.named = (
            self._words(forms.concerned, readable), self._words(forms.offered, readable)
        )  # fmt: skip
        forms.alive &= ~gone
        self.removed_by[gone] = index
        forms.applied.append(step)
        for at, (old, new) in enumerate(zip(before, forms.current, strict=True)):
            if old != new:
                self.changed_by[at] = index
                if step.readable and forms.readable[at] == old:
                    forms.readable[at] = new

    def _words(self, types: Mask, readable: list[str]) -> tuple[str, ...]:
        """The most frequent of some types, as they were read before the pass."""
        found = np.flatnonzero(types)
        order = found[np.argsort(-self.counts[found], kind="stable")][:_NAMED]
        return tuple(dict.fromkeys(readable[at] for at in order.tolist()))

    def _by_stream(self, index: int, step: StreamPass) -> None:
        made = step.join(self.tokens, self.forms)
        if made is None:
            return
        old, new = len(self.tokens.types), made.tokens.types[len(self.tokens.types) :]
        forms, self.joined = self.forms, True
        self._take(made.tokens)
        forms.surface, forms.classes = list(made.tokens.types), made.tokens.classes
        forms.current += made.current
        forms.readable += new
        forms.apart = np.concatenate([forms.apart, np.zeros(len(new), dtype=bool)])
        forms.counts = np.concatenate([forms.counts, np.zeros(len(new), dtype=np.int64)])
        forms.alive = np.concatenate([forms.alive, np.ones(len(new), dtype=bool)])
        forms.alive &= self.counts > 0
        added = np.full(len(new), -1, dtype=np.int16)
        self.removed_by = np.concatenate([self.removed_by, added])
        self.changed_by = np.concatenate([self.changed_by, added])
        self.changed_by[old:] = index

    def survival(self, key: str) -> Survival:
        forms = self.forms
        left = {form for form, alive in zip(forms.current, forms.alive, strict=True) if alive}
        return Survival(key, int(self.counts[forms.alive].sum()), len(left), *self.named)


def _display_forms(
    form_of: NDArray[np.int32], words: list[str], counts: NDArray[np.int64], n_forms: int
) -> list[str]:
    """The most frequent word of each form; ties go to the alphabetically first."""
    tallies: list[dict[str, int]] = [{} for _ in range(n_forms)]
    for form, word, count in zip(form_of.tolist(), words, counts.tolist(), strict=True):
        if form >= 0:
            tallies[form][word] = tallies[form].get(word, 0) + count
    return [min(tally, key=lambda word: (-tally[word], word)) for tally in tallies]


def clean(tokens: Segments, settings: CleanSettings) -> Cleaning:
    """Apply the passes in their order.

    A list still matches after stemming: what ships with the program by the word as it is written,
    what the analyst listed with all words of its form.

    Parameters
    ----------
    tokens : the stream of ``settings.tokenising()``

    Examples
    --------
    >>> from skeinwork.core.text.tokenise import tokenise
    >>> settings = CleanSettings()
    >>> clean(tokenise(["The pilots' launches"], settings.tokenising()), settings).forms
    ['pilot', 'launch']
    """
    work = _Work(tokens)
    survivals = [work.survival("tokens")]
    for index, step in enumerate(settings.passes):
        work.named = ((), ())
        if step.on:
            work.run(index, step)
        survivals.append(work.survival(step.key))
    forms, index_of = work.forms, dict[str, int]()
    form_of = np.full(len(forms.surface), -1, dtype=np.int32)
    for at in np.flatnonzero(forms.alive).tolist():
        form_of[at] = index_of.setdefault(forms.current[at], len(index_of))
    display = _display_forms(form_of, forms.readable, work.counts, len(index_of))
    return Cleaning(
        work.tokens, work.removed_by, work.changed_by, form_of, list(index_of), display, survivals,
        work.joined,
    )  # fmt: skip


def told(settings: CleanSettings) -> list[dict[str, Any]]:
    """What the passes of a cleaning are, for its identity: settings that differ from the defaults.

    A key that follows from the order is left out.
    """
    keys = default_keys(tuple(each.model_copy(update={"key": ""}) for each in settings.passes))
    out = []
    for each, key in zip(settings.passes, keys, strict=True):
        said = differing(each.model_copy(update={"key": "" if each.key == key else each.key}))
        out.append({**said, "versions": each.versions()})
    return out
