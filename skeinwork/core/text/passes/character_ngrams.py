"""Character n-grams: for scripts written without spaces, and to find texts alike."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from skeinwork.core.text import segment
from skeinwork.core.text.graphemes import clusters
from skeinwork.core.text.passes.base import BasePass, Forms, Joined, Mask, StreamPass
from skeinwork.core.text.sample import Sample
from skeinwork.core.text.segment import Segments

_SPACELESS = (
    (0x0E00, 0x0EFF),
    (0x1000, 0x109F),
    (0x1780, 0x17FF),
    (0x2E80, 0x2FFF),
    (0x3005, 0x3007),
    (0x3031, 0x30FF),
    (0x3400, 0x4DBF),
    (0x4E00, 0x9FFF),
    (0xF900, 0xFAFF),
    (0x20000, 0x3FFFF),
)
_LANGUAGES = ("Chinese", "Japanese", "Thai")
_SPACE = "_"
Numbers = NDArray[Any]


def is_spaceless(word: str) -> bool:
    """Whether a word begins in a script written without spaces: Chinese, Japanese, Thai, and such.

    >>> [is_spaceless(word) for word in ("潮", "の", "ท่า", "gale", "한국")]
    [True, True, True, False, False]
    """
    point = ord(word[0])
    return any(first <= point <= last for first, last in _SPACELESS)


class CharacterNgramsPass(StreamPass):
    """Replace words by runs of their characters (grapheme clusters).

    Within words, or on over the next one: where words touch, as in scripts without spaces, a run goes
    over them; where they don't, a ``_`` stands for what is between. No run goes over a sign, the end
    of a sentence or a removed word.
    """

    title = "Character n-grams"
    about = "runs of letters in place of words"
    kind: Literal["character-ngrams"] = "character-ngrams"
    scripts: Literal["without spaces", "all"] = Field(
        "without spaces", description="scripts it is for; Chinese, Japanese, Thai have no spaces"
    )
    least: int = Field(2, ge=1, le=10, description="fewest characters of a run")
    most: int = Field(2, ge=1, le=10, description="most characters of a run")
    across: bool = Field(False, description="runs go on over spaces")

    @model_validator(mode="after")
    def _ordered(self) -> CharacterNgramsPass:
        if self.least > self.most:
            raise ValueError("the fewest characters of a run are more than the most")
        return self

    @classmethod
    def suggested(cls, sample: Sample) -> tuple[tuple[BasePass, str], ...]:
        spaceless = [name for name in sample.languages if name in _LANGUAGES]
        if not spaceless:
            return ()
        return ((cls(), f"no spaces between words in {sample.counted(spaceless)} documents"),)

    def said(self) -> str:
        size = f"{self.least}" if self.least == self.most else f"{self.least} to {self.most}"
        where = "scripts without spaces" if self.scripts == "without spaces" else "all scripts"
        return f"{size} characters, {where}{', over spaces' if self.across else ''}"

    def join(self, tokens: Segments, forms: Forms) -> Joined | None:
        meant = forms.alive & forms.open & (forms.classes == segment.WORD)
        if self.scripts == "without spaces":
            meant &= np.array([bool(w) and is_spaceless(w) for w in tokens.types], dtype=bool)
        if not meant[tokens.ids].any():
            return None
        line = _characters(tokens, forms, meant, self.across)
        sizes = range(self.least, self.most + 1)
        return _replaced(tokens, forms, meant, line, _runs(line, sizes))


class _Line(NamedTuple):
    """The characters of the words meant, one after another over the whole corpus.

    Attributes
    ----------
    signs : the distinct characters, the sign for a space first
    sign, row : int64[n_chars], the character at each place, and its token
    start, end : int32[n_chars], its span in the document; that of its token where that was changed
    reach : int64[n_chars], over how many places before it a run may reach back
    """

    signs: list[str]
    sign: Numbers
    row: Numbers
    start: Numbers
    end: Numbers
    reach: Numbers


def _characters(tokens: Segments, forms: Forms, meant: Mask, across: bool) -> _Line:
    index: dict[str, int] = {_SPACE: 0}
    flat, offset, size = [0], [0], [0]
    first, number = np.zeros((2, len(tokens.types)), dtype=np.int64)
    for kind in np.flatnonzero(meant).tolist():
        first[kind], at = len(flat), 0
        exact = forms.current[kind] == tokens.types[kind]
        for cluster in clusters(forms.current[kind]):
            flat.append(index.setdefault(cluster, len(index)))
            size.append(len(cluster.encode()) if exact else 0)
            offset.append(at)
            at += size[-1]
        number[kind] = len(flat) - first[kind]
    rows = np.flatnonzero(meant[tokens.ids])
    ids, touching, spaced = tokens.ids[rows], *_neighbours(tokens, rows)
    spaced = spaced & across
    times = number[ids] + spaced
    owner = np.repeat(np.arange(len(rows)), times)
    within = np.arange(len(owner)) - np.repeat(np.cumsum(times) - times, times) - spaced[owner]
    place = np.where(within < 0, 0, first[ids[owner]] + within)
    start, end = tokens.starts[rows][owner], tokens.ends[rows][owner]
    sizes, offsets = np.array(size)[place], np.array(offset)[place]
    follows = (within > 0) | (touching | spaced)[owner]
    broken = np.where(follows, 0, np.arange(len(owner)))
    return _Line(
        list(index),
        np.array(flat)[place],
        rows[owner],
        np.where(sizes > 0, start + offsets, start),
        np.where(sizes > 0, start + offsets + sizes, end),
        np.arange(len(owner)) - np.maximum.accumulate(broken),
    )


def _neighbours(tokens: Segments, rows: Numbers) -> tuple[Mask, Mask]:
    """Whether each token touches the one before, and whether a space alone is between them."""
    document = np.searchsorted(tokens.doc_ptr, rows, side="right")
    next_to = np.zeros(len(rows), dtype=bool)
    next_to[1:] = (document[1:] == document[:-1]) & (rows[1:] == rows[:-1] + 1)
    next_to &= ~tokens.breaks[rows] & ~tokens.opens[rows]
    touching = next_to.copy()
    touching[1:] &= tokens.starts[rows[1:]] == tokens.ends[rows[:-1]]
    return touching, next_to & ~touching


class _Run(NamedTuple):
    """Runs of one size: the place of their last character, their names, and which name each has."""

    size: int
    last: Numbers
    names: list[str]
    name: Numbers


def _runs(line: _Line, sizes: range) -> list[_Run]:
    """The runs of every size that neither begin nor end with a space; shorter ones where all ends."""
    key, names, found = line.sign.copy(), line.signs, list[_Run]()
    whole = np.append(line.reach[1:] == 0, True)  # nothing goes on after this place
    for size in range(1, sizes.stop):
        last = np.flatnonzero(line.reach >= size - 1)
        if size > 1:
            pairs = key[last - 1] * len(line.signs) + line.sign[last]
            distinct, inverse = np.unique(pairs, return_inverse=True)
            before, added = np.divmod(distinct, len(line.signs))
            names = [
                names[left] + line.signs[right] for left, right in zip(before.tolist(), added.tolist(), strict=True)
            ]
            key = np.full(len(line.sign), -1, dtype=np.int64)
            key[last] = inverse
        if size < sizes.start:  # what is no longer than this stays whole
            last = last[whole[last] & (line.reach[last] == size - 1)]
        last = last[(line.sign[last] != 0) & (line.sign[last - size + 1] != 0)]
        found.append(_Run(size, last, names, key[last]))
    return found


def _replaced(tokens: Segments, forms: Forms, meant: Mask, line: _Line, runs: list[_Run]) -> Joined:
    """The stream with runs in place of the words meant."""
    types, source, old = list[str](), list[Numbers](), len(tokens.types)
    stay = np.flatnonzero(~meant[tokens.ids])
    parts: list[tuple[Numbers, ...]] = [
        (stay, tokens.starts[stay], tokens.ends[stay], tokens.ids[stay], np.zeros_like(stay))
    ]
    whole = int(forms.scope.max(initial=0)) + 1
    for run in (each for each in runs if len(each.last)):
        first = run.last - run.size + 1
        row = line.row[first]
        both = run.name * whole + forms.scope[tokens.ids[row]]
        kinds, at, place = np.unique(both, return_index=True, return_inverse=True)
        kind = old + len(types) + place
        types += [run.names[each] for each in (kinds // whole).tolist()]
        source.append(tokens.ids[row[at]].astype(np.int64))
        size = np.full(len(row), run.size, dtype=np.int64)
        parts.append((row, line.start[first], line.end[run.last], kind, size))
    row, start, end, kind, size = (np.concatenate(each) for each in zip(*parts, strict=True))
    order = np.lexsort((size, start, row))
    row, start = row[order], start[order]
    leads = np.append(True, row[1:] != row[:-1])
    words = np.full(len(types), segment.WORD, dtype=np.uint8)
    made = replace(
        tokens,
        ids=kind[order].astype(np.int32),
        starts=start.astype(np.int32),
        ends=end[order].astype(np.int32),
        types=[*tokens.types, *types],
        doc_ptr=np.searchsorted(row, tokens.doc_ptr).astype(np.int64),
        classes=np.concatenate([tokens.classes, words]),
        breaks=tokens.breaks[row] & leads,
        opens=tokens.opens[row] & leads,
    )
    sources = np.concatenate(source) if source else np.zeros(0, dtype=np.int64)
    return Joined(made, list(types), sources)
