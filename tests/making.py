"""Results made by the steps alone, without a server."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from skeinwork.core.corpus.gather import GatherSettings, preview
from skeinwork.core.formats.readers import detect_settings
from skeinwork.core.formats.records import FileSettings
from skeinwork.store.artefacts import ArtefactStore, Making
from skeinwork.work import steps
from skeinwork.work.batch.weave import bring_in, source_files
from skeinwork.work.strands.strands import Wanted


def detected(path: Path) -> FileSettings:
    """Settings of a file with its roles, as a preview suggests them."""
    data = path.read_bytes()
    found = detect_settings(data, path.name)
    return found.model_copy(update={"roles": preview(data, path.name, found).roles})


def reading(paths: Sequence[Path], uploads: Path) -> Making:
    """What a corpus of files is made from; the files go where uploads lie."""
    files = source_files(paths)
    bring_in(files, uploads)
    settings = GatherSettings(files=tuple(detected(each) for each in paths))
    return steps.CORPUS.of_files([(each.sha256, each.name) for each in files], settings)


def read(store: ArtefactStore, paths: Sequence[Path]) -> str:
    """A corpus of files."""
    uploads = store.root.parent / "uploads"
    return steps.make(store, reading(paths, uploads), uploads)


def follow(store: ArtefactStore, corpus: str, wanted: Wanted, most: int = 4) -> dict[str, str]:
    """A corpus by its step, with its tokens, cleaning, matrix and fit, or the first of them."""
    made = {each.step: steps.make(store, each) for each in steps.chain(corpus, wanted)[:most]}
    return {steps.CORPUS.name: corpus, **made}
