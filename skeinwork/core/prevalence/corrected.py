"""How common a concept is in groups, by documents that people coded, among all that the topic tells of the rest.

Documents are drawn from strata of a topic's share, so that how often each stratum is about the concept is known by
coding. A group's prevalence is that of its documents over the strata: the topic tells in which stratum a document
lies, people how much that means (S. Walter's and L. Irwig's correction by a sample, *Journal of Clinical Epidemiology*
41, 1988; as a stratified estimate W. Cochran, *Sampling Techniques*, 1977, chapter 5). It takes a stratum to mean the
same in every group.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.prevalence.prevalence import Prevalence, prevalence
from skeinwork.core.prevalence.totals import unit_totals
from skeinwork.core.topics.checks.coding import Coded
from skeinwork.core.topics.model import Samples


def corrected(
    coded: Coded,
    stratum: NDArray[np.int64],
    cells: NDArray[np.int64],
    n_cells: int,
    units: NDArray[np.int64] | None = None,
    certain: bool = False,
) -> Prevalence:
    """Share of documents about the concept in every cell, with 95 % intervals.

    Parameters
    ----------
    stratum : int64[n_docs], -1 for documents in none, which are left out
    cells : int64[n_docs], the cell of each document in [0, n_cells), -1 for none
    units : int64[n_docs], what was sampled; None where every document is a unit
    certain : leave out how unsure coding is, to see what it adds

    Returns
    -------
    of one topic, the concept
    """
    rate = np.clip(coded.rate, 0.0, 1.0)[np.maximum(stratum, 0)]
    weights = (stratum >= 0).astype(np.float64)
    totals = unit_totals(Samples.of_shares(np.stack([rate, 1.0 - rate], axis=1)), weights, cells, n_cells, units)
    spread = np.zeros(n_cells) if certain else _of_coding(coded, stratum, cells, n_cells)
    found = prevalence(replace(totals, spread=np.stack([spread, spread], axis=1)))
    return replace(found, mean=found.mean[:, :1], low=found.low[:, :1], high=found.high[:, :1])


def _of_coding(coded: Coded, stratum: NDArray[np.int64], cells: NDArray[np.int64], n_cells: int) -> NDArray[np.float64]:
    """Variance of each cell's share that is due to coding, float64[n_cells]."""
    there = (stratum >= 0) & (cells >= 0)
    n_strata = len(coded.size)
    table = np.bincount(cells[there] * n_strata + stratum[there], minlength=n_cells * n_strata)
    parts = table.reshape(n_cells, n_strata) / np.maximum(np.bincount(cells[there], minlength=n_cells), 1)[:, None]
    return np.asarray((parts**2) @ coded.variance)
