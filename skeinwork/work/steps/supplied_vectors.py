"""Vectors of documents that somebody else computed: in a field of the files, or in a file beside them."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np
from numpy.typing import NDArray

from skeinwork.core import apart
from skeinwork.core.corpus.corpus import Corpus
from skeinwork.core.corpus.documents import Document, documents
from skeinwork.core.corpus.gather import vector_fields
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import readers
from skeinwork.core.formats.vectors import BadVector, VectorReader, VectorRows, checked, tables_of_vectors
from skeinwork.core.progress import Report
from skeinwork.core.relate.vector_settings import DocumentVectorsSettings, VectorFile
from skeinwork.work.steps.corpus import CORPUS, base_of, sound
from skeinwork.work.steps.step import Earlier, counted


def vectors_of_field(earlier: Earlier, settings: DocumentVectorsSettings, report: Report) -> VectorRows:
    """Vectors in a field of the files, which are read once more: a corpus doesn't hold them.

    Raises
    ------
    BadInputError
        where no field of that name has the role vector.
    """
    base = earlier.inputs.result(base_of(earlier.inputs, earlier.identity(CORPUS))).making
    given, field = CORPUS.parse(base.settings), settings.field or ""
    if field not in vector_fields(given):
        raise BadInputError(
            f"No field “{field}” has the role vector. Give the field that holds the vectors that role at Gather, Files."
        )
    named = zip(base.inputs, base.settings["names"], strict=True)
    paths = [(sound(earlier.inputs.file(sha256), sha256, name), name) for sha256, name in named]
    reader, at = VectorReader(), 0
    size = max(path.stat().st_size for path, _ in paths)
    arguments = (documents, paths, given.files, given.repeated)
    names = ", ".join(name for _, name in paths)[:200]
    for item in _apart(arguments, names, size, report):
        if isinstance(item, Document):
            reader.take(at, item.cells.get(field, ""))
            at += 1
    return reader.whole()


def vectors_of_file(earlier: Earlier, settings: DocumentVectorsSettings, report: Report) -> VectorRows:
    """Vectors of a file beside the documents, by their order as brought in, or by a field that names them.

    Raises
    ------
    BadInputError
        where rows and documents are not as many, or nothing names them.
    """
    if settings.file is None:
        raise BadInputError("No file of vectors was given. Bring one in: an array (.npy) or a Parquet table.")
    file, reader, at = settings.file, VectorReader(), 0
    path = sound(earlier.inputs.file(file.sha256), file.sha256, file.name)
    named = _by_name(earlier.load(CORPUS), settings.key) if settings.key else None
    for table in _apart((tables_of_vectors, path, file.name), file.name, path.stat().st_size, report):
        for row, number in enumerate(_numbers(file, table.keys, named, at, len(table.rows))):
            if number is not None:
                _take(reader, number, table.rows[row])
        at += len(table.rows)
    if named is None:
        _expect_all(earlier, file, at)
    found = reader.whole()
    order = np.argsort(found.at, kind="stable")
    return VectorRows(found.at[order], found.vectors[order], found.bad)


def _apart(call: tuple[Any, ...], name: str, size: int, report: Report) -> Iterator[Any]:
    """What a call of a reader yields, in a process apart."""
    limits = readers.limits(size)
    return apart.each(*call, name=lambda: name, limits=limits, watch=lambda: report("Reading vectors", 0.2))


def _expect_all(earlier: Earlier, file: VectorFile, rows: int) -> None:
    base = earlier.inputs.result(base_of(earlier.inputs, earlier.identity(CORPUS)))
    wanted = len(base.array("pointer")) - 1
    if rows != wanted:
        raise BadInputError(
            f"{file.name} has {counted(rows, 'vector')} where {counted(wanted, 'document')} were brought in. Take a "
            "Parquet table with a column of identifiers, and say which field it names."
        )


def _numbers(
    file: VectorFile, keys: list[str] | None, named: dict[str, int] | None, begins: int, rows: int
) -> Iterator[int | None]:
    """The number of the document, as brought in, that each row is of; None for none."""
    if named is None:
        return iter(range(begins, begins + rows))
    if keys is None:
        raise BadInputError(f"{file.name} names no documents: it has no column of texts. Match it by order.")
    return (named.get(key) for key in keys)


def _by_name(corpus: Corpus, key: str) -> dict[str, int]:
    """The number of the document of each value of a field that names documents."""
    column = corpus.column(key)
    if column is None:
        raise BadInputError(f"The documents have no field “{key}”. Say which field the file names them by.")
    found: dict[str, int] = {}
    for document, number in enumerate(corpus.numbers.tolist()):
        if (value := column.value(document)) and found.setdefault(value, number) != number:
            raise BadInputError(f"“{value}” is the {key} of several documents, so it names none. Take another field.")
    return found


def _take(reader: VectorReader, at: int, row: NDArray[Any]) -> None:
    try:
        reader.add(at, checked(np.asarray(row, dtype=np.float64)))
    except ValueError as fault:
        reader.bad.append(BadVector(at, str(fault)))
