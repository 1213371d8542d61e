"""Where sentences begin."""

from __future__ import annotations

import regex

# The end of a sentence: stops with what closes quotes or brackets, then white space and something that
# may begin another; or a blank line. Scripts without capitals end theirs with stops of their own.
_END = regex.compile(
    r"""(?P<stop>[.!?\u2026]+)[\p{Pe}\p{Pf}"']*\s+(?=[\p{Ps}\p{Pi}"'\u2013\u2014-]*[\p{Lu}\p{Lt}\p{Lo}\p{Nd}])
    | [\u3002\uff01\uff1f\u0964\u061f\u06d4]+[\p{Pe}\p{Pf}"']*\s*
    | \n[ \t\r]*\n\s*""",
    regex.VERBOSE,
)
_BEFORE = regex.compile(r"[\p{L}.]+$")
# Words that a full stop shortens, and which seldom end a sentence.
_SHORTENED = frozenset(
    "mr mrs ms dr prof st sr jr rev gen col capt lt sgt hon gov sen rep no nos vol fig cf vs etc al "
    "ca approx e.g i.e p pp ch art bzw z.b d.h u.a usw nr hr fr str m mm mme mlle".split()
)


def sentence_starts(text: str) -> list[int]:
    """Where each sentence begins, by character; the first at 0.

    A full stop after a single letter, or after a word that is often shortened, ends no sentence.

    >>> sentence_starts("Gale at six. Dr. Askew rang! All safe.")
    [0, 13, 29]
    """
    starts = [0]
    for found in _END.finditer(text):
        if found["stop"] == "." and _is_shortened(text[: found.start()]):
            continue
        if found.end() < len(text):
            starts.append(found.end())
    return starts


def _is_shortened(before: str) -> bool:
    found = _BEFORE.search(before[-20:])
    word = found[0] if found else ""
    single = len(word) == 1 and word.isupper()
    return single or word.casefold() in _SHORTENED
