"""Full-text search over the documents of a corpus (SQLite FTS5, ranked by BM25).

The index holds no text of its own. A document's row is ``corpus number * 2**32 + document``.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

from skeinwork.store.models import Result, database

_SPAN = 2**32
_CHUNK = 1000
_PART = re.compile(r'"([^"]+)"|(\w[\w\'’-]*)(\*?)')


def safe_expression(query: str) -> str:
    """The analyst's words as an FTS5 expression that can't be malformed.

    Words must all occur; ``"quoted words"`` stand together; ``mooring*`` finds what begins so.
    Any other sign is read as white space.

    Examples
    --------
    >>> safe_expression('gale AND ( "outer break')
    '"gale" "AND" "outer" "break"'
    """
    parts = []
    for phrase, word, star in _PART.findall(query):
        words = re.findall(r"\w+", phrase or word)
        if words:
            parts.append('"' + " ".join(words) + '"' + ("*" if star else ""))
    return " ".join(parts)


def _indexed(base: int) -> int:
    """How many of a corpus's documents are in the index; they go in in order."""
    found = database.execute_sql(
        "SELECT MAX(rowid) FROM search WHERE rowid BETWEEN ? AND ?", (base, base + _SPAN - 1)
    ).fetchone()[0]
    return 0 if found is None else int(found) - base + 1


def index_corpus(identity: str, titles: Sequence[str], texts: Sequence[str]) -> Iterator[int]:
    """Index documents in short transactions, from where an interrupted run left off.

    Yields how many are done after each.
    """
    base = Result.get_by_id(identity).number * _SPAN
    for first in range(_indexed(base), len(texts), _CHUNK):
        last = min(first + _CHUNK, len(texts))
        rows = [(base + at, titles[at] if titles else "", texts[at]) for at in range(first, last)]
        with database.atomic("IMMEDIATE"):
            database.connection().executemany(
                "INSERT INTO search (rowid, title, text) VALUES (?, ?, ?)", rows
            )
        yield last


def find(identity: str, query: str) -> list[int] | None:
    """Documents of a corpus that match, best first; None where the query holds no word."""
    expression = safe_expression(query)
    if not expression:
        return None
    base = Result.get_by_id(identity).number * _SPAN
    rows = database.execute_sql(
        "SELECT rowid FROM search WHERE search MATCH ? AND rowid BETWEEN ? AND ? ORDER BY rank, rowid",
        (expression, base, base + _SPAN - 1),
    )
    return [row[0] - base for row in rows]
