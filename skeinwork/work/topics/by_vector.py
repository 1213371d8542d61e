"""The topics of a fit in the space of document vectors: middles of their strongest documents, and what is near them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.errors import BadInputError
from skeinwork.core.relate.neighbours import unit_vectors
from skeinwork.core.topics.methods import method_of
from skeinwork.core.topics.placing_by_vector import near_middles, topic_middles
from skeinwork.work.evidence.topic import borne_out
from skeinwork.work.results.view import View
from skeinwork.work.steps import CORPUS, DOCUMENT_VECTORS, FIT
from skeinwork.work.steps.step import Said


@dataclass(frozen=True)
class ByVector:
    """Documents with a vector, and the topics among them.

    Attributes
    ----------
    items : int64[n_items], documents; unit : float32[n_items, n_dimensions]
    middles : float32[n_topics, n_dimensions]; members : of each topic the documents its middle is of
    near : float64[n_items, n_topics], cosines with the middles
    said : what the vectors are
    """

    items: NDArray[np.int64]
    unit: NDArray[np.float32]
    middles: NDArray[np.float32]
    members: list[NDArray[np.int64]]
    near: NDArray[np.float64]
    said: Said

    @property
    def known(self) -> NDArray[np.bool_]:
        """Topics that have a middle, bool[n_topics]."""
        return np.asarray([len(each) > 0 for each in self.members])

    @property
    def nearest(self) -> NDArray[np.int64]:
        """Of each item the topic whose middle is nearest, int64[n_items]."""
        return np.where(self.known, self.near, -2.0).argmax(axis=1)


def by_vector(view: View) -> ByVector:
    """The fit's topics by the vectors that it reads, or else those made at Relate.

    Raises
    ------
    BadInputError
        where there are none, or they are of other documents than the fit.
    """
    identity = _vectors(view)
    return view.cached("topics by vector", lambda: _made(view, identity), identity)


def _vectors(view: View) -> str:
    making, artefacts = view.fit_record.making, view.store
    settings = FIT.parse(making.settings)
    if method_of(settings).reads_vectors:
        matrix = artefacts.open(making.inputs[0]).making
        of = FIT.first(matrix, settings.model_copy(update={"merged": ()}))[0].identity
        if not artefacts.has(of):
            raise BadInputError("The vectors that this fit was made from are not there any more. Fit it again.")
        return of
    found = view.record(DOCUMENT_VECTORS).identity
    corpora = {artefacts.ancestor(each, CORPUS.name).identity for each in (found, view.fit_record.identity)}
    if len(corpora) > 1:
        raise BadInputError("The document vectors are of other documents than the fit. Make them again at Relate.")
    return found


def _made(view: View, identity: str) -> ByVector:
    stored = view.store.open(identity)
    made = view.made(DOCUMENT_VECTORS, stored.making)
    assert made is not None
    items, unit = np.asarray(made.items), unit_vectors(made.vectors)
    sizes, tokens = view.assigned_sizes[items], view.assigned.tocsr()[items].toarray()
    if view.model.clustered:
        # All of a document is of its topic: the nearest to the centre are the strongest.
        near = np.maximum(np.asarray(view.model.clustered.cosine)[items].astype(np.float64), 1e-6)
        strength = np.where(tokens > 0, near[:, None], 0.0)
    else:
        strength = np.where(tokens > 0, borne_out(tokens, np.repeat(sizes[:, None], tokens.shape[1], axis=1)), 0.0)
    middles, members = topic_middles(unit, strength)
    settings, summary = DOCUMENT_VECTORS.parse(stored.making.settings), DOCUMENT_VECTORS.summarised(stored)
    said = DOCUMENT_VECTORS.said(settings, summary)
    return ByVector(items, unit, middles, [items[each] for each in members], near_middles(unit, middles), said)
