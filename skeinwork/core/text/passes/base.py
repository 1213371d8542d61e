"""What a pass is, and the three kinds there are, by what they may see.

*Text passes* change text before it is cut into tokens, and keep the way back to the original.
*Stream passes* see a token among its neighbours and make another token stream from one. *Type
passes* see distinct words only, so that a whole corpus costs no more than its vocabulary; after a
stream pass everything is again by type.
"""

from __future__ import annotations

import unicodedata
from abc import abstractmethod
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, ClassVar, Protocol

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.text import segment
from skeinwork.core.text.about import UNSURE, About, Within
from skeinwork.core.text.given_words import ListRef
from skeinwork.core.text.sample import Sample
from skeinwork.core.text.segment import Segments

Mask = NDArray[np.bool_]


class Forms:
    """What the passes so far have made of every type: its current form, or removal.

    Attributes
    ----------
    surface, current : the types as they stand in the text, and what they have become; one word
        whether it was written composed, decomposed or with soft hyphens
    readable : what they were before a pass, such as stemming, that makes forms nobody reads
    classes : uint8[n_types], index into ``segment.CLASSES``
    alive : bool[n_types]
    apart : bool[n_types], words in capitals that are kept apart; lists and stems pass them by
    safe : bool[n_types], types that a keep list holds: no pass touches them any more
    open : bool[n_types], types that the pass at work may touch
    scope : int32[n_types], which part of the corpus a type stands in, where passes are limited to parts
    languages : the language of the documents of each part
    tags : int8[n_types], the part of speech of a type, an index into ``tagging.TAGS``; -1 untagged
    tokens : the stream, where there is one
    lists : the words of saved lists, case folded, by the checksum of each
    counts : int64[n_types], how often each stands outside headings; zeros for words of a list
    concerned, offered : bool[n_types], types that the pass at work names, and that it could spare
    applied : the type passes that have been applied
    """

    def __init__(
        self, types: Sequence[str], classes: NDArray[np.uint8], counts: NDArray[np.int64] | None = None
    ) -> None:
        self.surface = [one_word(word) for word in types]
        self.current = list(self.surface)
        self.readable = list(self.surface)
        self.classes = classes
        self.alive: Mask = np.ones(len(self.surface), dtype=bool)
        self.apart: Mask = np.zeros(len(self.surface), dtype=bool)
        self.safe: Mask = np.zeros(len(self.surface), dtype=bool)
        self.open: Mask = np.ones(len(self.surface), dtype=bool)
        self.scope: NDArray[np.int32] = np.zeros(len(self.surface), dtype=np.int32)
        self.languages: Sequence[str] = (UNSURE,)
        self.tags: NDArray[np.int8] = np.full(len(self.surface), -1, dtype=np.int8)
        self.counts = np.zeros(len(self.surface), np.int64) if counts is None else counts
        self.name_none()
        self.applied: list[TypePass] = []
        self.limit: Within | None = None
        self.tokens: Segments | None = None
        self.lists: Mapping[str, frozenset[str]] = {}

    def reduce(self, words: Sequence[str], kind: int = segment.WORD) -> list[str]:
        """Words of one class as the passes so far would write them.

        Passes that are limited to other documents than the one at work are left out.
        """
        reduced = Forms(words, np.full(len(words), kind, dtype=np.uint8))
        for earlier in self.applied:
            if earlier.rewrites and earlier.within in (None, self.limit):
                earlier.apply(reduced)
        return reduced.current

    def extend(self, made: Joined, counts: NDArray[np.int64]) -> None:
        """Take the types that a stream pass made beside those there are; ``counts``, int64[n_types], are of all."""
        old, source = len(self.surface), made.source
        self.surface = [*self.surface, *(one_word(word) for word in made.tokens.types[old:])]
        self.classes = made.tokens.classes
        self.current += made.current
        self.readable += made.readable or made.tokens.types[old:]
        none = np.zeros(len(source), dtype=bool)
        self.apart = np.concatenate([self.apart, none])
        self.safe = np.concatenate([self.safe, none])
        self.open = np.concatenate([self.open, ~none])
        self.scope = np.concatenate([self.scope, self.scope[source]]).astype(np.int32)
        self.tags = np.concatenate([self.tags, self.tags[source] if made.tags is None else made.tags]).astype(np.int8)
        self.counts = np.concatenate([self.counts, counts[old:]])
        self.alive = np.concatenate([self.alive, ~none]) & (counts > 0)
        self.name_none()

    def language(self) -> list[str]:
        """The language of the documents that each type stands in."""
        return [self.languages[at] for at in self.scope.tolist()]

    def rewrite(self, change: Callable[[str], str], words_only: bool = False) -> None:
        """Give every type (or word) that is still alive a new form."""
        wanted = self.alive & self.open & ~self.apart
        if words_only:
            wanted &= self.classes == segment.WORD
        current = self.current
        for at in np.flatnonzero(wanted).tolist():
            current[at] = change(current[at])

    def matching(self, test: Callable[[str], bool]) -> Mask:
        """Types still alive that the pass may touch and whose current form passes a test."""
        return self.among(self.alive, test)

    def among(self, types: Mask, test: Callable[[str], bool]) -> Mask:
        """Those of some types, bool[n_types], that the pass may touch and whose current form passes a test."""
        found, current = self.none(), self.current
        at = np.flatnonzero(types & self.open)
        found[at] = [test(current[each]) for each in at.tolist()]
        return found

    def name_none(self) -> None:
        """Forget what the pass before named."""
        self.concerned = self.offered = self.none()

    def none(self) -> Mask:
        """No type."""
        return np.zeros(len(self.current), dtype=bool)


