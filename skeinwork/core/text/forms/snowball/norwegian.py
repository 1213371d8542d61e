"""Norwegian."""

from __future__ import annotations

from skeinwork.core.text.forms.snowball.endings import Endings, Regions

_REGIONS = Regions("aeiouyæåø")
_MAIN = Endings(
    {
        "a e ede ande ende ane ene hetene en heten ar er heter as es edes endes enes hetenes ens hetens"
        " ers ets et het ast": "delete",
        "s": "after a letter",
        "erte ert": "er",
    }
)
_BEFORE_S = frozenset("bcdfghjlmnoprtvyz")
_PAIRS = Endings({"dt vt": "last letter"})
_OTHER = Endings({"leg eleg ig eig lig elig els lov elov slov hetslov": "delete"})


def stem(word: str) -> str:
    """The stem of a lower-case word.

    >>> [stem(word) for word in ("havnene", "fortøyningen", "driftssikkerhetens")]
    ['havn', 'fortøyning', 'driftssikker']
    """
    first = _REGIONS.scandinavian(word)
    ending, done = _MAIN.find(word, first)
    if done == "delete" or (done == "after a letter" and _takes_s(word)):
        word = word[: -len(ending)]
    elif done == "er":
        word = word[: -len(ending)] + "er"
    if _PAIRS.find(word, first)[0]:
        word = word[:-1]
    if ending := _OTHER.find(word, first)[0]:
        word = word[: -len(ending)]
    return word


def _takes_s(word: str) -> bool:
    """Whether an s at the end stands behind a letter that words end in, or behind k and a consonant."""
    before = word[-2:-1]
    return before in _BEFORE_S or (before == "k" and len(word) > 2 and word[-3] not in _REGIONS.vowels)
