"""Other seeds: the same fit from other starts."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import count, islice

from skeinwork.core.topics.methods import method_of
from skeinwork.work.alternatives.base import Alternative, Kind, Present

# Other starts that are offered.
_SEEDS = 3


def _offered(now: Present) -> Iterator[Alternative]:
    """The lowest other seeds: those that a sweep is likely to have fitted."""
    fit = now.wanted.fit
    if not now.of_topics or not method_of(fit).seeded(fit):
        return
    for seed in islice((each for each in count(1) if each != fit.seed), _SEEDS):
        yield Alternative(
            f"seed-{seed}",
            f"seed {seed}",
            f"the same fit from another start than seed {fit.seed}",
            now.changed(fit=fit.model_copy(update={"seed": seed})),
        )


KIND = Kind("Seeds", _offered)
