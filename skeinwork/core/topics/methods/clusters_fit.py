"""Topics as dense groups of document vectors.

The vectors in their leading directions, of length 1; clusters by density (``relate/density_clusters``); of these only
such as stand out further than any does in one heap (``topics/dense_groups``).
How steady they are is seen in halves of the documents, drawn at random, with smaller and larger smallest topics.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np
import scipy
from numpy.typing import NDArray
from pydantic import Field

from skeinwork.core.content import ContentError, expect, expect_array
from skeinwork.core.errors import BadInputError
from skeinwork.core.progress import Report, check_wanted, part_of, silent
from skeinwork.core.relate.neighbours import Neighbours, nearest_centres, neighbours, unit_vectors
from skeinwork.core.relate.vector_settings import DocumentVectorsSettings
from skeinwork.core.said import count, counted
from skeinwork.core.threads import most_threads
from skeinwork.core.topics.class_words import class_counts, specificity, thinned, weighed
from skeinwork.core.topics.clustered import OUTLIER, WITHOUT, Clustered, centres_of
from skeinwork.core.topics.dense_groups import NEIGHBOURS, as_those, by_chance, grouped, in_half, merged_down, reduced
from skeinwork.core.topics.factors import threads
from skeinwork.core.topics.methods.base import MethodSettings, NoTopicsError, Vectors
from skeinwork.core.topics.model import Samples, TopicModel
from skeinwork.core.topics.states import FORGETFUL, State, States

# A smallest topic that is left open has this share of the documents, and so many of them.
_SHARE, _LEAST = 0.005, 10
# Halves are looked at with a smallest topic of these parts of the wanted.
_PARTS = (1.0, 0.7, 1.4)
GLOBAL_WEIGHT = "global_weight"
# Among the numbers of a model: how far groups in one heap stand out, and the smallest topic it was fitted with.
CHANCE, SMALLEST = "chance", "smallest"
# So many times as far below the middle of its documents' nearness as a quarter of them is, one that was not looked at
# may be: planted ones held out then agree as well as those that were looked at.
_BELOW = 4.0
PROMINENCE, STEADY = "prominence", "steady"


class ClustersSettings(MethodSettings):
    """One fit."""

    method: Literal["clusters"] = "clusters"
    topics: int = Field(60, strict=True, ge=2, le=500, description="at most: the nearest are merged down to so many")
    iterations: int = Field(
        10, strict=True, ge=1, le=500, description="halves of the documents by which it is seen how steady topics are"
    )
    smallest: int | None = Field(
        None,
        strict=True,
        ge=3,
        le=100_000,
        description="documents of the smallest topic",
        json_schema_extra={"left_open": "by the corpus"},
    )
    dimensions: int = Field(20, strict=True, ge=2, le=200, description="leading directions in which density is seen")
    reach: float | None = Field(
        None,
        ge=0,
        le=2,
        description="largest cosine distance to its centre at which an outlier is taken into a topic",
        json_schema_extra={"left_open": "none", "step": 0.01},
    )
    thinning: float = Field(
        0.1,
        ge=0,
        le=1,
        description="how strongly words that say the same as one before are put back",
        json_schema_extra={"step": 0.05},
    )
    vectors: DocumentVectorsSettings = Field(DocumentVectorsSettings(), description="the vectors of the documents")


@dataclass
class Found:
    """A fit at work: what was found, and in the halves so far.

    Attributes
    ----------
    halves : int16[n_items] each, the topic of every item as a half has it
    trace : half, share of items that keep their topic, the mean so far, topics found
    """

    topic: NDArray[np.int64]
    prominence: NDArray[np.float64]
    chance: float
    smallest: int
    halves: list[NDArray[np.int16]] = field(default_factory=list)
    trace: list[tuple[float, float, float]] = field(default_factory=list)


def smallest_of(settings: ClustersSettings, items: int) -> int:
    """Documents of the smallest topic among so many documents."""
    return settings.smallest or max(_LEAST, round(_SHARE * items))


def check(counts: scipy.sparse.csr_matrix, settings: ClustersSettings) -> None:
    """Raise ``BadInputError`` for an empty vocabulary, or documents too few for two topics."""
    filled = int((np.diff(counts.indptr) > 0).sum())
    if counts.shape[1] == 0 or filled == 0:
        raise BadInputError("The vocabulary is empty, so topics would have no words.")
    least = 3 * (settings.smallest or _LEAST)
    if counts.shape[0] < least:
        raise BadInputError(
            f"{counted(counts.shape[0], 'document')} can't show topics of {settings.smallest or _LEAST} or more: there "
            f"would have to be {count(least)}. Ask for smaller topics, or take another method."
        )


def _find(places: NDArray[np.float32], settings: ClustersSettings, report: Report) -> tuple[Found, Neighbours]:
    unit = unit_vectors(places)
    report("Finding neighbours", 0.1)
    near = neighbours(unit, NEIGHBOURS)
    smallest = smallest_of(settings, len(unit))
    chance = by_chance(places, smallest, settings.seed, part_of(report, 0.2, 0.3))
    report("Looking for dense groups", 0.3)
    made = grouped(unit, near, smallest, chance)
    return Found(made.topic, made.prominence, chance, smallest), near


def _expect_topics(found: Found, items: int) -> None:
    """Raise ``NoTopicsError`` where none stands out, or one alone."""
    number = int(found.topic.max()) + 1
    if number > 1:
        return
    if number == 1:
        size = counted(int((found.topic >= 0).sum()), "document")
        said = f"One topic alone stands out, of {size}, and there is none to tell it from"
    else:
        said = (
            f"Nothing stands out: no {count(found.smallest)} or more of {counted(items, 'document')} lie closer "
            "together than happens in one heap as spread and as skewed as they are "
            f"({found.chance:.2f} times as dense as around)"
        )
    raise NoTopicsError(f"{said}. Ask for smaller topics, make other vectors, or take another method.")


def fit(
    counts: scipy.sparse.csr_matrix,
    vectors: Vectors,
    settings: ClustersSettings,
    report: Report = silent,
    states: States = FORGETFUL,
) -> TopicModel:
    """Topics of documents by their vectors.

    The same for every seed but for the halves, and for the heaps that are drawn.

    Parameters
    ----------
    counts : int[n_docs, n_terms], words of the documents, which give topics theirs
    vectors : of the documents that are looked at
    states : where what was found is kept, for fits that differ in what comes after alone

    Raises
    ------
    NoTopicsError
        where fewer than two topics stand out.
    """
    check(counts, settings)
    if len(vectors.documents) <= 3 * smallest_of(settings, len(vectors.documents)) or vectors.unit.shape[1] < 2:
        raise BadInputError(
            f"{counted(len(vectors.documents), 'document')} with a vector can't show topics of "
            f"{count(smallest_of(settings, len(vectors.documents)))} or more. Ask for smaller topics."
        )
    report("Reducing", 0.0)
    places = reduced(vectors.unit, settings.dimensions)
    found, near = _taken(states.latest(settings.iterations), len(places)), None
    if found is None:
        found, near = _find(places, settings, report)
        _expect_topics(found, len(places))
    unit = unit_vectors(places)
    top = np.argsort(-_words(counts, vectors, found.topic, settings), axis=1, kind="stable")[:, :8].tolist()
    while len(found.halves) < settings.iterations:
        check_wanted()
        near = near or neighbours(unit, NEIGHBOURS)
        _add_halves(found, unit, near, settings)
        told = {"trace": found.trace, "top": top, "iteration": len(found.halves)}
        report("Looking at halves", 0.4 + 0.6 * len(found.halves) / settings.iterations, **told)
    states.keep(len(found.halves), _state(found))
    return _model(counts, vectors, found, settings)


def _add_halves(found: Found, unit: NDArray[np.float32], near: Neighbours, settings: ClustersSettings) -> None:
    """Look at some more halves, as many as there are threads."""
    done = len(found.halves)
    many = min(most_threads(), settings.iterations - done)
    with threads(many) as at_work:
        made = at_work.each(lambda at, _: _half(unit, near, found, settings.seed, done + at), many, 1)
    for each in made:
        found.halves.append(each.astype(np.int16))
        mean = float(np.mean([_kept(found.topic, half) for half in found.halves]))
        found.trace.append((len(found.halves), mean, len(np.unique(each[each >= 0]))))


def _half(unit: NDArray[np.float32], near: Neighbours, found: Found, seed: int, at: int) -> NDArray[np.int64]:
    part = _PARTS[at % len(_PARTS)] / 2
    smallest = max(3, round(part * found.smallest))
    half = in_half(unit, near, smallest, found.chance, np.random.default_rng([seed, at]))
    return as_those(half, found.topic)


def _kept(topic: NDArray[np.int64], half: NDArray[np.int16]) -> float:
    """The share of the items with a topic that a half gives the same."""
    there = topic >= 0
    return float((half[there] == topic[there]).mean())


def _state(found: Found) -> State:
    return {
        "topic": found.topic,
        "prominence": found.prominence,
        "numbers": np.array([found.chance, found.smallest]),
        "halves": np.array(found.halves, np.int16),
        "trace": np.array(found.trace),
    }


def _taken(state: State | None, items: int) -> Found | None:
    """What a state holds; None where it is of another program, or damaged."""
    if state is None:
        return None
    try:
        topic = expect_array("topic", state.get("topic"), np.int64, (items,), OUTLIER)
        stands_out = expect_array("prominence", state.get("prominence"), np.float64, (int(topic.max()) + 1,))
        numbers = expect_array("numbers", state.get("numbers"), np.float64, (2,), 0.0)
        halves = expect_array("halves", state.get("halves"), np.int16, (None, items), OUTLIER, int(topic.max()))
        trace = expect_array("trace", state.get("trace"), np.float64, (len(halves), 3))
        expect(len(stands_out) > 1 and len(halves), "nothing was found")
    except ContentError:
        return None
    rows = [(float(a), float(b), float(c)) for a, b, c in trace]
    return Found(topic, stands_out, float(numbers[0]), int(numbers[1]), list(halves), rows)


def _words(
    counts: scipy.sparse.csr_matrix, vectors: Vectors, topic: NDArray[np.int64], settings: ClustersSettings
) -> NDArray[np.float64]:
    """Weights of words in topics as found, float64[n_topics, n_terms]."""
    of = np.full(counts.shape[0], OUTLIER, np.int64)
    of[vectors.documents] = topic
    return words_of(counts, of, int(topic.max()) + 1, settings)[0]


def words_of(
    counts: scipy.sparse.csr_matrix, of: NDArray[np.int64], topics: int, settings: ClustersSettings
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Weights of words in topics, float64[n_topics, n_terms], rows of sum 1, and the global weight of each term.

    Parameters
    ----------
    of : int64[n_docs], the topic of each document, below 0 for none
    """
    tokens = class_counts(counts, of, topics)
    weight = specificity(tokens)
    return thinned(weighed(tokens, weight), counts, settings.thinning, settings.seed), weight


