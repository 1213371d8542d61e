"""Shape a corpus by recorded operations, each of which gives a new version of it.

One is added by its file and its entry here.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

from pydantic import TypeAdapter

from skeinwork.core.corpus.corpus import Corpus
from skeinwork.core.corpus.shaping import base
from skeinwork.core.corpus.shaping.base import Done, Sources, Table
from skeinwork.core.corpus.shaping.combine import Combine
from skeinwork.core.corpus.shaping.duplicates import Duplicates
from skeinwork.core.corpus.shaping.filter import Filter
from skeinwork.core.corpus.shaping.join import Join
from skeinwork.core.corpus.shaping.mentions import Mentions
from skeinwork.core.corpus.shaping.sample import Sample
from skeinwork.core.corpus.shaping.small_groups import SmallGroups
from skeinwork.core.corpus.shaping.sorted_groups import SortedGroups
from skeinwork.core.errors import BadInputError
from skeinwork.core.kinds import union
from skeinwork.core.progress import Report, silent

__all__ = ("KINDS", "OPERATIONS", "VERSION", "Done", "Operation", "Sources", "Table", "apply", "shape")
VERSION = 1
KINDS: tuple[type[base.Operation], ...] = (
    Duplicates,
    SmallGroups,
    Filter,
    Join,
    Combine,
    Sample,
    Mentions,
    SortedGroups,
)

if TYPE_CHECKING:
    Operation = base.Operation
else:
    Operation = union(KINDS, "kind")

OPERATIONS: TypeAdapter[tuple[Operation, ...]] = TypeAdapter(tuple[Operation, ...])


def apply(corpus: Corpus, operation: Operation, sources: Sources) -> tuple[Corpus, Done]:
    """One operation on a corpus.

    Raises
    ------
    BadInputError
        where it can't be done, or nothing would be left.
    """
    done = Done(len(corpus), 0)
    out = operation.apply(corpus, sources, done)
    done.after = len(out)
    if not len(out) or not len(out.data):
        raise BadInputError("No document with text would be left. Loosen this step.")
    return out, done


def shape(
    corpus: Corpus, operations: Sequence[Operation], sources: Sources, report: Report = silent
) -> tuple[Corpus, list[Done]]:
    """All operations in their order, with what each of them did.

    Raises
    ------
    BadInputError
        where a step can't be done, naming it.
    """
    done = []
    for number, operation in enumerate(operations):
        report("Shaping", number / len(operations), name=operation.kind)
        try:
            corpus, one = apply(corpus, operation, sources)
        except BadInputError as fault:
            raise BadInputError(f"Step {number + 1} ({operation.kind}): {fault}") from fault
        done.append(one)
        sources = replace(sources, known=None)
    return corpus, done
