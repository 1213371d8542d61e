"""Names of columns that any statistics program takes, from terms."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable

# Characters of the name of a column.
_LONGEST = 60
_APART = re.compile(r"[^A-Za-z0-9]+")


def column_name(term: str) -> str:
    """A name of Latin letters, digits and underscores that begins with a letter.

    >>> column_name("sea wall"), column_name("2014"), column_name("Löschboot"), column_name("Анна")
    ('sea_wall', 't_2014', 'Loschboot', 't')
    """
    bare = unicodedata.normalize("NFKD", term)
    plain = "".join(each for each in bare if not unicodedata.combining(each))
    name = _APART.sub("_", plain).strip("_")[:_LONGEST].rstrip("_")
    return name if name[:1].isalpha() else f"t_{name}".rstrip("_")


def column_names(terms: Iterable[str], taken: Iterable[str] = ()) -> list[str]:
    """A name for each term, none twice even where capitals don't count; the later one gets a number.

    Parameters
    ----------
    taken : names of other columns of the table

    >>> column_names(["sea wall", "sea-wall", "Sea_Wall", "day"], ["day"])
    ['sea_wall', 'sea_wall_2', 'Sea_Wall_3', 'day_2']
    """
    used = {name.lower() for name in taken}
    numbers: dict[str, int] = {}
    names = []
    for term in terms:
        plain = name = column_name(term)
        while name.lower() in used:
            numbers[plain.lower()] = number = numbers.get(plain.lower(), 1) + 1
            name = f"{plain}_{number}"
        used.add(name.lower())
        names.append(name)
    return names
