"""The Porter stemmer, exactly as published.

M. F. Porter, *An algorithm for suffix stripping*, Program 14(3), 1980, 130-137. Later departures
from the paper (words of one or two letters left alone, *-bli* and *-logi* in step 2) are not made.
"""

from __future__ import annotations

import unicodedata
from typing import ClassVar

from skeinwork.core.kinds import NoOptions
from skeinwork.core.text.forms.base import Form, Method, Place

_ALPHABET = "abcdefghijklmnopqrstuvwxyz"
_STEP_2 = {
    "ational": "ate",
    "tional": "tion",
    "enci": "ence",
    "anci": "ance",
    "izer": "ize",
    "abli": "able",
    "alli": "al",
    "entli": "ent",
    "eli": "e",
    "ousli": "ous",
    "ization": "ize",
    "ation": "ate",
    "ator": "ate",
    "alism": "al",
    "iveness": "ive",
    "fulness": "ful",
    "ousness": "ous",
    "aliti": "al",
    "iviti": "ive",
    "biliti": "ble",
}
_STEP_3 = {"icate": "ic", "ative": "", "alize": "al", "iciti": "ic", "ical": "ic", "ful": "", "ness": ""}
_STEP_4 = dict.fromkeys(
    [
        "al",
        "ance",
        "ence",
        "er",
        "ic",
        "able",
        "ible",
        "ant",
        "ement",
        "ment",
        "ent",
        "ion",
        "ou",
        "ism",
        "ate",
        "iti",
        "ous",
        "ive",
        "ize",
    ],
    "",
)


_LETTERS = str.maketrans({letter: "v" if letter in "aeiou" else "c" for letter in _ALPHABET})


def _shape(word: str) -> str:
    """The word with every letter as ``c`` (consonant) or ``v`` (vowel).

    A *y* after a consonant is a vowel, any other *y* a consonant; a letter with a mark is what it is
    without, any other letter beyond the alphabet of the paper a consonant.
    """
    shape = word.translate(_LETTERS) if word.isascii() else _shape_beyond(word)
    at = word.find("y", 1)
    while at > 0:
        if shape[at - 1] == "c":
            shape = f"{shape[:at]}v{shape[at + 1 :]}"
        at = word.find("y", at + 1)
    return shape


def _shape_beyond(word: str) -> str:
    bare = (unicodedata.normalize("NFD", letter)[0] for letter in word)
    return "".join(letter.translate(_LETTERS) if letter.isascii() else "c" for letter in bare)


def _measure(stem: str) -> int:
    """Number of vowel-consonant sequences, *m* in the paper."""
    return _shape(stem).count("vc")


def _has_vowel(stem: str) -> bool:
    return "v" in _shape(stem)


def _double_consonant(word: str) -> bool:
    return len(word) > 1 and word[-1] == word[-2] and _shape(word)[-1] == "c"


def _ends_cvc(word: str) -> bool:
    return len(word) > 2 and _shape(word).endswith("cvc") and word[-1] not in "wxy"


def _replace(word: str, endings: dict[str, str], above: int) -> str:
    """Replace the longest matching ending where the measure before it is over ``above``."""
    for length in range(min(len(word), 7), 1, -1):
        ending = word[-length:]
        if ending in endings:
            stem = word[:-length]
            if ending == "ion" and stem[-1:] not in ("s", "t"):
                return word
            return stem + endings[ending] if _measure(stem) > above else word
    return word


def _step_1(word: str) -> str:
    if word.endswith("s"):
        if word.endswith(("sses", "ies")):
            word = word[:-2]
        elif not word.endswith("ss"):
            word = word[:-1]
    if word.endswith("eed"):
        if _measure(word[:-3]) > 0:
            word = word[:-1]
    else:
        for ending in ("ed", "ing"):
            if word.endswith(ending) and _has_vowel(word[: -len(ending)]):
                word = _tidy(word[: -len(ending)])
                break
    if word.endswith("y") and _has_vowel(word[:-1]):
        word = word[:-1] + "i"
    return word


def _tidy(stem: str) -> str:
    """After -ed or -ing has gone: *conflat(ed)* to conflate, *hopp(ing)* to hop, *fil(ing)* to file."""
    if stem.endswith(("at", "bl", "iz")):
        return stem + "e"
    if _double_consonant(stem) and stem[-1] not in "lsz":
        return stem[:-1]
    if _measure(stem) == 1 and _ends_cvc(stem):
        return stem + "e"
    return stem


def _step_5(word: str) -> str:
    if word.endswith("e"):
        measure = _measure(word[:-1])
        if measure > 1 or (measure == 1 and not _ends_cvc(word[:-1])):
            word = word[:-1]
    if word.endswith("ll") and _measure(word) > 1:
        word = word[:-1]
    return word


def stem(word: str) -> str:
    """The stem of a lower-case English word.

    Examples
    --------
    >>> [stem(word) for word in ("moorings", "carried", "relational", "hopping")]
    ['moor', 'carri', 'relat', 'hop']
    """
    word = _step_1(word)
    word = _replace(word, _STEP_2, 0)
    word = _replace(word, _STEP_3, 0)
    word = _replace(word, _STEP_4, 1)
    return _step_5(word)


class Porter(Method[NoOptions]):
    """Porter's stems, for English."""

    name: ClassVar[str] = "porter"
    title: ClassVar[str] = "stems (Porter)"

    def form(self, options: NoOptions, place: Place) -> Form:
        return stem


METHOD = Porter()
