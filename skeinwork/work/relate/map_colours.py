"""What the points of a map are told apart by: topic, group, or a field."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.corpus.about import about
from skeinwork.core.corpus.grouping import groups_of
from skeinwork.core.errors import NotFoundError
from skeinwork.work.relate.document_groups import group_name
from skeinwork.work.relate.map_areas import STEP_OF, MapOf
from skeinwork.work.results.view import View
from skeinwork.work.steps import FIT, GROUPS, WORD_MAP
from skeinwork.work.topics.breakdowns import group_fields

# Values that are told apart by colour and shape; others are one.
MOST_VALUES = 24


def colourings(view: View, of: MapOf) -> list[str]:
    """What a map can be coloured by: ``topic``, ``group``, ``language``, ``field NAME``."""
    if of == "words":
        return ["topic"] if view.identity(FIT) else []
    found = [f"field {each}" for each in group_fields(view)]
    several = len(np.unique(view.survey.language)) > 1
    there = {"topic": bool(view.identity(FIT)), "group": bool(view.identity(GROUPS)), "language": several}
    return [*(name for name, can in there.items() if can), *found]


@dataclass(frozen=True)
class Coloured:
    """The value of every item of a map.

    Attributes
    ----------
    codes : int64[n_items], -1 for none of the values
    values : what each is called
    topics : which topics they are, where they are topics
    """

    codes: NDArray[np.int64]
    values: list[str]
    topics: list[int] | None


def coloured(view: View, of: MapOf, by: str) -> Coloured:
    """The items of a map by what they are coloured by; of a field its most frequent values.

    Raises
    ------
    NotFoundError
        for what no map is coloured by.
    """
    if by not in colourings(view, of):
        raise NotFoundError(f"The map can't be coloured by “{by[:80]}”.")
    codes, values, topics = _codes(view, of, by)
    here = codes[view.value(STEP_OF[of]).items]
    if topics is None and len(values) > MOST_VALUES:
        order = np.argsort(-np.bincount(here[here >= 0], minlength=len(values)), kind="stable")[:MOST_VALUES]
        place = np.full(len(values), -1)
        place[order] = np.arange(len(order))
        here, values = np.where(here >= 0, place[here], -1), [values[at] for at in order]
    return Coloured(here, values, topics)


def _codes(view: View, of: MapOf, by: str) -> tuple[NDArray[np.int64], list[str], list[int] | None]:
    """A number for every document or term, what each stands for, and the topics where it is one."""
    if by == "topic":
        topics = list(range(view.model.topic_word.shape[0]))
        names = [view.topic_words(each) for each in topics]
        if of == "words":
            lead = np.asarray(view.model.topic_word).argmax(axis=0)
            columns = view.fit_matrix.columns_of(view.matrix_of(WORD_MAP).terms)
            return np.where(columns >= 0, lead[columns], -1).astype(np.int64), names, topics
        shares = np.asarray(view.model.doc_topic)
        lead = np.where(shares.sum(axis=1) > 0, shares.argmax(axis=1), -1)
        return lead.astype(np.int64), names, topics
    if by == "group":
        made = view.value(GROUPS)
        return made.group.astype(np.int64), [group_name(view, at) for at in range(len(made.within))], None
    if by == "language":
        told = about(view.corpus, view.survey)
        return told.language.astype(np.int64), list(told.languages), None
    codes, names = groups_of(view.corpus, by.removeprefix("field "))
    return codes.astype(np.int64), names, None
