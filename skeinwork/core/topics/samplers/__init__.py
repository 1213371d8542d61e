"""Samplers of LDA. One is added by its file and its entry here."""

from __future__ import annotations

from skeinwork.core.topics.samplers.base import Sampler
from skeinwork.core.topics.samplers.constant_time import ConstantTime
from skeinwork.core.topics.samplers.dense import Dense

SAMPLERS: dict[str, type[Sampler]] = {each.name: each for each in (Dense, ConstantTime)}


def quickest(topics: int, tokens: int) -> type[Sampler]:
    """The sampler that is foreseen to take the least time, of those that are right for so many tokens."""
    fit = [each for each in SAMPLERS.values() if tokens >= each.least_tokens]
    return min(fit, key=lambda each: each.seconds(topics))
