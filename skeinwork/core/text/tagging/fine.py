"""The finer tag of a word, where the lexicon knows its inflection: universal features.

The names and values are those of the universal dependencies' feature inventory, an open standard.
"""

from __future__ import annotations

from skeinwork.core.text.tagging.words import known

_FEATURES = {
    "NOUN": {"": "Number=Sing", "s": "Number=Plur"},
    "VERB": {"": "", "s": "Number=Sing|Person=3|Tense=Pres|VerbForm=Fin", "d": "Tense=Past", "g": "VerbForm=Ger"},
    "ADJ": {"": "Degree=Pos", "r": "Degree=Cmp", "t": "Degree=Sup"},
    "ADV": {"": "", "r": "Degree=Cmp", "t": "Degree=Sup"},
}


def fine(word: str, tag: str) -> str:
    """The features of a word's inflection; empty where the lexicon does not tell it.

    Of several inflections that it can be as this part of speech comparison is taken first, then the
    more frequent.

    Examples
    --------
    >>> fine("pilots", "NOUN"), fine("wider", "ADJ"), fine("waits", "VERB"), fine("Wenlow", "PROPN")
    ('Number=Plur', 'Degree=Cmp', 'Number=Sing|Person=3|Tense=Pres|VerbForm=Fin', '')
    """
    found = known(word.lower())
    kinds = [(kind in ("r", "t"), found[f"{tag}.{kind}"], kind) for kind in ("", *"sdgrt") if f"{tag}.{kind}" in found]
    return _FEATURES[tag][max(kinds)[2]] if kinds else ""