def _model(counts: scipy.sparse.csr_matrix, vectors: Vectors, found: Found, settings: ClustersSettings) -> TopicModel:
    """The model of what was found, with what comes after: merging down, reach, words."""
    topic = merged_down(vectors.unit, found.topic, settings.topics)
    topics, n_docs = int(topic.max()) + 1, counts.shape[0]
    place = _first_of(topic, found.topic)
    clustered = clustered_of(vectors, topic, topics, n_docs)
    of = clustered.within(settings.reach)
    words, weight = words_of(counts, of, topics, settings)
    halves = [np.append(place, OUTLIER)[each.astype(np.int64)] for each in found.halves]
    samples = _samples(counts, vectors, of, halves, clustered, settings.reach)
    steady = [np.mean([_share_kept(topic == k, half == k) for half in halves]) for k in range(topics)]
    stands_out = [found.prominence[place == k].max() for k in range(topics)]
    return TopicModel(
        words,
        shares_of(of, topics),
        samples,
        np.array(found.trace),
        by_topic={PROMINENCE: np.array(stands_out), STEADY: np.array(steady)},
        overall={CHANCE: found.chance, SMALLEST: float(found.smallest)},
        by_term={GLOBAL_WEIGHT: weight},
        clustered=clustered,
    )


def _first_of(topic: NDArray[np.int64], before: NDArray[np.int64]) -> NDArray[np.int64]:
    """Which topic each of those before became, int64[n_before]."""
    place = np.zeros(int(before.max()) + 1, np.int64)
    there = before >= 0
    place[before[there]] = topic[there]
    return place


