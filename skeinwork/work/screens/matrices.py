"""The matrices of one cleaning side by side, and its split."""

from __future__ import annotations

import numpy as np
from pydantic import BaseModel

from skeinwork.core.errors import BadInputError
from skeinwork.core.kinds import differing
from skeinwork.core.matrix.split import pairs_of
from skeinwork.store.artefacts import DamagedResultError
from skeinwork.store.models import Result, Strand
from skeinwork.work.results.view import View
from skeinwork.work.screens.versions import Difference
from skeinwork.work.steps import CLEANING, MATRIX
from skeinwork.work.steps.matrix import MatrixSummary
from skeinwork.work.steps.step import Said
from skeinwork.work.strands.schemas import Moment
from skeinwork.work.strands.strands import Wanted
from skeinwork.work.topics.breakdowns import group_fields, unit_fields
from skeinwork.work.weighting import matrix_files
from skeinwork.work.weighting.weighted_matrix import counting_of, made_weighed

_MOST = 12


class MadeMatrix(BaseModel):
    """A matrix of the strand's cleaning; ``shared`` of its terms are in the present one too."""

    identity: str
    said: Said
    summary: MatrixSummary
    differs: dict[str, Difference]
    shared: int
    current: bool
    created: Moment


def rows_of(strand: Strand) -> list[Result]:
    """The matrices made of the strand's cleaning, the newest first; call inside a connection."""
    found = Result.select().where((Result.parent == strand.results.get(CLEANING.name)) & (Result.step == MATRIX.name))
    return list(found.order_by(Result.number.desc()).limit(_MOST))


def matrices(view: View, rows: list[Result]) -> list[MadeMatrix]:
    """Each with its figures, and the settings in which it is not like the present one."""
    here, terms = (differing(MATRIX.parse(view.matrix_record.making.settings)), set(view.matrix.terms))
    found = []
    for row in rows:
        try:
            stored = view.store.open(row.identity)
            settings, summary = MATRIX.parse(stored.making.settings), MATRIX.summarised(stored)
            theirs = stored.document("terms")
        except DamagedResultError:
            continue
        there = differing(settings)
        found.append(
            MadeMatrix(
                identity=row.identity,
                said=MATRIX.said(settings, summary),
                summary=summary,
                differs={
                    key: Difference(here=here.get(key), there=there.get(key))
                    for key in sorted({*here, *there})
                    if here.get(key) != there.get(key)
                },
                shared=len(terms.intersection(theirs)),
                current=row.identity == view.identity(MATRIX),
                created=row.created,
            )
        )
    return found


class OutcomeValue(BaseModel):
    """A value of the outcome, and the documents with it in either part; None for those without one."""

    value: str | None
    training: int
    test: int


class SplitShown(BaseModel):
    """The split that is wanted: documents in both parts, by outcome. ``fields`` can be an outcome.

    ``pairs`` of near-repeats stay on one side, and on wish the documents of a value of one of ``units``.
    """

    training: int
    test: int
    pairs: int
    by_value: list[OutcomeValue]
    more_values: int
    fields: list[str]
    units: list[str]


_VALUES = 12


def split_shown(view: View, wanted: Wanted) -> SplitShown:
    """Both parts of the wanted split."""
    known, split, corpus = counting_of(view, wanted), wanted.weigh.split, view.corpus
    test = known.test if known.test is not None else np.zeros(len(known.documents), dtype=bool)
    fields = group_fields(view)
    column = corpus.column(split.outcome) if split and split.outcome else None
    found: list[OutcomeValue] = []
    if column:
        codes, place = np.unique(column.codes[known.documents], return_inverse=True)
        held = np.bincount(place, weights=test, minlength=len(codes)).astype(int)
        every = np.bincount(place, minlength=len(codes))
        for at in np.argsort(-every, kind="stable")[:_VALUES].tolist():
            value = column.values[codes[at]] if codes[at] >= 0 else None
            both = int(every[at] - held[at]), int(held[at])
            found.append(OutcomeValue(value=value, training=both[0], test=both[1]))
    return SplitShown(
        training=int((~test).sum()),
        test=int(test.sum()),
        by_value=found,
        pairs=pairs_of(view.survey.near[known.documents]),
        more_values=len(codes) - len(found) if column else 0,
        fields=fields,
        units=[name for name in unit_fields(view) if corpus.column(name)],
    )


class FileOffered(BaseModel):
    """A file of the matrix with its size, ``about`` so much where that is estimated; or why not."""

    name: str
    what: str
    bytes: int | None
    estimated: bool
    refused: str


class FilesOffered(BaseModel):
    """The files of the matrix that was made, under the wanted weighting."""

    weighting: str
    documents: int
    terms: int
    nonzero: int
    files: list[FileOffered]


def files_offered(view: View, wanted: Wanted, outcome: str | None) -> FilesOffered:
    """What can be taken, and how large it is."""
    made = made_weighed(view, wanted.weighting)
    of = matrix_files.asked(view, made, outcome)

    def offered() -> list[FileOffered]:
        found = []
        for file in matrix_files.FILES:
            refused = matrix_files.usable(file, of)
            size, estimated = (None, False) if refused else matrix_files.size_of(file, of)
            found.append(FileOffered(name=file.name, what=file.about, bytes=size, estimated=estimated, refused=refused))
        return found

    return FilesOffered(
        weighting=made.weighting.in_words(),
        documents=of.n_docs,
        terms=of.n_terms,
        nonzero=int(made.weights.nnz),
        files=view.cached("files offered", offered, *made.key, outcome),
    )


def file_named(name: str) -> matrix_files.MatrixFile:
    """One of the files.

    Raises
    ------
    BadInputError
        where there is none of this name.
    """
    if name not in matrix_files.BY_NAME:
        raise BadInputError(f"There is no file {name[:60]}. There are {', '.join(matrix_files.BY_NAME)}.")
    return matrix_files.BY_NAME[name]
