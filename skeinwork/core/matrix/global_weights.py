"""Global weights: what a term says at all, from the documents it is in.

A weight is added by its class and its entry in ``GLOBAL``.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from dataclasses import dataclass
from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.matrix.numbers import Base, Logarithms, log, said

Values = NDArray[np.float64]
# A term that says nothing by its weight is taken to say this much, where weights are to be undone.
_LEAST = 1e-2


def divisors(weights: Values) -> Values:
    """What undoes global weights, float64[n_terms], by division."""
    return np.maximum(weights, _LEAST)


@dataclass(frozen=True)
class Terms:
    """What is known of terms over the documents that a weighting is learnt from.

    Attributes
    ----------
    n_docs : all of them, empty ones too
    df : float64[n_terms], documents that hold each term
    total : float64[n_terms], how often it occurs
    tf_log_tf : float64[n_terms], the sum of tf · ln tf over its documents
    """

    n_docs: int
    df: Values
    total: Values
    tf_log_tf: Values

    def of(self, term: int) -> Terms:
        """The same of one term."""
        one = slice(term, term + 1)
        return Terms(self.n_docs, self.df[one], self.total[one], self.tf_log_tf[one])


class Global(ABC):
    """One way to weigh a term.

    Attributes
    ----------
    title, formula : what the screens call it; ``{log}`` in the formula is the logarithm in force
    nowhere, everywhere : what a term in no document, and in every document, gets
    smoothing : what is added to the numbers, and to what end
    logarithm : what another base of the logarithm does to it
    """

    title: ClassVar[str]
    formula: ClassVar[str]
    nowhere: ClassVar[str]
    everywhere: ClassVar[str]
    smoothing: ClassVar[str] = ""
    logarithm: ClassVar[Logarithms] = "multiplied by"

    @abstractmethod
    def weights(self, terms: Terms, base: str) -> Values:
        """float64[n_terms]."""

    @abstractmethod
    def filled(self, terms: Terms, base: str) -> str:
        """The formula with the numbers of one term put in."""


class NoGlobal(Global):
    """Every term alike."""

    title, formula = "none", "1"
    nowhere = everywhere = "1"
    logarithm: ClassVar[Logarithms] = "none"

    def weights(self, terms: Terms, base: str) -> Values:
        return np.ones(len(terms.df))

    def filled(self, terms: Terms, base: str) -> str:
        return "1"


class Idf(Global):
    """K. Spärck Jones, *A statistical interpretation of term specificity*, 1972."""

    title, formula = "idf", "{log} (N / df)"
    nowhere, everywhere = "0, by definition: N / 0 has no logarithm", "0: it tells nothing apart"
    smoothing = "no smoothing: N and df are the documents as they are"

    def weights(self, terms: Terms, base: str) -> Values:
        ratio = max(terms.n_docs, 1) / np.maximum(terms.df, 1)
        return np.where(terms.df > 0, log(ratio, base), 0.0)

    def filled(self, terms: Terms, base: str) -> str:
        if not terms.df[0]:
            return "0 (in no document)"
        return f"{Base(base).sign} ({said(terms.n_docs)} / {said(terms.df)})"


class SmoothIdf(Global):
    """One more document that holds every term."""

    title, formula = "smooth idf", "{log} ((1 + N) / (1 + df))"
    nowhere, everywhere = "{log} (1 + N), the largest", "0"
    smoothing = "smoothed: as if one more document held every term"
    _added: ClassVar[float] = 0.0

    def weights(self, terms: Terms, base: str) -> Values:
        return log((1.0 + terms.n_docs) / (1.0 + terms.df), base) + self._added

    def filled(self, terms: Terms, base: str) -> str:
        inside = f"(1 + {said(terms.n_docs)}) / (1 + {said(terms.df)})"
        return f"{Base(base).sign} ({inside})"


class SmoothIdfPlusOne(SmoothIdf):
    """The same, and one: no term weighs nothing."""

    title, formula = "smooth idf + 1", "{log} ((1 + N) / (1 + df)) + 1"
    nowhere, everywhere = "{log} (1 + N) + 1, the largest", "1: it still counts"
    smoothing = "smoothed, as if one more document held every term; then 1 is added"
    logarithm: ClassVar[Logarithms] = "added to"
    _added = 1.0

    def filled(self, terms: Terms, base: str) -> str:
        return f"{super().filled(terms, base)} + 1"


class Probabilistic(Global):
    """W. Croft and D. Harper, *Using probabilistic models of document retrieval*, 1979."""

    title, formula = "probabilistic idf", "max(0, {log} ((N − df) / df))"
    nowhere = "0, by definition"
    everywhere = "0, as for every term in half of the documents or more"

    def weights(self, terms: Terms, base: str) -> Values:
        ratio = (terms.n_docs - terms.df) / np.maximum(terms.df, 1)
        inside = np.where((terms.df > 0) & (ratio > 1), ratio, 1.0)
        return log(inside, base)

    def filled(self, terms: Terms, base: str) -> str:
        if not terms.df[0]:
            return "0 (in no document)"
        n, df = said(terms.n_docs), said(terms.df)
        return f"max(0, {Base(base).sign} (({n} − {df}) / {df}))"


class Entropy(Global):
    """S. Dumais, *Improving the retrieval of information from external sources*, 1991.

    The base cancels out.
    """

    title, formula = "entropy", "1 + Σ p · ln p / ln N, p = tf / total"
    nowhere = "1, by definition: nothing is spread"
    everywhere = "0 where it occurs equally often in every document, more where it does not"
    logarithm: ClassVar[Logarithms] = "none"

    def weights(self, terms: Terms, base: str) -> Values:
        if terms.n_docs < 2:
            return np.ones(len(terms.df))
        weights = 1.0 - self._spread(terms) / np.log(terms.n_docs)
        # A hair under zero is a zero: p sums to 1 only so nearly.
        return np.where(weights > 1e-12, weights, 0.0)

    def _spread(self, terms: Terms) -> Values:
        """Entropy in nats: ln total − Σ tf · ln tf / total."""
        total = np.maximum(terms.total, 1)
        return np.asarray(np.log(total) - terms.tf_log_tf / total)

    def filled(self, terms: Terms, base: str) -> str:
        if terms.n_docs < 2:
            return "1 (of one document)"
        return f"1 − {said(self._spread(terms))} / ln {said(terms.n_docs)}"


GLOBAL: dict[str, Global] = {
    "none": NoGlobal(),
    "idf": Idf(),
    "smooth": SmoothIdf(),
    "smooth-plus-one": SmoothIdfPlusOne(),
    "probabilistic": Probabilistic(),
    "entropy": Entropy(),
}