def _share_kept(here: NDArray[np.bool_], there: NDArray[np.bool_]) -> float:
    """Items in both as a part of those in either (Jaccard)."""
    return float((here & there).sum() / max(int((here | there).sum()), 1))


def shares_of(of: NDArray[np.int64], topics: int) -> NDArray[np.float64]:
    """1 for the topic of each document, float64[n_docs, n_topics]; zeros for those in none."""
    shares = np.zeros((len(of), topics))
    there = np.flatnonzero(of >= 0)
    shares[there, of[there]] = 1.0
    return shares


def clustered_of(vectors: Vectors, topic: NDArray[np.int64], topics: int, n_docs: int) -> Clustered:
    """Centres, and how near documents are to them.

    Parameters
    ----------
    topic : int64[n_items], of each that has a vector
    """
    centres = centres_of(vectors.unit, topic, topics)
    nearest = np.where(topic >= 0, topic, nearest_centres(vectors.unit, centres))
    found, near, how = np.full(n_docs, WITHOUT, np.int32), np.full(n_docs, WITHOUT, np.int32), np.zeros(n_docs)
    found[vectors.documents], near[vectors.documents] = topic, nearest
    how[vectors.documents] = _cosine(vectors.unit, centres[nearest])
    return Clustered(centres, found, near, how.astype(np.float32))


