"""Other limits of the vocabulary: words in half and in twice as many documents at least, and no upper limit."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np

from skeinwork.core.in_words import percent
from skeinwork.core.said import count, counted
from skeinwork.work.alternatives.base import Alternative, Kind, Present


def _offered(now: Present) -> Iterator[Alternative]:
    weigh, matrix = now.wanted.weigh, now.matrix
    least, documents = weigh.min_documents, matrix.document_frequency
    if least > 1:
        yield _limit(
            now,
            f"least-{least // 2}",
            f"words in at least {counted(least // 2, 'document')}",
            f"half the limit of {count(least)}, which left {count(len(documents))} terms",
            min_documents=least // 2,
        )
    some = int(np.count_nonzero(documents < 2 * least))
    if 0 < some < len(documents):
        tokens = float(matrix.totals[documents < 2 * least].sum() / max(matrix.totals.sum(), 1))
        yield _limit(
            now,
            f"least-{2 * least}",
            f"words in at least {count(2 * least)} documents",
            f"without {counted(some, 'rare term')} more, {percent(tokens, 1)} of what is counted",
            min_documents=2 * least,
        )
    if weigh.max_share < 1:
        yield _limit(
            now,
            "most-none",
            "without an upper limit",
            f"with the words that are in more than {percent(weigh.max_share)} of the documents",
            max_share=1.0,
        )


def _limit(now: Present, key: str, title: str, reason: str, **change: Any) -> Alternative:
    weigh = now.wanted.weigh.model_copy(update=change)
    return Alternative(key, title, reason, now.changed(weigh=weigh))


KIND = Kind("Limits", _offered)
