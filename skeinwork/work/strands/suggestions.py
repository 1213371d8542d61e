"""What a first corpus suggests, before the analyst has chosen anything."""

from __future__ import annotations

from skeinwork.core.matrix.counting import count
from skeinwork.core.matrix.matrix_settings import MatrixSettings
from skeinwork.core.matrix.pruning import standing
from skeinwork.core.matrix.suggesting import suggest_min_documents
from skeinwork.core.text.first_cleaning import FirstCleaning, first_cleaning
from skeinwork.core.text.sample import sample_of
from skeinwork.store.artefacts import Artefact, ArtefactStore
from skeinwork.work import steps
from skeinwork.work.steps.corpus import corpus_with_about
from skeinwork.work.steps.step import OnDisk, load


def suggested_cleaning(corpus: Artefact) -> FirstCleaning:
    """The cleaning that fits a stored corpus, and why."""
    read, about = corpus_with_about(corpus)
    return first_cleaning(sample_of(read.text, about))


def suggested_pruning(store: ArtefactStore, cleaning: str, now: MatrixSettings) -> MatrixSettings:
    """Terms in as many documents at least as the words of a cleaning suggest."""
    counted = count(load(OnDisk(store), steps.CLEANING, store.open(cleaning)), 1)
    least = suggest_min_documents(counted, standing(counted)).least
    return now.model_copy(update={"min_documents": least})
