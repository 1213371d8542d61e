"""How figures of a fit came about: formula, its own numbers, value."""

from __future__ import annotations

from typing import Any

import numpy as np
from pydantic import BaseModel, Field

from skeinwork.core.errors import BadInputError
from skeinwork.core.topics.held_out import training_part
from skeinwork.core.topics.merging import alike
from skeinwork.core.topics.methods import method_of
from skeinwork.core.topics.methods.base import Method, MethodSettings
from skeinwork.core.working import Line, Working
from skeinwork.work.evidence.share_range import shares
from skeinwork.work.results import documents
from skeinwork.work.results.view import View
from skeinwork.work.steps import FIT

_WORDS = 12


class TokensOfWord(BaseModel):
    """A word of a document, how often it is there, and how many of these a topic has."""

    term: str
    display: str
    n: int
    tokens: float


class FitWorking(Working):
    """A working of a fit's figure with the words behind it, those first that have most of it."""

    words: list[TokensOfWord] = Field([])


def _method(view: View) -> tuple[Method[Any], MethodSettings]:
    settings = FIT.parse(view.fit_record.making.settings)
    return method_of(settings), settings


def share_working(view: View, topic: int, document: int) -> FitWorking:
    """How a topic's share of a document came about, from the document's tokens."""
    if not 0 <= document < len(view.corpus):
        raise BadInputError("There is no such document.")
    share, name = float(shares(view, topic)[document]), documents.name(view, document)
    if np.isnan(share):
        return FitWorking(title=f"{name}: no word of it is counted, so it has no shares")
    matrix, (method, settings) = view.fit_matrix, _method(view)
    row = matrix.counts[[document]].tocsr()
    worked = method.share_working(view.model, topic, document, row, settings)
    weights = view.term_topics(document, row.indices.astype(np.int64))[topic] * row.data
    order = [at for at in np.argsort(-weights, kind="stable")[:_WORDS].tolist() if weights[at] > 0.05]
    words = [
        TokensOfWord(
            term=matrix.terms[row.indices[at]],
            display=matrix.display[row.indices[at]],
            n=int(row.data[at]),
            tokens=float(weights[at]),
        )
        for at in order
    ]
    grams = ", n-grams among them" if (np.asarray(matrix.lengths)[row.indices] > 1).any() else ""
    return FitWorking(
        title=f"Share of {name}",
        lines=worked.lines,
        words=words,
        note=f"{worked.note}{grams}. Beside each word: how often it is there, and p(topic | word, document) times it.",
    )


def word_working(view: View, topic: int, term: str) -> FitWorking:
    """How a word's weight in a topic came about."""
    shares(view, topic)
    matrix, model, (method, _) = view.fit_matrix, view.model, _method(view)
    column = matrix.column_of(term)
    phi = np.asarray(model.topic_word)
    value, in_all = float(phi[topic, column]), float(phi[:, column] @ view.fit_shares)
    worked = method.word_working(model, topic, column, matrix.counts)
    lift = Line(
        name="lift",
        formula="p(w | k) / p(w)",
        numbers=f"{value:.6f} / {in_all:.6f}",
        value=value / in_all if in_all else 0.0,
    )
    title = f"“{matrix.display[column]}” in the topic"
    return FitWorking(title=title, lines=[*worked.lines, lift], note=worked.note)


_SHARE = {
    "tokens": "tokens of the topic / tokens of all topics, the mean over saved samples",
    "documents": "documents of the topic / documents with a vector, those in no topic too",
}


def topic_working(view: View, topic: int) -> FitWorking:
    """How the figures of a topic as a whole came about: its share, its coherence, how distinct it is."""
    shares(view, topic)
    tokens, said = np.asarray(view.assigned.sum(axis=0), dtype=np.float64).ravel(), view.fit_summary
    whole, of = tokens.sum(), "tokens"
    if view.model.clustered:
        tokens, whole, of = np.asarray(view.model.doc_topic).sum(axis=0), view.token_weights.sum(), "documents"
    near = alike(np.asarray(view.model.topic_word))[topic]
    near[topic] = -1.0
    nearest = int(near.argmax())
    coherence = said.npmi[topic]
    lines = [
        Line(
            name=f"share of {of}",
            formula=_SHARE[of],
            numbers=f"{tokens[topic]:,.1f} / {whole:,.0f}",
            value=float(tokens[topic] / max(whole, 1e-300)),
        ),
        Line(
            name="distinctness",
            formula="Jensen-Shannon divergence from the words of the nearest topic, in bits",
            numbers=f"nearest: {nearest + 1}, {view.topic_words(nearest)}",
            value=1.0 - float(near[nearest]),
        ),
    ]
    if coherence is not None:
        line = Line(
            name="coherence",
            formula="mean NPMI of the pairs of its 10 strongest words in windows of 10",
            numbers="the pairs with their windows: Workings, at Choose",
            value=coherence,
        )
        lines.insert(1, line)
    return FitWorking(title="The topic as a whole", lines=lines)


def watched_working(view: View) -> FitWorking:
    """How the last value of what the fit was watched by came about."""
    test, (method, settings) = view.fit_matrix.test, _method(view)
    if settings.merged:
        raise BadInputError("The trace is of the fit before its topics were merged: take that back at Label first.")
    read = np.flatnonzero(method.reads(settings, view.fit_matrix.lengths))
    known = training_part(view.fit_matrix.counts[:, read], None if test is None else np.asarray(test))
    worked = method.watched_working(view.model, known, settings)
    if not worked.lines:
        raise BadInputError("This fit has no likelihood with parts to show.")
    return FitWorking(**worked.model_dump())
