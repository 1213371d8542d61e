"""The measures of fits. One is added by its file and its entry here."""

from __future__ import annotations

from skeinwork.core.topics.measures import (
    c_v,
    diversity,
    document_completion,
    documents_in_topics,
    exclusivity,
    found_again,
    kept_in_halves,
    npmi,
    reconstruction,
    settled,
    smallest_topic,
    stability,
    uci,
    umass,
)
from skeinwork.core.topics.measures.base import (
    TOPS,
    USUAL,
    Described,
    FitFigures,
    FitMeasure,
    Measure,
    Measured,
    SeedsMeasure,
)
from skeinwork.core.topics.measures.pairs import PairCoherence
from skeinwork.core.topics.measures.windows import Texts

__all__ = (
    "ALL",
    "BY",
    "COHERENCE",
    "MEASURES",
    "OF_FIT",
    "OF_SEEDS",
    "TOPS",
    "USUAL",
    "WITH_FIT",
    "FitFigures",
    "Measure",
    "Measured",
    "Texts",
)
# In the order of their charts.
_ALL = (
    *(npmi, c_v, umass, uci, exclusivity, diversity),
    *(stability, found_again, document_completion, reconstruction, kept_in_halves, documents_in_topics),
    *(smallest_topic, settled),
)
ALL: tuple[Described, ...] = tuple(each.MEASURE for each in _ALL)
MEASURES: dict[str, Measure] = {each.key: each for each in ALL if isinstance(each, Measure)}
COHERENCE: dict[str, PairCoherence] = {each.key: each for each in ALL if isinstance(each, PairCoherence)}
OF_FIT: dict[str, FitMeasure] = {each.key: each for each in ALL if isinstance(each, FitMeasure)}
OF_SEEDS: dict[str, SeedsMeasure] = {each.key: each for each in ALL if isinstance(each, SeedsMeasure)}
# Those that every fit says of itself, by its ``USUAL`` words; the others are measured beside it.
WITH_FIT: dict[str, Measure] = {key: MEASURES[key] for key in ("coherence", "exclusivity")}
BY = npmi.MEASURE  # topic counts are suggested by it, unless another is chosen
