"""Words that an analyst may want to leave out, each with the figures that speak for it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.text.clean import Cleaning
from skeinwork.core.text.suggest import common_forms
from skeinwork.work.results.view import View
from skeinwork.work.steps import FIT

_MOST_COMMON, _MOST_GROUPS = 40, 400


class CommonWord(BaseModel):
    """A word in many documents. Evenness is 1 where it is spread like words dealt out by chance."""

    word: str
    tokens: int
    documents: int
    share: float
    over_documents: float
    over_groups: float | None
    over_topics: float | None


class SuggestedWords(BaseModel):
    """Apart from the words of shipped lists, which are gone by then. ``by`` is the field of the groups."""

    common: list[CommonWord]
    by: str
    fit: bool


def suggested_words(view: View) -> SuggestedWords:
    """What the spread over documents, groups and topics says of words."""
    return view.cached("suggested words", lambda: _suggested(view))


def _suggested(view: View) -> SuggestedWords:
    cleaning = view.cleaning
    groups = [
        column for column in view.corpus.columns if column.role == "group" and 1 < len(column.values) <= _MOST_GROUPS
    ]
    by = groups[0] if groups else None
    topics = _topics(view, cleaning) if view.identity(FIT) else None
    found = common_forms(cleaning, (by.codes, len(by.values)) if by else None, topics)
    common = [
        CommonWord(
            word=cleaning.display[int(found.forms[at])],
            tokens=int(found.tokens[at]),
            documents=int(found.documents[at]),
            share=float(found.share[at]),
            over_documents=float(found.over_documents[at]),
            over_groups=None if found.over_groups is None else float(found.over_groups[at]),
            over_topics=None if found.over_topics is None else float(found.over_topics[at]),
        )
        for at in range(min(_MOST_COMMON, len(found.forms)))
    ]
    return SuggestedWords(common=common, by=by.name if by else "", fit=topics is not None)


def _topics(view: View, cleaning: Cleaning) -> NDArray[np.float64]:
    """How much of each form belongs to each topic, float64[n_topics, n_forms]; 0 for what is no term."""
    sizes = np.asarray(view.assigned.sum(axis=0)).reshape(-1, 1)
    weights = np.asarray(view.model.topic_word) * sizes
    terms = view.fit_matrix.columns_of(cleaning.forms)
    found = np.zeros((len(weights), len(terms)))
    found[:, terms >= 0] = weights[:, terms[terms >= 0]]
    return found
