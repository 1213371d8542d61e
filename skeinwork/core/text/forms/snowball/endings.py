"""What the stemmers of the family share: tables of endings, and regions of a word.

A region is given by where it begins. *R1* begins after the first consonant that follows a vowel, *R2*
is R1 of R1, and *RV* is defined language by language.
"""

from __future__ import annotations

import re
from collections.abc import Mapping


class Endings:
    """Endings with what is done about them; the longest that a word has is found.

    >>> Endings({"a arna": "delete", "s": "after s"}).find("kajarna", 3)
    ('arna', 'delete')
    """

    def __init__(self, what: Mapping[str, str]) -> None:
        self._what = {ending: done for listed, done in what.items() for ending in listed.split()}
        lengths: dict[str, set[int]] = {}
        for ending in self._what:
            lengths.setdefault(ending[-1], set()).add(len(ending))
        self._lengths = {last: tuple(sorted(found, reverse=True)) for last, found in lengths.items()}

    def find(self, word: str, begin: int = 0) -> tuple[str, str]:
        """The longest ending that lies in a word from a place on, and what is done; empty if none."""
        most = len(word) - begin
        for length in self._lengths.get(word[-1:], ()):
            if length <= most and (done := self._what.get(word[-length:])) is not None:
                return word[-length:], done
        return "", ""


class Regions:
    """Where regions begin, for the vowels of a language."""

    def __init__(self, vowels: str) -> None:
        self.vowels = frozenset(vowels)
        self._first = re.compile(f"[{vowels}][^{vowels}]")
        self._vowel = re.compile(f"[{vowels}]")
        self._consonant = re.compile(f"[^{vowels}]")

    def after(self, word: str, begin: int = 0) -> int:
        """Behind the first consonant that follows a vowel; the word's end where there is none."""
        found = self._first.search(word, begin)
        return found.end() if found else len(word)

    def both(self, word: str) -> tuple[int, int]:
        """R1 and R2."""
        first = self.after(word)
        return first, self.after(word, first)

    def past_vowel(self, word: str, begin: int) -> int:
        found = self._vowel.search(word, begin)
        return found.end() if found else len(word)

    def past_consonant(self, word: str, begin: int) -> int:
        found = self._consonant.search(word, begin)
        return found.end() if found else len(word)

    def scandinavian(self, word: str) -> int:
        """R1, but never before the third letter."""
        return max(self.after(word), 3) if len(word) >= 3 else len(word)

    def romance(self, word: str) -> int:
        """RV of Spanish, Portuguese and Italian.

        Behind the next vowel where the second letter is a consonant; behind the next consonant where
        the first two are vowels; else behind the third letter.
        """
        if len(word) < 2:
            return len(word)
        if word[1] not in self.vowels:
            return self.past_vowel(word, 2)
        if word[0] in self.vowels:
            return self.past_consonant(word, 2)
        return min(3, len(word))


def between_vowels(regions: Regions, word: str, marked: Mapping[str, str]) -> str:
    """Letters between vowels are marked by capitals, which are no vowels any more."""
    letters = list(word)
    for at in range(1, len(letters) - 1):
        if letters[at] in marked and letters[at - 1] in regions.vowels and letters[at + 1] in regions.vowels:
            letters[at] = marked[letters[at]]
    return "".join(letters)
