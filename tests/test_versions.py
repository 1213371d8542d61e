"""A step whose results change must get a new version: golden digests of every step.

When one of these fails because results were meant to change, raise the version of that step's module
and write the new pair of version and digest here.
"""

from __future__ import annotations

import hashlib
from pathlib import Path

import pytest

from skeinwork.core.corpus.gather import GatherSettings, preview
from skeinwork.core.formats.readers import detect_settings
from skeinwork.core.matrix.weigh import WeighSettings
from skeinwork.core.text.clean import CleanSettings
from skeinwork.core.topics.lda import LdaSettings
from skeinwork.demo.generator import write_files
from skeinwork.store.artefacts import ArtefactStore
from skeinwork.work import steps
from skeinwork.work.weave import source_files

GOLDEN = {
    "corpus": (3, "fbb2d2c7bf30d976"),
    "tokens": (1, "627b1f3b66163c53"),
    "cleaning": (1, "922372f590177870"),
    "matrix": (2, "b937b59c205b7be1"),
    "fit": (101, "f222d06760f8b991"),
}


def digest(store: ArtefactStore, identity: str) -> str:
    """One digest over a result's files; decimals of a fit are rounded, as processors differ."""
    stored = store.open(identity)
    whole = hashlib.sha256()
    for name in sorted(stored.checksums):
        if name.endswith(".npy"):
            array = stored.array(name.removesuffix(".npy"))
            whole.update(array.round(4).tobytes() if array.dtype.kind == "f" else array.tobytes())
        else:
            whole.update(
                (stored.folder / name).read_bytes() if stored.making.step != "fit" else b""
            )
    return whole.hexdigest()[:16]


@pytest.fixture(scope="module")
def made(tmp_path_factory: pytest.TempPathFactory) -> tuple[ArtefactStore, dict[str, str]]:
    folder: Path = tmp_path_factory.mktemp("golden")
    store, files = ArtefactStore(folder / "results"), source_files([write_files(folder, size=150)])
    found = detect_settings(files[0].path.read_bytes(), files[0].name)
    roles = preview(files[0].path.read_bytes(), files[0].name, found).roles
    gather = GatherSettings(files=(found.model_copy(update={"roles": roles}),))
    corpus = steps.make_corpus(store, files, gather)
    cleaning = steps.make_cleaning(store, corpus, CleanSettings.model_validate({}))
    matrix = steps.make_matrix(store, cleaning, WeighSettings(longest=2))
    fit = steps.make_fit(store, matrix, LdaSettings(topics=4, iterations=20, alpha=0.1, beta=0.01))
    tokens = store.open(cleaning).making.inputs[0]
    return store, {
        "corpus": corpus,
        "tokens": tokens,
        "cleaning": cleaning,
        "matrix": matrix,
        "fit": fit,
    }


@pytest.mark.parametrize("step", GOLDEN)
def test_results_change_only_with_their_version(
    step: str, made: tuple[ArtefactStore, dict[str, str]]
) -> None:
    store, identities = made
    found = (store.open(identities[step]).making.version, digest(store, identities[step]))
    assert found == GOLDEN[step], f"{step} is now {found}"


def test_making_again_gives_the_same_identity(made: tuple[ArtefactStore, dict[str, str]]) -> None:
    store, identities = made
    again = steps.make_cleaning(store, identities["corpus"], CleanSettings.model_validate({}))
    assert again == identities["cleaning"]
