"""Which results and files skeins hold: by what was made for them, what they want, and their jobs."""

from __future__ import annotations

import os
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from pathlib import Path

from skeinwork.store.models import Draft, Job, Result, Skein, WordList
from skeinwork.store.store import Store
from skeinwork.work.strands import skein_file


@dataclass
class Holding:
    """Results by identity and files by checksum."""

    results: set[str] = field(default_factory=set)
    files: set[str] = field(default_factory=set)

    def size(self, store: Store) -> int:
        """Bytes on disk."""
        folders = [store.artefacts.open(each).folder for each in self.results]
        files = [store.upload_path(each) for each in self.files]
        return sum(map(size_under, folders)) + sum(map(size_of, files))


def size_of(path: Path) -> int:
    """Bytes of a file; none where it is no file any more."""
    try:
        return path.stat().st_size if path.is_file() else 0
    except FileNotFoundError:
        return 0


def size_under(folder: Path) -> int:
    """Bytes of all files in a folder; work goes on in it, so that some may be gone when they are come to."""
    return sum(size_of(Path(at) / name) for at, _, names in os.walk(folder) for name in names)


def held_by(skein: Skein, rows: Mapping[str, Result]) -> Holding:
    """What a skein holds; ``rows`` are all results. Call these inside a connection."""
    results = skein_file.results_of([skein], rows)
    files = skein_file.files_of(results.values())
    for strand in skein.strands:
        files |= set(skein_file.sums_in(strand.draft))
        for kept in (Draft.select(Draft.settings), Job.select(Job.request)):
            for row in kept.where(kept.model.strand == strand):
                files |= set(skein_file.sums_in(row.__data__))
    return Holding(set(results), files)


def every() -> dict[int, Holding]:
    """What each skein holds, by its number."""
    rows = skein_file.result_rows()
    return {skein.id: held_by(skein, rows) for skein in Skein.select()}


def together(parts: Iterable[Holding]) -> Holding:
    """What some skeins hold together, with the files of saved lists, which any may use."""
    lists = {row.sha256 for row in WordList.select(WordList.sha256)}
    listed = list(parts)
    return Holding(set().union(*(each.results for each in listed)), lists.union(*(each.files for each in listed)))


def own_of(skein: Skein, of_each: Mapping[int, Holding]) -> Holding:
    """What a skein holds and no other, deleted ones not counted."""
    living = Skein.select(Skein.id).where((Skein.id != skein.id) & Skein.deleted.is_null())
    # One that another tab has made since they were counted is counted when it is asked for again.
    others = together(of_each[each.id] for each in living if each.id in of_each)
    mine = of_each[skein.id]
    return Holding(mine.results - others.results, mine.files - others.files)
