"""Run a pattern without the server: the same steps, the same bytes."""

from __future__ import annotations

import hashlib
import os
import shutil
import tempfile
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import islice
from pathlib import Path

from skeinwork.core.corpus.gather import preview
from skeinwork.core.corpus.shaping import Table
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.archive import pack
from skeinwork.core.formats.readers import head
from skeinwork.core.formats.records import FileSettings
from skeinwork.core.progress import Report, silent
from skeinwork.store.artefacts import ArtefactStore
from skeinwork.work import exports, steps
from skeinwork.work.pattern import Pattern
from skeinwork.work.view import View


@dataclass(frozen=True)
class SourceFile:
    """A file as it lies on this machine, with the analyst's name for it and its checksum."""

    path: Path
    name: str
    sha256: str


def source_files(paths: Sequence[Path]) -> list[SourceFile]:
    """The files with their checksums."""
    found = []
    for path in paths:
        try:
            data = path.read_bytes()
        except OSError as fault:
            raise BadInputError(f"{path} can't be read: {fault.strerror}.") from fault
        found.append(SourceFile(path, path.name, hashlib.sha256(data).hexdigest()))
    return found


def _packed(path: Path, folder: Path) -> Path:
    """A folder packed into one file, as it is when it is brought in; a file as it is."""
    if not path.is_dir():
        return path
    members = [
        (f"{path.resolve().name}/{each.relative_to(path).as_posix()}", each.read_bytes())
        for each in path.rglob("*") if each.is_file()
    ]  # fmt: skip
    packed = folder / f"{path.resolve().name}.zip"
    packed.write_bytes(pack(members))
    return packed


def for_files(pattern: Pattern, files: Sequence[SourceFile]) -> Pattern:
    """The pattern with settings for each file; one file's settings serve any number.

    Raises
    ------
    BadInputError
        where a file lacks fields that the pattern gives a role, naming them.
    """
    given = pattern.gather.files
    if len(given) not in (1, len(files)):
        raise BadInputError(
            f"The pattern reads {len(given)} files, but {len(files)} were given. "
            "Give as many, in the same order."
        )
    each = given if len(given) == len(files) else given * len(files)
    for file, settings in zip(files, each, strict=True):
        _check_fields(file, settings)
    gather = pattern.gather.model_copy(update={"files": tuple(each)})
    return pattern.model_copy(update={"gather": gather})


def _check_fields(file: SourceFile, settings: FileSettings) -> None:
    found = preview(head(file.path, file.name), file.name, settings)
    missing = [f"{name} ({role})" for name, role in settings.roles.items()
               if name not in found.columns and role in ("text", "date", "group")]  # fmt: skip
    if missing:
        raise BadInputError(
            f"{file.name} lacks fields that the pattern uses: {', '.join(missing)}. It has "
            f"{', '.join(found.columns)}. Change the roles under gather in the pattern."
        )


def for_tables(pattern: Pattern, tables: Sequence[SourceFile]) -> Pattern:
    """The pattern with each table that it joins replaced by the one given in its place.

    Raises
    ------
    BadInputError
        naming the tables that are wanted.
    """
    names = [table.name for each in pattern.shape for table in each.tables()]
    if len(names) != len(tables):
        wanted = f"joins {len(names)} tables ({', '.join(names)})" if names else "joins no table"
        raise BadInputError(
            f"The pattern {wanted}, but {len(tables)} were given. Give them with --tables, in this order."
        )
    given = (Table(each.sha256, each.name) for each in tables)
    shape = [each.with_tables(list(islice(given, len(each.tables())))) for each in pattern.shape]
    return pattern.model_copy(update={"shape": tuple(shape)})


def bring_in(files: Sequence[SourceFile], folder: Path) -> Path:
    """Put files by their checksums into a folder."""
    folder.mkdir(exist_ok=True)
    for each in files:
        target = folder / each.sha256
        try:
            os.link(each.path, target)
        except FileExistsError:
            continue
        except OSError:  # another disk, or one that has no links
            shutil.copyfile(each.path, target)
    return folder


def run(
    pattern: Pattern, paths: Sequence[Path], out: Path, report: Report = silent,
    tables: Sequence[Path] = (),
) -> list[str]:  # fmt: skip
    """Run all steps and write every export into a folder; returns the files' names."""
    out.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        files = source_files([_packed(path, Path(folder)) for path in paths])
        joined = source_files(tables)
        pattern = for_tables(for_files(pattern, files), joined)
        store = ArtefactStore(Path(folder) / "results")
        uploads = bring_in([*files, *joined], Path(folder) / "files")
        named = [(file.sha256, file.name) for file in files]
        made = [steps.CORPUS.of_files(named, pattern.gather)]
        if pattern.shape:
            made.append(steps.CORPUS.shaped(made[0].identity, pattern.shape))
        made += steps.chain(made[-1].identity, pattern)
        by_step = {making.step: steps.make(store, making, uploads, report) for making in made}
        report("Writing", 1.0)
        corpus, cleaning, matrix, fit = (by_step[step.name] for step in steps.CHAIN)
        view = View(store, corpus, cleaning, matrix, fit)
        names = []
        for each in exports.files(view, pattern, {}):
            (out / each.name).write_bytes(each.data)
            names.append(each.name)
    return names
