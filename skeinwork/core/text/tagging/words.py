"""What can be told of a word by itself: its parts, the tags it can have, and its features."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Sequence
from functools import lru_cache

from skeinwork.core.text.forms.lemma import readings
from skeinwork.core.text.tagging.tags import NUMBER_OF, OPEN, closed_classes

_CLITIC = re.compile(r"(?<=\w)(n[’'ʼ]t|[’'ʼ](?:s|m|d|re|ve|ll))$", re.IGNORECASE)
_WHOLE = frozenset({"o’clock", "o'clock", "ma'am", "ma’am"})
_NUMBER = re.compile(r"[+\-−]?[\d][\d.,:/\-–]*(?:[a-zA-Z%°]{0,3})$|[\d.,]+$|[½¼¾]$")
_BRACKET = re.compile(r"-[LR][RSC]B-")  # as some texts that are cut into tokens write brackets
_INITIAL = re.compile(r"[A-Z]\.")
_ORDINAL = re.compile(r"\d+(?:st|nd|rd|th)$", re.IGNORECASE)
_CALENDAR = frozenset(
    "monday tuesday wednesday thursday friday saturday sunday january february april june july "
    "september october november december easter christmas jan feb mar apr jun jul aug sept sep oct "
    "nov dec".split()
)
_SPELT = frozenset(
    f"{ten}-{one}"
    for ten in "twenty thirty forty fifty sixty seventy eighty ninety".split()
    for one in "one two three four five six seven eight nine".split()
)
_PART_TAGS = {"n": "NOUN", "v": "VERB", "a": "ADJ", "r": "ADV"}
_POSSESSIVE = frozenset("my your his her its our their whose thy".split())
_PROPER, _NONE = frozenset({"PROPN"}), frozenset[str]()
_SYMBOL, _PUNCTUATION = frozenset({"SYM"}), frozenset({"PUNCT"})
_SIGNS = frozenset({"So", "Sc", "Sm"})  # categories of Unicode
_UNKNOWN = frozenset({*OPEN, "X", "INTJ"})
_KEPT = 200_000  # words whose features are remembered
_LIKELY = 5  # from this count on a word of the lexicon is taken to have no other readings


def parts(word: str) -> list[str]:
    """A word without what leans on it, and that.

    Examples
    --------
    >>> parts("don't"), parts("harbour’s"), parts("o'clock")
    (['do', "n't"], ['harbour', '’s'], ["o'clock"])
    """
    found = None if word.lower() in _WHOLE else _CLITIC.search(word)
    return [word[: found.start()], found[0]] if found else [word]


def first_word(listed: Sequence[str]) -> int:
    """The place of the first word of a sentence, behind quotes and dashes."""
    return next((at for at, word in enumerate(listed) if word[:1].isalnum()), len(listed))


def bare(word: str) -> str:
    """A word without what leans on it, a shortened one without its dot: *don't* is read as *do*."""
    word = parts(word)[0].replace("ʼ", "’")
    return word[:-1] if len(word) > 2 and word[-1] == "." and word[:-1].isalpha() else word


def is_number(word: str) -> bool:
    """Whether a word is written in digits, or is a number spelt out in two words."""
    return bool(_NUMBER.match(word)) or word.lower() in _SPELT


@lru_cache(maxsize=_KEPT)
def known(word: str) -> dict[str, float]:
    """How frequent a lower-case word is as each open part of speech, after the lexicon; and its form.

    Keys are a tag and an inflection, as in ``NOUN.s``.
    """
    return {f"{_PART_TAGS[part]}.{kind}": count for part, kind, count in readings(word)}


@lru_cache(maxsize=_KEPT)
def candidates(word: str, first: bool) -> frozenset[str]:
    """The tags that a word can have; the decoder chooses among these."""
    word = bare(word)
    lower = word.lower()
    capital = word[:1].isupper()
    if closed := closed_classes().get(lower):
        proper = capital and (not first or len(word) > 3)
        return frozenset(closed) | (_PROPER if proper else _NONE)
    if lower in _CALENDAR and capital:
        return _PROPER
    if not word.isalpha() and (found := _not_letters(word)):
        return found
    found = frozenset(key.partition(".")[0] for key in known(lower))
    if not found:
        return _UNKNOWN if capital else _UNKNOWN - _PROPER
    if "VERB" in found and lower.endswith(("ing", "ed")):
        found |= {"ADJ", "NOUN"} if lower.endswith("ing") else {"ADJ"}
    if "ADJ" in found or "-" in lower:
        found |= {"ADJ", "NOUN"}
    return found | (_PROPER if capital else _NONE)


