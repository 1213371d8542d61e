"""Word forms: the forms of a word become one."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import replace
from functools import partial
from typing import ClassVar, Literal

import numpy as np
from pydantic import Field, field_validator

from skeinwork.core.text.about import BY_DOCUMENT, NONE, UNSURE, About
from skeinwork.core.text.forms import METHODS, MethodName, former
from skeinwork.core.text.forms.base import Form, Options
from skeinwork.core.text.forms.lancaster import Lancaster
from skeinwork.core.text.forms.snowball import STEMS
from skeinwork.core.text.passes.base import Forms, ListRef, Mask, TypePass, Words
from skeinwork.core.text.passes.replacements import Lines, halves, tidy_lines
from skeinwork.core.text.tagging.tags import TAGS

_FOREIGN = 0.02  # of the documents


class WordFormsPass(TypePass):
    """Bring the forms of a word together.

    Capitals and a possessive ’s stay as they are, so that it does not matter whether they go before
    or after. What is given by hand goes before the method.
    """

    VERSION: ClassVar[int] = 2

    title = "Word forms"
    about = "the forms of a word become one"
    rewrites: ClassVar[bool] = True
    readable: ClassVar[bool] = False
    kind: Literal["word-forms"] = "word-forms"
    method: MethodName = Field("porter", description="method")
    language: str = Field(
        "English",
        description="language",
        json_schema_extra={
            "enum": ["English", BY_DOCUMENT, *(x for x in STEMS if x != "English")],
            "with": {"method": "snowball"},
        },
    )
    unsure: str = Field(
        NONE,
        description="stems where the language is unsure",
        json_schema_extra={"enum": [NONE, *STEMS], "with": {"method": "snowball", "language": BY_DOCUMENT}},
    )
    prefixes: bool = Field(
        False, description="prefixes go too (kilo, micro, …)", json_schema_extra={"with": {"method": "lancaster"}}
    )
    rules: Words = Field(
        (),
        description="own rules, before the published ones, as in sei3y>",
        json_schema_extra={"with": {"method": "lancaster"}},
    )
    unknown: Literal["stay", "by rule"] = Field(
        "stay", description="words that the lexicon does not have", json_schema_extra={"with": {"method": "lemma"}}
    )
    table: ListRef | None = Field(
        None, description="table of forms and lemmas", json_schema_extra={"with": {"method": "table"}}
    )
    given: Lines = Field((), description="by hand, word = form, a line each")

    _given = field_validator("given")(tidy_lines)

    @field_validator("language", "unsure")
    @classmethod
    def _has_stems(cls, name: str) -> str:
        if name not in (*STEMS, BY_DOCUMENT, NONE):
            raise ValueError(f"there are no stems of {name[:40]}")
        return name

    @field_validator("rules")
    @classmethod
    def _rules_end(cls, rules: tuple[str, ...]) -> tuple[str, ...]:
        Lancaster(rules)
        return rules

    def versions(self) -> list[int]:
        return [self.VERSION, METHODS[self.method].version]

    def said(self) -> str:
        title = METHODS[self.method].title
        if self.method == "snowball" and self.language != "English":
            title = f"stems (Snowball, {self.language})"
        if self.method == "lancaster" and self.rules:
            title = f"stems (Lancaster, {len(self.rules)} own {'rule' if len(self.rules) == 1 else 'rules'})"
        if self.method == "table":
            title = f"lemmas of {self.table.name or 'a table'}" if self.table else "no table chosen"
        return f"{title} + {len(self.given)} by hand" if self.given else title

    def refs(self) -> Sequence[ListRef]:
        return [self.table] if self.table and self.method == "table" else []

    def by_language(self) -> bool:
        return self.method == "snowball" and self.language == BY_DOCUMENT

    def note(self, about: About) -> str:
        spoken = [about.languages[at] for at in about.language.tolist()]
        wanted = STEMS if self.by_language() else METHODS[self.method].languages
        if self.method == "snowball" and not self.by_language():
            wanted = (self.language,)
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

    def options(self, language: str, table: dict[str, str]) -> Options:
        """What the method is to know, for documents of a language."""
        spoken = (self.unsure if language == UNSURE else language) if self.by_language() else self.language
        return {
            "snowball": Options(language=spoken),
            "lancaster": Options(prefixes=self.prefixes, rules=self.rules),
            "lemma": Options(by_rule=self.unknown == "by rule"),
            "table": Options(checksum="".join(ref.sha256 for ref in self.refs()), table=table),
        }.get(self.method, Options())

    def apply(self, forms: Forms) -> Mask:
        lines = [forms.lists.get(ref.sha256, frozenset()) for ref in self.refs()]
        table = dict(line.split("\t", 1) for each in lines for line in each if "\t" in line)
        given = {old.casefold(): new for old, new in map(halves, self.given)}
        if self.method == "lemma":
            return self._lemmas(forms, given)
        opened, elided = forms.open, self.method == "snowball"
        for number, language in enumerate(forms.languages if self.by_language() else [UNSURE]):
            if self.by_language():
                forms.open = opened & (forms.scope == number)
            form = former(self.method, self.options(language, table))
            forms.rewrite(partial(_formed, form=form, given=given, elided=elided), words_only=True)
        forms.open = opened
        return forms.none()

    def _lemmas(self, forms: Forms, given: dict[str, str]) -> Mask:
        """Lemmas, by the tag of a word where it is tagged."""
        opened = forms.open
        for number in np.unique(forms.tags).tolist():
            tag = TAGS[number] if number >= 0 else ""
            form = former("lemma", replace(self.options(UNSURE, {}), tag=tag))
            forms.open = opened & (forms.tags == number)
            forms.rewrite(partial(_formed, form=form, given=given, elided=False), words_only=True)
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
