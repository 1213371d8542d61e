"""How figures of a factorisation came about."""

from __future__ import annotations

import numpy as np
import scipy

from skeinwork.core.said import count, decimal
from skeinwork.core.topics.losses import of_one_topic
from skeinwork.core.topics.methods.nmf_fit import GLOBAL_WEIGHT, NmfSettings, table_of, weighed_by
from skeinwork.core.topics.model import TopicModel
from skeinwork.core.working import Line, Working


def share_working(
    model: TopicModel, topic: int, document: int, counts: scipy.sparse.csr_matrix, settings: NmfSettings
) -> Working:
    """A topic's share of what is told of a document; ``counts``, int[1, n_terms], are its own.

    The document's topics are taken in units of its weights: as they come nearest to it, their shares as they are.
    """
    row = weighed_by(model, counts, settings)
    share = np.asarray(model.doc_topic[document])
    mixed = share @ np.asarray(model.topic_word)
    square, whole = float(mixed @ mixed), float(row.data @ row.data)
    size = float(row.data @ mixed[row.indices]) / max(square, 1e-300)
    mine, told = float(share[topic]) * size, size * float(share.sum())
    left = max(whole - size**2 * square, 0.0)
    return Working(
        lines=[
            Line(
                name="share of what is told",
                formula="w_dk / Σ_j w_dj",
                numbers=f"{decimal(mine, 3)} / {decimal(told, 3)}",
                value=float(share[topic]),
            ),
            Line(
                name="told of the document",
                formula="1 − Σ_t (x_dt − Σ_j w_dj h_jt)² / Σ_t x_dt²",
                numbers=f"1 − {decimal(left, 3)} / {decimal(whole, 3)}",
                value=1 - left / whole if whole else 0.0,
            ),
        ],
        note=f"x_dt are its weights ({settings.weighting}) without regard to its length, h_jt those of the terms in "
        "the topics, which add up to 1",
    )


def word_working(model: TopicModel, topic: int, column: int, counts: scipy.sparse.csr_matrix) -> Working:
    """A word's share of the weights of a topic; ``counts``, int[n_docs, n_terms]."""
    value, global_weight = float(model.topic_word[topic, column]), float(model.by_term[GLOBAL_WEIGHT][column])
    in_all = float(np.asarray(model.topic_word)[:, column].sum())
    return Working(
        lines=[
            Line(
                name="share of the topic's weights", formula="h_kt / Σ_s h_ks", numbers=f"{value:.5f} / 1", value=value
            ),
            Line(
                name="of its shares in all topics",
                formula="h_kt / Σ_j h_jt",
                numbers=f"{value:.5f} / {in_all:.5f}",
                value=value / in_all if in_all else 0.0,
            ),
            Line(
                name="global weight",
                formula="g_t, which multiplies its counts",
                numbers=f"{count(int((counts[:, [column]] > 0).sum()))} of {count(counts.shape[0])} documents have it",
                value=global_weight,
            ),
        ],
        note="Shares are of weights, not of tokens: they compare words within a topic.",
    )


def told_working(model: TopicModel, counts: scipy.sparse.csr_matrix, settings: NmfSettings) -> Working:
    """What the topics tell of the documents that were factorised, int[n_docs, n_terms]."""
    value, table = float(model.trace[-1, 1]), table_of(counts, settings)
    if settings.loss == "kl":
        whole, formula = of_one_topic(table), "1 − D(n ‖ W H) / D(n ‖ n_d p_t)"
        note = "D is the Kullback-Leibler divergence in nats; p_t are the shares of the terms in all documents."
    else:
        whole, formula = float((table.data.astype(np.float64) ** 2).sum()), "1 − Σ (x_dt − Σ_k w_dk h_kt)² / Σ x_dt²"
        note = f"x_dt are the weights ({settings.weighting}); cells without a term count, as zeros."
    return Working(
        title=f"Told by the topics after iteration {count(int(model.trace[-1, 0]))}",
        lines=[
            Line(
                name="told",
                formula=formula,
                numbers=f"1 − {decimal((1 - value) * whole, 1)} / {decimal(whole, 1)}",
                value=value,
            )
        ],
        note=note,
    )
