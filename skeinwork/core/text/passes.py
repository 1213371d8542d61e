"""The ordered passes of a cleaning: what each does to a word form, and what it removes.

Every pass here looks at types (distinct surface forms), not at tokens, so the whole corpus costs no
more than its vocabulary. To add a pass: a settings class with ``kind`` and ``apply`` in this file,
its name in ``Pass``, and its line of settings on the Clean screen.
"""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Callable, Sequence
from typing import Annotated, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, field_validator

from skeinwork.core.text import segment, stopwords
from skeinwork.core.text.stem import porter

Mask = NDArray[np.bool_]
STEMMERS: dict[str, Callable[[str], str]] = {"porter": porter.stem}


class Forms:
    """What the passes so far have made of every type: its current form, or removal."""

    def __init__(self, types: Sequence[str], classes: NDArray[np.uint8]) -> None:
        self.surface = list(types)
        self.current = list(types)
        self.classes = classes
        self.alive: Mask = np.ones(len(self.surface), dtype=bool)
        self.applied: list[BasePass] = []

    def reduce(self, words: Sequence[str]) -> set[str]:
        """Words as the passes so far would write them, so that lists follow the same reduction."""
        reduced = Forms(words, np.zeros(len(words), dtype=np.uint8))
        for earlier in self.applied:
            if earlier.rewrites:
                earlier.apply(reduced)
        return {*words, *reduced.current}

    def rewrite(self, change: Callable[[str], str], words_only: bool = False) -> None:
        """Give every type (or word) that is still alive a new form."""
        wanted = self.alive & (self.classes == segment.WORD) if words_only else self.alive
        for at in np.flatnonzero(wanted).tolist():
            self.current[at] = change(self.current[at])

    def matching(self, test: Callable[[str], bool]) -> Mask:
        """Types still alive whose current form passes a test."""
        return np.fromiter(
            (alive and test(form) for alive, form in zip(self.alive, self.current, strict=True)),
            dtype=bool,
            count=len(self.current),
        )


class BasePass(BaseModel):
    """One step of cleaning. ``rewrites``: it changes forms; else it removes."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    rewrites: ClassVar[bool] = False
    on: bool = True

    @abstractmethod
    def apply(self, forms: Forms) -> Mask:
        """Change forms in place; return which of the living types go."""


def _none(forms: Forms) -> Mask:
    return np.zeros(len(forms.current), dtype=bool)


class MarkupPass(BasePass):
    """Strip tags and decode entities. A text pass: it is done before tokenising."""

    kind: Literal["markup"] = "markup"

    def apply(self, forms: Forms) -> Mask:
        return _none(forms)


class AddressesPass(BasePass):
    """Remove web and mail addresses and mentions; hashtags when asked."""

    kind: Literal["addresses"] = "addresses"
    hashtags: bool = Field(False, description="remove hashtags too")

    def apply(self, forms: Forms) -> Mask:
        wanted = [segment.ADDRESS, segment.MENTION] + [segment.HASHTAG] * self.hashtags
        return forms.alive & np.isin(forms.classes, wanted)


class CasePass(BasePass):
    """Full case folding, and the possessive *'s* cut off when asked."""

    rewrites: ClassVar[bool] = True
    kind: Literal["case"] = "case"
    possessives: bool = Field(True, description="cut off a possessive 's")

    def apply(self, forms: Forms) -> Mask:
        forms.rewrite(str.casefold)
        if self.possessives:
            forms.rewrite(_without_possessive)
        return _none(forms)


def _without_possessive(word: str) -> str:
    if len(word) > 3 and word.endswith(("'s", "’s")) and word not in stopwords.english():
        return word[:-2]
    return word


class NumbersPass(BasePass):
    """Remove numbers; those joined to letters (*12kn*, *3rd*) only when asked."""

    kind: Literal["numbers"] = "numbers"
    keep_with_letters: bool = Field(False, description="keep numbers joined to letters, like 12kn")

    def apply(self, forms: Forms) -> Mask:
        numbers = forms.alive & (forms.classes == segment.NUMBER)
        if not self.keep_with_letters:
            return numbers
        return numbers & forms.matching(lambda form: not any(map(str.isalpha, form)))


class PunctuationPass(BasePass):
    """Remove tokens without letter, digit or emoji."""

    kind: Literal["punctuation"] = "punctuation"

    def apply(self, forms: Forms) -> Mask:
        return forms.alive & np.isin(forms.classes, [segment.PUNCTUATION, segment.SYMBOL])


class _ListPass(BasePass):
    """A pass that removes the words of a list, whatever reduction stands before it."""

    @abstractmethod
    def listed(self) -> Sequence[str]:
        """The words to remove, as the analyst wrote them."""

    def apply(self, forms: Forms) -> Mask:
        words = forms.reduce(list(self.listed()))
        return forms.matching(lambda form: form in words or form.casefold() in words)


def _tidy_words(words: Sequence[str]) -> tuple[str, ...]:
    return tuple(dict.fromkeys(word.strip() for word in words if word.strip()))


Words = Annotated[tuple[str, ...], Field(max_length=100_000)]


class StopWordsPass(_ListPass):
    """Remove function words: a shipped list, own additions, own exceptions."""

    kind: Literal["stop-words"] = "stop-words"
    language: Literal["english", "none"] = "english"
    own: Words = Field((), description="further words to remove")
    keep: Words = Field((), description="words of the list to keep")

    _tidy = field_validator("own", "keep")(_tidy_words)

    def listed(self) -> Sequence[str]:
        shipped = stopwords.english() if self.language == "english" else frozenset()
        return sorted((shipped | set(self.own)) - set(self.keep))


class DomainWordsPass(_ListPass):
    """Remove words that every document of this corpus is full of."""

    kind: Literal["domain-words"] = "domain-words"
    words: Words = ()

    _tidy = field_validator("words")(_tidy_words)

    def listed(self) -> Sequence[str]:
        return self.words


class ShortWordsPass(BasePass):
    """Remove words of fewer characters than a limit."""

    kind: Literal["short-words"] = "short-words"
    under: int = Field(3, ge=2, le=20, description="remove words shorter than this")

    def apply(self, forms: Forms) -> Mask:
        words = forms.classes != segment.EMOJI
        return words & forms.matching(lambda form: len(form) < self.under)


class WordFormsPass(BasePass):
    """Bring the forms of a word together: by stem."""

    rewrites: ClassVar[bool] = True
    kind: Literal["word-forms"] = "word-forms"
    method: Literal["porter"] = "porter"

    def apply(self, forms: Forms) -> Mask:
        stem = STEMMERS[self.method]
        forms.rewrite(lambda form: stem(form) if form.isascii() and form.islower() else form, True)
        return _none(forms)


Pass = Annotated[
    MarkupPass
    | AddressesPass
    | CasePass
    | NumbersPass
    | PunctuationPass
    | StopWordsPass
    | ShortWordsPass
    | WordFormsPass
    | DomainWordsPass,
    Field(discriminator="kind"),
]
SUGGESTED: tuple[Pass, ...] = (
    MarkupPass(),
    AddressesPass(),
    CasePass(),
    NumbersPass(),
    PunctuationPass(),
    StopWordsPass(),
    ShortWordsPass(),
    WordFormsPass(),
    DomainWordsPass(),
)
