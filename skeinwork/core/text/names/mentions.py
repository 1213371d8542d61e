"""Mentions of names: runs of words with capitals, as far as the corpus bears them out."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.text import segment
from skeinwork.core.text.capitals import is_capitals
from skeinwork.core.text.names import known
from skeinwork.core.text.passes.base import of_letters, one_word, without_possessive
from skeinwork.core.text.segment import Segments
from skeinwork.core.text.tagging.tags import closed_classes
from skeinwork.core.text.tagging.words import known as readings
from skeinwork.core.text.tagging.words import parts

_MOSTLY = 0.5  # of a word's tokens inside sentences that have a capital, for it to be part of names
_TOLD = 0.2  # mentions inside sentences to those that open one, for a word that is another word too
# Words of a name; longer runs of capitals are headings.
_LONGEST = 8
_BEFORE_NAMES = known.TITLES | {"."}
_OPENING = known.TITLES | known.SAINTS
_WITHIN = frozenset([",", "(", "/", "&", ".", '"', "“", "‘", "'"])  # signs within a sentence
_BOTH = frozenset({"may", "will", "mark", "august"})  # words of closed classes that are names too
_LOUD, _AROUND = 3, 4  # words in capitals, among so many tokens on either side, are a heading
# A pronoun with a short verb, as in *I’m*.
_PRONOUN = re.compile("(?:i|you|he|she|it|we|they|that|there|who)['’](?:m|d|s|ve|re|ll)")


@dataclass(frozen=True)
class Mention:
    """One place where a name stands.

    Attributes
    ----------
    words : as they are written there, without title and possessive
    title : the title before them, folded; empty where there is none
    document, first, after : where: the document, its tokens
    before, behind : the words around, folded; empty at the ends of sentences
    """

    words: tuple[str, ...]
    title: str
    document: int
    first: int
    after: int
    before: str
    behind: str


@dataclass(frozen=True)
class Capitals:
    """What the corpus says of words, by their folded form: how often inside sentences, how often capital."""

    inside: dict[str, int]
    capital: dict[str, int]

    def share(self, word: str) -> float:
        """Of a word's tokens inside sentences that have a capital; 0 where there is none."""
        return self.capital.get(word, 0) / max(self.inside.get(word, 0), 1)


def _is_capital(word: str) -> bool:
    """Whether a word is of letters, hyphens and apostrophes, the first a capital."""
    return word[:1].isupper() and of_letters(word)


