"""Which words stand for a topic, and how much they are its own."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray


def top_words(topic_word: NDArray[np.float64], count: int = 10) -> NDArray[np.int64]:
    """The most probable terms of each topic; ties go to the lower index.

    Parameters
    ----------
    topic_word : float64[n_topics, n_terms]

    Returns
    -------
    int64[n_topics, count], fewer columns where there are fewer terms

    >>> top_words(np.array([[0.1, 0.7, 0.2]]), 2).tolist()
    [[1, 2]]
    """
    return np.argsort(-topic_word, axis=1, kind="stable")[:, :count]


def ownness(topic_word: NDArray[np.float64]) -> NDArray[np.float64]:
    """How much of each word's probability a topic holds: phi_kw / sum over topics of phi_kw.

    Parameters
    ----------
    topic_word : float64[n_topics, n_terms], phi

    Returns
    -------
    float64[n_topics, n_terms]; columns sum to 1
    """
    return topic_word / np.maximum(topic_word.sum(axis=0, keepdims=True), 1e-300)


def telling_words(topic_word: NDArray[np.float64], count: int = 3, among: int = 15) -> NDArray[np.int64]:
    """Of each topic's most probable terms those that set it apart: by probability times ownness.

    Parameters
    ----------
    topic_word : float64[n_topics, n_terms]
    among : how many of the most probable terms are looked at

    Returns
    -------
    int64[n_topics, count], fewer columns where there are fewer terms

    >>> telling_words(np.array([[0.5, 0.4, 0.1], [0.5, 0.1, 0.4]]), 1).tolist()
    [[1], [2]]
    """
    top = top_words(topic_word, among)
    rows = np.arange(len(topic_word))[:, None]
    weight = topic_word[rows, top] * ownness(topic_word)[rows, top] ** 2
    return top[rows, np.argsort(-weight, axis=1, kind="stable")[:, :count]]


def _ranks(values: NDArray[np.float64]) -> NDArray[np.float64]:
    """Ranks from 1 within one row; equal values share their mean rank."""
    _, place, counts = np.unique(values, return_inverse=True, return_counts=True)
    last = np.cumsum(counts)
    shared: NDArray[np.float64] = (last - (counts - 1) / 2.0)[place]
    return shared


def frex(topic_word: NDArray[np.float64], weight: float = 0.5) -> NDArray[np.float64]:
    """FREX of every term in every topic: the harmonic mean of two ranks within the topic.

    J. Bischof and E. Airoldi, *Summarizing topical content with word frequency and exclusivity*,
    ICML 2012.

    Parameters
    ----------
    topic_word : float64[n_topics, n_terms]
    weight : of exclusivity, in [0, 1]; the rest goes to frequency

    Returns
    -------
    float64[n_topics, n_terms], in (0, 1]
    """
    n_terms = topic_word.shape[1]
    exclusive = np.array([_ranks(row) for row in ownness(topic_word)]) / n_terms
    frequent = np.array([_ranks(row) for row in topic_word]) / n_terms
    return 1.0 / (weight / exclusive + (1.0 - weight) / frequent)


_TITLE = 3  # terms in what a topic is called


def titles(topic_word: NDArray[np.float64], display: Sequence[str]) -> list[str]:
    """What to call topics without a label: the words that set each apart, none of them twice.

    Parameters
    ----------
    topic_word : float64[n_topics, n_terms]; display : of every term

    >>> titles(np.array([[0.4, 0.3, 0.2, 0.1]]), ["crew boat", "boat", "gale", "quay"])
    ['crew boat gale quay']
    """
    return [_title(row, display) for row in telling_words(topic_word, 2 * _TITLE)] if len(topic_word) else []


def _title(terms: NDArray[np.int64], display: Sequence[str]) -> str:
    said: list[str] = []
    for term in terms:
        words = display[term].split(" ")
        if not set(words) & {word for each in said for word in each.split(" ")}:
            said.append(" ".join(words))
    return " ".join(said[:_TITLE])
