"""Samplers of LDA. One is added by its file and its entry here."""

from __future__ import annotations

from skeinwork.core.topics.samplers.base import Sampler
from skeinwork.core.topics.samplers.dense import DENSE

SAMPLERS: dict[str, Sampler] = {each.name: each for each in (DENSE,)}
