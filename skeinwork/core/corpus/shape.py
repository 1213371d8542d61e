"""Shape a corpus by recorded operations, each of which gives a new version of it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, TypeAdapter

from skeinwork.core.corpus.corpus import Column, Corpus, encode_column
from skeinwork.core.corpus.duplicates import exact_groups, folded_words, near_groups
from skeinwork.core.corpus.join import Join, join
from skeinwork.core.corpus.survey import Survey, garbled, survey
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import dates
from skeinwork.core.progress import Report, silent
from skeinwork.core.text import expressions
from skeinwork.core.text.language import LANGUAGES
from skeinwork.core.text.segment import join_texts, segment_bytes

VERSION = 1
UNSURE = "unsure"


class _Operation(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Duplicates(_Operation):
    """Leave out documents that repeat another."""

    kind: Literal["duplicates"] = "duplicates"
    near: bool = Field(False, description="nearly the same too, not only the very same words")
    threshold: float = Field(0.8, ge=0.3, le=1.0, description="least Jaccard similarity, for near")
    keep: Literal["first", "longest", "newest"] = "first"


class Filter(_Operation):
    """Keep, or leave out, the documents that meet every condition given."""

    kind: Literal["filter"] = "filter"
    out: bool = Field(False, description="leave these out instead of keeping only these")
    where: dict[str, tuple[str, ...]] = Field(
        default_factory=dict, description="field to its wanted values; an empty value: not filled"
    )
    words_from: int | None = Field(None, ge=0, le=2**31)
    words_to: int | None = Field(None, ge=0, le=2**31, description="exclusive")
    languages: tuple[str, ...] = Field((), description="names, or unsure")
    date_from: str = Field("", max_length=40, description="such as 2014, 2014-03 or 2014-03-15")
    date_to: str = Field("", max_length=40, description="inclusive")
    undated: bool | None = Field(None, description="without a date (true), with one (false)")
    garbled: bool | None = Field(None, description="with characters that a wrong encoding leaves")
    search: str = Field("", max_length=500, description="as typed into Find")
    expression: str = Field("", max_length=1000, description="a regular expression in the text")
    numbers: tuple[int, ...] | None = Field(
        None, max_length=200_000, description="numbers of documents as brought in, from 0"
    )
    said: str = Field("", max_length=500, description="where the numbers come from")


class SmallGroups(_Operation):
    """Leave out the documents of groups that are too small."""

    kind: Literal["small-groups"] = "small-groups"
    field: str
    least: int = Field(100, ge=2, le=10_000_000)


class Combine(_Operation):
    """Make one document of all that share a value."""

    kind: Literal["combine"] = "combine"
    field: str


class Sample(_Operation):
    """Keep some documents, drawn at random."""

    kind: Literal["sample"] = "sample"
    size: int = Field(1000, ge=1, le=100_000_000)
    seed: int = Field(1, ge=0, le=2**31)


Operation = Annotated[
    Duplicates | Filter | SmallGroups | Combine | Sample | Join, Field(discriminator="kind")
]
OPERATIONS: TypeAdapter[tuple[Operation, ...]] = TypeAdapter(tuple[Operation, ...])
Search = Callable[[Corpus, str], NDArray[np.int64]]


@dataclass
class Sources:
    """What operations need besides the corpus: how to search it, where tables lie, its survey.

    ``seconds`` is how long a regular expression may take; None in a job, which can be cancelled.
    """

    search: Search
    tables: dict[str, Path] = field(default_factory=dict)
    known: Survey | None = None
    seconds: float | None = None


@dataclass
class Done:
    """What an operation did. ``lists`` names things to look at, such as keys without a match."""

    before: int
    after: int
    notes: list[str] = field(default_factory=list)
    lists: dict[str, list[str]] = field(default_factory=dict)


def said(operation: Operation) -> str:
    """An operation in a few words."""
    if isinstance(operation, Duplicates):
        what = f"near-duplicates (from {operation.threshold:g})" if operation.near else "duplicates"
        return f"leave out {what}, keep the {operation.keep}"
    if isinstance(operation, SmallGroups):
        return f"drop groups of {operation.field} below {operation.least}"
    if isinstance(operation, Combine):
        return f"combine by {operation.field}"
    if isinstance(operation, Sample):
        return f"draw {operation.size} at random, seed {operation.seed}"
    if isinstance(operation, Join):
        return f"join {operation.name} by {operation.field}"
    lead = "leave out" if operation.out else "keep only"
    return f"{lead} {', '.join(_conditions(operation)) or 'every document'}"


def _conditions(wanted: Filter) -> list[str]:
    words = [f"{name} {' or '.join(v or 'not given' for v in values)}"
             for name, values in wanted.where.items()]  # fmt: skip
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


def _column(corpus: Corpus, name: str) -> Column:
    found = corpus.column(name)
    if found is None:
        names = ", ".join(column.name for column in corpus.columns)
        raise BadInputError(f"There is no field “{name}”. The fields are: {names}.")
    return found


def _one_of_each(corpus: Corpus, chosen: Duplicates) -> NDArray[np.bool_]:
    words, pointer = folded_words(segment_bytes(corpus.data, corpus.pointer, "uax29"))
    groups = (
        near_groups(words, pointer, chosen.threshold)
        if chosen.near else exact_groups(words, pointer)
    )  # fmt: skip
    rank = np.arange(len(groups), dtype=np.int64)
    if chosen.keep == "longest":
        rank = np.lexsort((rank, -np.diff(pointer))).argsort()
    elif chosen.keep == "newest":
        rank = np.lexsort((rank, -corpus.days.astype(np.int64))).argsort()
    order = np.lexsort((rank, groups))
    first = np.concatenate([[True], groups[order][1:] != groups[order][:-1]])
    keep = np.zeros(len(groups), dtype=bool)
    keep[order[first]] = True
    return keep


def _day(written: str, last: bool) -> int:
    """The first or the last day of a date that may be a year or a month only."""
    found = dates.parse(written)
    if found is None:
        raise BadInputError(f"“{written}” is not a date. Write it as 2014, 2014-03 or 2014-03-15.")
    day, precision = found
    if not last or precision == "day":
        return day
    begin = np.datetime64(day, "D").astype(
        "datetime64[Y]" if precision == "year" else "datetime64[M]"
    )
    return int((begin + 1).astype("datetime64[D]").astype(int)) - 1


def matching(
    corpus: Corpus, wanted: Filter, search: Search, known: Survey | None = None,
    seconds: float | None = None,
) -> NDArray[np.bool_]:  # fmt: skip
    """The documents that meet every condition of a filter.

    Parameters
    ----------
    known : the corpus's survey, where it has been made
    seconds : how long a regular expression may take
    """
    if wanted.words_from is not None or wanted.words_to is not None or wanted.languages:
        known = known or survey(corpus)
    keep = np.ones(len(corpus), dtype=bool)
    for name, values in wanted.where.items():
        column = _column(corpus, name)
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


def _dated(corpus: Corpus, wanted: Filter) -> NDArray[np.bool_]:
    known = corpus.days != dates.MISSING
    keep = np.ones(len(corpus), dtype=bool)
    if wanted.undated is not None:
        keep &= known != wanted.undated
    if wanted.date_from:
        keep &= known & (corpus.days >= _day(wanted.date_from, last=False))
    if wanted.date_to:
        keep &= known & (corpus.days <= _day(wanted.date_to, last=True))
    return keep


def _large_groups(corpus: Corpus, wanted: SmallGroups) -> tuple[NDArray[np.bool_], list[str]]:
    column = _column(corpus, wanted.field)
    sizes = np.bincount(column.codes[column.codes >= 0], minlength=len(column.values))
    small = [f"{column.values[at]} ({sizes[at]})" for at in np.flatnonzero(sizes < wanted.least)]
    large = np.append(sizes >= wanted.least, False)
    return large[column.codes], small


def _combined(corpus: Corpus, name: str) -> tuple[Corpus, list[str]]:
    """One document for each value of a field, in the place of its first; others stay as they are."""
    column = _column(corpus, name)
    own = len(column.values) + np.arange(len(corpus))
    group = np.where(column.codes >= 0, column.codes, own)
    _, first, inverse = np.unique(group, return_index=True, return_inverse=True)
    order = np.argsort(first, kind="stable")
    place = np.empty(len(order), dtype=np.int64)
    place[order] = np.arange(len(order))
    parts: list[list[str]] = [[] for _ in order]
    for document, at in enumerate(place[inverse].tolist()):
        parts[at].append(corpus.text(document))
    keep = np.zeros(len(corpus), dtype=bool)
    keep[first] = True
    heads = corpus.take(keep)
    notes = []
    for each in corpus.columns:
        differing = np.zeros(len(order), dtype=bool)
        differing[place[inverse[each.codes != each.codes[first][inverse]]]] = True
        if differing.any():
            notes.append(
                f"“{each.name}” differs within {int(differing.sum())} of {len(order)} documents; "
                "that of the first is kept"
            )
    data, pointer = join_texts(
        ["\n\n".join(text for text in texts if text.strip()) for texts in parts]
    )
    counted = encode_column("combined", "kept", [str(len(texts)) for texts in parts])
    columns = [each for each in heads.columns if each.name != "combined"]
    return replace(heads, data=data, pointer=pointer, columns=[*columns, counted]), notes


def apply(corpus: Corpus, operation: Operation, sources: Sources) -> tuple[Corpus, Done]:
    """One operation on a corpus.

    Raises
    ------
    BadInputError
        where it can't be done, or nothing would be left.
    """
    done = Done(len(corpus), 0)
    if isinstance(operation, Join):
        out, matched = join(corpus, operation, sources.tables)
        done.notes, done.lists = matched.notes, matched.lists
    elif isinstance(operation, Combine):
        out, done.notes = _combined(corpus, operation.field)
    else:
        keep, done.lists = _kept(corpus, operation, sources)
        out = corpus.take(keep)
    done.after = len(out)
    if not len(out) or not len(out.data):
        raise BadInputError("No document with text would be left. Loosen this step.")
    return out, done


def _kept(
    corpus: Corpus, operation: Duplicates | Filter | SmallGroups | Sample, sources: Sources
) -> tuple[NDArray[np.bool_], dict[str, list[str]]]:
    if isinstance(operation, Duplicates):
        return _one_of_each(corpus, operation), {}
    if isinstance(operation, SmallGroups):
        keep, small = _large_groups(corpus, operation)
        return keep, {"groups left out": small} if small else {}
    if isinstance(operation, Sample):
        drawn = np.random.default_rng(operation.seed).permutation(len(corpus))[: operation.size]
        return np.isin(np.arange(len(corpus)), drawn), {}
    if operation.numbers and max(operation.numbers) > int(corpus.numbers.max(initial=0)):
        raise BadInputError(
            "A step keeps documents by their number, but these are other documents. Remove the step."
        )
    keep = matching(corpus, operation, sources.search, sources.known, sources.seconds)
    return keep ^ operation.out, {}


def shape(
    corpus: Corpus, operations: Sequence[Operation], sources: Sources, report: Report = silent
) -> tuple[Corpus, list[Done]]:
    """All operations in their order, with what each of them did."""
    done = []
    for number, operation in enumerate(operations):
        report("Shaping", number / len(operations), name=operation.kind)
        try:
            corpus, one = apply(corpus, operation, sources)
        except BadInputError as fault:
            raise BadInputError(f"Step {number + 1} ({operation.kind}): {fault}") from fault
        done.append(one)
        sources = replace(sources, known=None)
    return corpus, done
