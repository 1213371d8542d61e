"""Another choice opened as a strand of its own."""

from __future__ import annotations

from skeinwork.core.errors import BadInputError, NotFoundError
from skeinwork.store.models import Strand
from skeinwork.store.store import Store
from skeinwork.work.jobs.plans.build import Build
from skeinwork.work.results.view import View
from skeinwork.work.steps import FIT
from skeinwork.work.strands import pins, skeins, strands
from skeinwork.work.strands.strands import Wanted
from skeinwork.work.topics.statements import trials


def opened(store: Store, strand: Strand, view: View, pin: int, key: str) -> tuple[Build, Strand]:
    """A strand that wants what a choice wants, and the plan that puts its results there; call inside a connection.

    Raises
    ------
    NotFoundError
        where there is no such pin or choice.
    BadInputError
        where what the choice needs was not made.
    """
    known = pins.pins_of(strand).get(pin)
    if known is None:
        raise NotFoundError("That statement is not pinned any more.")
    found = next((each for each in trials(view, known.statement, [key]) if each.choice), None)
    if found is None or found.choice is None:
        raise NotFoundError("There is no such choice any more.")
    if not all(store.artefacts.has(each.identity) for each in found.chain):
        raise BadInputError(f"Nothing was made with {found.choice.title} yet. Test the statement over it first.")
    name = f"{strand.name or strand.skein.name} · {found.choice.title}"
    copy = skeins.fork(strand, name[:300], fitted=not found.chain)
    change = found.choice.wanted.model_dump(mode="json", include={"shape", "clean", "weigh", "fit"})
    strands.edit(copy, Wanted.model_validate({**copy.draft, **change}), copy.revision)
    return Build(wanted=strands.wanted(copy), refit=any(each.step == FIT.name for each in found.chain)), copy
