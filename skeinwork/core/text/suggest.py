"""Words that may tell nothing, and names: what an analyst may want to leave out.

Nothing is left out by this; every suggestion carries the figures that it rests on.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.text import segment, stopwords
from skeinwork.core.text.clean import Cleaning
from skeinwork.core.text.segment import Segments
from skeinwork.core.text.spread import by_group, chance_entropy, evenness, spread

_PLACES_FOLLOW = frozenset("at in from to off near towards toward into via outside around for".split())
_DATES = frozenset(
    "monday tuesday wednesday thursday friday saturday sunday january february march april may june july "
    "august september october november december".split()
)
_LEAST = 4  # capitals inside sentences
_MOSTLY = 0.9


@dataclass(frozen=True)
class Common:
    """Of the forms of a cleaning that stand in many documents, the most even ones first.

    Attributes
    ----------
    forms : int64[n], numbers of forms
    tokens, documents : int64[n]
    share : float64[n], of the documents that hold any token
    over_documents : float64[n], entropy over documents against what chance would give as many tokens
    over_groups, over_topics : float64[n] or None, as ``evenness`` gives them
    """

    forms: NDArray[np.int64]
    tokens: NDArray[np.int64]
    documents: NDArray[np.int64]
    share: NDArray[np.float64]
    over_documents: NDArray[np.float64]
    over_groups: NDArray[np.float64] | None
    over_topics: NDArray[np.float64] | None


def common_forms(
    cleaning: Cleaning,
    groups: tuple[NDArray[np.int32], int] | None = None,
    topics: NDArray[np.float64] | None = None,
    least_share: float = 0.1,
) -> Common:
    """Forms of at least a share of the documents, by how little their spread says.

    They are ordered by the least of their evennesses over documents, groups and topics: a word tells
    nothing only where it is spread evenly over all of them.

    Parameters
    ----------
    groups : the group of each document (-1: none), and how many there are
    topics : float64[n_topics, n_forms], how much of each form belongs to each topic
    """
    tokens, size = cleaning.tokens, len(cleaning.forms)
    words = cleaning.token_forms()
    found = spread(words, tokens.doc_ptr, size)
    held = max(int((np.diff(tokens.doc_ptr) > 0).sum()), 1)
    share = found.documents / held
    chosen = np.flatnonzero((share >= least_share) & (found.documents > 1))
    chance = chance_entropy(found.tokens[chosen], np.diff(tokens.doc_ptr))
    over = np.divide(found.entropy[chosen], chance, out=np.ones_like(chance), where=chance > 0)
    over_groups = over_topics = None
    if groups is not None:
        counts = by_group(words, tokens.doc_ptr, *groups, size)
        over_groups = evenness(counts[:, chosen].astype(float), counts.sum(axis=1).astype(float))
    if topics is not None:
        over_topics = evenness(topics[:, chosen], topics.sum(axis=1))
    least = over.copy()
    for each in (over_groups, over_topics):
        least = least if each is None else np.minimum(least, each)
    order = np.lexsort((-share[chosen], -least.round(6)))
    pick = chosen[order]
    return Common(
        pick.astype(np.int64),
        found.tokens[pick],
        found.documents[pick],
        share[pick],
        over[order],
        None if over_groups is None else over_groups[order],
        None if over_topics is None else over_topics[order],
    )


@dataclass(frozen=True)
class Name:
    """A word that is written with a capital inside sentences.

    Attributes
    ----------
    capitals : how often so; share : of all that is not at the start of a sentence
    possessives : how often with an ’s; after_place : share of it after *at*, *in*, *from* ...
    """

    word: str
    capitals: int
    share: float
    documents: int
    possessives: int
    after_place: float


def names_in(tokens: Segments) -> list[Name]:
    """Words that are nearly always written with a capital inside sentences, the most frequent first.

    Function words, days and months are left out, and words in capitals throughout.
    """
    types = tokens.types
    folded = [_bare(word) for word in types]
    place = {word: at for at, word in enumerate(dict.fromkeys(folded))}
    of_type = np.array([place[word] for word in folded], dtype=np.int32)
    title = np.array([word[:1].isupper() and word[1:2].islower() for word in types], dtype=bool)
    is_word = tokens.classes == segment.WORD
    possessive = np.array([word.endswith(("'s", "’s")) for word in types], dtype=bool)
    follows = np.array([word.casefold() in _PLACES_FOLLOW for word in types], dtype=bool)
    here = np.flatnonzero(~tokens.opens & is_word[tokens.ids])
    ids = tokens.ids[here]
    before = tokens.ids[np.maximum(here - 1, 0)]
    capital = title[ids]

    def count(mask: NDArray[np.bool_]) -> NDArray[np.int64]:
        return np.bincount(of_type[ids[mask]], minlength=len(place))

    capitals, inside = count(capital), count(np.ones(len(ids), dtype=bool))
    owned, placed = count(capital & possessive[ids]), count(capital & follows[before])
    documents = spread(of_type[tokens.ids], tokens.doc_ptr, len(place)).documents
    share = capitals / np.maximum(inside, 1)
    known = _DATES | stopwords.english()
    words: Sequence[str] = list(place)
    chosen = [
        at
        for at in np.flatnonzero((capitals >= _LEAST) & (share >= _MOSTLY)).tolist()
        if words[at] not in known and len(words[at]) > 1
    ]
    chosen.sort(key=lambda at: (-int(capitals[at]), words[at]))
    written: dict[str, str] = {}
    for word in types:
        if word[:1].isupper():
            written.setdefault(_bare(word), word[: len(_bare(word))])
    return [
        Name(
            written.get(words[at], words[at]),
            int(capitals[at]),
            float(share[at]),
            int(documents[at]),
            int(owned[at]),
            float(placed[at] / capitals[at]),
        )
        for at in chosen
    ]


def _bare(word: str) -> str:
    folded = word.casefold()
    return folded[:-2] if folded.endswith(("'s", "’s")) else folded
