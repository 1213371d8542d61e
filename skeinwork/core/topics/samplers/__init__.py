"""Samplers of LDA. One is added by its file and its entry here."""

from __future__ import annotations

from skeinwork.core.topics.samplers.base import Sampler
from skeinwork.core.topics.samplers.constant_time import ConstantTime
from skeinwork.core.topics.samplers.dense import Dense

SAMPLERS: dict[str, type[Sampler]] = {each.name: each for each in (Dense, ConstantTime)}


def quickest(topics: int) -> type[Sampler]:
    """The sampler that takes the least time for so many topics."""
    return min(SAMPLERS.values(), key=lambda each: each.seconds(topics))
