"""Full-text search over the documents of a corpus (SQLite FTS5, ranked by BM25).

The index holds no text of its own. A document's row is ``corpus number * 2**32 + document``.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator, Sequence

from skeinwork.core.text.query import Near, Phrase, Query
from skeinwork.store.models import Result, database

_SPAN = 2**32
_CHUNK = 1000
_MERGED = 500  # pages of the index written in one transaction
Steps = Iterator[int]
_INDEX = "CREATE VIRTUAL TABLE search USING fts5(title, text, content='', tokenize='unicode61')"


def expression(query: Query) -> str:
    """The words of a query as an FTS5 expression that can't be malformed.

    Examples
    --------
    >>> expression(Query((Phrase(("gale",)), Near((Phrase(("outer", "ramp")), Phrase(("ic",), True)), 4))))
    '"gale" AND NEAR("outer ramp" "ic"*, 4)'
    """
    return " AND ".join(
        f"NEAR({' '.join(map(_phrase, part.phrases))}, {part.distance})" if isinstance(part, Near) else _phrase(part)
        for part in query.parts
    )


def _phrase(phrase: Phrase) -> str:
    return '"' + " ".join(phrase.words) + '"' + ("*" if phrase.prefix else "")


def _indexed(base: int) -> int:
    """How many of a corpus's documents are in the index; they go in in order."""
    found = database.execute_sql(
        "SELECT MAX(rowid) FROM search WHERE rowid BETWEEN ? AND ?", (base, base + _SPAN - 1)
    ).fetchone()[0]
    return 0 if found is None else int(found) - base + 1


def index_corpus(identity: str, titles: Sequence[str], texts: Sequence[str]) -> Steps:
    """Index documents in short transactions, from where an interrupted run left off.

    Yields how many are done after each.
    """
    base = Result.get_by_id(identity).number * _SPAN
    for first in range(_indexed(base), len(texts), _CHUNK):
        last = min(first + _CHUNK, len(texts))
        rows = [(base + at, titles[at] if titles else "", texts[at]) for at in range(first, last)]
        with database.atomic("IMMEDIATE"):
            database.connection().executemany("INSERT INTO search (rowid, title, text) VALUES (?, ?, ?)", rows)
        yield last


def forget_corpus(identity: str, titles: Sequence[str], texts: Sequence[str]) -> Steps:
    """Take documents out of the index in short transactions, the last first.

    Yields how many are left after each.
    """
    row = Result.get_or_none(Result.identity == identity)
    base = row.number * _SPAN if row else 0
    last = min(_indexed(base), len(texts)) if row else 0
    while last:
        first = max(0, last - _CHUNK)
        rows = [(base + at, titles[at] if titles else "", texts[at]) for at in range(first, last)]
        with database.atomic("IMMEDIATE"):
            database.connection().executemany(
                "INSERT INTO search (search, rowid, title, text) VALUES ('delete', ?, ?, ?)", rows
            )
        last = first
        yield last


def merge() -> Steps:
    """Write the index anew in short transactions, so that words taken out are gone from the file.

    Yields the changes of each.
    """
    pages = -_MERGED
    while True:
        connection = database.connection()
        before = connection.total_changes
        with database.atomic("IMMEDIATE"):
            connection.execute("INSERT INTO search (search, rank) VALUES ('merge', ?)", (pages,))
        if (changes := connection.total_changes - before) < 2:  # as the index says that it is done
            return
        pages = _MERGED
        yield changes


def find(identity: str, query: Query) -> list[int] | None:
    """Documents of a corpus that hold the words, best first; None where the query has no word."""
    if not query.parts:
        return None
    base = Result.get_by_id(identity).number * _SPAN
    rows = database.execute_sql(
        "SELECT rowid FROM search WHERE search MATCH ? AND rowid BETWEEN ? AND ? ORDER BY rank, rowid",
        (expression(query), base, base + _SPAN - 1),
    )
    return [row[0] - base for row in rows]


def find_in(titles: Sequence[str], texts: Sequence[str], query: Query) -> list[int] | None:
    """The same for documents that are in no index yet."""
    if not query.parts:
        return None
    memory = sqlite3.connect(":memory:")
    try:
        memory.execute(_INDEX)
        rows = enumerate(zip(titles, texts, strict=True))
        memory.executemany(
            "INSERT INTO search (rowid, title, text) VALUES (?, ?, ?)",
            ((at, title, text) for at, (title, text) in rows),
        )
        found = memory.execute(
            "SELECT rowid FROM search WHERE search MATCH ? ORDER BY rank, rowid", (expression(query),)
        )
        return [row[0] for row in found]
    finally:
        memory.close()
