"""The chain of a strand: corpus > tokens > cleaning > matrix > fit, written down here and only here.

The server runs steps as jobs, ``weave`` runs them in line; both get the same bytes.
"""

from __future__ import annotations

from pathlib import Path
from typing import Any

from pydantic import create_model

from skeinwork.core.corpus.join import Join
from skeinwork.core.corpus.shape import OPERATIONS
from skeinwork.core.errors import SkeinworkError
from skeinwork.core.progress import Report, silent
from skeinwork.store.artefacts import ArtefactStore, Making
from skeinwork.work.steps.cleaning import CLEANING
from skeinwork.work.steps.corpus import CORPUS, SourceFile, make_shaped
from skeinwork.work.steps.fit import FIT
from skeinwork.work.steps.matrix import MATRIX
from skeinwork.work.steps.step import Link, Step
from skeinwork.work.steps.tokens import TOKENS

__all__ = (
    "CHAIN", "CLEANING", "COMPUTED", "CORPUS", "FIT", "MATRIX", "STEPS", "TOKENS", "SourceFile", "Summaries",
    "make_shaped", "remake",
)  # fmt: skip
STEPS: dict[str, Link[Any, Any, Any]] = {
    each.name: each for each in (CORPUS, TOKENS, CLEANING, MATRIX, FIT)
}
# What a strand keeps and the analyst sees; a cleaning brings its tokens with it.
COMPUTED: tuple[Step[Any, Any, Any], ...] = (CLEANING, MATRIX, FIT)
CHAIN: tuple[Link[Any, Any, Any], ...] = (CORPUS, *COMPUTED)

# The summaries of a strand's results, by step.
Summaries: Any = create_model(  # type: ignore[call-overload]
    "Summaries", **{each.name: (each.summary | None, None) for each in CHAIN}
)


def remake(
    store: ArtefactStore, identity: str, making: Making, uploads: Path, report: Report = silent
) -> str:
    """Make a result that was damaged on disk again, from the same inputs.

    Parameters
    ----------
    uploads : the folder of the files that were brought in, by their checksums

    Raises
    ------
    SkeinworkError
        where this version of the program would make another result of them.
    """
    step, settings, inputs = STEPS[making.step], making.settings, making.inputs
    if "shape" in settings:
        operations = OPERATIONS.validate_python(settings["shape"])
        tables = {
            each.sha256: uploads / each.sha256 for each in operations if isinstance(each, Join)
        }
        made = make_shaped(store, inputs[0], operations, tables, report)
    elif step is CORPUS:
        named = zip(inputs, settings["names"], strict=True)
        files = [SourceFile(uploads / sha256, name, sha256) for sha256, name in named]
        made = CORPUS.read(store, files, CORPUS.parse(settings), report)
    else:
        assert isinstance(step, Step)
        before = store.ancestor(inputs[0], "corpus").identity if step is CLEANING else inputs[0]
        made = step.make(store, before, step.parse(settings), report)
    if made != identity:
        raise SkeinworkError(
            f"The {making.step} was made by an earlier version of Skeinwork and can't be made again as "
            "it was. Rebuild (r) to make a present one."
        )
    return made
