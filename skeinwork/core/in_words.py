"""Numbers as sentences have them."""

from __future__ import annotations


def percent(share: float, digits: int = 0) -> str:
    """A share for people: more digits than asked for where they tell it from nothing or from all.

    >>> percent(0.61), percent(0.004), percent(0.9996), percent(0.1234, 1)
    ('61\\u202f%', '0.4\\u202f%', '99.96\\u202f%', '12.3\\u202f%')
    """
    while digits < 4 and round(share * 100, digits) in (0.0, 100.0) and share not in (0.0, 1.0):
        digits += 1
    return f"{share * 100:.{digits}f}\u202f%"
