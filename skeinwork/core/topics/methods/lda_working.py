"""How figures of an LDA fit came about."""

from __future__ import annotations

import numpy as np
import scipy

from skeinwork.core.said import count, decimal
from skeinwork.core.topics.model import TopicModel
from skeinwork.core.working import Line, Working


def share_working(model: TopicModel, topic: int, document: int, size: float) -> Working:
    """A topic's share of a document of ``size`` counted words."""
    samples = model.drawn
    drawn = [int(samples.counts(at)[document, topic]) for at in range(len(samples))]
    prior = np.asarray(samples.prior)
    return Working(
        lines=[
            Line(
                name="share",
                formula="Σ n_dk / S / n_d",
                numbers=f"({' + '.join(map(str, drawn))}) / {len(drawn)} / {round(size)}",
                value=sum(drawn) / len(drawn) / max(size, 1.0),
            ),
            Line(
                name="share with the prior",
                formula="Σ (n_dk + α_k) / (n_d + Σ α) / S",
                numbers=f"α_k = {decimal(float(prior[:, topic].mean()), 4)}, Σ α = "
                f"{decimal(float(prior.sum(axis=1).mean()), 4)}, n_d = {round(size)}, S = {len(drawn)}",
                value=float(np.asarray(model.doc_topic[document])[topic]),
            ),
        ],
        note="n_dk are its tokens in the topic in each of the saved samples, n_d its counted words",
    )


def word_working(model: TopicModel, topic: int, column: int, total: int, size: float) -> Working:
    """A word's probability in a topic of ``size`` tokens; the word occurs ``total`` times."""
    beta = model.overall.get("beta")
    if beta is None:  # of the first version
        return Working()
    phi = np.asarray(model.topic_word)
    value, terms, prior = float(phi[topic, column]), int((phi > 0).any(axis=0).sum()), decimal(beta, 4)
    held = max(value * (size + terms * beta) - beta, 0.0)
    return Working(
        lines=[
            Line(
                name="probability in the topic",
                formula="(n_kw + β) / (n_k + V β)",
                numbers=f"({decimal(held, 1)} + {prior}) / ({count(round(size))} + {count(terms)} × {prior})",
                value=value,
            ),
            Line(
                name="of the word's tokens in the topic",
                formula="n_kw / n_w",
                numbers=f"{decimal(held, 1)} / {count(total)}",
                value=min(held / max(total, 1), 1.0),
            ),
        ],
        note="n_kw and n_k are means over the saved samples; V terms were read.",
    )


def likelihood_working(model: TopicModel, counts: scipy.sparse.csr_matrix) -> Working:
    """The log-likelihood per token of the last iteration, of the documents that were fitted, int[n_docs, n_terms]."""
    samples, value = model.samples, float(model.trace[-1, 1])
    if not samples or "alpha" not in model.by_topic:  # of the first version
        return Working()
    fitted = np.flatnonzero(np.diff(counts.indptr) > 0)
    last = samples.counts(len(samples) - 1)[fitted]
    alpha = np.asarray(samples.prior[-1])
    gammaln, tokens = scipy.special.gammaln, int(last.data.sum())
    sizes = np.asarray(last.sum(axis=1)).ravel()
    held = alpha[last.indices]
    of_docs = float(
        (gammaln(last.data + held) - gammaln(held)).sum() + (gammaln(alpha.sum()) - gammaln(sizes + alpha.sum())).sum()
    )
    whole = value * tokens
    return Working(
        title=f"Log-likelihood per token after iteration {count(int(model.trace[-1, 0]))}",
        lines=[
            Line(
                name="log p(topics)",
                formula="Σ_d [ln Γ(Σ α) − ln Γ(n_d + Σ α) + Σ_k ln Γ(n_dk + α_k) − ln Γ(α_k)]",
                numbers=f"over {count(len(sizes))} documents, Σ α = {decimal(float(alpha.sum()), 4)}",
                value=of_docs,
            ),
            Line(
                name="log p(words | topics)",
                formula="Σ_k [ln Γ(V β) − ln Γ(n_k + V β) + Σ_w ln Γ(n_kw + β) − ln Γ(β)]",
                numbers=f"over {len(alpha)} topics: what is left of {decimal(whole, 1)}",
                value=whole - of_docs,
            ),
            Line(
                name="per token",
                formula="(log p(topics) + log p(words | topics)) / N",
                numbers=f"({decimal(of_docs, 1)} + {decimal(whole - of_docs, 1)}) / {count(tokens)}",
                value=value,
            ),
        ],
        note="Griffiths and Steyvers 2004, equations 2 and 3. In nats; it compares fits of the same matrix alone.",
    )
