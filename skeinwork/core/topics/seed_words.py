"""Words that are to mark a topic: each counts as some tokens more, which always are of that topic.

So many tokens of a word in a topic are the same as so much more of the topic's prior for the word.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.errors import BadInputError


@dataclass(frozen=True)
class SeedTokens:
    """Tokens that always are of their topic.

    Attributes
    ----------
    words, topics : int32[n_seed_tokens], term and topic of each
    """

    words: NDArray[np.int32]
    topics: NDArray[np.int32]

    def rows(self, n_terms: int) -> scipy.sparse.csr_matrix:
        """Each topic's words as a document, int32[n_seeded, n_terms]."""
        n_seeded = int(self.topics.max(initial=-1)) + 1
        return scipy.sparse.csr_matrix(
            (np.ones(len(self.words), np.int32), (self.topics, self.words)), shape=(n_seeded, n_terms)
        )

    def topic_of_terms(self, n_terms: int) -> NDArray[np.int32]:
        """The topic that each term marks, the last of several, int32[n_terms]; -1 for none."""
        found = np.full(n_terms, -1, dtype=np.int32)
        found[self.words] = self.topics
        return found


NONE = SeedTokens(np.zeros(0, np.int32), np.zeros(0, np.int32))


def words_in(line: str) -> list[str]:
    """The words of a topic: what commas part, or white space where there are none.

    >>> words_in("storm gale"), words_in("pilot launch, pilot")
    (['storm', 'gale'], ['pilot launch', 'pilot'])
    """
    return [each.strip() for each in line.split(",") if each.strip()] if "," in line else line.split()


def seed_words(lines: Sequence[str], hold: int, columns: Mapping[str, int]) -> SeedTokens:
    """The tokens of topics by their words.

    Parameters
    ----------
    lines : words of the first topics, a topic each; those that are no terms are passed over
    hold : tokens of each word
    columns : of the terms, by what they are called

    Raises
    ------
    BadInputError
        for a topic none of whose words is a term.
    """
    words, topics = [], []
    for topic, line in enumerate(lines):
        known = {columns[name] for name in (each.casefold() for each in words_in(line)) if name in columns}
        if not known:
            raise BadInputError(
                f"None of the seed words “{line}” is a term of the matrix. Look at the terms in Weigh, or leave "
                "this topic's words out."
            )
        words += sorted(known)
        topics += [topic] * len(known)
    return SeedTokens(np.repeat(np.array(words, np.int32), hold), np.repeat(np.array(topics, np.int32), hold))