_UNSEEN = dict.fromkeys(map(ord, "\u00ad\u200b\u2060\ufeff"))


def one_word(word: str) -> str:
    """A word composed (NFC), without soft hyphens and other signs of no width.

    >>> one_word("e\u0301t\u00ade\u0301") == "\u00e9t\u00e9"
    True
    """
    return word if word.isascii() else unicodedata.normalize("NFC", word).translate(_UNSEEN)


def bare_word(word: str) -> str:
    """A word case folded, in one form (``one_word``), without a possessive.

    >>> bare_word("Quellan’s")
    'quellan'
    """
    return without_possessive(word).casefold()


def without_possessive(word: str) -> str:
    """A word in one form (``one_word``), without a possessive; its capitals stay."""
    word = one_word(word)
    return word[:-2] if word.endswith(("'s", "’s", "'S", "’S")) else word


def of_letters(word: str) -> bool:
    """Whether a word is of letters, hyphens and apostrophes alone."""
    return word.replace("-", "").replace("'", "").replace("’", "").isalpha()


@dataclass(frozen=True)
class Joined:
    """Another token stream of the same documents.

    Attributes
    ----------
    tokens : its types are those of the stream before, then the new ones
    current : what each new type is brought to
    source : int64[n_new], a type of the stream before that stands in the same documents
    readable : what each new type is shown as, where that is not how it stands in the text
    tags : int8[n_new], the part of speech of each new type, where the pass tags
    """

    tokens: Segments
    current: list[str]
    source: NDArray[np.int64]
    readable: list[str] = field(default_factory=list)
    tags: NDArray[np.int8] | None = None


class Changed(Protocol):
    """A changed text with the way back, by UTF-8 byte offsets."""

    @property
    def text(self) -> str: ...

    def to_original(
        self, starts: NDArray[np.int32], ends: NDArray[np.int32]
    ) -> tuple[NDArray[np.int32], NDArray[np.int32]]: ...


class BasePass(BaseModel):
    """One step of cleaning. A subclass with a field ``kind`` is offered to the analyst.

    Attributes
    ----------
    VERSION : raised when the pass gives other results
    title, about : what the screens call it, and what it does in one line
    """

    model_config = ConfigDict(extra="forbid", frozen=True)
    VERSION: ClassVar[int] = 1
    title: ClassVar[str]
    about: ClassVar[str]
    kind: Any
    on: bool = True
    key: str = Field("", max_length=60, description="names this pass in its cleaning; the kind, where left out")

    within: Within | None = Field(None, description="the documents it is limited to")

    def versions(self) -> list[int]:
        """The versions of all that takes part in this pass with its settings."""
        return [self.VERSION]

    @classmethod
    def suggested(cls, sample: Sample) -> tuple[tuple[BasePass, str], ...]:
        """The pass as a first cleaning of some texts has it, and why; none, or more than one, where that fits."""
        return ((cls.model_validate({}), ""),)

    @abstractmethod
    def said(self) -> str:
        """The settings in a few words."""

    def refs(self) -> Sequence[ListRef]:
        """The saved lists that it reads."""
        return ()

    def by_language(self) -> bool:
        """Whether the language of a document decides what the pass does to it."""
        return False

    def hint(self, before: Sequence[BasePass]) -> str:
        """What to know of where it stands, after these passes; empty where there is nothing."""
        return ""

    def note(self, about: About) -> str:
        """What to know of it in this corpus; empty where there is nothing."""
        return ""


class TextPass(BasePass):
    """Changes a text before it is cut into tokens."""

    @abstractmethod
    def change(self, text: str) -> Changed | None:
        """The changed text, or None where nothing changes."""


class StreamPass(BasePass):
    """Makes another token stream from one."""

    @abstractmethod
    def join(self, tokens: Segments, forms: Forms) -> Joined | None:
        """The new stream, or None where it would be the same."""


class TypePass(BasePass):
    """Changes or removes types.

    Attributes
    ----------
    rewrites : it changes forms; else it removes
    says : of the types that it names as ``forms.concerned``, and of those as ``forms.offered``
    readable : what it makes of a word is shown to people; a stem is not
    """

    rewrites: ClassVar[bool] = False
    readable: ClassVar[bool] = True
    says: ClassVar[tuple[str, str]] = ("", "")

    def reason(self, word: str, language: str) -> str:
        """Why a word goes, as it was read before the pass; empty where the pass's name says it."""
        return ""

    @abstractmethod
    def apply(self, forms: Forms) -> Mask:
        """Change forms in place; return which of the living types go."""
