"""Neighbouring counts of topics."""

from __future__ import annotations

from collections.abc import Iterator

from skeinwork.core.said import count
from skeinwork.work.alternatives.base import Alternative, Kind, Present

# The farther of two neighbours on either side, as a part of the count; both are within what nobody could tell apart
# from the one that was chosen.
_FAR = 0.2
MOST_TOPICS = 500


def _offered(now: Present) -> Iterator[Alternative]:
    fit = now.wanted.fit
    if not now.of_topics:
        return
    far = max(2, round(_FAR * fit.topics))
    for topics in (fit.topics - far, fit.topics - 1, fit.topics + 1, fit.topics + far):
        if 2 <= topics <= MOST_TOPICS:
            each, present = (count(round(now.tokens.sum() / many)) for many in (topics, fit.topics))
            yield Alternative(
                f"topics-{topics}",
                f"{topics} topics",
                f"{each} counted words a topic in place of {present}",
                now.changed(fit=fit.model_copy(update={"topics": topics})),
            )


KIND = Kind("Counts of topics", _offered)
