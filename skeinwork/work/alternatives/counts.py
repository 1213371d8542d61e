"""Neighbouring counts of topics."""

from __future__ import annotations

from collections.abc import Iterator

from skeinwork.core.said import count
from skeinwork.core.topics.methods import method_of
from skeinwork.work.alternatives.base import Alternative, Kind, Present

# The farther of two neighbours on either side, as a part of the count; both are within what nobody could tell apart
# from the one that was chosen.
_FAR = 0.2
MOST_TOPICS = 500


def _offered(now: Present) -> Iterator[Alternative]:
    fit = now.wanted.fit
    if not now.of_topics:
        return
    finds = method_of(fit).finds
    there = now.view.fit_summary.topics if finds else fit.topics
    far = max(2, round(_FAR * there))
    for topics in (there - far, there - 1, there + 1, there + far):
        # More than are found are not to be had by asking.
        if 2 <= topics <= (there if finds else MOST_TOPICS):
            each, present = (count(round(now.tokens.sum() / many)) for many in (topics, there))
            yield Alternative(
                f"topics-{topics}",
                f"{topics} topics",
                f"{each} counted words a topic in place of {present}",
                now.changed(fit=fit.model_copy(update={"topics": topics})),
            )


KIND = Kind("Counts of topics", _offered)
