"""Place the documents of files in the topics of a saved fit, without the server."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any

import numpy as np

from skeinwork.core.corpus.corpus import Corpus
from skeinwork.core.errors import BadInputError, UsageError
from skeinwork.core.formats.export import csv_rows
from skeinwork.core.formats.names import safe_name
from skeinwork.core.matrix.new_texts import read_new_texts, unknown_share
from skeinwork.core.progress import Report, part_of, silent
from skeinwork.core.topics.methods import method_of
from skeinwork.store.artefacts import ArtefactStore
from skeinwork.work.batch import weave, weigh_files
from skeinwork.work.results.documents import name_in
from skeinwork.work.steps.corpus import load_corpus
from skeinwork.work.topics.model_file import SavedFit, read_model

# Documents that are read at a time.
_TOGETHER = 1000


def run(model: Path, paths: Sequence[Path], out: Path, report: Report = silent) -> int:
    """Write a table of documents by topics, whole or not at all; how many documents it has.

    Files are read as they would be when they are brought in.

    Raises
    ------
    UsageError
        for a model or documents that can't be read, and a table that is already there.
    """
    if out.exists():
        raise UsageError(f"{out} is already there. Name a file that is not.")
    try:
        fit = read_model(model)
        with tempfile.TemporaryDirectory() as folder:
            files = weave.source_files(list(paths))
            pattern = weave.for_files(weigh_files.pattern_of(files), files)
            store = ArtefactStore(Path(folder) / "results")
            uploads = weave.bring_in(files, Path(folder) / "files")
            named = [(file.sha256, file.name) for file in files]
            read = part_of(report, 0, 0.3)
            corpus = load_corpus(store.open(weave.make_corpus(pattern, named, store, uploads, read)))
            _write(out, _rows(fit, corpus, part_of(report, 0.3, 1)))
            return len(corpus)
    except BadInputError as fault:
        raise UsageError(str(fault)) from fault


def _write(out: Path, rows: Iterator[bytes]) -> None:
    temporary = out.with_name(f".{out.name}.part")
    try:
        with temporary.open("wb") as target:
            target.writelines(rows)
        os.replace(temporary, out)
    finally:
        temporary.unlink(missing_ok=True)


def _rows(fit: SavedFit, corpus: Corpus, report: Report) -> Iterator[bytes]:
    """Name, words, and the share of each topic with its interval, of every document."""
    known = fit.known
    names: list[str] = []
    for name in fit.names():
        names.append(safe_name(name, names, "") if name in names else name)
    header = ["document", "words", "counted", "share of kept words unknown", "leading topic", *names]
    with_ends = method_of(fit.model.fit).gives_intervals
    header += [f"{name}, {end} 95 %" for name in names for end in ("low", "high") if with_ends]

    def rows() -> Iterator[list[Any]]:
        for first in range(0, len(corpus), _TOGETHER):
            some = range(first, min(first + _TOGETHER, len(corpus)))
            report("Placing documents", first / len(corpus))
            read = read_new_texts(known, [corpus.text(at) for at in some])
            placed = fit.place(read.counts)
            for row, at in enumerate(some):
                words, counted = read.words(row), int(read.counts[[row]].sum())
                share, leading = placed.share[row], int(np.argmax(placed.share[row]))
                ends = np.stack([each[row] for each in (placed.low, placed.high) if each is not None] or [[]], axis=1)
                yield [
                    name_in(corpus, at),
                    words,
                    counted,
                    unknown_share(read, row, known.columns),
                    names[leading] if counted else None,
                    *(share.tolist() if counted else [None] * len(share)),
                    *(ends.ravel().tolist() if counted else [None] * ends.size),
                ]

    return csv_rows(header, rows())
