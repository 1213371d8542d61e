"""Fit, by vector: documents of which there is only a vector among the topics, and how far topics reach."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.errors import BadInputError
from skeinwork.core.in_words import percent
from skeinwork.core.relate.neighbours import unit_vectors
from skeinwork.core.said import count, counted, decimal
from skeinwork.core.topics.clustered import OUTLIER, WITHOUT, Clustered
from skeinwork.core.topics.dense_groups import nearest_together
from skeinwork.core.topics.methods.clusters_fit import ClustersSettings, words_of
from skeinwork.core.topics.placing_by_vector import near_middles
from skeinwork.core.topics.words import top_words
from skeinwork.work.relate.nearness import typed_vector
from skeinwork.work.results import documents
from skeinwork.work.results.view import View
from skeinwork.work.steps import FIT
from skeinwork.work.topics.by_vector import ByVector, by_vector

_ROWS = 200
# Topics beside the nearest that are named.
_NAMED = 3
_WORDS = 8
# Documents at the edge of a reach that are shown, and bars of the distances.
_EDGE, _BARS = 12, 40


class NearTopic(BaseModel):
    """A topic with the cosine of its middle."""

    topic: int
    cosine: float


class ByVectorRow(BaseModel):
    """A document by its vector: the nearest topics, the nearest first."""

    document: int
    name: str
    brief: str
    topics: list[NearTopic]


class ByVectorScreen(BaseModel):
    """Documents that have a vector and no counted word, placed by the middles of topics.

    ``agrees`` is of documents with both, none of them in a middle, the share that is nearest to the topic that leads in
    its words.
    """

    says: str
    agrees: float | None
    agrees_says: str
    only: int
    rows: list[ByVectorRow]
    reach: bool


def by_vector_screen(view: View) -> ByVectorScreen:
    """What there is by vector."""
    found = by_vector(view)
    only = np.flatnonzero(view.assigned_words[found.items] == 0)
    agrees, of = _agreement(view, found)
    return ByVectorScreen(
        says=f"{found.said.name}, of {found.said.size}; the middle of a topic is of its "
        f"{max(map(len, found.members))} strongest documents at most, weighing 1, ½, ⅓ … by rank",
        agrees=agrees,
        agrees_says=f"of {counted(of, 'document')} with words and a vector, in no middle"
        if of
        else "there is no document with words and a vector beside those that middles are of",
        only=len(only),
        rows=[_row(view, int(found.items[at]), _nearest(found, found.near[at])) for at in only[:_ROWS].tolist()],
        reach=view.model.clustered is not None,
    )


def _agreement(view: View, found: ByVector) -> tuple[float | None, int]:
    tokens = view.assigned.tocsr()[found.items]
    inside = np.isin(found.items, np.concatenate(found.members))
    both = np.flatnonzero((np.diff(tokens.indptr) > 0) & ~inside)
    if not len(both):
        return None, 0
    leads = np.asarray(tokens[both].argmax(axis=1)).ravel()
    return float((leads == found.nearest[both]).mean()), len(both)


def _nearest(found: ByVector, near: NDArray[np.float64]) -> list[NearTopic]:
    order = [at for at in np.argsort(-near, kind="stable").tolist() if found.known[at]]
    return [NearTopic(topic=at, cosine=float(near[at])) for at in order[:_NAMED]]


def _row(view: View, document: int, topics: list[NearTopic]) -> ByVectorRow:
    name, brief = documents.name(view, document), documents.brief(view, document)
    return ByVectorRow(document=document, name=name, brief=brief, topics=topics)


class TypedVectorPlaced(BaseModel):
    """A vector without a document among the topics, all of them, the nearest first."""

    topics: list[NearTopic]


def place_vector(view: View, written: str) -> TypedVectorPlaced:
    """A vector that was typed, among the topics.

    Raises
    ------
    BadInputError
        where it can't be read, or has not as many numbers as the documents'.
    """
    vector = typed_vector(written)
    found = by_vector(view)
    if len(vector) != found.unit.shape[1]:
        raise BadInputError(
            f"The vector has {counted(len(vector), 'number')}, those of the documents have {found.unit.shape[1]}."
        )
    near = near_middles(unit_vectors(vector[None]), found.middles)[0]
    order = [at for at in np.argsort(-near, kind="stable").tolist() if found.known[at]]
    return TypedVectorPlaced(topics=[NearTopic(topic=at, cosine=float(near[at])) for at in order])


class ReachedTopic(BaseModel):
    """A topic with so many documents found, and that come in; its words as they are found and with these."""

    topic: int
    found: int
    comes_in: int
    words: list[str]
    becomes: list[str]


class Reached(BaseModel):
    """What a reach would do. ``edges`` and ``bars`` count outliers by their distance to the nearest centre."""

    reach: float | None
    present: float | None
    outliers: int
    comes_in: int
    says: str
    edges: list[float]
    bars: list[int]
    topics: list[ReachedTopic]
    edge: list[ByVectorRow]


def reached(view: View, reach: float | None) -> Reached:
    """The effect of a reach on the topics that were found."""
    made, settings = _clustered(view)
    outliers = np.flatnonzero(np.asarray(made.found) == OUTLIER)
    distance = 1.0 - np.asarray(made.cosine)[outliers].astype(np.float64)
    of = made.within(reach)
    comes = outliers[of[outliers] >= 0]
    edges = np.linspace(0.0, max(float(distance.max(initial=0.0)), 1e-3), _BARS + 1)
    last = comes[np.argsort(-(1.0 - np.asarray(made.cosine)[comes]), kind="stable")[:_EDGE]]
    return Reached(
        reach=reach,
        present=settings.reach,
        outliers=len(outliers),
        comes_in=len(comes),
        says=_says(reach, len(outliers), len(comes), int((np.asarray(made.found) != WITHOUT).sum())),
        edges=edges.tolist(),
        bars=np.histogram(distance, edges)[0].tolist(),
        topics=_topics(view, made, settings, of),
        edge=[
            _row(view, at, [NearTopic(topic=int(made.nearest[at]), cosine=float(made.cosine[at]))])
            for at in last.tolist()
        ],
    )


def _clustered(view: View) -> tuple[Clustered, ClustersSettings]:
    settings = FIT.parse(view.fit_record.making.settings)
    if view.model.clustered is None or not isinstance(settings, ClustersSettings):
        raise BadInputError(
            "The topics of this fit have no centres, so they have no reach. Fit vector clusters for that."
        )
    return view.model.clustered, settings


def _says(reach: float | None, outliers: int, comes: int, all_: int) -> str:
    left = outliers - comes
    stay = f"{counted(left, 'document')} of {count(all_)} ({percent(left / max(all_, 1))}) in no topic"
    if reach is None:
        return f"{stay}, as they were found"
    return f"{count(comes)} of {counted(outliers, 'outlier')} come in up to a distance of {decimal(reach)}; {stay}"


def _topics(view: View, made: Clustered, settings: ClustersSettings, of: NDArray[np.int64]) -> list[ReachedTopic]:
    number, display = len(made.centres), view.fit_matrix.display
    found = np.asarray(made.found).astype(np.int64)

    def top(of: NDArray[np.int64]) -> list[list[str]]:
        def words() -> NDArray[np.int64]:
            return top_words(words_of(view.fit_matrix.counts, of, number, settings)[0], _WORDS)

        return [[display[term] for term in row] for row in view.cached("words within reach", words, of.tobytes())]

    before, after = top(found), top(of)
    return [
        ReachedTopic(
            topic=k,
            found=int((found == k).sum()),
            comes_in=int(((of == k) & (found != k)).sum()),
            words=before[k],
            becomes=after[k],
        )
        for k in range(number)
    ]


class MergedDown(BaseModel):
    """Topics that would be taken together to come down to a count, by the mean cosine of their documents."""

    topics: int
    groups: list[list[int]]
    says: str


def merged_down(view: View, topics: int) -> MergedDown:
    """The nearest topics taken together until so many are left."""
    made, _ = _clustered(view)
    cosine, found = np.asarray(made.cosine).astype(np.float64), np.asarray(made.found)
    sizes = np.bincount(found[found >= 0], minlength=len(made.centres))
    # The sum of a topic's vectors: along its centre, as long as the cosines of its documents together.
    lengths = np.bincount(found[found >= 0], cosine[found >= 0], len(made.centres))
    groups, cosines = nearest_together(made.centres.astype(np.float64) * lengths[:, None], sizes, max(topics, 2))
    together = [each for each in groups if len(each) > 1]
    said = f"{counted(len(groups), 'topic')} are left"
    return MergedDown(
        topics=len(groups),
        groups=together,
        says=f"{said}; documents of the last taken together have a mean cosine of {decimal(cosines[-1])}"
        if together
        else f"{said} as it is",
    )
