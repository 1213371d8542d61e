"""How figures of a fit came about: formula, its own numbers, value."""

from __future__ import annotations

import numpy as np
import scipy
from pydantic import BaseModel

from skeinwork.core.errors import BadInputError
from skeinwork.core.said import count, decimal
from skeinwork.work.evidence.share_range import shares
from skeinwork.work.results import documents
from skeinwork.work.results.view import View
from skeinwork.work.screens.working import Line

_WORDS = 12


class TokensOfWord(BaseModel):
    """A word of a document, how often it is there, and how many of these a topic has."""

    term: str
    display: str
    n: int
    tokens: float


class FitWorking(BaseModel):
    """What a figure is of, how it came about, and the words behind it, those first that have most of it."""

    title: str
    lines: list[Line]
    words: list[TokensOfWord] = []
    note: str = ""


def share_working(view: View, topic: int, document: int) -> FitWorking:
    """How a topic's share of a document came about, from the document's tokens."""
    if not 0 <= document < len(view.corpus):
        raise BadInputError("There is no such document.")
    share, size = float(shares(view, topic)[document]), float(view.assigned_sizes[document])
    samples, lines = view.model.samples, []
    name = documents.name(view, document)
    if np.isnan(share):
        return FitWorking(title=f"{name}: no word of it is counted, so it has no shares", lines=[])
    if samples:
        drawn = [int(samples.counts(at)[document, topic]) for at in range(len(samples))]
        lines.append(
            Line(
                name="share",
                formula="Σ n_dk / S / n_d",
                numbers=f"({' + '.join(map(str, drawn))}) / {len(drawn)} / {round(size)}",
                value=share,
            )
        )
        prior = np.asarray(samples.prior)
        smoothed = float(np.asarray(view.model.doc_topic[document])[topic])
        lines.append(
            Line(
                name="share with the prior",
                formula="Σ (n_dk + α_k) / (n_d + Σ α) / S",
                numbers=f"α_k = {decimal(float(prior[:, topic].mean()), 4)}, Σ α = "
                f"{decimal(float(prior.sum(axis=1).mean()), 4)}, n_d = {round(size)}, S = {len(drawn)}",
                value=smoothed,
            )
        )
    row = view.fit_matrix.counts[[document]].tocsr()
    lengths = np.asarray(view.fit_matrix.lengths)[row.indices]
    weights = view.term_topics(document, row.indices.astype(np.int64))[topic] * row.data
    order = [at for at in np.argsort(-weights, kind="stable")[:_WORDS].tolist() if weights[at] > 0.05]
    matrix = view.fit_matrix
    words = [
        TokensOfWord(
            term=matrix.terms[row.indices[at]],
            display=matrix.display[row.indices[at]],
            n=int(row.data[at]),
            tokens=float(weights[at]),
        )
        for at in order
    ]
    grams = ", n-grams among them" if (lengths > 1).any() else ""
    return FitWorking(
        title=f"Share of {name}",
        lines=lines,
        words=words,
        note=f"n_dk are its tokens in the topic in each of the saved samples, n_d its counted words{grams}. Beside "
        "each word: how often it is there, and p(topic | word, document) times that.",
    )


def word_working(view: View, topic: int, term: str) -> FitWorking:
    """How a word's probability in a topic came about."""
    shares(view, topic)
    matrix, model = view.fit_matrix, view.model
    column = matrix.column_of(term)
    phi = np.asarray(model.topic_word)
    value, beta = float(phi[topic, column]), model.overall.get("beta")
    total, in_all = int(matrix.totals[column]), float(phi[:, column] @ view.fit_shares)
    lines = []
    if beta is not None:
        prior = decimal(beta, 4)
        size, terms = float(view.assigned[:, [topic]].sum()), int((phi > 0).any(axis=0).sum())
        held = value * (size + terms * beta) - beta
        lines.append(
            Line(
                name="probability in the topic",
                formula="(n_kw + β) / (n_k + V β)",
                numbers=f"({decimal(max(held, 0.0), 1)} + {prior}) / ({count(round(size))} + {count(terms)} × {prior})",
                value=value,
            )
        )
        lines.append(
            Line(
                name="of the word's tokens in the topic",
                formula="n_kw / n_w",
                numbers=f"{decimal(max(held, 0.0), 1)} / {count(total)}",
                value=min(max(held, 0.0) / max(total, 1), 1.0),
            )
        )
    lines.append(
        Line(
            name="lift",
            formula="p(w | k) / p(w)",
            numbers=f"{value:.6f} / {in_all:.6f}",
            value=value / in_all if in_all else 0.0,
        )
    )
    return FitWorking(
        title=f"“{matrix.display[column]}” in the topic",
        lines=lines,
        note="n_kw and n_k are means over the saved samples; V terms were read." if beta is not None else "",
    )


def likelihood_working(view: View) -> FitWorking:
    """How the log-likelihood per token of the last iteration came about."""
    model = view.model
    samples, value = model.samples, float(model.trace[-1, 1])
    if not samples or "alpha" not in model.by_topic:
        raise BadInputError("This method has no likelihood with parts to show.")
    last = samples.counts(len(samples) - 1)
    test = view.fit_matrix.test
    if test is not None:
        last = last[np.flatnonzero(~np.asarray(test))]
    alpha = np.asarray(samples.prior[-1])
    gammaln, tokens = scipy.special.gammaln, int(last.data.sum())
    sizes = np.asarray(last.sum(axis=1)).ravel()
    held = alpha[last.indices]
    of_docs = float(
        (gammaln(last.data + held) - gammaln(held)).sum() + (gammaln(alpha.sum()) - gammaln(sizes + alpha.sum())).sum()
    )
    whole = value * tokens
    return FitWorking(
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