def _not_letters(word: str) -> frozenset[str]:
    """The tags of what is not of letters alone; none where letters decide."""
    if _BRACKET.fullmatch(word):
        return _PUNCTUATION
    if _INITIAL.fullmatch(word):
        return _PROPER
    if not any(map(str.isalnum, word)):
        return _SYMBOL if any(unicodedata.category(sign) in _SIGNS for sign in word) else _PUNCTUATION
    if "://" in word or "@" in word or word[0] in "#_" or word.startswith("www."):
        return frozenset({"X"})
    if _ORDINAL.match(word):
        return frozenset({"ADJ", "NOUN", "ADV"})
    if is_number(word):
        return frozenset({"NUM"})
    if any(map(str.isdigit, word)):
        return frozenset({"NUM", "NOUN", "PROPN", "X", "SYM"})
    return _NONE


def state_of(word: str, tag: str) -> int:
    """The number of the state that a word with this tag is in; see ``tags.STATES``."""
    lower = word.lower()
    if tag == "PRON" and lower in _POSSESSIVE:
        tag = "PRON:possessive"
    elif tag == "VERB" and lower.endswith("ing"):
        tag = "VERB:ing"
    return NUMBER_OF[tag]


def outline(word: str) -> str:
    """The shape of a word: capitals, digits, hyphens."""
    if word.isdigit():
        return f"d{min(len(word), 5)}"
    shape = "X" if word.isupper() and len(word) > 1 else "Xx" if word[:1].isupper() else "x"
    shape = "mixed" if shape == "x" and word.lower() != word else shape
    digits, dots = any(map(str.isdigit, word)), "." in word
    return shape + "d" * digits + "-" * ("-" in word[1:-1]) + "." * dots


@lru_cache(maxsize=_KEPT)
def reading_features(lower: str) -> tuple[str, ...]:
    """What the closed classes and the lexicon say of a word, as features."""
    if closed := closed_classes().get(lower):
        return ("closed=" + "+".join(sorted(closed)),)
    found = known(lower)
    if not found:
        head = lower.rpartition("-")[2]
        inner = reading_features(head) if head and head != lower else ()
        return ("lexicon=none", *(f"head {each}" for each in inner))
    total = sum(found.values())
    shares = {key: count / total for key, count in found.items()}
    lead = max(shares, key=lambda key: (shares[key], key))
    size = "often" if total >= _LIKELY * 8 else "seldom" if total >= _LIKELY else "hardly"
    return (
        "lexicon=" + "+".join(sorted(found)),
        f"lead={lead}",
        f"lead={lead} {size}",
        *(f"{key}~{_bucket(share)}" for key, share in shares.items()),
    )


def _bucket(share: float) -> int:
    return sum(share >= edge for edge in (0.02, 0.1, 0.3, 0.5, 0.7, 0.9, 0.98))


@lru_cache(maxsize=_KEPT)
def features(word: str, first: bool) -> tuple[list[str], list[str]]:
    """What a word says of its own tag, and what of its neighbours'.

    ``first`` in its sentence, where capitals say less.
    """
    word = bare(word)
    lower = word.lower()
    shape, told = outline(word), reading_features(lower)
    place = "first " if first else ""
    own = ["", f"word={lower}", f"{place}shape={shape}", *told]
    near = ["", f"word={lower}", f"shape={shape}", *told[:2]]
    if shape.startswith("X"):
        own.append(f"{place}capital {told[0]}")
    if lower.isascii() and lower not in closed_classes():
        own += [f"end={lower[-size:]}" for size in (1, 2, 3, 4) if len(lower) > size]
        own.append(f"begin={lower[:2]}")
        near.append(f"end={lower[-2:]}")
    return own, near
