"""Maps: documents, topics' documents or words in the plane, so that neighbours stay neighbours."""

from __future__ import annotations

from abc import abstractmethod
from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.content import expect, expect_array
from skeinwork.core.errors import BadInputError
from skeinwork.core.progress import Report, part_of
from skeinwork.core.relate import layout, neighbours, truncated_svd
from skeinwork.core.relate.layout import affinities, begin, lay_out
from skeinwork.core.relate.neighbours import unit_vectors
from skeinwork.core.relate.trustworthiness import NEAR, trustworthiness
from skeinwork.core.relate.vector_settings import MapSettings
from skeinwork.core.topics.model import TopicModel
from skeinwork.store.artefacts import Making
from skeinwork.work.steps.document_vectors import DOCUMENT_VECTORS, DocumentVectors
from skeinwork.work.steps.fit import FIT
from skeinwork.work.steps.step import Arrays, Documents, Earlier, Said, Step, Stored, counted
from skeinwork.work.steps.word_vectors import WORD_VECTORS, WordVectors

# Items on whose neighbours the trustworthiness is looked at: its mean is then known to some .005.
SAMPLE = 1000
# Items of a map: fewer have no neighbours to speak of, and more the interface can't draw.
FEWEST_ITEMS, MOST_ITEMS = 5, 100_000
# Numbers of a vector from which on neighbours are looked for in its leading directions.
_FEW = 100
_SECONDS = 2e-7  # a byte


class MapSummary(BaseModel):
    """Items on the map, its trustworthiness and on how many of them that was looked at."""

    items: int
    trust: float
    looked_at: int


@dataclass(frozen=True)
class Map:
    """Items in the plane.

    Attributes
    ----------
    items : int64[n_items], documents or columns of the matrix, rising
    places : float32[n_items, 2]
    looked_at : int64[n_looked_at], places among the items
    trust : float64[n_looked_at], of each of these
    """

    items: NDArray[np.int64]
    places: NDArray[np.float32]
    looked_at: NDArray[np.int64]
    trust: NDArray[np.float64]


Vectors = tuple[NDArray[np.int64], NDArray[np.float32]]


class MapStep(Step[MapSettings, Map, MapSummary]):
    """One map of the vectors of one step, that it is made from."""

    beside: ClassVar[bool] = True
    VERSION: ClassVar[int] = 1
    settings: ClassVar[type[BaseModel]] = MapSettings
    summary: ClassVar[type[BaseModel]] = MapSummary

    @abstractmethod
    def vectors_of(self, made: Any) -> Vectors:
        """Items with their vectors, of what the map is made from."""

    def parts(self, settings: MapSettings) -> dict[str, int]:
        return {"layout": layout.VERSION, "neighbours": neighbours.VERSION, "svd": truncated_svd.VERSION}

    def seconds(self, making: Making, size: int) -> float:
        return 1 + _SECONDS * size * making.settings["neighbours"]

    def compute(self, earlier: Earlier, settings: MapSettings, report: Report) -> tuple[Map, MapSummary]:
        items, vectors = self.vectors_of(earlier.load(self.needs[0]))
        if not FEWEST_ITEMS <= len(items) <= MOST_ITEMS:
            said = f"{counted(len(items), 'item')} would be on the map; it is of {FEWEST_ITEMS} to {MOST_ITEMS:,}."
            raise BadInputError(said)
        made = _laid_out(items, unit_vectors(vectors), settings, report)
        return made, _summary(made)

    def save(self, value: Map) -> tuple[Arrays, Documents]:
        arrays: Arrays = {
            "items": value.items,
            "places": value.places,
            "looked_at": value.looked_at,
            "trust": value.trust,
        }
        return arrays, {}

    def load(self, stored: Stored, earlier: Earlier) -> Map:
        part = stored.array
        return Map(part("items"), part("places"), part("looked_at"), part("trust"))

    def check(self, stored: Stored, earlier: Earlier) -> MapSummary:
        made = self.load(stored, earlier)
        wanted, _ = self.vectors_of(earlier.load(self.needs[0]))
        items = expect_array("items", made.items, np.int64, (len(wanted),))
        expect(np.array_equal(items, wanted), "items are not those that have vectors")
        expect_array("places", made.places, np.float32, (len(items), 2))
        looked_at = expect_array("looked_at", made.looked_at, np.int64, (None,), 0, len(items) - 1)
        expect(len(looked_at) > 0, "nothing was looked at")
        expect_array("trust", made.trust, np.float64, (len(looked_at),), -1, 1)
        return _summary(made)

    def said(self, settings: MapSettings, summary: MapSummary) -> Said:
        """What is on it."""
        return Said(name=self.called.removeprefix("the "), size=counted(summary.items, "item"))


