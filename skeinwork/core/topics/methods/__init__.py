"""Topic methods. One is added by its file and its entry here."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from skeinwork.core.kinds import union
from skeinwork.core.topics.methods.base import Method, MethodSettings
from skeinwork.core.topics.methods.clusters import CLUSTERS
from skeinwork.core.topics.methods.lda import LDA
from skeinwork.core.topics.methods.nmf import NMF

METHODS: dict[str, Method[Any]] = {each.name: each for each in (LDA, NMF, CLUSTERS)}

if TYPE_CHECKING:
    FitSettings = MethodSettings
else:
    FitSettings = union([each.settings for each in METHODS.values()], "method", LDA.name)


def suggested() -> MethodSettings:
    """Settings to begin with: those of the first method."""
    return next(iter(METHODS.values())).settings.model_validate({})


def method_of(settings: MethodSettings) -> Method[Any]:
    """The method that settings are for."""
    return METHODS[settings.method]
