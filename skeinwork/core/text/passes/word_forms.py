"""Word forms: the forms of a word become one."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from functools import partial
from typing import Any, ClassVar, Literal

import numpy as np
from pydantic import BaseModel, Field, field_validator

from skeinwork.core.text.about import UNSURE, About
from skeinwork.core.text.forms import METHODS, AllOptions, MethodName, former, options_of
from skeinwork.core.text.forms.base import Form, Method, Place
from skeinwork.core.text.forms.snowball import METHOD as SNOWBALL
from skeinwork.core.text.given_words import ListRef
from skeinwork.core.text.passes.base import BasePass, Forms, Mask, TypePass
from skeinwork.core.text.passes.replacements import Lines, halves, tidy_lines
from skeinwork.core.text.sample import Sample
from skeinwork.core.text.tagging.tags import TAGS

_FOREIGN = 0.02  # of the documents


class _Chosen(TypePass):
    """The method comes before the options of methods."""

    kind: Literal["word-forms"] = "word-forms"
    method: MethodName = Field("porter", description="method")


class WordFormsPass(AllOptions, _Chosen):
    """Bring the forms of a word together.

    Capitals and a possessive ’s stay as they are, so that it does not matter whether they go before
    or after. What is given by hand goes before the method.
    """

    VERSION: ClassVar[int] = 2

    title = "Word forms"
    about = "the forms of a word become one"
    rewrites: ClassVar[bool] = True
    readable: ClassVar[bool] = False
    given: Lines = Field((), description="by hand, word = form, a line each")

    _given = field_validator("given")(tidy_lines)

    @classmethod
    def suggested(cls, sample: Sample) -> tuple[tuple[BasePass, str], ...]:
        """The first method for the language, or the stems of each document's; off where there is none."""
        why = sample.in_languages()
        if not sample.language:
            by_document = {"method": SNOWBALL.name, **SNOWBALL.each_document().model_dump()}
            return ((cls.model_validate(by_document), why),)
        for name, method in METHODS.items():
            options = method.suggested(sample.language)
            if options is not None and sample.language in method.spoken(options):
                return ((cls.model_validate({"method": name, **options.model_dump()}), why),)
        return ((cls(on=False), f"there are no stems of {sample.language}; {why}"),)

    def options(self) -> tuple[Method[Any], BaseModel]:
        """The method, and its own options."""
        method = METHODS[self.method]
        return method, options_of(method, self)

    def versions(self) -> list[int]:
        return [self.VERSION, METHODS[self.method].VERSION]

    def said(self) -> str:
        method, options = self.options()
        title = method.said(options)
        return f"{title} + {len(self.given)} by hand" if self.given else title

    def refs(self) -> Sequence[ListRef]:
        method, options = self.options()
        return method.refs(options)

    def by_language(self) -> bool:
        method, options = self.options()
        return method.by_language(options)

    def note(self, about: About) -> str:
        method, options = self.options()
        spoken, wanted = about.names(), method.spoken(options)
        if self.within or not wanted:
            return ""
        foreign = [each for each in spoken if each not in wanted and each != UNSURE]
        if len(foreign) <= _FOREIGN * len(spoken):
            return ""
        named = ", ".join(language for language, _ in Counter(foreign).most_common(4))
        if self.by_language():
            return f"There are no stems of {named}: words there stay."
        return (
            f"{len(foreign):,} documents are in other languages ({named}): take the stems of each "
            "document, or limit this pass."
        )

    def _places(self, forms: Forms) -> Iterator[tuple[Place, Mask]]:
        """What the method is to know of words, and of which types that is so."""
        method, _ = self.options()
        lines = [forms.lists.get(ref.sha256, frozenset()) for ref in self.refs()]
        table = dict(line.split("\t", 1) for each in lines for line in each if "\t" in line)
        if self.by_language():
            for number, language in enumerate(forms.languages):
                yield Place(language), forms.scope == number
        elif method.sees_tags:
            for number in np.unique(forms.tags).tolist():
                yield Place(tag=TAGS[number] if number >= 0 else ""), forms.tags == number
        else:
            yield Place(table=table), ~forms.none()

    def apply(self, forms: Forms) -> Mask:
        method, options = self.options()
        given = {old.casefold(): new for old, new in map(halves, self.given)}
        opened = forms.open
        for place, those in self._places(forms):
            forms.open = opened & those
            form = former(self.method, options, place)
            forms.rewrite(partial(_formed, form=form, given=given, elided=method.elides), words_only=True)
        forms.open = opened
        return forms.none()


def _formed(word: str, form: Form, given: dict[str, str], elided: bool) -> str:
    """A word brought to its form, with its capitals and its possessive."""
    if not given and word.islower() and word.isalpha():
        return form(word)
    if given and (by_hand := given.get(word.casefold())) is not None:
        return by_hand
    for ending in ("'s", "’s", "'", "’"):
        if word.endswith(ending) and len(word) > len(ending):
            return _formed(word[: -len(ending)], form, given, elided) + ending
    if not (word.isalpha() or _is_word(word, elided)):
        return word
    formed = form(word.lower())
    if word.islower():
        return formed
    return formed.upper() if word.isupper() and len(word) > 1 else formed[:1].upper() + formed[1:]


def _is_word(word: str, elided: bool) -> bool:
    """Letters with hyphens, and with an apostrophe behind an elided word."""
    bare = word.replace("-", "")
    head, _, tail = bare.replace("’", "'").rpartition("'")
    return bare.isalpha() or (elided and head.isalpha() and tail.isalpha() and len(tail) > 2)
