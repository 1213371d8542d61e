"""The same documents in a corpus that was brought in again."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator

from skeinwork.core.corpus.corpus import Corpus


def _places(corpus: Corpus) -> Iterator[tuple[str, int, int]]:
    """Where every document comes from: file, line, and which of those that begin there."""
    seen: Counter[tuple[int, int]] = Counter()
    for source, line in zip(corpus.sources.tolist(), corpus.lines.tolist(), strict=True):
        yield corpus.names[source], line, seen[source, line]
        seen[source, line] += 1


def renumber(before: Corpus, after: Corpus, numbers: Iterable[int]) -> tuple[int, ...]:
    """The numbers that documents have after their files were brought in again, with others or otherwise.

    Parameters
    ----------
    before, after : corpora as brought in, so that a document's number is its place
    numbers : documents of ``before``

    Returns
    -------
    tuple[int, ...], documents of ``after`` from the same places, ascending; those that are gone
    are not in it

    Notes
    -----
    After a file is put before another, the second file's documents have higher numbers.
    """
    wanted = set(numbers)
    places = {place for number, place in enumerate(_places(before)) if number in wanted}
    return tuple(number for number, place in enumerate(_places(after)) if place in places)
