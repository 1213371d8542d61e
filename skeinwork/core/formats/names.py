"""Names of files that any system takes, from what an analyst calls things."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Container

# Characters of a file name that every system takes.
_LONGEST = 100
_APART = re.compile(r"[^\w.]+|_+")


def safe_name(called: str, taken: Container[str] = (), ending: str = "") -> str:
    """A name of letters and digits of any script, points and hyphens.

    Parameters
    ----------
    taken : names that are given already; one of these gets a number
    ending : what the name ends with, such as ``.csv``

    Examples
    --------
    >>> safe_name("kelpwick / 2014?"), safe_name("ハーバー"), safe_name("a b", {"a-b"})
    ('kelpwick-2014', 'ハーバー', 'a-b-2')
    """
    plain = _APART.sub("-", unicodedata.normalize("NFC", called)).strip("-.")
    while len(plain.encode("utf-8", "replace")) > _LONGEST:
        plain = plain[:-1].rstrip("-.")
    plain = plain or "unnamed"
    name, number = plain + ending, 1
    while name in taken:
        number += 1
        name = f"{plain}-{number}{ending}"
    return name
