"""What a word-form method is."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass


@dataclass(frozen=True)
class Method:
    """One way to bring the forms of a word together.

    Attributes
    ----------
    name, title : in settings, and on screens
    languages : what it is for
    version : raised when it gives other forms
    form : the form of a lower-case word
    """

    name: str
    title: str
    languages: tuple[str, ...]
    version: int
    form: Callable[[str], str]
