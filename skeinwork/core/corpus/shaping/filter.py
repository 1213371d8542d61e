"""Keep, or leave out, the documents that meet every condition given."""

from __future__ import annotations

from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import Field, StrictBool

from skeinwork.core.corpus.corpus import Corpus
from skeinwork.core.corpus.renumber import renumber
from skeinwork.core.corpus.shaping.base import Done, Keeping, Mask, Search, Sources, column_of
from skeinwork.core.corpus.survey import Survey, garbled, survey
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import dates
from skeinwork.core.text import expressions
from skeinwork.core.text.language import LANGUAGES

UNSURE = "unsure"


class Filter(Keeping):
    """Keep, or leave out, the documents that meet every condition given."""

    title: ClassVar[str] = "Some documents only"
    about: ClassVar[str] = (
        "Filter or search the list until it shows what you mean, then keep only these or leave these out."
    )
    action: ClassVar[str] = "To the list"
    kind: Literal["filter"] = "filter"
    out: StrictBool = Field(False, description="leave these out instead of keeping only these")
    where: dict[str, tuple[str, ...]] = Field(
        default_factory=dict, description="field to its wanted values; an empty value: not filled"
    )
    words_from: int | None = Field(None, ge=0, le=2**31)
    words_to: int | None = Field(None, ge=0, le=2**31, description="exclusive")
    languages: tuple[str, ...] = Field((), description="names, or unsure")
    date_from: str = Field("", max_length=40, description="such as 2014, 2014-03 or 2014-03-15")
    date_to: str = Field("", max_length=40, description="inclusive")
    undated: StrictBool | None = Field(None, description="without a date (true), with one (false)")
    garbled: StrictBool | None = Field(None, description="with characters that a wrong encoding leaves")
    search: str = Field("", max_length=500, description="as typed into Find")
    expression: str = Field("", max_length=1000, description="a regular expression in the text")
    numbers: tuple[int, ...] | None = Field(
        None, max_length=200_000, description="numbers of documents as brought in, from 0"
    )
    said: str = Field("", max_length=500, description="where the numbers come from")

    def in_words(self) -> str:
        lead = "leave out" if self.out else "keep only"
        return f"{lead} {', '.join(_conditions(self)) or 'every document'}"

    def kept(self, corpus: Corpus, sources: Sources, done: Done) -> Mask:
        if self.numbers and max(self.numbers) > int(corpus.numbers.max(initial=0)):
            raise BadInputError(
                "A step keeps documents by their number, but these are other documents. Remove the step."
            )
        found = matching(corpus, self, sources.search, sources.known, sources.seconds)
        return found ^ self.out

    def numbered(self) -> bool:
        return self.numbers is not None

    def renumbered(self, before: Corpus, after: Corpus) -> Self:
        if self.numbers is None:
            return self
        return self.model_copy(update={"numbers": renumber(before, after, self.numbers)})


def _conditions(wanted: Filter) -> list[str]:
    words = [f"{name} {' or '.join(v or 'not given' for v in values)}" for name, values in wanted.where.items()]
    if wanted.words_from is not None and wanted.words_to is not None:
        words.append(f"{wanted.words_from} to {wanted.words_to - 1} words")
    elif wanted.words_from is not None:
        words.append(f"{wanted.words_from} words or more")
    elif wanted.words_to is not None:
        words.append(f"under {wanted.words_to} words")
    words += wanted.languages
    words += [f"from {wanted.date_from}"] if wanted.date_from else []
    words += [f"to {wanted.date_to}"] if wanted.date_to else []
    if wanted.undated is not None:
        words.append("undated" if wanted.undated else "dated")
    if wanted.garbled is not None:
        words.append("garbled" if wanted.garbled else "not garbled")
    words += [f"found by “{wanted.search}”"] if wanted.search else []
    words += [f"matching /{wanted.expression}/"] if wanted.expression else []
    if wanted.numbers is not None:
        words.append(wanted.said or f"{len(wanted.numbers)} chosen documents")
    return words


def _day(written: str, last: bool) -> int:
    """The first or the last day of a date that may be a year or a month only."""
    found = dates.parse(written)
    if found is None:
        raise BadInputError(f"“{written}” is not a date. Write it as 2014, 2014-03 or 2014-03-15.")
    day, precision = found
    if not last or precision == "day":
        return day
    begin = np.datetime64(day, "D").astype("datetime64[Y]" if precision == "year" else "datetime64[M]")
    return int((begin + 1).astype("datetime64[D]").astype(int)) - 1


def matching(
    corpus: Corpus, wanted: Filter, search: Search, known: Survey | None = None, seconds: float | None = None
) -> Mask:
    """The documents that meet every condition of a filter.

    Parameters
    ----------
    known : the corpus's survey, where it has been made
    seconds : how long a regular expression may take

    Raises
    ------
    BadInputError
        where a field or a language is not there.
    """
    if wanted.words_from is not None or wanted.words_to is not None or wanted.languages:
        known = known or survey(corpus)
    keep = np.ones(len(corpus), dtype=bool)
    for name, values in wanted.where.items():
        column = column_of(corpus, name)
        codes = [at for at, value in enumerate(column.values) if value in set(values)]
        keep &= np.isin(column.codes, [*codes, *([-1] if "" in values else [])])
    if known and wanted.words_from is not None:
        keep &= known.words >= wanted.words_from
    if known and wanted.words_to is not None:
        keep &= known.words < wanted.words_to
    if known and wanted.languages:
        names = [*LANGUAGES, UNSURE]
        if unknown := set(wanted.languages) - set(names):
            raise BadInputError(
                f"“{min(unknown)}” is not a language that is told apart here. There are: {', '.join(names)}."
            )
        codes = [names.index(each) if each != UNSURE else -1 for each in wanted.languages]
        keep &= np.isin(known.language, codes)
    keep &= _dated(corpus, wanted)
    if wanted.garbled is not None:
        keep &= garbled(corpus) == wanted.garbled
    if wanted.search.strip():
        keep &= np.isin(np.arange(len(corpus)), search(corpus, wanted.search))
    if wanted.expression:
        texts = (corpus.text(at) for at in range(len(corpus)))
        keep &= np.fromiter(expressions.found(wanted.expression, texts, seconds), dtype=bool)
    if wanted.numbers is not None:
        keep &= np.isin(corpus.numbers, np.array(wanted.numbers, dtype=np.int64))
    return keep


def _dated(corpus: Corpus, wanted: Filter) -> Mask:
    known = corpus.days != dates.MISSING
    keep = np.ones(len(corpus), dtype=bool)
    if wanted.undated is not None:
        keep &= known != wanted.undated
    if wanted.date_from:
        keep &= known & (corpus.days >= _day(wanted.date_from, last=False))
    if wanted.date_to:
        keep &= known & (corpus.days <= _day(wanted.date_to, last=True))
    return keep