def _summary(made: Map) -> MapSummary:
    return MapSummary(items=len(made.items), trust=float(made.trust.mean()), looked_at=len(made.looked_at))


def _laid_out(items: NDArray[np.int64], vectors: NDArray[np.float32], settings: MapSettings, report: Report) -> Map:
    n = len(items)
    k = min(settings.neighbours, n - 1)
    few = _fewer_numbers(vectors, settings.seed, part_of(report, 0.0, 0.1))
    found = neighbours.neighbours(few, k, settings.seed, part_of(report, 0.1, 0.4))
    attract, begun = affinities(found), begin(few, settings.seed)
    places = lay_out(attract, begun, settings.tightness, settings.seed, part_of(report, 0.4, 0.9))
    report("Looking at what stayed near", 0.9)
    looked_at = np.sort(np.random.default_rng(settings.seed).permutation(n)[:SAMPLE])
    trust = trustworthiness(vectors, places, looked_at, near_of(n))
    return Map(items, places, looked_at, trust)


def _fewer_numbers(vectors: NDArray[np.float32], seed: int, report: Report) -> NDArray[np.float32]:
    """Vectors in their leading directions, where they have so many numbers that neighbours take long to find."""
    if vectors.shape[1] <= _FEW:
        return vectors
    found = truncated_svd.truncated_svd(vectors, _FEW, seed, report, most_passes=2)
    return unit_vectors(found.left * found.values)


def near_of(n: int) -> int:
    """Neighbours that the trustworthiness of so many items looks at: it needs n > 2k."""
    return min(NEAR, (n - 1) // 2 - 1)


class DocumentMapStep(MapStep):
    name: ClassVar[str] = "document_map"
    called: ClassVar[str] = "the map of documents"
    missing: ClassVar[str] = "There is no map of documents yet. Make one at Relate, Map."
    needs = (DOCUMENT_VECTORS,)

    def vectors_of(self, made: DocumentVectors) -> Vectors:
        return made.items, made.vectors


class WordMapStep(MapStep):
    name: ClassVar[str] = "word_map"
    called: ClassVar[str] = "the map of words"
    missing: ClassVar[str] = "There is no map of words yet. Make one at Relate, Map."
    needs = (WORD_VECTORS,)

    def vectors_of(self, made: WordVectors) -> Vectors:
        return made.terms, made.vectors


class TopicMapStep(MapStep):
    name: ClassVar[str] = "topic_map"
    called: ClassVar[str] = "the map by topics"
    missing: ClassVar[str] = "There is no map by topics yet. Make one at Relate, Map."
    needs = (FIT,)

    def vectors_of(self, made: TopicModel) -> Vectors:
        """Roots of topic shares: their cosine is one less the squared Hellinger distance."""
        shares = np.asarray(made.doc_topic, dtype=np.float64)
        held = np.flatnonzero(shares.sum(axis=1) > 0)
        return held.astype(np.int64), np.sqrt(shares[held]).astype(np.float32)


DOCUMENT_MAP, WORD_MAP, TOPIC_MAP = DocumentMapStep(), WordMapStep(), TopicMapStep()
MAPS: tuple[MapStep, ...] = (DOCUMENT_MAP, TOPIC_MAP, WORD_MAP)
