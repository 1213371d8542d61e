"""Weigh files without the server: the same steps, the same matrix, the same files."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from pathlib import Path

from skeinwork.core import apart
from skeinwork.core.corpus.gather import GatherSettings, preview
from skeinwork.core.formats import readers
from skeinwork.core.formats.records import FileSettings
from skeinwork.core.matrix.matrix_settings import MatrixSettings
from skeinwork.core.progress import Report, silent
from skeinwork.core.text.clean import CleanSettings
from skeinwork.core.topics.methods import suggested as suggested_fit
from skeinwork.store.artefacts import ArtefactStore
from skeinwork.work import steps
from skeinwork.work.batch import weave
from skeinwork.work.batch.weave import Named, SourceFile
from skeinwork.work.exports.pattern import Pattern
from skeinwork.work.results.view import View
from skeinwork.work.strands.suggestions import suggested_cleaning, suggested_pruning
from skeinwork.work.weighting import matrix_files
from skeinwork.work.weighting.weighted_matrix import made_weighed


def _detected(path: Path, name: str) -> FileSettings:
    """How a file is read, as far as that can be told from its beginning."""
    data = readers.head(path, name)
    settings = readers.detect_settings(data, name)
    found = preview(data, name, settings)
    return settings.model_copy(
        update={"roles": found.roles, "html_text": found.html_text, "date_order": found.date_order}
    )


def pattern_of(files: Sequence[SourceFile]) -> Pattern:
    """Settings as they are suggested when files are brought in."""
    read = [
        apart.one(
            _detected,
            file.path,
            file.name,
            name=partial(str, file.name),
            limits=readers.limits(file.path.stat().st_size),
        )
        for file in files
    ]
    return Pattern(
        gather=GatherSettings(files=tuple(read)),
        clean=CleanSettings.model_validate({}),
        weigh=MatrixSettings(),
        fit=suggested_fit(),
    )


def run(
    paths: Sequence[Path],
    out: Path,
    pattern: Pattern | None = None,
    report: Report = silent,
    tables: Sequence[Path] = (),
    lists: Sequence[Path] = (),
    outcome: str | None = None,
) -> list[str]:
    """Write the matrix of some files into a folder, all or nothing; returns the files' names.

    Without a pattern the settings are those that are suggested; pattern.json tells them. Tables that
    would be too large are left out, and named in left-out.txt.

    Raises
    ------
    UsageError
        where documents, pattern and folder do not fit together, before anything is made.
    """

    def write(
        known: Pattern, named: Named, store: ArtefactStore, uploads: Path, place: Path, said: Report
    ) -> list[str]:
        corpus = weave.make_corpus(known, named, store, uploads, said)
        made = {steps.CORPUS.name: corpus}
        if pattern is None:
            known = known.model_copy(update={"clean": suggested_cleaning(store.open(corpus)).settings})
        for making in steps.chain(corpus, known)[:2]:
            made[making.step] = steps.make(store, making, uploads, said)
        if pattern is None:
            weigh = suggested_pruning(store, made[steps.CLEANING.name], known.weigh)
            known = known.model_copy(update={"weigh": weigh})
        made[steps.MATRIX.name] = steps.make(store, steps.chain(corpus, known)[2], uploads, said)
        said("Writing", 1.0)
        view = View(store, made, uploads=uploads)
        (place / "pattern.json").write_text(known.to_json(), encoding="utf-8")
        return ["pattern.json", *_write(view, known, outcome, place)]

    return weave.run(pattern or pattern_of, paths, out, report, tables, lists, write=write)


def _write(view: View, pattern: Pattern, outcome: str | None, place: Path) -> list[str]:
    split = pattern.weigh.split
    chosen = outcome or (split.outcome if split else None)
    of = matrix_files.asked(view, made_weighed(view, pattern.weighting), chosen)
    names, refused = [], []
    for file in matrix_files.FILES:
        if why := matrix_files.usable(file, of):
            refused.append(f"{file.name}: {why}\n")
            continue
        with (place / file.name).open("wb") as target:
            target.writelines(file.write(of))
        names.append(file.name)
    if refused:
        (place / "left-out.txt").write_text("".join(refused), encoding="utf-8")
        names.append("left-out.txt")
    return names
