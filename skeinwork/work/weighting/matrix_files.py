"""The matrix in open formats: as a table, sparse, and as a dictionary with its documents.

Everything is written piece by piece, so that no size has to fit into memory twice.
"""

from __future__ import annotations

import io
import json
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from itertools import chain, islice
from typing import TYPE_CHECKING, Any

import numpy as np

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.dates import MISSING, from_days
from skeinwork.core.formats.export import csv_rows, matrix_market, safe_cell, to_csv
from skeinwork.core.matrix.columns import column_names
from skeinwork.core.matrix.global_weights import GLOBAL
from skeinwork.work.results import documents
from skeinwork.work.results.view import View
from skeinwork.work.weighting.long_form import Long
from skeinwork.work.weighting.weighted_matrix import Weighed

if TYPE_CHECKING:
    import pyarrow as pa

DENSE_CELLS = 50_000_000  # the most of a table that has a cell for every document and term
_SAMPLED_CELLS = 1_000_000  # by which a size is judged, zeros among them
_ROWS = 1000


@dataclass(frozen=True)
class Asked:
    """What is written: the matrix under a weighting, and the field that is the outcome."""

    view: View
    made: Weighed
    outcome: str | None

    @property
    def n_docs(self) -> int:
        return int(self.made.weights.shape[0])

    @property
    def n_terms(self) -> int:
        return len(self.made.matrix.terms)

    def number(self, value: float) -> int | float:
        """A weight as it is written: counts as whole numbers."""
        return int(value) if self.made.weighting.is_counts else float(value)

    def part(self, document: int) -> str:
        """Which part of the split a document is in; empty where there is none."""
        test = self.made.matrix.test
        return "" if test is None else "test" if test[document] else "training"

    def outcome_of(self, document: int) -> str | None:
        column = self.view.corpus.column(self.outcome) if self.outcome else None
        return column.value(document) if column else None

    def first(self, size: int) -> Asked:
        """The same of the first documents."""
        made, matrix = self.made, self.made.matrix
        test = None if matrix.test is None else matrix.test[:size]
        less = replace(
            made,
            matrix=replace(matrix, counts=matrix.counts[:size], test=test),
            weights=made.weights[:size],
            documents=made.documents[:size],
        )
        return replace(self, made=less)


def asked(view: View, made: Weighed, outcome: str | None) -> Asked:
    """What is to be written.

    Raises
    ------
    BadInputError
        where no field has the name of the outcome.
    """
    if outcome and view.corpus.column(outcome) is None:
        names = ", ".join(column.name for column in view.corpus.columns) or "none"
        raise BadInputError(f"There is no field “{outcome}” for an outcome. There are {names}.")
    return Asked(view, made, outcome or None)


def _lead(of: Asked) -> list[str]:
    """Columns of the design table before the terms: document, its name, outcome, split."""
    own, split = ["document", "name"], ["part"] if of.made.matrix.test is not None else []
    outcome = column_names([of.outcome] if of.outcome else [], [*own, *split])
    return [*own, *outcome, *split]


def _lead_of(of: Asked, document: int) -> list[Any]:
    return [
        document + 1,
        documents.name(of.view, document),
        *([of.outcome_of(document)] if of.outcome else []),
        *([of.part(document)] if of.made.matrix.test is not None else []),
    ]


def _check_dense(of: Asked) -> None:
    cells = of.view.matrix.counts.shape[0] * of.n_terms
    if cells > DENSE_CELLS:
        raise BadInputError(
            f"A table with a cell for each of {of.n_docs:,} documents and {of.n_terms:,} terms would have "
            f"{cells:,} cells; up to {DENSE_CELLS:,} are written. Take matrix.mtx, cells.parquet or "
            "documents.jsonl, which leave the zeros out, or prune to at most "
            f"{DENSE_CELLS // max(of.n_docs, 1):,} terms."
        )


def _design_csv(of: Asked) -> Iterator[bytes]:
    """A document a row, a term a column."""
    _check_dense(of)
    lead = _lead(of)

    zeros = [safe_cell(of.number(0.0))] * of.n_terms

    def rows() -> Iterator[bytes]:
        """Only what is no zero is written anew."""
        for first in range(0, of.n_docs, _ROWS):
            part, lines = of.made.weights[first : first + _ROWS], []
            for at in range(part.shape[0]):
                cells, own = list(zeros), slice(part.indptr[at], part.indptr[at + 1])
                for term, value in zip(part.indices[own].tolist(), part.data[own].tolist(), strict=True):
                    cells[term] = safe_cell(of.number(value))
                lead_cells = to_csv(_lead_of(of, first + at), ()).decode().removesuffix("\r\n")
                lines.append(",".join([lead_cells, *cells]) + "\r\n")
            yield "".join(lines).encode()

    heading = csv_rows([*lead, *column_names(of.made.matrix.terms, lead)], ())
    return chain(heading, rows())


