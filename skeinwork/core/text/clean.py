"""A cleaning: one token stream taken through its passes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, model_validator

from skeinwork.core.content import expect, expect_array, expect_words
from skeinwork.core.kinds import differing
from skeinwork.core.progress import check_wanted
from skeinwork.core.text import passes
from skeinwork.core.text.about import About, unknown
from skeinwork.core.text.applying import Applying, Survival
from skeinwork.core.text.given_words import ListRef
from skeinwork.core.text.passes import Pass
from skeinwork.core.text.passes.base import BasePass, TextPass
from skeinwork.core.text.segment import Segments
from skeinwork.core.text.tokenise import TokeniseSettings, TokensSettings
from skeinwork.core.text.trail import Changes

VERSION = 4
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

    def asks(self) -> bool:
        """Whether it has to be known what documents are, beside their texts."""
        return any(each.on and (each.within or each.by_language()) for each in self.passes)

    def files(self) -> list[str]:
        """Checksums of the saved lists that its passes read."""
        return [ref.sha256 for ref in self.refs()]

    def refs(self) -> list[ListRef]:
        return [ref for each in self.passes if each.on for ref in each.refs()]

    def until(self, key: str) -> CleanSettings:
        """The same with the passes after one of them switched off."""
        keys = [each.key for each in self.passes]
        last = keys.index(key) if key in keys else -1 if key == "tokens" else len(keys)
        off = tuple(
            each if at <= last else each.model_copy(update={"on": False}) for at, each in enumerate(self.passes)
        )
        return self.model_copy(update={"passes": off})


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
    trail : for each pass the types that it changed, and to what; empty where an earlier version kept none
    """

    tokens: Segments
    removed_by: NDArray[np.int16]
    changed_by: NDArray[np.int16]
    form_of: NDArray[np.int32]
    forms: list[str]
    display: list[str]
    survivals: list[Survival]
    joined: bool = False
    trail: Sequence[Changes] = field(default_factory=list, compare=False)

    def check(self, passes: int) -> None:
        """Raise ``ContentError`` unless so many passes can have left this of its (sound) tokens."""
        each = (len(self.tokens.types),)
        expect_array("removed_by", self.removed_by, np.int16, each, -1, passes - 1)
        expect_array("changed_by", self.changed_by, np.int16, each, -1, passes - 1)
        expect_words("forms", self.forms)
        expect_array("form_of", self.form_of, np.int32, each, -1, len(self.forms) - 1)
        expect_words("display", self.display, len(self.forms))
        left = len(self.survivals)
        expect(left == passes + 1, f"survivals are {left} where {passes + 1} are wanted")
        for survival in self.survivals:
            survival.check()

    def rows(self, document: int) -> slice:
        """The tokens of a document."""
        return slice(int(self.tokens.doc_ptr[document]), int(self.tokens.doc_ptr[document + 1]))

    def token_forms(self, document: int | None = None) -> NDArray[np.int32]:
        """The form, int32[n_tokens], of each token of a document, or of all; -1 where it was removed."""
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

    def emptied(self, passes: int) -> NDArray[np.int64]:
        """Documents that hold tokens but keep none, before any pass and after each, int64[passes + 1]."""
        ids, never = self.tokens.ids, passes + 1
        removed = self.removed_by.astype(np.int32)
        last = np.where(self.form_of < 0, np.maximum(removed, 0) + 1, never)[ids]
        sizes = np.diff(self.tokens.doc_ptr)
        filled = np.flatnonzero(sizes)
        if not len(filled):
            return np.zeros(passes + 1, dtype=np.int64)
        when = np.maximum.reduceat(last, self.tokens.doc_ptr[filled])
        return np.cumsum(np.bincount(when, minlength=passes + 2)[: passes + 1]).astype(np.int64)

    def decided(self, by: int, document: int | None = None) -> NDArray[np.bool_]:
        """Whether a pass removed, joined or last changed each token of a document, or of all; bool[n_tokens]."""
        ids = self.tokens.ids if document is None else self.tokens.ids[self.rows(document)]
        return (self.removed_by[ids] == by) | (self.changed_by[ids] == by)


def _display_forms(form_of: NDArray[np.int32], words: list[str], counts: NDArray[np.int64], n_forms: int) -> list[str]:
    """The most frequent word of each form; ties go to the alphabetically first."""
    tallies: list[dict[str, int]] = [{} for _ in range(n_forms)]
    for form, word, count in zip(form_of.tolist(), words, counts.tolist(), strict=True):
        if form >= 0:
            tallies[form][word] = tallies[form].get(word, 0) + count
    return [min(tally, key=lambda word: (-tally[word], word)) for tally in tallies]


def clean(
    tokens: Segments,
    settings: CleanSettings,
    about: About | None = None,
    lists: Mapping[str, frozenset[str]] | None = None,
) -> Cleaning:
    """Apply the passes in their order.

    A list still matches after stemming: what ships with the program by the word as it is written,
    what the analyst listed with all words of its form.

    Parameters
    ----------
    tokens : the stream of ``settings.tokenising()``
    about : of its documents; asked where ``settings.asks()``
    lists : the words, case folded, of the saved lists in ``settings.files()``, by checksum

    Examples
    --------
    >>> from skeinwork.core.text.tokenise import tokenise
    >>> settings = CleanSettings()
    >>> clean(tokenise(["The pilots' launches"], settings.tokenising()), settings).forms
    ['pilot', 'launch']
    """
    known = about or unknown(len(tokens.doc_ptr) - 1)
    work = Applying(tokens, settings.passes, known, lists or {})
    survivals = [work.survival("tokens")]
    for index, step in enumerate(settings.passes):
        check_wanted()
        work.run(index, step)
        survivals.append(work.survival(step.key))
    forms, index_of = work.forms, dict[str, int]()
    form_of = np.full(len(forms.surface), -1, dtype=np.int32)
    for at in np.flatnonzero(forms.alive).tolist():
        form_of[at] = index_of.setdefault(forms.current[at], len(index_of))
    display = _display_forms(form_of, forms.readable, work.counts, len(index_of))
    return Cleaning(
        work.tokens,
        work.removed_by,
        work.changed_by,
        form_of,
        list(index_of),
        display,
        survivals,
        work.joined,
        work.trail,
    )


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
