"""Run a pattern without the server: the same steps, the same bytes."""

from __future__ import annotations

import hashlib
import os
import shutil
import tempfile
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from itertools import islice
from pathlib import Path

from skeinwork.core import apart
from skeinwork.core.corpus.corpus import Corpus
from skeinwork.core.corpus.gather import preview
from skeinwork.core.corpus.grouping import FILE
from skeinwork.core.corpus.shaping import Table
from skeinwork.core.errors import BadInputError, UsageError
from skeinwork.core.formats import readers, word_list
from skeinwork.core.formats.archive import pack
from skeinwork.core.formats.dates import MISSING
from skeinwork.core.formats.records import FileSettings
from skeinwork.core.progress import Report, silent
from skeinwork.core.relate.vector_settings import DocumentVectorsSettings, WordVectorsSettings
from skeinwork.core.text.clean import CleanSettings
from skeinwork.store.artefacts import ArtefactStore
from skeinwork.work import steps
from skeinwork.work.exports import exports
from skeinwork.work.exports.pattern import Pattern
from skeinwork.work.results.view import View
from skeinwork.work.steps.corpus import load_corpus
from skeinwork.work.strands import word_lists
from skeinwork.work.topics import fits, partings
from skeinwork.work.topics.statements import expect_sayable, make_trial, trials


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
        for each in path.rglob("*")
        if each.is_file()
    ]
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
            f"The pattern reads {len(given)} files, but {len(files)} were given. Give as many, in the same order."
        )
    each = given if len(given) == len(files) else given * len(files)
    for file, settings in zip(files, each, strict=True):
        _check_fields(file, settings)
    gather = pattern.gather.model_copy(update={"files": tuple(each)})
    return pattern.model_copy(update={"gather": gather})


def _check_fields(file: SourceFile, settings: FileSettings) -> None:
    columns = apart.one(
        _columns, file, settings, name=lambda: file.name, limits=readers.limits(file.path.stat().st_size)
    )
    missing = [
        f"{name} ({role})"
        for name, role in settings.roles.items()
        if name not in columns and role in ("text", "date", "group")
    ]
    if missing:
        raise BadInputError(
            f"{file.name} lacks fields that the pattern uses: {', '.join(missing)}. It has "
            f"{', '.join(columns)}. Change the roles under gather in the pattern."
        )


def _columns(file: SourceFile, settings: FileSettings) -> list[str]:
    return preview(readers.head(file.path, file.name), file.name, settings).columns


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


def lists_for(settings: CleanSettings, paths: Sequence[Path]) -> dict[str, bytes]:
    """The saved lists that passes read, as they are kept, by checksum.

    Raises
    ------
    BadInputError
        naming the lists that none of the files is.
    """
    given = [data for path in paths for data in _as_kept(path)]
    known = {hashlib.sha256(data).hexdigest(): data for data in given}
    wanted = {each.sha256: each for each in settings.refs()}
    if missing := [each.name or each.sha256 for key, each in wanted.items() if key not in known]:
        raise BadInputError(
            f"The pattern's passes read the lists {', '.join(missing)}. Give each as it was saved, with --lists."
        )
    return {key: known[key] for key in wanted}


def vectors_for(pattern: Pattern, paths: Sequence[Path]) -> list[SourceFile]:
    """The files of vectors that a fit and results beside the chain are made from.

    Raises
    ------
    BadInputError
        naming those that none of the files is.
    """
    given = source_files(paths)
    words: WordVectorsSettings | None = getattr(pattern.beside, steps.WORD_VECTORS.name)
    documents: DocumentVectorsSettings | None = getattr(pattern.beside, steps.DOCUMENT_VECTORS.name)
    wanted = [words.file] if words else []
    read: DocumentVectorsSettings | None = getattr(pattern.fit, "vectors", None)
    for each in filter(None, (documents, read)):
        wanted += [each.file, each.words.file]
    known = {each.sha256 for each in given}
    if missing := [each.name or each.sha256 for each in wanted if each and each.sha256 not in known]:
        raise BadInputError(
            f"The pattern's vectors are in the files {', '.join(missing)}. Give each as it was, with --vectors."
        )
    return given


def _as_kept(path: Path) -> Iterator[bytes]:
    """A file as the lists of each kind that it can be read as are kept."""
    data, faults = _bytes_of(path), list[BadInputError]()
    for read in word_lists.READERS.values():
        try:
            yield word_list.kept(read(path.name, data).words)
        except BadInputError as fault:
            faults.append(fault)
    if len(faults) == len(word_lists.READERS):
        raise faults[0]


def _bytes_of(path: Path) -> bytes:
    try:
        return path.read_bytes()
    except OSError as fault:
        raise BadInputError(f"{path} can't be read: {fault.strerror}.") from fault


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


