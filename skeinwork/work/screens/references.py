"""Choose: other texts in which coherence may be looked at: those of other strands, as they are cleaned there."""

from __future__ import annotations

from pydantic import BaseModel

from skeinwork.core.said import counted
from skeinwork.store.artefacts import ArtefactStore, DamagedResultError
from skeinwork.store.models import Strand
from skeinwork.work.steps import CLEANING, CORPUS


class Reference(BaseModel):
    """Cleaned texts of another strand."""

    cleaning: str
    title: str


def references(artefacts: ArtefactStore, strand: Strand) -> list[Reference]:
    """The cleanings of other strands of other documents; call inside a connection."""
    mine, found = strand.results, dict[str, Reference]()
    for each in Strand.select():
        cleaning, corpus = each.results.get(CLEANING.name), each.results.get(CORPUS.name)
        if each.skein.deleted or cleaning is None or corpus in (None, mine.get(CORPUS.name)):
            continue
        try:
            documents = CORPUS.summarised(artefacts.open(corpus)).documents
        except DamagedResultError:
            continue
        found[cleaning] = Reference(cleaning=cleaning, title=f"{each.skein.name}, {counted(documents, 'document')}")
    return sorted(found.values(), key=lambda each: each.title)
