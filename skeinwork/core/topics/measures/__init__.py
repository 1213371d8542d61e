"""The measures of a fit. One is added by its file and its entry here."""

from __future__ import annotations

from skeinwork.core.topics.measures import coherence, exclusivity
from skeinwork.core.topics.measures.base import Measure, Measured

__all__ = ("BY", "MEASURES", "Measure", "Measured")
MEASURES: dict[str, Measure] = {each.MEASURE.key: each.MEASURE for each in (coherence, exclusivity)}
BY = coherence.MEASURE  # topic counts are suggested by it
