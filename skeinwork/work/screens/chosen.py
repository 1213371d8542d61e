"""Choose: the count that was chosen, its reason, and what changed of it with all documents."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence

from pydantic import BaseModel

from skeinwork.core.errors import NotFoundError
from skeinwork.core.said import counted, decimal
from skeinwork.core.topics.methods.base import Continues, MethodSettings
from skeinwork.store.models import Choice, Result
from skeinwork.work.jobs.plans import Chosen
from skeinwork.work.jobs.plans.base import chain_of
from skeinwork.work.results.view import View
from skeinwork.work.screens.choose import FitList
from skeinwork.work.steps import FIT, MATRIX
from skeinwork.work.strands.choices import ChoiceSaid, Vote, VoteEdit
from skeinwork.work.strands.schemas import Moment
from skeinwork.work.strands.strands import Wanted
from skeinwork.work.topics import fits


class ChosenFit(BaseModel):
    """A fit that was chosen; ``taken`` goes on from it with all documents, or is the same.

    ``there`` says whether that is on the strand; ``changed`` what became of the topics with all documents.
    """

    fit: str
    taken: str
    topics: int
    seed: int
    reason: str
    said: ChoiceSaid
    made: Moment
    there: bool
    changed: str | None


def plan_for(view: View, wanted: Wanted, row: Result, rows: Sequence[Result]) -> Chosen:
    """How a compared fit is taken: as it is on the strand’s own matrix, else continued with all documents.

    Other seeds of its settings go on likewise: they tell how surely it is known.
    """
    settings = FIT.parse(row.settings)
    others = fits.of_other_seeds([each for each in rows if each.parent == row.parent], row.settings)
    seeds = sorted({each.settings["seed"] for each in others})[: fits.MOST_SEEDS]
    if row.parent == view.matrix_record.identity:
        return Chosen(wanted=wanted.model_copy(update={"fit": settings}), fit=row.identity)
    split = MATRIX.parse(view.store.open(str(row.parent)).making.settings).split
    assert split is not None
    continues = Continues(split=split, iterations=settings.iterations)
    going_on: MethodSettings = settings.model_copy(update={"continues": continues})
    return Chosen(wanted=wanted.model_copy(update={"fit": going_on}), fit=row.identity, seeds=tuple(seeds))


def taken_by(plan: Chosen) -> str:
    """The fit that a plan puts on the strand."""
    return chain_of(plan.wanted)[FIT.name].identity


def said_of(found: FitList, fit: str, votes: Mapping[tuple[str, int], Vote]) -> ChoiceSaid:
    """What speaks for a fit when it is chosen."""
    reasons = list(found.reasons)
    if own := next((each for each in found.fits if each.identity == fit), None):
        kinds = {each.key: each.title for each in found.measures}
        known = [f"{kinds[key]} {decimal(value, 3)}" for key, value in own.measures.items() if value is not None]
        reasons.append(f"{own.said.name}, {own.said.size}: {'; '.join(known)}.")
    cast = Counter(votes.values())
    return ChoiceSaid(
        suggested=found.suggested,
        reasons=reasons,
        votes=[f"{counted(number, 'topic')}: {vote}" for vote, number in sorted(cast.items())],
    )


def chosen_fit(view: View, row: Choice) -> ChosenFit | None:
    """A choice as it is shown; None where its fit is gone."""
    if not view.store.has(row.fit):
        return None
    settings = FIT.parse(view.store.open(row.fit).making.settings)
    there, said = view.identity(FIT) == row.taken, ChoiceSaid.model_validate(row.said)
    return ChosenFit(
        fit=row.fit,
        taken=row.taken,
        topics=settings.topics,
        seed=settings.seed,
        reason=row.reason,
        said=said,
        made=row.created,
        there=there,
        changed=said.changed if there else None,
    )


def check_vote(view: View, edit: VoteEdit) -> None:
    """Raise ``NotFoundError`` where there is no such topic."""
    if edit.topic >= FIT.summarised(fits.open_fit(view, edit.fit)).topics:
        raise NotFoundError(f"That fit has no topic {edit.topic + 1}.")
