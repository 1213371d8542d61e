"""Find documents by words and fields: the same query language on screens, in shaping and in weave."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from typing import get_args

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.corpus.corpus import Column, Corpus
from skeinwork.core.formats.records import Role
from skeinwork.core.text import expressions
from skeinwork.core.text.query import Query, fold, parse, spans
from skeinwork.store import search

Ranked = Callable[[Query], list[int] | None]
Spans = list[tuple[int, int]]


def searchable(corpus: Corpus) -> dict[str, Column]:
    """The fields that a query may name, by their own name or by their role."""
    by_role = {role: corpus.role(role) for role in get_args(Role)}
    named = {column.name: column for column in corpus.columns}
    return {**{role: column for role, column in by_role.items() if column}, **named}


def find(corpus: Corpus, written: str, ranked: Ranked) -> NDArray[np.int64] | None:
    """Documents that meet a query, best first; None where it asks for nothing.

    Parameters
    ----------
    ranked : documents that hold the words of a query, best first
    """
    fields = searchable(corpus)
    query = parse(written, list(fields))
    keep = np.ones(len(corpus), dtype=bool)
    for name, value in query.fields:
        column, wanted = fields[name], fold(value)
        codes = [at for at, each in enumerate(column.values) if wanted in fold(each)]
        keep &= np.isin(column.codes, codes)
    found = ranked(query)
    if found is None:
        return np.flatnonzero(keep) if query.fields else None
    order = np.array(found, dtype=np.int64)
    return order[keep[order]] if len(order) else order


def spans_of(written: str, expression: bool) -> Callable[[Iterable[str]], Iterator[Spans]]:
    """A function that says where a query, or a regular expression, stands in each text."""
    if expression:
        return lambda texts: (
            [(place.begin, place.end) for place in found]
            for found in expressions.places(written, texts, expressions.ALL_SECONDS)
        )
    query = parse(written)
    return lambda texts: (spans(text, query) for text in texts)


def bytes_of(text: str, found: Spans) -> Spans:
    """Spans in characters as spans in UTF-8 bytes."""
    if text.isascii():
        return found
    offsets, before, size = {}, 0, 0
    for at in sorted({at for span in found for at in span}):
        size += len(text[before:at].encode("utf-8", "surrogatepass"))
        offsets[at], before = size, at
    return [(offsets[begin], offsets[end]) for begin, end in found]


def matching(corpus: Corpus, expression: str, among: NDArray[np.int64]) -> NDArray[np.int64]:
    """Those of some documents in which a regular expression matches."""
    texts = (corpus.text(at) for at in among.tolist())
    found = expressions.found(expression, texts, expressions.ALL_SECONDS)
    return among[np.fromiter(found, dtype=bool, count=len(among))]


def titles_of(corpus: Corpus) -> list[str]:
    """The title of every document, empty where it has none."""
    column = corpus.role("title")
    return [column.value(at) or "" for at in range(len(corpus))] if column else [""] * len(corpus)


def find_unindexed(corpus: Corpus, written: str) -> NDArray[np.int64]:
    """The same for a corpus that is in no index; every document where the query asks for nothing."""

    def ranked(query: Query) -> list[int] | None:
        return search.find_in(titles_of(corpus), corpus.texts(), query)

    found = find(corpus, written, ranked)
    return np.arange(len(corpus)) if found is None else found
