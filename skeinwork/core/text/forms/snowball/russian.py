"""Russian."""

from __future__ import annotations

from skeinwork.core.text.forms.snowball.endings import Endings, Regions

_REGIONS = Regions("аеиоуыэюя")
# "after а" endings go only behind а or я, which stay.
_GERUND = Endings({"в вши вшись": "after а", "ив ивши ившись ыв ывши ывшись": "delete"})
_ADJECTIVE = Endings({"ее ие ые ое ими ыми ей ий ый ой ем им ым ом его ого ему ому их ых ую юю ая яя ою ею": "delete"})
_PARTICIPLE = Endings({"ем нн вш ющ щ": "after а", "ивш ывш ующ": "delete"})
_REFLEXIVE = Endings({"ся сь": "delete"})
_VERB = Endings(
    {
        "ла на ете йте ли й л ем н ло но ет ют ны ть ешь нно": "after а",
        "ила ыла ена ейте уйте ите или ыли ей уй ил ыл им ым ен ило ыло ено ят ует уют ит ыт ены ить ыть"
        " ишь ую ю": "delete",
    }
)
_NOUN = Endings(
    {
        "а ев ов ие ье е иями ями ами еи ии и ией ей ой ий й иям ям ием ем ам ом о у ах иях ях ы ь ию ью ю"
        " ия ья я": "delete"
    }
)
_DERIVATIONAL = Endings({"ост ость": "delete"})
_SUPERLATIVE = Endings({"ейш ейше": "delete"})


def stem(word: str) -> str:
    """The stem of a lower-case word; ё is read as е.

    >>> [stem(word) for word in ("гавани", "пришвартованный", "важнейшие")]
    ['гаван', 'пришвартова', 'важн']
    """
    word = word.replace("ё", "е")
    vowel = _REGIONS.past_vowel(word, 0)
    second = _REGIONS.after(word, _REGIONS.past_consonant(word, vowel))
    word = _inflection(word, vowel)
    if len(word) > vowel and word.endswith("и"):
        word = word[:-1]
    if (ending := _DERIVATIONAL.find(word, vowel)[0]) and len(word) - len(ending) >= second:
        word = word[: -len(ending)]
    if superlative := _SUPERLATIVE.find(word, vowel)[0]:
        word = word[: -len(superlative)]
    if word.endswith("нн", vowel):
        return word[:-1]
    return word[:-1] if not superlative and word.endswith("ь", vowel) else word


def _inflection(word: str, vowel: int) -> str:
    """A word without the endings of its class: gerund, adjective with participle, verb, or noun."""
    if (without := _less(word, _GERUND, vowel)) is not None:
        return without
    word = _less(word, _REFLEXIVE, vowel) or word
    if (without := _less(word, _ADJECTIVE, vowel)) is not None:
        bare = _less(without, _PARTICIPLE, vowel)
        return without if bare is None else bare
    for endings in (_VERB, _NOUN):
        if (without := _less(word, endings, vowel)) is not None:
            return without
    return word


def _less(word: str, endings: Endings, vowel: int) -> str | None:
    """A word without the longest of some endings; None where it has none that may go."""
    ending, done = endings.find(word, vowel)
    if not done:
        return None
    without = word[: -len(ending)]
    if done == "after а" and not without.endswith(("а", "я"), vowel):
        return None
    return without