class _Sink(io.RawIOBase):
    """A file that hands over what was written to it since it was last asked."""

    def __init__(self) -> None:
        super().__init__()
        self._parts: list[bytes] = []
        self._at = 0

    def writable(self) -> bool:
        return True

    def write(self, data: Any, /) -> int:
        self._parts.append(bytes(data))
        self._at += len(self._parts[-1])
        return len(self._parts[-1])

    def tell(self) -> int:
        return self._at

    def take(self) -> bytes:
        """What has come since."""
        taken = b"".join(self._parts)
        self._parts.clear()
        return taken


def _parquet(schema: pa.Schema, batches: Iterator[list[pa.Array]]) -> Iterator[bytes]:
    """A Parquet file, piece by piece; its bytes depend on what is in it alone."""
    import pyarrow as pa
    import pyarrow.parquet as pq

    sink = _Sink()
    with pq.ParquetWriter(sink, schema, compression="zstd") as writer:
        for arrays in batches:
            writer.write_batch(pa.record_batch(arrays, schema=schema))
            yield sink.take()
    yield sink.take()


def _design_parquet(of: Asked) -> Iterator[bytes]:
    import pyarrow as pa

    _check_dense(of)
    lead = _lead(of)
    number = pa.int32() if of.made.weighting.is_counts else pa.float64()
    fields = [pa.field(lead[0], pa.int64()), *(pa.field(each, pa.string()) for each in lead[1:])]
    names = column_names(of.made.matrix.terms, lead)
    schema = pa.schema([*fields, *(pa.field(name, number) for name in names)])

    def batches() -> Iterator[list[pa.Array]]:
        for first in range(0, max(of.n_docs, 1), _ROWS):
            part = of.made.weights[first : first + _ROWS].toarray()
            told = [_lead_of(of, first + at) for at in range(len(part))]
            leads = [[row[at] for row in told] for at in range(len(lead))]
            arrays = [pa.array(each, field.type) for each, field in zip(leads, fields, strict=True)]
            yield arrays + [pa.array(part[:, at]).cast(number) for at in range(part.shape[1])]

    return _parquet(schema, batches())


def _columns_csv(of: Asked) -> Iterator[bytes]:
    """Which term each column of the design table is."""
    matrix, lead = of.made.matrix, _lead(of)
    names = column_names(matrix.terms, lead)
    rows = zip(names, matrix.terms, matrix.display, strict=True)
    return csv_rows(["column", "term", "shown as"], rows)


def _market(of: Asked) -> Iterator[bytes]:
    comment = (
        f"{of.made.weighting.in_words()}: {of.made.weighting.formula()}\n"
        "documents by terms; rows as in documents.csv, columns as in dictionary.csv"
    )
    cells = of.made.weights
    return matrix_market(cells.astype(np.int32) if of.made.weighting.is_counts else cells, comment)


def _dictionary(of: Asked) -> Iterator[bytes]:
    matrix, learnt = of.made.matrix, of.made.learnt.terms
    across = GLOBAL[of.made.weighting.global_weight].weights(learnt, of.made.weighting.base)
    rows = (
        [at + 1, term, matrix.display[at], int(matrix.lengths[at]), total, df, float(across[at])]
        for at, (term, total, df) in enumerate(
            zip(matrix.terms, matrix.totals.tolist(), matrix.document_frequency.tolist(), strict=True)
        )
    )
    header = ["number", "term", "shown as", "words", "count", "documents", "global weight"]
    return csv_rows(header, rows)


def _documents(of: Asked) -> Iterator[bytes]:
    corpus, counts = of.view.corpus, of.made.matrix.counts
    lengths = np.asarray(counts.sum(axis=1)).ravel()

    def rows() -> Iterator[list[Any]]:
        for at in range(of.n_docs):
            day = int(corpus.days[at])
            yield [
                at + 1,
                documents.name(of.view, at),
                of.part(at) or None,
                None if day == MISSING else from_days(day).isoformat(),
                int(lengths[at]),
                int(counts.indptr[at + 1] - counts.indptr[at]),
                *(c.value(at) for c in corpus.columns),
            ]

    header = ["document", "name", "part", "day", "counted", "terms", *(c.name for c in corpus.columns)]
    return csv_rows(header, rows())


