"""What the analyst types to find documents: words, phrases, beginnings, nearness, fields.

``gale mooring`` finds documents with both words; ``"outer mooring"`` words that stand together;
``moor*`` what begins so; ``gale NEAR/5 mooring`` words with at most five others between them (ten
without a number); ``harbour:Quellan`` or ``"entry number":"12 a"`` documents whose field holds that.
Any other sign is white space: no query is an error. Letter case and accents are set aside.
"""

from __future__ import annotations

import re
import unicodedata
from bisect import bisect_left
from collections.abc import Sequence
from dataclasses import dataclass

# Words between two that are near each other, where a query does not say.
NEAR = 10
_PART = re.compile(
    r"""(?P<field>[\w.@-]+|"[^"]+"):(?:"(?P<quoted>[^"]*)"|(?P<value>[^\s"]\S*))"""
    r"""|"(?P<phrase>[^"]+)"(?P<quotedstar>\*?)|NEAR(?:/(?P<distance>\d{1,4}))?(?=\s|$)"""
    r"""|(?P<word>\w[\w'’-]*)(?P<star>\*?)"""
)
_WORD = re.compile(r"\w+")


@dataclass(frozen=True)
class Phrase:
    """Words that stand together; with ``prefix`` the last is a beginning."""

    words: tuple[str, ...]
    prefix: bool = False


@dataclass(frozen=True)
class Near:
    """Phrases with at most ``distance`` words between neighbours."""

    phrases: tuple[Phrase, ...]
    distance: int


@dataclass(frozen=True)
class Query:
    """All parts must be met; ``fields`` pairs a field's name with what it holds."""

    parts: tuple[Phrase | Near, ...] = ()
    fields: tuple[tuple[str, str], ...] = ()


class _Fold(dict[int, int]):
    """Every character to its small letter without accent, one for one."""

    def __missing__(self, point: int) -> int:
        small = chr(point).lower()
        base = unicodedata.normalize("NFD", small)[0] if small else chr(point)
        self[point] = ord(base)
        return ord(base)


_FOLD = _Fold()


def fold(text: str) -> str:
    """Small letters without accents; every character keeps its place.

    Examples
    --------
    >>> fold("Élan Å")
    'elan a'
    """
    return text.translate(_FOLD)


def parse(query: str, fields: Sequence[str] = ()) -> Query:
    """Read a query.

    Parameters
    ----------
    fields : names that may stand before a colon

    Examples
    --------
    >>> parse("gale NEAR/5 moor*").parts
    (Near(phrases=(Phrase(words=('gale',), prefix=False), Phrase(words=('moor',), prefix=True)), distance=5),)
    """
    known = {name.casefold(): name for name in fields}
    conditions: list[tuple[str, str]] = []
    parts: list[Phrase | Near] = []
    owed: int | None = None

    def add(text: str, star: str) -> None:
        nonlocal owed
        words = tuple(_WORD.findall(text))
        if not words:
            return
        new = Phrase(words, bool(star))
        if owed is not None and parts:
            before = parts.pop()
            phrases = before.phrases if isinstance(before, Near) else (before,)
            distance = max(owed, before.distance if isinstance(before, Near) else 0)
            parts.append(Near((*phrases, new), distance))
        else:
            parts.append(new)
        owed = None

    at = 0
    while found := _PART.search(query, at):
        at = found.end()
        if found["field"]:
            name = found["field"].strip('"')
            if name.casefold() in known:
                value = found["value"] if found["quoted"] is None else found["quoted"]
                conditions.append((known[name.casefold()], value.rstrip("*")))
            else:
                add(name, "")
                at = found.end("field") + 1
        elif found["phrase"]:
            add(found["phrase"], found["quotedstar"])
        elif found["word"]:
            add(found["word"], found["star"])
        elif parts:
            owed = int(found["distance"]) if found["distance"] else NEAR
        else:
            add("near", "")
    if owed is not None:
        owed = None
        add("near", "")
    return Query(tuple(parts), tuple(conditions))


def _pattern(phrase: Phrase) -> str:
    joined = r"\W+".join(re.escape(fold(word)) for word in phrase.words)
    rest = r"\w*" if phrase.prefix else ""
    return rf"(?<!\w){joined}{rest}(?!\w)"


def spans(text: str, query: Query) -> list[tuple[int, int]]:
    """Where the parts of a query stand in a text, as half-open character offsets, in order."""
    folded = fold(text)
    found: set[tuple[int, int]] = set()
    for part in query.parts:
        if isinstance(part, Near):
            found |= _near(folded, part)
        else:
            found |= {each.span() for each in re.finditer(_pattern(part), folded)}
    out: list[tuple[int, int]] = []
    for begin, end in sorted(found):
        if not out or begin >= out[-1][1]:
            out.append((begin, end))
    return out


def _near(folded: str, part: Near) -> set[tuple[int, int]]:
    """Occurrences of the phrases that stand near enough to one of every other."""
    places = [[m.span() for m in re.finditer(_pattern(each), folded)] for each in part.phrases]
    starts = [m.start() for m in _WORD.finditer(folded)]
    kept: set[tuple[int, int]] = set()

    def close(first: tuple[int, int], second: tuple[int, int]) -> bool:
        return bisect_left(starts, second[0]) - bisect_left(starts, first[1]) <= part.distance

    def near(mine: tuple[int, int], others: list[tuple[int, int]]) -> bool:
        """Those next to it decide: the occurrences of a phrase follow each other."""
        at = bisect_left(others, mine)
        after = at + 1 if others[at : at + 1] == [mine] else at
        return (at > 0 and close(others[at - 1], mine)) or (after < len(others) and close(mine, others[after]))

    for at, mine in enumerate(places):
        others = [each for index, each in enumerate(places) if index != at]
        kept |= {a for a in mine if all(near(a, each) for each in others)}
    return kept
