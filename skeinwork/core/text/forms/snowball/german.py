"""German."""

from __future__ import annotations

from skeinwork.core.text.forms.snowball.endings import Endings, Regions, between_vowels

_REGIONS = Regions("aeiouyäöü")
_FIRST = Endings({"em ern er": "delete", "e en es": "and niss", "s": "after a letter"})
_BEFORE_S = frozenset("bdfghklmnrt")
_SECOND = Endings({"en er est": "delete", "st": "after a letter"})
_BEFORE_ST = _BEFORE_S - {"r"}
_THIRD = Endings({"end ung": "and ig", "ig ik isch": "not after e", "lich heit": "and er, en", "keit": "and lich, ig"})
_PLAIN = str.maketrans("YUäöü", "yuaou")


def stem(word: str) -> str:
    """The stem of a lower-case word; umlauts go, and ß is written ss.

    >>> [stem(word) for word in ("häfen", "vertäuungen", "gemütlichkeit")]
    ['haf', 'vertau', 'gemut']
    """
    word = between_vowels(_REGIONS, word.replace("ß", "ss"), {"u": "U", "y": "Y"})
    if len(word) >= 3:
        first = _REGIONS.after(word)
        second = _REGIONS.after(word, first)
        word = _third(_second(_first(word, max(first, 3)), max(first, 3)), max(first, 3), second)
    return word.translate(_PLAIN)


def _first(word: str, first: int) -> str:
    ending, done = _FIRST.find(word)
    bare = word[: -len(ending)] if done else word
    if not done or len(bare) < first:
        return word
    if done == "after a letter":
        return bare if bare[-1:] in _BEFORE_S else word
    return bare[:-1] if done == "and niss" and bare.endswith("niss") else bare


def _second(word: str, first: int) -> str:
    ending, done = _SECOND.find(word)
    bare = word[: -len(ending)] if done else word
    if not done or len(bare) < first:
        return word
    if done == "after a letter" and (bare[-1:] not in _BEFORE_ST or len(bare) < 4):
        return word
    return bare


def _third(word: str, first: int, second: int) -> str:
    ending, done = _THIRD.find(word)
    bare = word[: -len(ending)] if done else word
    if not done or len(bare) < second:
        return word
    if done == "not after e":
        return word if bare.endswith("e") else bare
    if done == "and ig":
        goes = bare.endswith("ig") and bare[-3:-2] != "e" and len(bare) - 2 >= second
        return bare[:-2] if goes else bare
    if done == "and er, en":
        return bare[:-2] if bare.endswith(("er", "en")) and len(bare) - 2 >= first else bare
    for more in ("lich", "ig"):
        if bare.endswith(more):
            return bare[: -len(more)] if len(bare) - len(more) >= second else bare
    return bare
