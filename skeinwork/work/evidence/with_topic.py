"""Documents that hold another topic too."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from skeinwork.core.in_words import percent
from skeinwork.core.topics.holding import LEAST_SHARE
from skeinwork.work.evidence.base import Asked, Labels, Narrowing
from skeinwork.work.evidence.share_range import shares
from skeinwork.work.evidence.topic import held, topic_of
from skeinwork.work.results.view import View


class AskedWithTopic(Asked):
    with_topic: int | None = Field(None, ge=0, le=10_000, description="another topic of the fit, that documents hold")
    held_from: float | None = Field(None, gt=0, le=1, description="the share from which both are held")


class WithTopic(Narrowing):
    asked = AskedWithTopic
    names = "with_topic"

    def title(self, view: View, request: AskedWithTopic, labels: Labels) -> str:
        topic = topic_of(view, request.with_topic)
        return f"together with {labels.get(topic) or view.topic_words(topic)}"

    def keep(self, view: View, request: AskedWithTopic) -> NDArray[np.bool_]:
        least = request.held_from or LEAST_SHARE
        wanted = [request.with_topic, getattr(request, "topic", None)]
        both = [held(view, topic_of(view, each), least) > 0 for each in wanted if each is not None]
        return np.asarray(np.logical_and.reduce(both))

    def reason(self, view: View, request: AskedWithTopic, document: int) -> str:
        topic = topic_of(view, request.with_topic)
        return f"{percent(float(shares(view, topic)[document]))} {view.topic_words(topic)}"
