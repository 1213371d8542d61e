"""Compile every kernel ahead of time: ``python -m skeinwork.core.warm``."""

from __future__ import annotations

import numpy as np

from skeinwork.core.corpus.duplicates import folded_words, near_groups
from skeinwork.core.matrix.matrix import MatrixSettings, count, prune
from skeinwork.core.prevalence.prevalence import prevalence
from skeinwork.core.text.clean import CleanSettings, clean
from skeinwork.core.text.language import detect_languages
from skeinwork.core.text.segment import segment
from skeinwork.core.text.tokenise import tokenise
from skeinwork.core.topics import coherence
from skeinwork.core.topics.methods import METHODS


def warm() -> None:
    """Run the whole computation once on a few words."""
    settings = CleanSettings.model_validate({})
    texts = ["gale at the breakwater", "ferry and gale", "ferry ticket ferry"] * 3
    words = segment([*texts, f"{texts[0]} wall"], "uax29")
    near_groups(*folded_words(words))
    detect_languages(words)
    tokens = tokenise(texts, settings.tokenising())
    counted = count(clean(tokens, settings), 2)
    matrix = prune(counted, MatrixSettings(min_documents=1, max_share=1.0))
    for method in METHODS.values():
        model = method.fit(
            matrix.counts, method.settings.model_validate({"topics": 2, "iterations": 20})
        )
        cells = np.zeros(len(texts), dtype=np.int64)
        prevalence(model.doc_topic, model.samples, np.ones(len(texts)), cells, 1, replicates=2)
    ids = tokens.ids.astype(np.int32)
    coherence.count_windows(np.zeros_like(ids), tokens.doc_ptr, 1, 10)


if __name__ == "__main__":
    warm()
