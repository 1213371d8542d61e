"""Tagging: sentences as lists of words, or the token stream of documents."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import accumulate, pairwise

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.text.segment import Segments
from skeinwork.core.text.tagging import kernel, words
from skeinwork.core.text.tagging.model import Model, Word, english
from skeinwork.core.text.tagging.tags import TAG_OF_STATE, TAGS

VERSION = 2


@dataclass(frozen=True)
class Reading:
    """How a text is read for its tags.

    Attributes
    ----------
    context : the neighbours and their tags count, else each word has the tag that itself says
    capitals : capitals count, else everything is read in small letters
    """

    context: bool = True
    capitals: bool = True


_TAG_OF_STATE = np.array(TAG_OF_STATE, dtype=np.int8)
_ENDS = frozenset({".", "?", "!", "…", "...", "?!"})
_CLOSING = frozenset({*_ENDS, "''", '"', "”", "’", "'", ")", "]", "»", "-RRB-"})
AS_WRITTEN = Reading()


@dataclass(frozen=True)
class Tagged:
    """The tags of a token stream.

    Attributes
    ----------
    tags : int8[n_tokens], an index into ``TAGS``; of a word with something leaning on it
        (*harbour's*, *don't*) that of the word
    sure : float32[n_tokens], how surely each is right: from how much of all ways to tag the sentence,
        weighed by their scores, gives the token this tag; 1 where it was not asked for
    """

    tags: NDArray[np.int8]
    sure: NDArray[np.float32]


def tag_sentences(
    sentences: Sequence[Sequence[str]], model: Model | None = None, sure: bool = False, reading: Reading = AS_WRITTEN
) -> tuple[list[list[str]], NDArray[np.float32]]:
    """The tags of sentences given as words, and how sure each is, float32[n_words], one after another.

    Examples
    --------
    >>> tag_sentences([["The", "pilots", "did", "n't", "wait", "."]])[0]
    [['DET', 'NOUN', 'AUX', 'PART', 'VERB', 'PUNCT']]
    """
    listed: list[Word] = []
    for sentence in sentences:
        first = words.first_word(sentence)
        listed += [(word, at <= first) for at, word in enumerate(sentence)]
    types = {each: at for at, each in enumerate(dict.fromkeys(listed))}
    bounds = np.array([0, *accumulate(map(len, sentences))], dtype=np.int64)
    ids = np.array([types[each] for each in listed], dtype=np.int32)
    found = _tag(ids, bounds, list(types), model or english(), sure, reading)
    named = [TAGS[tag] for tag in found.tags.tolist()]
    ends = bounds.tolist()
    return [named[a:b] for a, b in pairwise(ends)], found.sure


def tag_segments(
    tokens: Segments, model: Model | None = None, sure: bool = False, reading: Reading = AS_WRITTEN
) -> Tagged:
    """The tags of the tokens of documents; a sentence is tagged by itself."""
    opens = tokens.opens.copy()
    opens[tokens.leads] = True
    return _tag_stream(tokens.ids, tokens.types, opens, model or english(), sure, reading)


@dataclass(frozen=True)
class Given:
    """Documents that were given as tokens: their types, int64[n_docs + 1] bounds, and tags."""

    ids: NDArray[np.int32]
    types: list[str]
    doc_ptr: NDArray[np.int64]
    tags: NDArray[np.int8]


def tag_tokens(documents: Sequence[Sequence[str]], model: Model | None = None) -> Given:
    """The tags of documents that are cut into tokens already.

    A sentence ends behind full stops, question and exclamation marks and the quotes that follow.

    Examples
    --------
    >>> [TAGS[tag] for tag in tag_tokens(["They left . '' We stayed".split()]).tags]
    ['PRON', 'VERB', 'PUNCT', 'PUNCT', 'PRON', 'VERB']
    """
    index: dict[str, int] = {}
    ids = np.array([index.setdefault(word, len(index)) for each in documents for word in each], dtype=np.int32)
    bounds = np.array([0, *accumulate(map(len, documents))], dtype=np.int64)
    types = list(index)
    if not types:
        return Given(ids, types, bounds, np.zeros(0, dtype=np.int8))
    ends = np.array([word in _ENDS for word in types], dtype=bool)[ids]
    closing = np.array([word in _CLOSING for word in types], dtype=bool)[ids]
    ended = np.concatenate([[0], np.cumsum(ends)])
    spoken = np.maximum.accumulate(np.where(closing, 0, np.arange(1, len(ids) + 1)))
    opens = ~closing & (ended[:-1] > ended[np.concatenate([[0], spoken[:-1]])])
    opens[bounds[:-1][np.diff(bounds) > 0]] = True
    found = _tag_stream(ids, types, opens, model or english(), False, AS_WRITTEN)
    return Given(ids, types, bounds, found.tags)


def _tag_stream(
    stream: NDArray[np.int32],
    words_of: Sequence[str],
    opens: NDArray[np.bool_],
    model: Model,
    sure: bool,
    reading: Reading,
) -> Tagged:
    """Tags of a stream of types; ``opens``: whether a sentence begins with a token."""
    if not len(stream):
        return Tagged(np.zeros(0, dtype=np.int8), np.zeros(0, dtype=np.float32))
    cut = [words.parts(word) for word in words_of]
    kinds = {part: at for at, part in enumerate(dict.fromkeys(p for each in cut for p in each))}
    counts = np.array([len(each) for each in cut])
    head = np.array([kinds[each[0]] for each in cut])
    tail = np.array([kinds[each[-1]] for each in cut])
    spoken = np.array([word[:1].isalnum() for word in words_of])[stream]
    first = _up_to_first(opens, spoken)
    sizes = counts[stream]
    places = np.cumsum(sizes) - sizes
    ids = np.empty(int(sizes.sum()), dtype=np.int64)
    ids[places] = head[stream] * 2 + first
    two = sizes == 2
    ids[places[two] + 1] = tail[stream[two]] * 2
    there = np.zeros(2 * len(kinds), dtype=bool)
    there[ids] = True
    used, numbered = np.flatnonzero(there), (np.cumsum(there, dtype=np.int32) - 1)[ids]
    listed = list(kinds)
    types = [(listed[each // 2], bool(each % 2)) for each in used.tolist()]
    bounds = np.append(places[opens], len(ids)).astype(np.int64)
    found = _tag(numbered, bounds, types, model, sure, reading)
    return Tagged(found.tags[places], found.sure[places])


def _up_to_first(opens: NDArray[np.bool_], spoken: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Whether no word stands before a token in its sentence."""
    before: NDArray[np.int64] = np.cumsum(spoken) - spoken
    starts = np.flatnonzero(opens)
    sizes = np.diff(np.append(starts, len(opens)))
    return before == np.repeat(before[starts], sizes)


def _tag(
    ids: NDArray[np.int32], bounds: NDArray[np.int64], types: Sequence[Word], model: Model, sure: bool, reading: Reading
) -> Tagged:
    if not reading.capitals:
        types = [(word.lower(), first) for word, first in types]
    said = model.of_types(types)
    weight = np.float32(reading.context)
    states, shares = kernel.tag_all(
        ids,
        bounds,
        said.own,
        said.near * weight,
        said.choices,
        said.sizes,
        said.pairs,
        model.tri * weight,
        model.pair * weight,
        model.heat,
        sure,
    )
    return Tagged(_TAG_OF_STATE[states], model.confidence(shares) if sure else shares)
