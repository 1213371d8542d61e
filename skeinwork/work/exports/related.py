"""What Relate made, as files: the tree and its clusters, groups of documents, numbers of groups, words of groups."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from itertools import islice
from typing import Any

import numpy as np

from skeinwork.core.formats.export import csv_rows
from skeinwork.core.relate.group_counts import CountMeasures
from skeinwork.core.relate.newick import newick
from skeinwork.work.relate.branches import clusters, item_names
from skeinwork.work.relate.compared_words import compared
from skeinwork.work.relate.document_groups import group_name
from skeinwork.work.results import documents
from skeinwork.work.results.view import View
from skeinwork.work.steps import GROUP_COUNTS, GROUP_WORDS, GROUPS, TREE
from skeinwork.work.steps.fitted import known

# Words of each group: those beyond tell nothing of it.
MOST_WORDS = 500


def tree_file(view: View) -> Iterable[bytes]:
    """The tree in Newick's format."""
    made = view.value(TREE)
    return [(newick(made.tree, item_names(view, made)) + "\n").encode()]


def clusters_table(view: View) -> Iterator[bytes]:
    """Every item with its cluster, at the cut that is suggested."""
    made = view.value(TREE)
    names = dict(zip(made.items.tolist(), item_names(view, made), strict=True))
    rows = (
        [number + 1, " ".join(each.branch.heads), known(each.recurrence), each.height, place + 1, names[item]]
        for number, each in enumerate(clusters(view, made.cut))
        for place, item in enumerate(each.branch.items.tolist())
    )
    return csv_rows(["cluster", "central items", "comes back", "height", "place in it", "item"], rows)


def groups_table(view: View) -> Iterator[bytes]:
    """Every document with its group, and how far it is from its middle and from the next."""
    made = view.value(GROUPS)
    names = [group_name(view, at) for at in range(len(made.within))]

    def row(at: int) -> list[Any]:
        group, following = int(made.group[at]), int(made.next_group[at])
        number, name = int(view.corpus.numbers[at]) + 1, documents.name(view, at)
        if group < 0:
            return [number, name, None, None, None, None, None, None]
        middle = int(made.medoid[group] == at)
        return [
            number,
            name,
            group + 1,
            names[group],
            float(made.apart[at]),
            following + 1,
            float(made.next_apart[at]),
            middle,
        ]

    header = ["document", "name", "group", "words of the group", "from its middle", "next group", "from that", "middle"]
    return csv_rows(header, map(row, range(len(made.group))))


def counts_table(view: View) -> Iterator[bytes]:
    """Measures of every grouping that was tried, and of the same words dealt out at random."""
    made = view.value(GROUP_COUNTS)

    def rows(half: CountMeasures, what: str) -> Iterator[list[Any]]:
        for at, number in enumerate(made.counts):
            agreement = float(half.agreement[at].mean())
            for seed in range(half.within.shape[1]):
                values = (half.within, half.between, half.silhouette)
                yield [what, number, seed + 1, *(float(each[at, seed]) for each in values), agreement]

    header = ["words", "groups", "seed", "inertia", "between of total", "silhouette", "mean agreement over seeds"]
    return csv_rows(header, (*rows(made.measured, "as they are"), *rows(made.twin, "dealt out at random")))


def words_table(view: View) -> Iterator[bytes]:
    """Of each group the words that set it apart, by weighted log odds, with all measures."""
    made, matrix = view.value(GROUP_WORDS), view.matrix_of(GROUP_WORDS)

    def rows() -> Iterator[list[Any]]:
        for group, name in enumerate(made.names):
            found = compared(view, group)
            order = np.argsort(-found.words.log_odds, kind="stable").tolist()
            for at in islice((each for each in order if found.words.log_odds[each] > 0), MOST_WORDS):
                words = found.words
                measures = (words.likelihood, words.log_ratio, words.log_odds, found.p, found.adjusted)
                counts = (words.inside, words.outside, found.units, found.other_units)
                yield [name, matrix.terms[at], matrix.display[at], *(int(each[at]) for each in counts)] + [
                    known(float(each[at])) for each in measures
                ]

    header = ["group", "term", "shown as", "inside", "outside", "units with it", "other units with it"]
    return csv_rows([*header, "G2", "log ratio", "weighted log odds", "p by unit", "p adjusted"], rows())
