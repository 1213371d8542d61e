"""Vectors and maps as files: words with their numbers, documents as an array, coordinates as a table."""

from __future__ import annotations

import io
from collections.abc import Iterable, Iterator
from typing import Any

import numpy as np

from skeinwork.core.formats.export import csv_rows
from skeinwork.work.exports.labels import Labels, topic_names
from skeinwork.work.relate.map_areas import STEP_OF, MapOf, area_name, density_of
from skeinwork.work.results import documents
from skeinwork.work.results.view import View
from skeinwork.work.steps import DOCUMENT_VECTORS, WORD_VECTORS


def word_vectors_file(view: View) -> Iterator[bytes]:
    """A first line with how many words and numbers, then a word and its numbers a line; spaces in a term as ``_``."""
    made, matrix = view.value(WORD_VECTORS), view.matrix_of(WORD_VECTORS)
    yield f"{len(made.terms)} {made.vectors.shape[1]}\n".encode()
    for term, vector in zip(made.terms.tolist(), made.vectors, strict=True):
        numbers = " ".join(f"{each:.6g}" for each in vector.tolist())
        yield f"{matrix.terms[term].replace(' ', '_')} {numbers}\n".encode()


def document_vectors_file(view: View) -> Iterable[bytes]:
    """An array with a row for every document of the corpus, NaN for one without a vector."""
    made = view.value(DOCUMENT_VECTORS)
    rows = np.full((len(view.corpus), made.vectors.shape[1]), np.nan, np.float32)
    rows[made.items] = made.vectors
    out = io.BytesIO()
    np.save(out, rows, allow_pickle=False)
    return [out.getvalue()]


def map_table(view: View, of: MapOf) -> Iterator[bytes]:
    """Every item of a map with its place, and the dense area that it lies in."""
    step = STEP_OF[of]
    made, found, matrix = view.value(step), density_of(view, of), view.matrix_of(step)
    names = [area_name(view, of, at) for at in range(len(found.peaks))]

    def row(at: int) -> list[Any]:
        item, area = int(made.items[at]), int(found.area[at])
        x, y = (float(each) for each in made.places[at])
        what = [matrix.terms[item], matrix.display[item]] if of == "words" else _document(view, item)
        return [*what, x, y, area + 1 if area >= 0 else None, names[area] if area >= 0 else None]

    what = ["term", "shown as"] if of == "words" else ["document", "name"]
    return csv_rows([*what, "x", "y", "area", "words of the area"], map(row, range(len(made.items))))


def nearest_table(view: View, labels: Labels) -> Iterator[bytes] | None:
    """The topic of every document as found, and with a reach; the nearest and its cosine, the nearest first."""
    made = view.model.clustered
    if made is None:
        return None
    names, taken = topic_names(view, labels), np.asarray(view.model.doc_topic)
    has = np.asarray(taken.any(axis=1))
    there = np.flatnonzero(np.asarray(made.nearest) >= 0)
    order = there[np.lexsort((-np.asarray(made.cosine)[there], np.asarray(made.nearest)[there]))]

    def row(at: int) -> list[Any]:
        found, near = int(made.found[at]), int(made.nearest[at])
        of = names[int(taken[at].argmax())] if has[at] else None
        return [*_document(view, at), names[found] if found >= 0 else None, of, names[near], float(made.cosine[at])]

    return csv_rows(
        ["document", "name", "found in", "topic", "nearest topic", "cosine with its centre"], map(row, order.tolist())
    )


def centres_table(view: View, labels: Labels) -> Iterator[bytes] | None:
    """The centre of each topic."""
    made = view.model.clustered
    if made is None:
        return None
    rows = zip(topic_names(view, labels), made.centres.tolist(), strict=True)
    header = ["topic", *(str(at + 1) for at in range(made.centres.shape[1]))]
    return csv_rows(header, ([name, *numbers] for name, numbers in rows))


def _document(view: View, item: int) -> list[Any]:
    return [int(view.corpus.numbers[item]) + 1, documents.name(view, item)]
