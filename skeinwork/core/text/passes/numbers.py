"""Numbers, alone and with their units."""

from __future__ import annotations

import re
from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from skeinwork.core.text import segment
from skeinwork.core.text.passes.base import Forms, Joined, Mask, StreamPass, TypePass
from skeinwork.core.text.passes.joining import join_runs
from skeinwork.core.text.segment import Segments

_MONEY = frozenset("$ € £ ¥ ₹ ₽ ₩ ₺ ₴ ¢".split())
_UNITS = frozenset(
    "mm cm dm m km in ft yd mi nm inch inches foot feet yard yards mile miles metre metres meter meters "
    "kilometre kilometres kilometer kilometers fathom fathoms g kg mg t lb lbs oz st stone tonne tonnes "
    "ton tons gram grams kilo kilos l ml cl hl litre litres liter liters gallon gallons pint pints kn kt "
    "kts knot knots mph kph km/h m/s s sec secs second seconds min mins minute minutes h hr hrs hour "
    "hours w kw mw kwh v a hz khz mhz hpa mb mbar bar pa psi k c f percent pct € euro euros eur usd gbp "
    "dollar dollars pound pounds pence cent cents ° °c °f degree degrees %".split()
)
_TIME = re.compile(r"\d{1,2}[:.h]\d\d([:.]\d\d)?([ap]\.?m\.?)?|\d{1,2}([ap]\.?m\.?|h)|\d{4}h", re.I)
_YEAR = re.compile(r"1[5-9]\d\d|20\d\d")
_LETTERS = re.compile(r"[^\W\d_]|[%°$€£¥]")


class NumbersPass(StreamPass, TypePass):
    """Remove numbers, or write one stand-in for all of a kind; units may go with their numbers."""

    title = "Numbers"
    about = "numbers go, or become their kind"
    rewrites: ClassVar[bool] = True
    kind: Literal["numbers"] = "numbers"
    become: Literal["drop", "kind", "number"] = Field(
        "drop", description="what becomes of them; kind: <number>, <year>, <amount> or <time>"
    )
    units: bool = Field(False, description="a unit or sign of money beside belongs to its number")
    keep_with_letters: bool = Field(False, description="keep those joined to letters, like 12kn")

    def said(self) -> str:
        said = {"drop": "drop", "kind": "by kind", "number": "all as <number>"}[self.become]
        return said + (", with units" if self.units else "") + "; keep 12kn" * self.keep_with_letters

    def join(self, tokens: Segments, forms: Forms) -> Joined | None:
        """Numbers and the units beside them as one token; times that are written with a colon too."""
        if not (self.units or self.become == "kind"):
            return None
        living = forms.alive & forms.open
        number = living & (forms.classes == segment.NUMBER)
        runs, free = [], 0
        beside = _Beside(tokens, living)
        for at in np.flatnonzero(number[tokens.ids]).tolist():
            if at < free:
                continue
            first, after = beside.units(at, free) if self.units else (at, at + 1)
            time = beside.time(at, number)
            after = max(after, time)
            if after - first > 1:
                gap = "" if time else " "
                name = gap.join(tokens.types[kind] for kind in tokens.ids[first:after].tolist())
                runs.append((first, after, name))
                free = after
        return join_runs(tokens, forms, runs, segment.NUMBER) if runs else None

    def apply(self, forms: Forms) -> Mask:
        numbers = forms.alive & forms.open & (forms.classes == segment.NUMBER)
        if self.keep_with_letters:
            numbers &= forms.matching(lambda form: not any(map(str.isalpha, form)))
        if self.become == "drop":
            return numbers
        for at in np.flatnonzero(numbers).tolist():
            forms.current[at] = "<number>" if self.become == "number" else f"<{kind_of_number(forms.surface[at])}>"
        return forms.none()


class _Beside:
    """What stands beside a number in its document."""

    def __init__(self, tokens: Segments, living: Mask) -> None:
        self.tokens = tokens
        names = [word.casefold() for word in tokens.types]
        self.unit = living & np.array([word in _UNITS for word in names], dtype=bool)
        self.money = living & np.array([word in _MONEY for word in names], dtype=bool)
        self.colon = living & np.array([word == ":" for word in names], dtype=bool)
        self.ends = np.zeros(len(tokens.ids) + 1, dtype=bool)  # of a document, before a token
        self.ends[tokens.doc_ptr] = True

    def units(self, at: int, free: int) -> tuple[int, int]:
        """First token and token after the last of a number with its units."""
        ids, first, after = self.tokens.ids, at, at + 1
        if at > free and not self.ends[at] and self.money[ids[at - 1]]:
            first -= 1
        if not self.ends[after] and (self.unit | self.money)[ids[after]]:
            after += 1
        return first, after

    def time(self, at: int, number: Mask) -> int:
        """The token after a time that begins here, as in *6:30*; 0 where none does."""
        tokens, ids = self.tokens, self.tokens.ids
        if self.ends[at + 1] or self.ends[at + 2] or not self.colon[ids[at + 1]]:
            return 0
        touching = (tokens.ends[at : at + 2] == tokens.starts[at + 1 : at + 3]).all()
        minutes = tokens.types[ids[at + 2]]
        return at + 3 if touching and number[ids[at + 2]] and len(minutes) == 2 else 0


def kind_of_number(word: str) -> str:
    """What a number is: a time, a year, an amount of something, or a number.

    >>> [kind_of_number(word) for word in ("6:30", "2014", "12 kn", "42")]
    ['time', 'year', 'amount', 'number']
    """
    if _TIME.fullmatch(word) and not re.fullmatch(r"\d+\.\d+", word):
        return "time"
    if _YEAR.fullmatch(word):
        return "year"
    return "amount" if _LETTERS.search(word) else "number"