class Finder:
    """Finds mentions in a token stream."""

    def __init__(self, tokens: Segments) -> None:
        self.tokens = tokens
        self.words = [without_possessive(word) for word in tokens.types]
        self.folded = [word.casefold() for word in self.words]
        is_word = tokens.classes == segment.WORD
        self.upper = np.array([_is_capital(word) for word in self.words], dtype=bool) & is_word
        self.loud = np.array([is_capitals(word) for word in self.words], dtype=bool) & is_word
        self.document = np.searchsorted(tokens.doc_ptr, np.arange(len(tokens.ids)), side="right") - 1
        self.opens = tokens.opens.copy()
        self.opens[tokens.leads] = True
        self._open_behind_signs()
        self._never_open(is_word)
        self.heading = self._headings(is_word)
        self.capitals = self._count(is_word)
        self.openings = self._openings(self.opens)
        self.named = self._openings(self._before_names())
        self.part = self._parts()

    def _open_behind_signs(self) -> None:
        """A capital says as little behind a colon, a dash or at the start of a line as in a sentence."""
        within = np.array([word in _WITHIN for word in self.tokens.types], dtype=bool)
        sign = np.isin(self.tokens.classes, [segment.PUNCTUATION, segment.SYMBOL])
        opens = np.concatenate([[False], (sign & ~within)[self.tokens.ids[:-1]]])
        before = np.concatenate([[False], within[self.tokens.ids[:-1]]])
        self.opens |= opens | (self.tokens.breaks & ~before)

    def _never_open(self, is_word: NDArray[np.bool_]) -> None:
        """A sentence goes on behind *Mr.* and *J.*; it opens with its first word, not with a quote."""
        ids = self.tokens.ids.tolist()
        self.shortened = np.array(
            [
                folded in known.SHORTENED or (len(folded) == 1 and word.isupper())
                for folded, word in zip(self.folded, self.words, strict=True)
            ],
            dtype=bool,
        )
        for at in np.flatnonzero(self.opens).tolist():
            if at > 1 and self.tokens.types[ids[at - 1]] == "." and self.shortened[ids[at - 2]]:
                self.opens[at] = False
            elif not is_word[ids[at]] and at + 1 < len(ids) and not self.opens[at + 1]:
                self.opens[at + 1] = True

    def _headings(self, is_word: NDArray[np.bool_]) -> NDArray[np.bool_]:
        """Whether a token stands among words of which half and more are in capitals."""
        ids = self.tokens.ids
        at = np.arange(len(ids))
        begin, end = self.tokens.doc_ptr[self.document], self.tokens.doc_ptr[self.document + 1]
        low, high = np.maximum(at - _AROUND, begin), np.minimum(at + _AROUND + 1, end)
        loud = np.concatenate([[0], np.cumsum(self.loud[ids])])
        words = np.concatenate([[0], np.cumsum(is_word[ids])])
        here = loud[high] - loud[low]
        return np.asarray((here >= _LOUD) & (2 * here >= words[high] - words[low]))

    def _count(self, is_word: NDArray[np.bool_]) -> Capitals:
        here = np.flatnonzero(is_word[self.tokens.ids] & ~self.opens & ~self.heading)
        counts = np.bincount(self.tokens.ids[here], minlength=len(self.words)).tolist()
        inside: dict[str, int] = {}
        capital: dict[str, int] = {}
        for kind in np.flatnonzero(counts).tolist():
            word = self.folded[kind]
            inside[word] = inside.get(word, 0) + counts[kind]
            if self.upper[kind]:
                capital[word] = capital.get(word, 0) + counts[kind]
        return Capitals(inside, capital)

    def _openings(self, tokens: NDArray[np.bool_]) -> dict[str, int]:
        """How often each word with a capital is one of these tokens."""
        often = np.bincount(self.tokens.ids[tokens], minlength=len(self.words)).tolist()
        return {self.folded[kind]: n for kind, n in enumerate(often) if self.upper[kind]}

    def _before_names(self) -> NDArray[np.bool_]:
        """The first words of sentences before a word with a capital that is no other word."""
        other = np.array(
            [up and not readings(word) for up, word in zip(self.upper, self.folded, strict=True)], dtype=bool
        )
        goes_on = other[self.tokens.ids] & ~self.tokens.breaks
        return self.opens & np.concatenate([goes_on[1:], [False]])

    def _parts(self) -> NDArray[np.bool_]:
        """Whether a token with a capital is part of a name rather than the first of its sentence."""
        inside = np.zeros(len(self.words), dtype=bool)
        opening = inside.copy()
        for kind in np.flatnonzero(self.upper).tolist():
            folded = self.folded[kind]
            closed = parts(folded)[0] in closed_classes() and folded not in _BOTH
            if folded not in known.DATES and not closed and not _PRONOUN.fullmatch(folded):
                inside[kind] = True
                opening[kind] = self._may_open(folded)
        ids = self.tokens.ids
        return ~self.heading & np.where(self.opens, opening[ids], inside[ids])

    def _may_open(self, folded: str) -> bool:
        """Whether a word is part of a name though it opens its sentence."""
        if len(folded) == 1 or folded in _OPENING or folded in known.english().given:
            return True
        if not readings(folded):
            return folded not in self.capitals.inside or self.capitals.share(folded) >= _MOSTLY
        openings = self.openings.get(folded, 0)
        told = self.capitals.capital.get(folded, 0) >= _TOLD * openings
        named = self.named.get(folded, 0) >= _MOSTLY * openings
        return (told or named) and self.capitals.share(folded) >= _MOSTLY

    def runs(self) -> Iterator[tuple[int, int]]:
        """First token and token after the last of every run, in order."""
        ids, types = self.tokens.ids.tolist(), self.tokens.types
        free = 0
        for first in np.flatnonzero(self.part).tolist():
            if first < free:
                continue
            at = first + 1
            while at < len(ids) and at - first < _LONGEST:
                step = self._next(at, ids, types)
                if not step:
                    break
                at += step
            yield first, at
            free = at

    def _next(self, at: int, ids: list[int], types: list[str]) -> int:
        """Over how many tokens a run goes on; 0 where it ends."""
        if types[ids[at]] == "." and self.shortened[ids[at - 1]]:
            after = at + 1
            return 2 if after < len(ids) and self._goes_on(after, joined=True) else 0
        if self._goes_on(at):
            return 1
        if self.folded[ids[at]] in known.LINKS and not self.tokens.breaks[at]:
            the = at + 1 < len(ids) and self.folded[ids[at + 1]] == "the"
            after = at + (2 if the else 1)
            if after < len(ids) and self._goes_on(after) and not self.opens[at]:
                return after + 1 - at
        return 0

    def _goes_on(self, at: int, joined: bool = False) -> bool:
        """Whether a run goes on with a token."""
        return bool(self.part[at] and not self.opens[at] and (joined or not self.tokens.breaks[at]))

    def mentions(self) -> Iterator[Mention]:
        """All mentions; titles alone are none."""
        tokens, ids = self.tokens, self.tokens.ids.tolist()
        for first, after in self.runs():
            for begin, end in self._parted(first, after, ids):
                title, start = "", begin
                while start < end and self.folded[ids[start]] in _BEFORE_NAMES:
                    title = self.folded[ids[start]] if tokens.types[ids[start]] != "." else title
                    start += 1
                if start == end or (title and self.folded[ids[start]] in known.LINKS):
                    title, start = "", begin
                words = tuple(self.words[kind] for kind in ids[start:end] if self.words[kind] != ".")
                if all(len(each) < 2 or each.casefold() in known.TITLES for each in words):
                    continue
                yield Mention(
                    words,
                    title,
                    int(self.document[first]),
                    start,
                    end,
                    self._around(begin - 1, begin),
                    self._around(end, end),
                )

    def _parted(self, first: int, after: int, ids: list[int]) -> Iterator[tuple[int, int]]:
        """A run cut behind possessives: *Wenlow’s Harbour Board* names two things."""
        begin = first
        for at in range(first, after):
            if self.words[ids[at]] != one_word(self.tokens.types[ids[at]]) or at + 1 == after:
                yield begin, at + 1
                begin = at + 1

    def _around(self, at: int, edge: int) -> str:
        """The word beside a run, in its sentence."""
        if not 0 <= at < len(self.tokens.ids) or self.tokens.breaks[edge]:
            return ""
        return self.folded[self.tokens.ids[at]]
