"""The English lexicon: words by part of speech with counts, and irregular forms.

Derived from an openly licensed lexical database by ``scripts/make_lexicon.py``; the licence stands
beside the data.
"""

from __future__ import annotations

import gzip
from dataclasses import dataclass
from functools import cache
from pathlib import Path

PATH = Path(__file__).parents[1] / "data" / "lexicon_english.txt.gz"
NOUN, VERB, ADJECTIVE, ADVERB = "n", "v", "a", "r"


@dataclass(frozen=True)
class Lexicon:
    """Words of English.

    Attributes
    ----------
    counts : by part of speech, how often each word was counted as a lemma in tagged text, or 0
    irregular : by part of speech, the lemmas of irregular forms
    """

    counts: dict[str, dict[str, int]]
    irregular: dict[str, dict[str, list[str]]]


@cache
def english() -> Lexicon:
    """The lexicon, read once."""
    counts: dict[str, dict[str, int]] = {part: {} for part in "nvar"}
    irregular: dict[str, dict[str, list[str]]] = {part: {} for part in "nvar"}
    for line in gzip.decompress(PATH.read_bytes()).decode("ascii").splitlines():
        word, known, *forms = line.split("\t")
        for each in known.split():
            counts[each[0]][word] = int(each[1:] or 0)
        for each in forms[0].split() if forms else ():
            irregular[each[0]].setdefault(word, []).append(each[1:])
    return Lexicon(counts, irregular)
