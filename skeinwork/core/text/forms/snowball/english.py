"""English."""

from __future__ import annotations

from skeinwork.core.text.forms.snowball.endings import Endings, Regions

_REGIONS = Regions("aeiouy")
_VOWELS = _REGIONS.vowels
_WHOLE = {
    "skis": "ski",
    "skies": "sky",
    "dying": "die",
    "lying": "lie",
    "tying": "tie",
    "idly": "idl",
    "gently": "gentl",
    "ugly": "ugli",
    "early": "earli",
    "only": "onli",
    "singly": "singl",
    **{word: word for word in "sky news howe atlas cosmos bias andes".split()},
}
_AS_THEY_ARE = frozenset("inning outing canning herring earring proceed exceed succeed".split())
_LONG_BEGINNINGS = ("gener", "commun", "arsen")
_STEP_1A = Endings({"sses": "ss", "ied ies": "i", "s": "s", "us ss": "stays"})
_STEP_1B = Endings({"eed eedly": "ee", "ed edly ing ingly": "delete"})
_DOUBLES = ("bb", "dd", "ff", "gg", "mm", "nn", "pp", "rr", "tt")
_STEP_2 = Endings(
    {
        "tional": "tion",
        "enci": "ence",
        "anci": "ance",
        "abli": "able",
        "entli": "ent",
        "izer ization": "ize",
        "ational ation ator": "ate",
        "alism aliti alli": "al",
        "fulness": "ful",
        "ousli ousness": "ous",
        "iveness iviti": "ive",
        "biliti bli": "ble",
        "ogi": "after l",
        "fulli": "ful",
        "lessli": "less",
        "li": "after a letter",
    }
)
_BEFORE_LI = frozenset("cdeghkmnrt")
_STEP_3 = Endings(
    {"tional": "tion", "ational": "ate", "alize": "al", "icate iciti ical": "ic", "ful ness": "", "ative": "in R2"}
)
_STEP_4 = Endings({"al ance ence er ic able ible ant ement ment ent ism ate iti ous ive ize": "", "ion": "after s, t"})


def stem(word: str) -> str:
    """The stem of a lower-case word.

    >>> [stem(word) for word in ("moorings", "carried", "generously", "early")]
    ['moor', 'carri', 'generous', 'earli']
    """
    if word in _WHOLE:
        return _WHOLE[word]
    if len(word) <= 2:
        return word
    word = _marked(word.removeprefix("'"))
    begun = next((each for each in _LONG_BEGINNINGS if word.startswith(each)), "")
    first = len(begun) or _REGIONS.after(word)
    second = _REGIONS.after(word, first)
    word = _step_1a(word)
    if word in _AS_THEY_ARE:
        return word
    word = _step_1c(_step_1b(word, first))
    word = _step_4(_step_3(_step_2(word, first), first, second), second)
    return _step_5(word, first, second).replace("Y", "y")


def _marked(word: str) -> str:
    """A y that is a consonant, at the beginning or after a vowel, as a capital."""
    if "y" not in word:
        return word
    letters = list(word)
    for at, letter in enumerate(letters):
        if letter == "y" and (at == 0 or letters[at - 1] in _VOWELS):
            letters[at] = "Y"
    return "".join(letters)


def _has_vowel(word: str) -> bool:
    return not _VOWELS.isdisjoint(word)


def _short(word: str) -> bool:
    """Whether a word ends in a short syllable."""
    if len(word) == 2:
        return word[0] in _VOWELS and word[1] not in _VOWELS
    return (
        len(word) > 2
        and word[-3] not in _VOWELS
        and word[-2] in _VOWELS
        and word[-1] not in _VOWELS
        and word[-1] not in "wxY"
    )


def _step_1a(word: str) -> str:
    for possessive in ("'s'", "'s", "'"):
        if word.endswith(possessive):
            word = word[: -len(possessive)]
            break
    ending, done = _STEP_1A.find(word)
    bare = word[: -len(ending)] if done else word
    if done == "ss":
        return bare + "ss"
    if done == "i":
        return bare + ("i" if len(bare) > 1 else "ie")
    return bare if done == "s" and _has_vowel(bare[:-1]) else word


def _step_1b(word: str, first: int) -> str:
    ending, done = _STEP_1B.find(word)
    bare = word[: -len(ending)] if done else word
    if done == "ee":
        return bare + "ee" if len(bare) >= first else word
    if not done or not _has_vowel(bare):
        return word
    if bare.endswith(("at", "bl", "iz")):
        return bare + "e"
    if bare.endswith(_DOUBLES):
        return bare[:-1]
    return bare + "e" if len(bare) <= first and _short(bare) else bare


def _step_1c(word: str) -> str:
    ends = word[-1:] in ("y", "Y") and len(word) > 2 and word[-2] not in _VOWELS
    return word[:-1] + "i" if ends else word


def _step_2(word: str, first: int) -> str:
    ending, done = _STEP_2.find(word)
    bare = word[: -len(ending)] if done else word
    if not done or len(bare) < first:
        return word
    if done == "after l":
        return bare + "og" if bare.endswith("l") else word
    if done == "after a letter":
        return bare if bare[-1:] in _BEFORE_LI else word
    return bare + done


def _step_3(word: str, first: int, second: int) -> str:
    ending, done = _STEP_3.find(word)
    bare = word[: -len(ending)] if ending else word
    if not ending or len(bare) < first:
        return word
    if done == "in R2":
        return bare if len(bare) >= second else word
    return bare + done


def _step_4(word: str, second: int) -> str:
    ending, done = _STEP_4.find(word)
    bare = word[: -len(ending)] if ending else word
    if not ending or len(bare) < second or (done and bare[-1:] not in ("s", "t")):
        return word
    return bare


def _step_5(word: str, first: int, second: int) -> str:
    bare = word[:-1]
    if word.endswith("e"):
        goes = len(bare) >= second or (len(bare) >= first and not _short(bare))
        return bare if goes else word
    return bare if word.endswith("ll") and len(bare) >= second else word
