"""Choose, of methods that find how many topics there are: how many, and whether words dealt out have any."""

from __future__ import annotations

from collections.abc import Sequence

from skeinwork.core.in_words import percent
from skeinwork.core.said import counted
from skeinwork.core.topics.methods import method_of
from skeinwork.work.topics.sweeps import SweptFit, TwinFit


def all_found(made: Sequence[SweptFit]) -> bool:
    """Whether more topics were asked for than there are to be found."""
    return any(fit.summary.topics < fit.settings.topics - sum(map(len, fit.settings.merged)) for fit in made)


def found_said(made: Sequence[SweptFit], dealt: Sequence[TwinFit]) -> list[str]:
    """Of a method that finds how many topics there are: how many, and whether words dealt out have any."""
    if not made or not method_of(made[0].settings).finds:
        return []
    found = []
    if all_found(made):
        most, there = max(fit.settings.topics for fit in made), max(fit.summary.topics for fit in made)
        found.append(f"Up to {most} topics were asked for, {there} are found: more are not to be had by asking.")
    some = [value for each in dealt if (value := each.whole["documents_in_topics"])]
    if some:
        found.append(
            f"In {len(some)} of {counted(len(dealt), 'twin')}, whose words were dealt out at random, there are topics "
            f"too, of {percent(min(some))} to {percent(max(some))} of the documents: such topics say little."
        )
    elif dealt:
        found.append(f"In {counted(len(dealt), 'twin')}, whose words were dealt out at random, nothing stands out.")
    return found
