"""Intervals of shares that a factorisation tells hold those of all documents, the topics as they are."""

from __future__ import annotations

import numpy as np
import pytest

from skeinwork.core.prevalence.prevalence import prevalence
from skeinwork.core.prevalence.totals import unit_totals
from skeinwork.core.topics.methods.nmf import NMF, NmfSettings
from skeinwork.core.topics.model import Samples
from tests.core.test_nmf import planted


@pytest.mark.parametrize("size", [40, 400])
def test_intervals_cover_what_is_told_of_all_documents(size: int) -> None:
    counts, _, _ = planted(6, 200, 4000, 15, 2)
    settings, lengths = NmfSettings(topics=6), np.asarray(counts.sum(axis=1)).ravel().astype(float)
    model = NMF.fit(counts[:800], settings)
    told = NMF.place(model, counts, settings).share
    true, rng, inside = np.average(told, axis=0, weights=lengths), np.random.default_rng(5), []
    for _ in range(60):
        some = rng.choice(len(told), size, replace=False)
        totals = unit_totals(Samples.of_shares(told[some]), lengths[some], np.zeros(size, np.int64), 1)
        found = prevalence(totals)
        inside.append((found.low[0] <= true) & (true <= found.high[0]))
    assert 0.92 <= float(np.mean(inside)) <= 0.99
