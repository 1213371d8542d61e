"""The words of a group of documents against all others: how much more often, and how surely by the tokens.

T. Dunning, *Accurate methods for the statistics of surprise and coincidence*, Computational Linguistics
19, 1993; B. Monroe, M. Colaresi and K. Quinn, *Fightin' words*, Political Analysis 16, 2008. Tokens of
one document hang together: what is said here of tokens is no test.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.errors import BadInputError

# Added to both counts of a ratio, so that a word that one side lacks has one (half a token, after Haldane 1955).
HALF = 0.5
# Tokens that the prior of the log odds is worth: a word seen a few times stays near no difference.
PRIOR_TOKENS = 500.0


@dataclass(frozen=True)
class GroupWords:
    """Every term inside and outside of a group.

    Attributes
    ----------
    inside, outside : int64[n_terms], tokens
    likelihood : float64[n_terms], G², below 0 where the term is the rarer inside
    log_ratio : float64[n_terms], log₂ of how many times as frequent it is inside
    log_odds : float64[n_terms], weighted log odds over their standard error by tokens
    """

    inside: NDArray[np.int64]
    outside: NDArray[np.int64]
    likelihood: NDArray[np.float64]
    log_ratio: NDArray[np.float64]
    log_odds: NDArray[np.float64]


def words_apart(one: NDArray[np.int64], other: NDArray[np.int64], prior_tokens: float = PRIOR_TOKENS) -> GroupWords:
    """Compare a group with all others, term by term.

    Parameters
    ----------
    one, other : int64[n_terms], tokens inside and outside
    prior_tokens : what the prior, the shares of both together, counts for

    Raises
    ------
    BadInputError
        where one side has no tokens.

    Examples
    --------
    >>> found = words_apart(np.array([3, 1]), np.array([0, 4]))
    >>> found.likelihood.round(2).tolist(), found.log_ratio.round(2).tolist()
    ([6.09, -6.09], [2.81, -1.58])
    """
    n_one, n_other = int(one.sum()), int(other.sum())
    if not n_one or not n_other:
        raise BadInputError("A group is compared with all others, and one side has no counted word. Choose another.")
    return GroupWords(
        one,
        other,
        _likelihood(one, other, n_one, n_other),
        np.log2((one + HALF) / n_one) - np.log2((other + HALF) / n_other),
        _log_odds(one, other, n_one, n_other, prior_tokens),
    )


def _likelihood(one: NDArray[np.int64], other: NDArray[np.int64], n_one: int, n_other: int) -> NDArray[np.float64]:
    """2 Σ O ln (O / E) over the four cells of term or not, inside or not; its sign is that of the difference."""
    observed = np.stack([one, other, n_one - one, n_other - other]).astype(np.float64)
    share, whole = np.array([n_one, n_other]) / (n_one + n_other), one + other
    expected = np.stack([whole * share[0], whole * share[1], n_one - whole * share[0], n_other - whole * share[1]])
    held = observed > 0
    parts = np.zeros_like(observed)
    parts[held] = observed[held] * np.log(observed[held] / expected[held])
    return np.asarray(2 * parts.sum(axis=0).clip(min=0.0) * np.sign(observed[0] - expected[0]))


def _log_odds(
    one: NDArray[np.int64], other: NDArray[np.int64], n_one: int, n_other: int, prior_tokens: float
) -> NDArray[np.float64]:
    """Difference of the log odds, both drawn to those of all documents, over its standard error (equations 16, 22).

    0 for a term that no document has, or that is all that any has.
    """
    prior = prior_tokens * (one + other) / (n_one + n_other)
    held = (prior > 0) & (one + other < n_one + n_other)
    first, second, prior = one[held] + prior[held], other[held] + prior[held], prior[held]
    odds = np.log(first / (n_one + prior_tokens - first)) - np.log(second / (n_other + prior_tokens - second))
    found = np.zeros(len(one))
    found[held] = odds / np.sqrt(1 / first + 1 / second)
    return found
