"""New text under the cleaning, vocabulary and learnt weights of a matrix."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from pathlib import Path

import numpy as np
import scipy
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.corpus.gather import preview
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import readers
from skeinwork.core.formats.records import named_by
from skeinwork.core.matrix.global_weights import GLOBAL
from skeinwork.core.matrix.matrix_settings import MatrixSettings
from skeinwork.core.matrix.weighting import Weighting, weigh
from skeinwork.core.text import clean, tokenise
from skeinwork.core.text.about import About
from skeinwork.core.text.clean import Cleaning
from skeinwork.core.text.language import LANGUAGES, detect_languages
from skeinwork.core.text.segment import WORD, join_texts, tokens_of
from skeinwork.work.results import cleaning_preview, documents
from skeinwork.work.results.view import View
from skeinwork.work.screens.files import look
from skeinwork.work.steps import MATRIX
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


def _cleaned(view: View, texts: Sequence[str]) -> Cleaning:
    """Texts through the passes of the cleaning that was made."""
    settings = view.clean_settings
    found = detect_languages(tokens_of(*join_texts(texts), "uax29"))
    language = np.where(found < 0, len(LANGUAGES), found).astype(np.int16)
    about = About(language, (*LANGUAGES, "unsure"))
    tokens = tokenise.tokenise(texts, settings.tokenising(), about=about)
    return clean.clean(tokens, settings, about, cleaning_preview.lists_of(view, settings))


def _known_forms(view: View) -> dict[str, int]:
    """The form of every word of the corpus that has one there alone; -1 where it was removed."""

    def find() -> dict[str, int]:
        cleaning = view.cleaning
        found: dict[str, int] = {}
        for word, form in zip(cleaning.tokens.types, cleaning.form_of.tolist(), strict=True):
            found[word] = form if found.get(word, form) == form else -2
        return {word: form for word, form in found.items() if form != -2}

    return view.cached("forms of words", find)


def _forms(view: View, cleaning: Cleaning) -> list[str | None]:
    """The form of every type of new texts: the corpus's own where it knows the word."""
    known, forms = _known_forms(view), view.cleaning.forms
    own = [cleaning.forms[at] if at >= 0 else None for at in cleaning.form_of.tolist()]
    for at, word in enumerate(cleaning.tokens.types):
        if (form := known.get(word)) is not None:
            own[at] = forms[form] if form >= 0 else None
    return own


def _counts(
    made: Weighed, cleaning: Cleaning, forms: list[str | None], settings: MatrixSettings
) -> scipy.sparse.csr_matrix:
    """Counts of the matrix's terms in new texts, n-grams as the matrix has them too."""
    tokens, place = cleaning.tokens, made.matrix.columns
    breaks = tokens.breaks.copy()
    breaks[tokens.leads] = True
    texts = np.repeat(np.arange(len(tokens.doc_ptr) - 1), np.diff(tokens.doc_ptr)).tolist()
    run: list[str] = []
    rows, columns = [], []
    for at, kind in enumerate(tokens.ids.tolist()):
        form = forms[kind]
        if breaks[at] or (form is None and not (settings.bridge and tokens.classes[kind] == WORD)):
            run = []
        if form is None:
            continue
        run = [*run, form][-settings.longest :]
        for size in range(1, len(run) + 1):
            if (column := place.get(" ".join(run[-size:]))) is not None:
                rows.append(texts[at])
                columns.append(column)
    shape = (len(tokens.doc_ptr) - 1, len(place))
    ones = np.ones(len(rows), dtype=np.int32)
    places = (np.array(rows, np.int64), np.array(columns, np.int64))
    return scipy.sparse.coo_matrix((ones, places), shape=shape, dtype=np.int32).tocsr()


def _unknown(view: View, made: Weighed, cleaning: Cleaning, forms: list[str | None], text: int) -> list[UnknownWord]:
    """Words without a column, the most frequent first."""
    tokens, in_corpus = cleaning.tokens, view.form_place
    found: dict[tuple[str, str], int] = {}
    for at in tokens.ids[cleaning.rows(text)].tolist():
        form = forms[at]
        if (form is not None and form in made.matrix.columns) or tokens.classes[at] != WORD:
            continue
        why = "left out by Clean"
        if form is not None:
            why = "pruned" if form in in_corpus else "not in the corpus"
        key = tokens.types[at], why
        found[key] = found.get(key, 0) + 1
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
    settings = MATRIX.parse(view.matrix_record.making.settings)
    made = made_weighed(view, weighting)
    shown = list(texts[:MOST_TEXTS])
    cleaning = _cleaned(view, shown)
    forms = _forms(view, cleaning)
    counts = _counts(made, cleaning, forms, settings)
    weights = weigh(counts, weighting, made.learnt)
    across = GLOBAL[weighting.global_weight].weights(made.learnt.terms, weighting.base)
    found = []
    for at, name in enumerate(names[: len(shown)]):
        row, tf = weights[[at]].tocsr(), counts[[at]].tocsr()
        order = np.argsort(-row.data, kind="stable")
        ids = cleaning.tokens.ids[cleaning.rows(at)]
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
                words=int((cleaning.tokens.classes[ids] == WORD).sum()),
                counted=int(tf.data.sum()),
                terms=terms,
                nearest=_nearest(view, made, row),
                unknown=_unknown(view, made, cleaning, forms, at),
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
