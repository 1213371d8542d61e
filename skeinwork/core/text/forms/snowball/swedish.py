"""Swedish."""

from __future__ import annotations

from skeinwork.core.text.forms.snowball.endings import Endings, Regions

_REGIONS = Regions("aeiouyäåö")
_MAIN = Endings(
    {
        "a arna erna heterna orna ad e ade ande arne are aste en anden aren heten ern ar er heter or as"
        " arnas ernas ornas es ades andes ens arens hetens erns at andet het ast": "delete",
        "s": "after a letter",
    }
)
_BEFORE_S = frozenset("bcdfghjklmnoprtvy")
_PAIRS = Endings({"dd gd nn dt gt kt tt": "last letter"})
_OTHER = Endings({"lig ig els": "delete", "löst fullt": "last letter"})


def stem(word: str) -> str:
    """The stem of a lower-case word.

    >>> [stem(word) for word in ("hamnarna", "förtöjningen", "arbetslöst")]
    ['hamn', 'förtöjning', 'arbetslös']
    """
    first = _REGIONS.scandinavian(word)
    ending, done = _MAIN.find(word, first)
    if done == "delete" or (done and word[-2:-1] in _BEFORE_S):
        word = word[: -len(ending)]
    if _PAIRS.find(word, first)[0]:
        word = word[:-1]
    ending, done = _OTHER.find(word, first)
    if done:
        word = word[: -len(ending)] if done == "delete" else word[:-1]
    return word
