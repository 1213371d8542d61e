"""Files that were brought in and are kept under their checksums."""

from __future__ import annotations

from skeinwork.core.errors import NO_DOCUMENTS, BadInputError, NotFoundError
from skeinwork.store.models import Job, Strand, Upload
from skeinwork.store.store import Store
from skeinwork.work.jobs.plans import GatheredFile, GatherRequest
from skeinwork.work.screens.files import Brought
from skeinwork.work.strands import strands

_LISTED = 30


def find(sha256: str) -> Brought:
    """A file by its checksum; call these inside a connection."""
    found: Upload | None = Upload.get_or_none(Upload.sha256 == sha256)
    if found is None:
        raise NotFoundError("That file was not brought in. Choose it again.")
    return brought(found)


def brought(upload: Upload) -> Brought:
    """A kept file as the screens know it."""
    return Brought(sha256=upload.sha256, name=upload.name, size=upload.size)


def newest() -> list[Brought]:
    """The files that were brought in last."""
    return [brought(row) for row in Upload.select().order_by(Upload.created.desc()).limit(_LISTED)]


def check_brought_in(request: GatherRequest) -> None:
    """Refuse files that are not there."""
    known = {row.sha256 for row in Upload.select(Upload.sha256)}
    for file in request.files:
        if file.sha256 not in known:
            raise NotFoundError(f"{file.name} was not brought in. Choose it again.")


def gathered(store: Store, strand: Strand) -> GatherRequest:
    """What the wanted documents were brought in with; before there are any, what was tried last."""
    if base := strands.wanted(strand).base:
        making = store.artefacts.open(base).making
        named = zip(making.inputs, making.settings["names"], making.settings["files"], strict=True)
        return GatherRequest(
            files=tuple(GatheredFile(sha256=sha256, name=name, settings=each) for sha256, name, each in named),
            repeated=making.settings["repeated"],
        )
    tried = Job.select().where((Job.strand == strand) & (Job.kind == "gather"))
    last = tried.order_by(Job.id.desc()).first()
    if last is None:
        raise BadInputError(NO_DOCUMENTS)
    return GatherRequest.model_validate(last.request.get("request", last.request))