def _check_breakdowns(corpus: Corpus, pattern: Pattern) -> None:
    """Refuse what the pattern tracks by, or regresses on, where the documents have none of it."""
    names = [column.name for column in corpus.columns]
    undated = bool((corpus.days == MISSING).all())

    def expect_field(does: str, field: str | None, change: str, *others: str) -> None:
        if field and field not in (*names, *others):
            raise BadInputError(
                f"The pattern {does} “{field}”, which the documents lack. They have {', '.join(names)}. "
                f"Change {change} in the pattern."
            )

    def expect_dates(does: str) -> None:
        if undated:
            raise BadInputError(
                f"The pattern {does}, but no document has a date. Give a field the role date under gather in the "
                "pattern."
            )

    for each in pattern.track:
        for field in (each.group, each.unit):
            expect_field("tracks by", field, "group or unit under track", FILE)
        if each.period:
            expect_dates(f"tracks by {each.period}")
    for regression in pattern.regress:
        for field in (*regression.factors, *regression.numbers):
            expect_field("regresses on", field, "regress")
        if regression.time:
            expect_dates("regresses on the time")
    for parting in pattern.apart:
        for field in (parting.by.group, parting.by.unit):
            expect_field("fits models by", field, "apart", FILE)
        if parting.by.timed:
            expect_dates("fits models by time")


def place_for(out: Path) -> Path:
    """An empty folder beside the one that is wanted, which it becomes when all is written.

    Raises
    ------
    BadInputError
        where the results can't go there.
    """
    try:
        if out.exists() and (not out.is_dir() or any(out.iterdir())):
            what = "is not empty" if out.is_dir() else "is a file"
            raise BadInputError(f"{out} {what}. Name a folder with --out that is not there yet.")
        out.absolute().parent.mkdir(parents=True, exist_ok=True)
        return Path(tempfile.mkdtemp(prefix=f".{out.name[:100]}-", dir=out.absolute().parent))
    except OSError as fault:
        raise BadInputError(f"Results can't be written to {out}: {fault.strerror}.") from fault


Named = Sequence[tuple[str, str]]
Write = Callable[[Pattern, Named, ArtefactStore, Path, Path, Report], list[str]]


def run(
    pattern: Pattern | Callable[[Sequence[SourceFile]], Pattern],
    paths: Sequence[Path],
    out: Path,
    report: Report = silent,
    tables: Sequence[Path] = (),
    lists: Sequence[Path] = (),
    vectors: Sequence[Path] = (),
    write: Write | None = None,
) -> list[str]:
    """Run all steps and write every export into a folder, all or none; returns the files' names.

    Parameters
    ----------
    pattern : or what makes one of the files
    write : makes results of files by their checksums and names, and writes them to a folder; all
        steps and every export where it is left out

    Raises
    ------
    UsageError
        where documents, tables, pattern and folder do not fit together, before anything is made.
    """
    with tempfile.TemporaryDirectory() as folder:
        try:
            files = source_files([_packed(path, Path(folder)) for path in paths])
            joined = source_files(tables)
            given = pattern(files) if callable(pattern) else pattern
            pattern = for_tables(for_files(given, files), joined)
            words = lists_for(pattern.clean, lists)
            supplied = [] if write else vectors_for(pattern, vectors)
            place = place_for(out)
        except BadInputError as fault:
            raise UsageError(str(fault)) from fault
        try:
            store = ArtefactStore(Path(folder) / "results")
            uploads = bring_in([*files, *joined, *supplied], Path(folder) / "files")
            for sha256, data in words.items():
                (uploads / sha256).write_bytes(data)
            named = [(file.sha256, file.name) for file in files]
            names = (write or _write)(pattern, named, store, uploads, place, report)
            place.chmod(0o777 & ~_umask())
            place.rename(out.absolute())
        finally:
            shutil.rmtree(place, ignore_errors=True)
    return names


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask


def make_corpus(pattern: Pattern, named: Named, store: ArtefactStore, uploads: Path, report: Report) -> str:
    """The identity of the corpus of files, shaped as the pattern says."""
    corpus = steps.make(store, steps.CORPUS.of_files(named, pattern.gather), uploads, report)
    if not pattern.shape:
        return corpus
    return steps.make(store, steps.CORPUS.shaped(corpus, pattern.shape), uploads, report)


def _write(pattern: Pattern, named: Named, store: ArtefactStore, uploads: Path, out: Path, report: Report) -> list[str]:
    """Make all results and write the exports."""
    corpus = make_corpus(pattern, named, store, uploads, report)
    _check_breakdowns(load_corpus(store.open(corpus)), pattern)
    made = steps.chain(corpus, pattern)
    by_step = {steps.CORPUS.name: corpus} | {making.step: steps.make(store, making, uploads, report) for making in made}
    for step in steps.BESIDE:
        settings = getattr(pattern.beside, step.name)
        wanted = any(each.follows(step) and getattr(pattern.beside, each.name) for each in steps.BESIDE)
        if settings or wanted:
            making = step.making([by_step[each.name] for each in step.parents], settings or step.parse({}))
            by_step[step.name] = steps.make(store, making, uploads, report)
    view = View(store, by_step, uploads=uploads)
    for seed in pattern.other_seeds:
        steps.make(store, fits.with_seed(view, seed), uploads, report)
    for making in (each for parting in pattern.apart for each in partings.makings(view, parting)):
        steps.make(store, making, uploads, report)
    for pinned in pattern.pinned:
        expect_sayable(view, pinned)
        for trial in trials(view, pinned, pinned.over):
            make_trial(store, trial, uploads, report)
    report("Writing", 1.0)
    names = []
    for each in exports.files(view, pattern, {}):
        (out / each.name).write_bytes(each.data)
        names.append(each.name)
    return names
