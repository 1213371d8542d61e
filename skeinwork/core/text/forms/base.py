"""What a word-form method is."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import ClassVar, Generic, TypeVar

from pydantic import BaseModel

from skeinwork.core.kinds import NoOptions
from skeinwork.core.text.given_words import ListRef

Form = Callable[[str], str]


O = TypeVar("O", bound=BaseModel)  # noqa: E741


@dataclass(frozen=True)
class Place:
    """Where words stand that are brought to their forms.

    Attributes
    ----------
    language : of the documents; empty where that plays no part
    tag : the part of speech that a word is taken for; empty where it is not known
    table : lemmas by form, of the lists that the options name; the options tell tables apart
    """

    language: str = ""
    tag: str = ""
    table: Mapping[str, str] = field(default_factory=dict, compare=False)


class Method(ABC, Generic[O]):
    """One way to bring the forms of a word together.

    Attributes
    ----------
    name, title : in settings, and on screens
    VERSION : raised when it gives other forms
    languages : what it is for; none where any
    options : the class of its options
    sees_tags : whether the part of speech of a word plays a part
    elides : whether it reads words behind an elided one, as in *l'eau*
    """

    name: ClassVar[str]
    title: ClassVar[str]
    VERSION: ClassVar[int] = 1
    languages: ClassVar[tuple[str, ...]] = ("English",)
    options: ClassVar[type[BaseModel]] = NoOptions
    sees_tags: ClassVar[bool] = False
    elides: ClassVar[bool] = False

    @abstractmethod
    def form(self, options: O, place: Place) -> Form:
        """The form of a lower-case word; raises ``ValueError`` where the options make none."""

    def said(self, options: O) -> str:
        """What the options make of it, in a few words."""
        return self.title

    def spoken(self, options: O) -> tuple[str, ...]:
        """The languages that it is for with its options; none where any."""
        return self.languages

    def suggested(self, language: str) -> BaseModel | None:
        """Options to begin with for a language; None where something has to be given."""
        return self.options()

    def by_language(self, options: O) -> bool:
        """Whether the language of a document decides."""
        return False

    def refs(self, options: O) -> Sequence[ListRef]:
        """The saved lists that it reads."""
        return ()
