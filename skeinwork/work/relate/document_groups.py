"""Groups of documents: what they are called, and which words set them apart."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.matrix.weighting import weigh
from skeinwork.core.relate.group_words import GroupWords, words_apart
from skeinwork.work.results.view import View
from skeinwork.work.steps import GROUPS
from skeinwork.work.steps.groups import DocumentGroups

NAMED_BY = 3  # words
_TELLING = 15
# Of the distance to the next middle: a small change of the words moves the document.
_BORDER = 0.9


def weights_of_groups(view: View) -> scipy.sparse.csr_matrix:
    """The weights that the documents were grouped by, float64[n_docs, n_terms]."""
    record = view.record(GROUPS)
    settings, matrix = GROUPS.parse(record.making.settings), view.matrix_of(GROUPS)
    key = ("weights of groups", record.making.inputs[0], settings.weighting.model_dump_json())
    return view.cache.get(key, lambda: weigh(matrix.counts, settings.weighting, matrix.learn()))


@dataclass(frozen=True)
class Told:
    """The words of a group against all other documents that are in one.

    Attributes
    ----------
    words : all measures
    telling : int64[at most 15], columns of the words that set it apart, by weighted log odds
    """

    words: GroupWords
    telling: NDArray[np.int64]


def told(view: View) -> list[Told]:
    """What the words of every group tell."""
    made, counts = view.value(GROUPS), view.matrix_of(GROUPS).counts

    def compare() -> list[Told]:
        held = np.flatnonzero(made.group >= 0)
        n = len(made.within)
        sort = scipy.sparse.csr_matrix((np.ones(len(held), np.int64), (made.group[held], held)), (n, counts.shape[0]))
        sums = np.asarray((sort @ counts).toarray(), dtype=np.int64)
        whole = sums.sum(axis=0)
        return [_told(words_apart(each, whole - each)) for each in sums]

    return view.cache.get(("words of groups", view.identity(GROUPS)), compare)


def _told(words: GroupWords) -> Told:
    most = min(_TELLING, len(words.log_odds))
    first = np.argpartition(-words.log_odds, most - 1)[:most]
    first = first[np.lexsort((first, -words.log_odds[first]))]
    return Told(words, first[words.log_odds[first] > 0])


def own_terms(view: View, group: int) -> list[str]:
    """These words as the matrix has them."""
    terms = view.matrix_of(GROUPS).terms
    return [terms[at] for at in told(view)[group].telling.tolist()]


def group_name(view: View, group: int) -> str:
    """What a group is called: the words that set it apart, none of which is in another."""
    display, said = view.matrix_of(GROUPS).display, list[str]()
    for at in told(view)[group].telling.tolist():
        if not set(display[at].split(" ")) & {word for each in said for word in each.split(" ")}:
            said.append(display[at])
    return " ".join(said[:NAMED_BY]) or f"group {group + 1}"


def border(made: DocumentGroups, group: int) -> NDArray[np.bool_]:
    """Members that are nearly as near to another group, bool[n_docs]."""
    return np.asarray((made.group == group) & (made.apart >= _BORDER * made.next_apart))
