"""Phrases: runs of words that stand together more often than their words would by chance."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.text import segment
from skeinwork.core.text.forms.porter import stem
from skeinwork.core.text.passes.base import bare_word, of_letters
from skeinwork.core.text.segment import Segments
from skeinwork.core.text.tagging.tags import NUMBER_OF
from skeinwork.core.text.variants import Variant

_NOUNS = (NUMBER_OF["NOUN"], NUMBER_OF["PROPN"])
_NOMINAL = (*_NOUNS, NUMBER_OF["ADJ"])
_Row = tuple[int, ...]  # the words of a run
_Key = tuple[str, ...]  # the stems that variants have in common
_RARER = 3  # a variant may be so many times rarer than a phrase may be


@dataclass(frozen=True)
class Runs:
    """The words of a stream as identifiers, with what parts them.

    Attributes
    ----------
    words : the words, case folded, without possessive
    ids : int64[n_tokens], the word of each token; -1 where it is none
    joined : bool[n_tokens], whether a token continues the run of the one before it
    """

    words: list[str]
    ids: NDArray[np.int64]
    joined: NDArray[np.bool_]


@dataclass(frozen=True)
class Phrase:
    """A run of words, and how firmly it holds together.

    PMI, NPMI, G² and t are those of the way in which it is written most often; where that has more than two
    words, those of the weakest place between them.

    Attributes
    ----------
    words : as they are written most often among the variants
    tokens, documents : how often it is found, and in how many documents, all variants together
    pmi, npmi : pointwise mutual information in bits, and normalised to 1 (Church and Hanks,
        Computational Linguistics 16(1), 1990; Bouma, GSCL 2009)
    g2 : log-likelihood ratio, below 0 where there are fewer than by chance (Dunning, Computational
        Linguistics 19(1), 1993)
    t : t-score (Church and others 1991)
    c_value : tokens by length, less the mean of those in the longer phrases that hold it, variants taken
        together in both (Frantzi, Ananiadou and Mima, International Journal on Digital Libraries 3(2), 2000)
    variants : the ways in which it is written, with their tokens, the most frequent first
    """

    words: str
    tokens: int
    documents: int
    pmi: float
    npmi: float
    g2: float
    t: float
    c_value: float
    variants: tuple[Variant, ...]


@dataclass(frozen=True)
class _Grams:
    """All runs of so many words that are frequent enough.

    ``at`` is the gram that begins at each token, or -1; ``rows`` are the words of each gram.
    """

    at: NDArray[np.int64]
    rows: NDArray[np.int64]
    counts: NDArray[np.int64]


def suggested_least(tokens: int) -> int:
    """Tokens that a phrase needs where nobody says: more in larger corpora, so that chance has no say.

    Two words that each make up a thousandth of the tokens stand together by chance in a millionth of
    the places; a phrase needs thrice that, and five at least.
    """
    return max(5, math.ceil(3e-6 * tokens))


def runs_of(tokens: Segments) -> Runs:
    """The words of a stream. Signs, numbers and addresses part runs, as lines and sentences do."""
    index: dict[str, int] = {}
    kinds = np.full(len(tokens.types), -1, dtype=np.int64)
    for at in np.flatnonzero(tokens.classes == segment.WORD).tolist():
        word = bare_word(tokens.types[at])
        if of_letters(word):
            kinds[at] = index.setdefault(word, len(index))
    ids = kinds[tokens.ids]
    joined = ~tokens.breaks & ~tokens.opens
    joined[tokens.leads] = False
    return Runs(list(index), ids, joined)


def _whole(runs: Runs, length: int) -> NDArray[np.int64]:
    """The tokens at which a run of so many words begins."""
    count = max(len(runs.ids) - length + 1, 0)
    found = runs.ids[:count] >= 0
    for gap in range(1, length):
        found &= (runs.ids[gap : count + gap] >= 0) & runs.joined[gap : count + gap]
    return np.flatnonzero(found)


def _longer(runs: Runs, shorter: _Grams, length: int, least: int) -> _Grams:
    """Runs that are one word longer, from those whose beginning and end are both frequent."""
    begins = np.full(len(runs.ids), -1, dtype=np.int64)
    whole = _whole(runs, length)
    left, right = shorter.at[whole], shorter.at[whole + 1]
    begins[whole] = np.where((left >= 0) & (right >= 0), left * len(shorter.rows) + right, -1)
    keys, first, place, counts = np.unique(begins, return_index=True, return_inverse=True, return_counts=True)
    often = (counts >= least) & (keys >= 0)
    number = np.where(often, np.cumsum(often) - 1, -1)
    starts = first[often]
    rows = np.stack([runs.ids[starts + gap] for gap in range(length)], axis=1)
    return _Grams(number[place], rows, counts[often])


def _grams(runs: Runs, least: int, longest: int) -> list[_Grams]:
    counts = np.bincount(runs.ids[runs.ids >= 0], minlength=len(runs.words))
    often = counts >= least
    number = np.where(often, np.cumsum(often) - 1, -1)
    at = np.where(runs.ids >= 0, number[np.maximum(runs.ids, 0)], -1)
    found = [_Grams(at, np.flatnonzero(often)[:, None], counts[often])]
    while len(found) < longest and len(found[-1].rows):
        found.append(_longer(runs, found[-1], len(found) + 1, least))
    return found


def _association(
    both: NDArray[np.float64], left: NDArray[np.float64], right: NDArray[np.float64], total: float
) -> dict[str, NDArray[np.float64]]:
    """Measures of two parts that stand together ``both`` times, and ``left`` and ``right`` at all."""
    expected = left * right / total
    with np.errstate(divide="ignore", invalid="ignore"):
        pmi = np.log2(both / expected)
        npmi = np.where(both < total, pmi / -np.log2(both / total), 1.0)
        table = [
            (both, expected),
            (left - both, left - expected),
            (right - both, right - expected),
            (total - left - right + both, total - left - right + expected),
        ]
        cells = [
            np.where((seen > 0) & (by_chance > 0), seen * np.log(seen / by_chance), 0.0) for seen, by_chance in table
        ]
    g2 = 2 * np.sum(cells, axis=0) * np.where(both >= expected, 1, -1)
    return {"pmi": pmi, "npmi": npmi, "g2": g2, "t": (both - expected) / np.sqrt(both)}


def _weakest(grams: list[_Grams], runs: Runs, length: int) -> dict[str, NDArray[np.float64]]:
    """The measures of runs of a length at the place between words where they hold least (NPMI).

    Chance is that of the runs of this length: how many begin with the one part, and end with the other.
    """
    these, whole = grams[length - 1], _whole(runs, length)
    starts = np.full(len(these.rows), -1, dtype=np.int64)
    seen = np.flatnonzero(these.at >= 0)
    starts[these.at[seen[::-1]]] = seen[::-1]
    best: dict[str, NDArray[np.float64]] = {}
    for cut in range(1, length):
        left, right = grams[cut - 1].at, grams[length - cut - 1].at
        begin = np.bincount(left[whole] + 1)[left[starts] + 1]
        end = np.bincount(right[whole + cut] + 1)[right[starts + cut] + 1]
        found = _association(these.counts.astype(float), begin.astype(float), end.astype(float), float(len(whole)))
        weaker = found["npmi"] < best["npmi"] if best else np.ones(len(starts), dtype=bool)
        best = {name: np.where(weaker, each, best[name]) if best else each for name, each in found.items()}
    return best


def find_phrases(
    tokens: Segments,
    stop: frozenset[str],
    least: int = 5,
    longest: int = 4,
    inside: bool = False,
    tags: NDArray[np.int8] | None = None,
) -> list[Phrase]:
    """Runs of words that hold together, variants as one, in no order; see ``ordered``.

    Runs go over no line, sentence, sign or number. Those of the same stems in any order, with or
    without hyphens, are variants of one phrase.

    Parameters
    ----------
    stop : function words: no phrase begins or ends with one
    least : tokens that a phrase needs, all variants together
    longest : words that it has at most, from 2
    inside : whether function words may stand between others (*harbour of refuge*)
    tags : int8[n_tokens], parts of speech; then phrases are those of nouns, proper nouns and adjectives
        whose last word is mostly a noun, and chance is that of such runs alone

    Examples
    --------
    >>> from skeinwork.core.text.segment import segment
    >>> text = "The pilot launch left. Pilot launches and a pilot launch went."
    >>> found = find_phrases(segment([text]), frozenset({"the", "a", "and"}), 1, 2)
    >>> ordered(found, "tokens")[0].words
    'pilot launch'
    """
    runs = runs_of(tokens)
    if tags is not None:
        runs = replace(runs, ids=np.where(np.isin(tags, _NOMINAL), runs.ids, -1))
    if not (runs.ids >= 0).any():
        return []
    grams = _grams(runs, max(1, least // _RARER), longest)
    outer = np.array([word not in stop for word in runs.words], dtype=bool)
    tally = _Tally(tokens, runs)
    for length, these in enumerate(grams[1:], start=2):
        good = outer[these.rows[:, [0, -1]] if inside else these.rows].all(axis=1)
        if tags is not None:
            good &= _end_in_nouns(these, tags, length)
        measures = _weakest(grams, runs, length)
        tally.take(these, np.flatnonzero(good), measures)
    return [each for each in tally.phrases() if each.tokens >= least]


def _end_in_nouns(grams: _Grams, tags: NDArray[np.int8], length: int) -> NDArray[np.bool_]:
    """Whether the last word of each gram is a noun or proper noun at half of its places or more."""
    places = np.flatnonzero(grams.at >= 0)
    nouns = np.isin(tags[places + length - 1], _NOUNS)
    found = np.bincount(grams.at[places[nouns]], minlength=len(grams.rows))
    return np.asarray(2 * found >= grams.counts)


def ordered(found: Iterable[Phrase], by: str) -> list[Phrase]:
    """Phrases by one of their measures, the highest first."""
    return sorted(found, key=lambda each: (-getattr(each, by), each.words))


class _Tally:
    """Runs that are phrases, by what makes them variants of each other."""

    def __init__(self, tokens: Segments, runs: Runs) -> None:
        self._document = np.repeat(np.arange(len(tokens.doc_ptr) - 1), np.diff(tokens.doc_ptr))
        self._runs = runs
        self._rows: dict[_Row, int] = {}
        self._measures: dict[_Row, dict[str, float]] = {}
        self._documents: dict[_Row, NDArray[np.int64]] = {}

    def take(self, grams: _Grams, good: NDArray[np.int64], measures: dict[str, NDArray[np.float64]]) -> None:
        order = np.argsort(grams.at, kind="stable")
        bounds = np.searchsorted(grams.at[order], np.arange(len(grams.rows) + 1))
        for at in good.tolist():
            row = tuple(grams.rows[at].tolist())
            self._rows[row] = int(grams.counts[at])
            self._measures[row] = {name: float(each[at]) for name, each in measures.items()}
            self._documents[row] = np.unique(self._document[order[bounds[at] : bounds[at + 1]]])

    def _key(self, row: _Row) -> _Key:
        parts = [part for word in row for part in self._runs.words[word].split("-") if part]
        return tuple(sorted(stem(part) for part in parts))

    def phrases(self) -> list[Phrase]:
        keys = {row: self._key(row) for row in self._rows}
        families: dict[_Key, list[_Row]] = {}
        for row, key in keys.items():
            families.setdefault(key, []).append(row)
        inside = self._inside(keys)
        return [self._phrase(rows, inside.get(key, {})) for key, rows in families.items()]

    def _inside(self, keys: dict[_Row, _Key]) -> dict[_Key, Counter[_Key]]:
        """The longer phrases that hold each phrase, once each, with the tokens that hold it."""
        found: dict[_Key, Counter[_Key]] = {}
        for row, key in keys.items():
            parts = (
                row[first : first + length] for length in range(2, len(row)) for first in range(len(row) - length + 1)
            )
            for part in {keys[each] for each in parts if each in keys} - {key}:
                found.setdefault(part, Counter())[key] += self._rows[row]
        return found

    def _phrase(self, rows: list[_Row], longer: Mapping[_Key, int]) -> Phrase:
        rows = sorted(rows, key=lambda row: (-self._rows[row], row))
        documents = np.unique(np.concatenate([self._documents[row] for row in rows]))
        tokens = sum(self._rows[row] for row in rows)
        nested = sum(longer.values()) / len(longer) if longer else 0.0
        return Phrase(
            words=self._said(rows[0]),
            tokens=tokens,
            documents=len(documents),
            **self._measures[rows[0]],
            c_value=math.log2(len(rows[0])) * (tokens - nested),
            variants=tuple(Variant(self._said(row), self._rows[row]) for row in rows),
        )

    def _said(self, row: _Row) -> str:
        return " ".join(self._runs.words[word] for word in row)
