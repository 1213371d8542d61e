"""Match the topics of two fits: by optimal assignment on the cosine of their words."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

VERSION = 2


def own_words(topic_word: NDArray[np.float64], share: NDArray[np.float64]) -> NDArray[np.float64]:
    """What each topic's words have above those of all topics together, float64[n_topics, n_terms].

    Frequent words are in every topic, so that any two are alike by them: over seeds, topics of words
    dealt out at random agree by .9 as they are, by .2 to .6 less what all share (docs/methods.md).

    Parameters
    ----------
    topic_word : float64[n_topics, n_terms]; share : float64[n_topics], of the tokens
    """
    overall = share @ topic_word / max(float(share.sum()), 1e-300)
    return topic_word - overall


def similarity(a: NDArray[np.float64], b: NDArray[np.float64]) -> NDArray[np.float64]:
    """Cosine of every topic of one fit with every topic of another.

    Parameters
    ----------
    a, b : float64[n_topics, n_terms], words of each topic over the same terms

    Returns
    -------
    float64[n_a, n_b], in [-1, 1]

    >>> similarity(np.eye(2), np.array([[1.0, 1.0]])).round(3).tolist()
    [[0.707], [0.707]]
    """
    norm_a = np.sqrt((a * a).sum(axis=1))
    norm_b = np.sqrt((b * b).sum(axis=1))
    dots = np.einsum("iw,jw->ij", a, b)
    return dots / np.maximum(np.outer(norm_a, norm_b), 1e-300)


def match(a: NDArray[np.float64], b: NDArray[np.float64]) -> list[tuple[int, int, float]]:
    """Pairs of topics of two fits, each topic used once, so that the sum of cosines is greatest.

    H. Kuhn, *The Hungarian method for the assignment problem*, 1955.

    Parameters
    ----------
    a, b : float64[n_topics, n_terms]

    Returns
    -------
    (topic of a, topic of b, cosine), as many as the smaller fit has topics
    """
    from scipy.optimize import linear_sum_assignment  # slow to import, and seldom needed

    scores = similarity(a, b)
    rows, columns = linear_sum_assignment(-scores)
    return [(int(i), int(j), float(scores[i, j])) for i, j in zip(rows, columns, strict=True)]


def on_shared_terms(
    a: NDArray[np.float64], terms_a: list[str], b: NDArray[np.float64], terms_b: list[str]
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Both topic-word tables cut to the terms that both vocabularies hold, in one order.

    Parameters
    ----------
    a, b : float64[n_topics, n_terms], each over its own ``terms_a`` or ``terms_b``

    Returns
    -------
    float64[n_a, n_shared] and float64[n_b, n_shared]; without shared terms they have no columns
    """
    place = {term: at for at, term in enumerate(terms_b)}
    pairs = [(at, place[term]) for at, term in enumerate(terms_a) if term in place]
    left = np.array([at for at, _ in pairs], dtype=np.int64)
    right = np.array([at for _, at in pairs], dtype=np.int64)
    return a[:, left], b[:, right]


def stability(fits: list[NDArray[np.float64]]) -> NDArray[np.float64]:
    """For each fit, its mean matched cosine with the fits of other seeds.

    Parameters
    ----------
    fits : float64[n_topics, n_terms] each, over the same terms

    Returns
    -------
    float64[n_fits]; NaN where there is one fit alone
    """
    n = len(fits)
    agreement = np.full((n, n), np.nan)
    for i in range(n):
        for j in range(i + 1, n):
            pairs = match(fits[i], fits[j])
            agreement[i, j] = agreement[j, i] = np.mean([cosine for _, _, cosine in pairs])
    return np.nanmean(agreement, axis=1) if n > 1 else np.full(n, np.nan)


def found_again(model: NDArray[np.float64], other: NDArray[np.float64], least: float = 0.7) -> NDArray[np.int64]:
    """Which topic of another fit each topic is, -1 where it is not found again.

    Parameters
    ----------
    model, other : float64[n_topics, n_terms], over the same terms
    least : cosine from which a matched topic counts as the same

    Returns
    -------
    int64[n_topics]
    """
    found = np.full(len(model), -1, dtype=np.int64)
    for topic, same, cosine in match(model, other):
        if cosine >= least:
            found[topic] = same
    return found


def recurrence(model: NDArray[np.float64], others: list[NDArray[np.float64]]) -> NDArray[np.int64]:
    """In how many other fits each topic is found again.

    Parameters
    ----------
    model : float64[n_topics, n_terms]; others : the same of other seeds

    Returns
    -------
    int64[n_topics], between 0 and the number of others
    """
    again = [found_again(model, other) >= 0 for other in others]
    return np.sum(again, axis=0, dtype=np.int64) if again else np.zeros(len(model), dtype=np.int64)
