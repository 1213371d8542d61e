"""A model for each part of the documents: which parts there are, and what was fitted of them."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.errors import BadInputError
from skeinwork.core.prevalence.breakdown import placed
from skeinwork.core.topics.model import ENOUGH
from skeinwork.core.topics.streams import Link
from skeinwork.store.artefacts import Making
from skeinwork.work.results.view import View
from skeinwork.work.steps import PART_FIT, PERIOD_LINK
from skeinwork.work.steps.part_fit import PartFit, PartFitSettings, PartFitSummary, Parting
from skeinwork.work.steps.period_link import PeriodLinkSettings
from skeinwork.work.topics.fits import made_of

# Parts that are fitted at most, the largest: a table of more nobody reads.
MOST_PARTS = 40
# The deal of documents that shows what is found where there is nothing.
DEAL = 1


@dataclass(frozen=True)
class Parts:
    """The parts of documents.

    Attributes
    ----------
    names : of those that are fitted, groups by size and periods in their order
    documents : int64[n_parts], with counted words
    topics : of each model; smallest : documents that a part has at least
    small, beyond : parts left out for having fewer, and for being more than are shown
    """

    names: list[str]
    documents: NDArray[np.int64]
    topics: int
    smallest: int
    small: list[str]
    beyond: int


def parts_of(view: View, parting: Parting) -> Parts:
    """Which parts are fitted.

    Raises
    ------
    BadInputError
        where the documents are not parted, or not in two.
    """

    def made() -> Parts:
        names, place = placed(view.corpus, parting.by, view.token_weights > 0)
        sizes = np.bincount(place[place >= 0], minlength=len(names))
        topics = parting.topics or len(view.model.topic_word)
        smallest = parting.smallest or suggested_smallest(view, topics)
        enough = np.flatnonzero(sizes >= smallest)
        kept = np.sort(enough[np.argsort(-sizes[enough], kind="stable")[:MOST_PARTS]])
        if len(kept) < 2:
            raise BadInputError(
                f"{len(kept)} of {len(names)} parts {'has' if len(kept) == 1 else 'have'} {smallest:,} documents, so "
                "there is nothing to hold side by side. Ask for a lower size, fewer topics, or "
                f"{'another field' if parting.by.group else 'longer periods'}."
            )
        small = [names[at] for at in np.flatnonzero((sizes > 0) & (sizes < smallest))]
        return Parts([names[at] for at in kept], sizes[kept], topics, smallest, small, len(enough) - len(kept))

    return view.cached("parts", made, parting)


def suggested_smallest(view: View, topics: int) -> int:
    """So many documents that each topic would have enough tokens to show its words, were all as large."""
    weights = view.token_weights
    return max(topics, math.ceil(topics * ENOUGH / max(float(weights[weights > 0].mean()), 1.0)))


def settings_of(view: View, parting: Parting, dealt: bool) -> list[PartFitSettings]:
    """What is asked of each part; ``dealt`` of as many documents dealt out at random."""
    parts = parts_of(view, parting)
    given = {"by": parting.by, "topics": parts.topics, "seeds": parting.seeds, "deal": DEAL if dealt else 0}
    return [PartFitSettings(part=name, **given) for name in parts.names]


def fits_of(view: View, parting: Parting, dealt: bool = False) -> list[PartFit | None]:
    """The models of the parts; None for each that was not made."""
    fit = view.fit_record.identity
    return [view.made(PART_FIT, PART_FIT.making(fit, each)) for each in settings_of(view, parting, dealt)]


def made_of_all(view: View, parting: Parting) -> bool:
    """Whether everything there is of a parting was made."""
    return all(view.store.has(each.identity) for each in makings(view, parting))


def link_settings(view: View, parting: Parting, dealt: bool) -> list[PeriodLinkSettings]:
    """From each period to the next; none between groups."""
    if parting.by.group:
        return []
    fit = view.fit_record.identity
    made = [PART_FIT.making(fit, each).identity for each in settings_of(view, parting, dealt)]
    return [PeriodLinkSettings(one=one, other=other) for one, other in itertools.pairwise(made)]


def links_of(view: View, parting: Parting, dealt: bool = False) -> list[Link | None]:
    """Their links; None for each that was not made."""
    fit = view.fit_record.identity
    asked = link_settings(view, parting, dealt)
    return [view.made(PERIOD_LINK, PERIOD_LINK.making(fit, each)) for each in asked]


def makings(view: View, parting: Parting) -> list[Making]:
    """All that is made of a parting, in order: models, and their links, each also of documents dealt out."""
    fit = view.fit_record.identity
    models = [PART_FIT.making(fit, each) for dealt in (False, True) for each in settings_of(view, parting, dealt)]
    links = [PERIOD_LINK.making(fit, each) for dealt in (False, True) for each in link_settings(view, parting, dealt)]
    return [*models, *links]


def worked_out(fit: str) -> list[Parting]:
    """By what the documents of a fit were parted, each once, in its order; call inside a connection."""
    rows = sorted(made_of([fit], PART_FIT.name), key=lambda each: each.number or 0)
    found: dict[Parting, int] = {}
    for row in rows:
        settings = PART_FIT.parse(row.settings)
        parting = Parting(by=settings.by, topics=settings.topics, seeds=settings.seeds)
        documents = PartFitSummary.model_validate(row.summary).documents
        found[parting] = min(found.get(parting, documents), documents)
    return [each.model_copy(update={"smallest": max(least, 2)}) for each, least in found.items()]
