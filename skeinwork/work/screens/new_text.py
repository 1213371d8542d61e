"""New text under the cleaning, vocabulary and learnt weights of a matrix."""

from __future__ import annotations

from collections.abc import Container, Iterator, Sequence
from pathlib import Path

import numpy as np
import scipy
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.corpus.gather import preview
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import readers
from skeinwork.core.formats.records import named_by
from skeinwork.core.matrix.global_weights import GLOBAL
from skeinwork.core.matrix.new_texts import NewTexts, read_new_texts, unknown_words
from skeinwork.core.matrix.weighting import Weighting, weigh
from skeinwork.work.results import documents
from skeinwork.work.results.view import View
from skeinwork.work.screens.files import look
from skeinwork.work.steps import MATRIX
from skeinwork.work.topics.model_file import known_words
from skeinwork.work.weighting.weighted_matrix import Weighed, made_weighed

MOST_TEXTS = 20
_NEAREST = 8
_SHARED = 4


class NewText(BaseModel):
    """A text that is not in the corpus."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    text: str = Field(min_length=1, max_length=200_000)


class NewTerm(BaseModel):
    """A term of the text with its weight, and what that is made of."""

    term: str
    display: str
    n: int
    global_weight: float
    weight: float


class UnknownWord(BaseModel):
    """A word that has no column, and why."""

    word: str
    n: int
    why: str


class Near(BaseModel):
    """A document by the cosine of its weights with those of the text, and the terms that make it up."""

    document: int
    name: str
    brief: str
    cosine: float
    shared: list[str]


class WeighedText(BaseModel):
    """A text as the matrix sees it."""

    name: str
    words: int
    counted: int
    terms: list[NewTerm]
    unknown: list[UnknownWord]
    nearest: list[Near]


class WeighedTexts(BaseModel):
    """``total`` texts were given, the first of them are answered."""

    total: int
    weighting: str
    formula: str
    learnt_from: int
    texts: list[WeighedText]


def unknown(read: NewTexts, text: int, columns: Container[str], in_corpus: Container[str]) -> list[UnknownWord]:
    """Words without a column, the most frequent first."""
    found = unknown_words(read, text, columns, in_corpus)
    order = sorted(found, key=lambda key: (key[1] == "left out by Clean", -found[key], key[0]))
    return [UnknownWord(word=key[0], why=key[1], n=found[key]) for key in order]


def _nearest(view: View, made: Weighed, vector: scipy.sparse.csr_matrix) -> list[Near]:
    """Documents by the cosine of their weights."""
    weights = made.weights
    squares = np.asarray(weights.multiply(weights).sum(axis=1)).ravel()
    own = float(np.sqrt((vector.data**2).sum()))
    product = np.asarray((weights @ vector.T).todense()).ravel()
    size = np.sqrt(squares) * own
    cosine = np.where(size > 0, product / np.where(size > 0, size, 1.0), 0.0)
    order = np.argsort(-cosine, kind="stable")[:_NEAREST]
    found = []
    for at in order[cosine[order] > 0].tolist():
        shared = weights[[at]].multiply(vector).tocoo()
        top = np.argsort(-shared.data, kind="stable")[:_SHARED]
        found.append(
            Near(
                document=at,
                name=documents.name(view, at),
                brief=documents.brief(view, at),
                cosine=float(cosine[at]),
                shared=[made.matrix.display[shared.col[each]] for each in top.tolist()],
            )
        )
    return found


def weigh_texts(view: View, weighting: Weighting, texts: Sequence[str], names: Sequence[str]) -> WeighedTexts:
    """Texts as the matrix that was made sees them; nothing is learnt from them."""
    made = made_weighed(view, weighting)
    shown = list(texts[:MOST_TEXTS])
    read = read_new_texts(known_words(view, MATRIX), shown)
    counts = read.counts
    weights = weigh(counts, weighting, made.learnt)
    across = GLOBAL[weighting.global_weight].weights(made.learnt.terms, weighting.base)
    found = []
    for at, name in enumerate(names[: len(shown)]):
        row, tf = weights[[at]].tocsr(), counts[[at]].tocsr()
        order = np.argsort(-row.data, kind="stable")
        terms = [
            NewTerm(
                term=made.matrix.terms[row.indices[each]],
                n=int(tf.data[each]),
                display=made.matrix.display[row.indices[each]],
                weight=float(row.data[each]),
                global_weight=float(across[row.indices[each]]),
            )
            for each in order.tolist()
        ]
        found.append(
            WeighedText(
                name=name,
                words=read.words(at),
                counted=int(tf.data.sum()),
                terms=terms,
                nearest=_nearest(view, made, row),
                unknown=unknown(read, at, made.matrix.columns, view.form_place),
            )
        )
    return WeighedTexts(
        total=len(texts),
        weighting=weighting.in_words(),
        formula=weighting.formula(),
        learnt_from=made.learnt.terms.n_docs,
        texts=found,
    )


def texts_of_file(path: Path, name: str) -> list[tuple[str, str]]:
    """The first documents of a file of any format that can be brought in: name and text of each.

    Raises
    ------
    BadInputError
        where none of them has text.
    """
    found = [each for each in look(_texts, path, name) if each[1].strip()]
    if not found:
        raise BadInputError(f"{name} has no text that could be weighed.")
    return found


def _texts(path: Path, name: str) -> Iterator[tuple[str, str]]:
    data = readers.head(path, name)
    settings = readers.detect_settings(data, name)
    found = preview(data, name, settings)
    text = named_by(found.roles, "text") or "text"
    title = named_by(found.roles, "title") or named_by(found.roles, "identifier")
    for row in found.rows[:MOST_TEXTS]:
        called = row.cells.get(title or "", "") or row.place or f"{name}, line {row.line}"
        yield called[:200], row.cells.get(text, "")