def _json_rows(of: Asked) -> Iterator[bytes]:
    """A JSON object a line: the document, and (number of the term, weight) for each of its terms."""
    for first in range(0, of.n_docs, _ROWS):
        part, lines = of.made.weights[first : first + _ROWS], []
        for at in range(part.shape[0]):
            cells = slice(part.indptr[at], part.indptr[at + 1])
            terms = [
                [int(term) + 1, of.number(value)]
                for term, value in zip(part.indices[cells], part.data[cells], strict=True)
            ]
            said: dict[str, Any] = {"document": first + at + 1, "name": documents.name(of.view, first + at)}
            if of.outcome:
                said["outcome"] = of.outcome_of(first + at)
            if of.made.matrix.test is not None:
                said["part"] = of.part(first + at)
            lines.append(json.dumps({**said, "terms": terms}, ensure_ascii=False) + "\n")
        yield "".join(lines).encode("utf-8", "replace")


def _cells(of: Asked) -> Iterator[tuple[Any, ...]]:
    """Document, its name, term, n, tf (n / len), idf, weight; in the order of the documents."""
    table, terms = Long(of.made), of.made.matrix.terms
    for at in range(of.made.weights.nnz):
        document, term = int(table.row[at]), int(table.column[at])
        yield (document + 1, documents.name(of.view, document), terms[term], *table.figures(at).values())


_CELLS = ["document", "name", "term", "n", "tf", "idf", "weight"]


def _cells_csv(of: Asked) -> Iterator[bytes]:
    return csv_rows(_CELLS, _cells(of))


def _cells_parquet(of: Asked) -> Iterator[bytes]:
    import pyarrow as pa

    types = [pa.int64(), pa.string(), pa.string(), pa.int32(), pa.float64(), pa.float64(), pa.float64()]
    schema = pa.schema(list(zip(_CELLS, types, strict=True)))
    rows = _cells(of)

    def batches() -> Iterator[list[pa.Array]]:
        while part := list(islice(rows, 50_000)):
            yield [pa.array(each, kind) for each, kind in zip(zip(*part, strict=True), types, strict=True)]

    return _parquet(schema, batches())


@dataclass(frozen=True)
class MatrixFile:
    """One file: its name, what it is, whether it has a cell for every document and term, its writer.

    ``by_document`` says whether it grows with the documents, so that some of them show its size.
    """

    name: str
    about: str
    write: Callable[[Asked], Iterator[bytes]]
    dense: bool = False
    by_document: bool = True


# One is added by its entry here.
FILES: tuple[MatrixFile, ...] = (
    MatrixFile("design.csv", "a document a row, a term a column, with outcome and part", _design_csv, dense=True),
    MatrixFile("design.parquet", "the same, typed and compressed", _design_parquet, dense=True),
    MatrixFile("columns.csv", "which term each column of the design table is", _columns_csv, by_document=False),
    MatrixFile("matrix.mtx", "documents by terms without the zeros, Matrix Market", _market),
    MatrixFile("dictionary.csv", "every term with its number", _dictionary, by_document=False),
    MatrixFile("documents.csv", "every document with its number, fields and part", _documents),
    MatrixFile("documents.jsonl", "a JSON object a document: numbers of its terms, with weights", _json_rows),
    MatrixFile("cells.csv", "a cell a row: document, term, n, tf, idf, weight", _cells_csv),
    MatrixFile("cells.parquet", "the same, typed and compressed", _cells_parquet),
)
BY_NAME = {each.name: each for each in FILES}


def size_of(file: MatrixFile, of: Asked) -> tuple[int, bool]:
    """Bytes of a file, and whether they are only estimated, from the first documents."""
    wide = max(50, _SAMPLED_CELLS // max(of.n_terms, 1)) if file.dense else _ROWS
    sampled = min(_ROWS, wide)
    if not file.by_document or of.n_docs <= sampled:
        return sum(map(len, file.write(of))), False
    part = sum(map(len, file.write(of.first(sampled))))
    return round(part * of.n_docs / sampled), True


def usable(file: MatrixFile, of: Asked) -> str:
    """Why a file is not written; empty where it is."""
    try:
        if file.dense:
            _check_dense(of)
    except BadInputError as fault:
        return str(fault)
    return ""
