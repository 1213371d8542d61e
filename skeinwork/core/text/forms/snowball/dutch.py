"""Dutch."""

from __future__ import annotations

from skeinwork.core.text.forms.snowball.endings import Endings, Regions

_REGIONS = Regions("aeiouyè")
_PLAIN = str.maketrans("äáëéïíöóüú", "aaeeiioouu")
_FIRST = Endings({"heden": "heid", "en ene": "en", "s se": "s"})
_THIRD = Endings({"end ing": "and ig", "ig": "not after e", "lijk": "and e", "baar": "delete", "bar": "after e"})
_BACK = str.maketrans("YI", "yi")


def stem(word: str) -> str:
    """The stem of a lower-case word; accents but that of è go.

    >>> [stem(word) for word in ("havens", "vaartuigen", "gelegenheden", "bruikbare")]
    ['haven', 'vaartuig', 'geleg', 'bruikbar']
    """
    word = _marked(word.translate(_PLAIN))
    first = _REGIONS.after(word)
    second = _REGIONS.after(word, first)
    first = max(first, 3)
    word = _first(word, first)
    bare = _without_e(word, first)
    word, e_found = bare, bare != word
    if word.endswith("heid") and len(word) - 4 >= second and word[-5:-4] != "c":
        word = word[:-4]
        if word.endswith("en"):
            word = _without_en(word, 2, first)
    word = _third(word, first, second, e_found)
    if (
        len(word) > 3
        and word[-1] not in "aeiouyèI"
        and word[-3:-1] in ("aa", "ee", "oo", "uu")
        and word[-4] not in _REGIONS.vowels
    ):
        word = word[:-2] + word[-1]
    return word.translate(_BACK)


def _marked(word: str) -> str:
    """I between vowels, and y at the beginning or after a vowel, as capitals: they are no vowels."""
    letters = list(word)
    if letters and letters[0] == "y":
        letters[0] = "Y"
    for at in range(1, len(letters)):
        if letters[at - 1] not in _REGIONS.vowels:
            continue
        if letters[at] == "y":
            letters[at] = "Y"
        elif letters[at] == "i" and at + 1 < len(letters) and letters[at + 1] in _REGIONS.vowels:
            letters[at] = "I"
    return "".join(letters)


def _single(word: str) -> str:
    return word[:-1] if word.endswith(("kk", "dd", "tt")) else word


def _without_en(word: str, length: int, first: int) -> str:
    bare = word[:-length]
    stays = len(bare) < first or bare[-1:] in _REGIONS.vowels or bare.endswith("gem")
    return word if stays else _single(bare)


def _without_e(word: str, first: int) -> str:
    bare = word[:-1]
    if not word.endswith("e") or len(bare) < first or bare[-1:] in _REGIONS.vowels:
        return word
    return _single(bare)


def _first(word: str, first: int) -> str:
    ending, done = _FIRST.find(word)
    bare = word[: -len(ending)] if done else word
    if done == "en":
        return _without_en(word, len(ending), first)
    if not done or len(bare) < first:
        return word
    if done == "heid":
        return bare + "heid"
    return word if bare[-1:] in _REGIONS.vowels or bare.endswith("j") else bare


def _third(word: str, first: int, second: int, e_found: bool) -> str:
    ending, done = _THIRD.find(word)
    bare = word[: -len(ending)] if done else word
    if not done or len(bare) < second:
        return word
    if done == "and ig":
        if bare.endswith("ig") and len(bare) - 2 >= second and bare[-3:-2] != "e":
            return bare[:-2]
        return _single(bare)
    if done == "not after e":
        return word if bare.endswith("e") else bare
    if done == "and e":
        return _without_e(bare, first)
    return bare if done == "delete" or e_found else word
