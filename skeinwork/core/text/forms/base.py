"""What a word-form method is."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

Form = Callable[[str], str]


@dataclass(frozen=True)
class Options:
    """What there is to choose about the methods; each looks at its own.

    Attributes
    ----------
    language : Snowball's
    prefixes, rules : Lancaster's: whether prefixes go, and rules before the published ones
    by_rule : the lemmatiser's: whether words it does not know lose regular endings
    tag : the lemmatiser's: the part of speech that a word is taken for; empty where it is not known
    table : of a form-lemma table, its lemmas by form; ``checksum`` tells tables apart
    """

    language: str = "English"
    prefixes: bool = False
    rules: tuple[str, ...] = ()
    by_rule: bool = False
    tag: str = ""
    checksum: str = ""
    table: Mapping[str, str] = field(default_factory=dict, compare=False)


@dataclass(frozen=True)
class Method:
    """One way to bring the forms of a word together.

    Attributes
    ----------
    name, title : in settings, and on screens
    languages : what it is for; none where that depends on its options
    version : raised when it gives other forms
    by : the form of a lower-case word, for some options
    """

    name: str
    title: str
    languages: tuple[str, ...]
    version: int
    by: Callable[[Options], Form]
