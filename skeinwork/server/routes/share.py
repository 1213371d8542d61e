"""Share: everything in open formats, and the pattern to run again."""

from __future__ import annotations

from typing import Annotated

from fastapi import Depends, Response

from skeinwork.core.errors import NotFoundError
from skeinwork.server.records import attachment, saves
from skeinwork.server.routing import Routes
from skeinwork.server.state import SeedsOf, StateOf, StrandOf, ViewOf
from skeinwork.work.exports import exports
from skeinwork.work.exports.exports import Written
from skeinwork.work.screens import share
from skeinwork.work.screens.share import Beginning, ExportFile, Notes
from skeinwork.work.strands import strands, topic_notes
from skeinwork.work.strands.strands import Wanted
from skeinwork.work.topics.prevalence import Seeds
from skeinwork.work.topics.worked_out import WorkedOut, worked_out

Reading = tuple[str, Notes, Wanted, Seeds, WorkedOut]
router = Routes(prefix="/api/strands/{strand_id}", tags=["share"])


def get_reading(state: StateOf, strand: StrandOf, seeds: SeedsOf) -> Reading:
    """The name of the skein, what was said of its topics, what is wanted, other seeds, what was worked out."""
    with state.store.connection():
        worked = worked_out(strand)
        return strand.skein.name, topic_notes.notes(strand), strands.wanted(strand), seeds, worked


ReadingOf = Annotated[Reading, Depends(get_reading)]


@router.get("/pattern.json", **saves("application/json", {"type": "object"}))
def pattern(view: ViewOf, said: ReadingOf) -> Response:
    """The pattern file of the strand's fit."""
    text = share.made_pattern(view, said[0], *said[2:]).to_json()
    return attachment(text.encode(), f"{said[0].lower()}-pattern.json", "application/json")


@router.get("/export.zip", **saves("application/zip"))
def export(view: ViewOf, said: ReadingOf) -> Response:
    """All results as a zip archive of CSV, JSON and Matrix Market files."""
    data = exports.to_zip(share.contents(view, *said))
    return attachment(data, f"{said[0].lower()}-results.zip", "application/zip")


@router.get("/exports")
def list_exports(view: ViewOf, said: ReadingOf) -> list[ExportFile]:
    """What the archive holds."""
    return share.listed(view, *said)


def get_file(view: ViewOf, said: ReadingOf, name: str) -> Written:
    """One file of the archive."""
    found = next((each for each in share.contents(view, *said) if each.name == name), None)
    if found is None:
        raise NotFoundError(f"There is no file {name} in the archive.")
    return found


@router.get("/exports/{name}/beginning")
def show_beginning(file: Annotated[Written, Depends(get_file)]) -> Beginning:
    """How one file begins."""
    return share.beginning(file)


@router.get("/exports/{name}", **saves("application/octet-stream"))
def one_export(file: Annotated[Written, Depends(get_file)]) -> Response:
    """One file of the archive."""
    return attachment(file.data, file.name, "application/octet-stream")