def _cosine(unit: NDArray[np.float32], centres: NDArray[np.float32]) -> NDArray[np.float64]:
    """Of each vector with its centre, float64[n_items], rounded to what all machines agree on."""
    return np.clip(np.round((unit.astype(np.float64) * centres).sum(axis=1), 6), -1.0, 1.0)


def _sizes(before: NDArray[np.float64], counts: scipy.sparse.csr_matrix, vectors: Vectors) -> NDArray[np.float64]:
    """What documents count for, with those of the vectors: their words, 1 at least."""
    tokens = np.asarray(counts.sum(axis=1), dtype=np.float64).ravel()
    before[vectors.documents] = np.maximum(tokens[vectors.documents], 1.0)
    return before


def _samples(
    counts: scipy.sparse.csr_matrix,
    vectors: Vectors,
    of: NDArray[np.int64],
    halves: list[NDArray[np.int64]],
    clustered: Clustered,
    reach: float | None,
) -> Samples:
    """The fit first, then every half: all words of a document are of its topic."""
    n_docs, topics = len(of), len(clustered.centres)
    sizes = _sizes(np.zeros(n_docs), counts, vectors)
    drawn = [of]
    for half in halves:
        each = np.full(n_docs, OUTLIER, np.int64)
        each[vectors.documents] = half
        as_found = Clustered(clustered.centres, each.astype(np.int32), clustered.nearest, clustered.cosine)
        drawn.append(as_found.within(reach))
    tables = [_table(each, sizes, topics) for each in drawn]
    return Samples.of_counts(tables, np.zeros((len(tables), topics)), sizes)


def _table(of: NDArray[np.int64], sizes: NDArray[np.float64], topics: int) -> scipy.sparse.csr_matrix:
    there = np.flatnonzero((of >= 0) & (sizes > 0))
    return scipy.sparse.csr_matrix((sizes[there], (there, of[there])), shape=(len(of), topics))


def with_others(
    model: TopicModel, counts: scipy.sparse.csr_matrix, others: Vectors, settings: ClustersSettings
) -> TopicModel:
    """A model with documents that were not looked at, each in the topic of the nearest centre.

    Only where it is about as near to that as the topic's own documents are, or within reach.
    """
    made = model.clustered
    assert made is not None and model.samples is not None
    topics = len(made.centres)
    own = [made.cosine[made.found == k] for k in range(topics)]
    middle, quarter = (np.array([np.quantile(each, at) if len(each) else 2.0 for each in own]) for at in (0.5, 0.25))
    least = middle - _BELOW * (middle - quarter)
    nearest = nearest_centres(others.unit, made.centres)
    cosine = _cosine(others.unit, made.centres[nearest])
    found, near, how = np.array(made.found), np.array(made.nearest), np.array(made.cosine)
    found[others.documents] = np.where(cosine >= least[nearest], nearest, OUTLIER)
    near[others.documents], how[others.documents] = nearest, cosine
    clustered = Clustered(made.centres, found, near, how)
    of = clustered.within(settings.reach)
    sizes = _sizes(np.array(model.samples.sizes), counts, others)
    here = np.full(len(of), OUTLIER, np.int64)
    here[others.documents] = of[others.documents]
    added = _table(here, sizes, topics)
    tables = [scipy.sparse.csr_matrix(model.samples.counts(at) + added) for at in range(len(model.samples))]
    samples = Samples.of_counts(tables, model.samples.prior, sizes)
    return replace(model, doc_topic=shares_of(of, topics), samples=samples, clustered=clustered)
