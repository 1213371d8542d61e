"""Danish."""

from __future__ import annotations

from skeinwork.core.text.forms.snowball.endings import Endings, Regions

_REGIONS = Regions("aeiouyæåø")
_MAIN = Endings(
    {
        "hed ethed ered e erede ende erende ene erne ere en heden eren er heder erer heds es endes erendes"
        " enes ernes eres ens hedens erens ers ets erets et eret": "delete",
        "s": "after a letter",
    }
)
_BEFORE_S = frozenset("abcdfghjklmnoprtvyzå")
_PAIRS = Endings({"gd dt gt kt": "last letter"})
_OTHER = Endings({"ig lig elig els": "delete", "løst": "last letter"})
_CONSONANTS = frozenset("bcdfghjklmnpqrstvwxz")


def stem(word: str) -> str:
    """The stem of a lower-case word.

    >>> [stem(word) for word in ("havnene", "fortøjningen", "arbejdsløst")]
    ['havn', 'fortøjning', 'arbejdsløs']
    """
    first = _REGIONS.scandinavian(word)
    ending, done = _MAIN.find(word, first)
    if done == "delete" or (done and word[-2:-1] in _BEFORE_S):
        word = word[: -len(ending)]
    word = _single(word, first)
    if word.endswith("igst"):
        word = word[:-2]
    ending, done = _OTHER.find(word, first)
    if done == "delete":
        word = _single(word[: -len(ending)], first)
    elif done:
        word = word[:-1]
    last = word[-1:]
    return word[:-1] if len(word) > first and last in _CONSONANTS and word[-2:-1] == last else word


def _single(word: str, first: int) -> str:
    """A pair of consonants at the end without its second."""
    return word[:-1] if _PAIRS.find(word, first)[0] else word
