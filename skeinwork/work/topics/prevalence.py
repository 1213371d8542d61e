"""Prevalence for the screens and the exports: by group, over time, both; and differences of groups."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from skeinwork.core.corpus.grouping import groups_of
from skeinwork.core.errors import BadInputError
from skeinwork.core.prevalence.breakdown import Breakdown, Cells, Held, Weights, broken_down
from skeinwork.core.prevalence.chains import Chain, chain_of
from skeinwork.core.prevalence.differences import Differences, differences
from skeinwork.core.prevalence.prevalence import Prevalence, prevalence
from skeinwork.core.topics import methods
from skeinwork.work.results.view import View
from skeinwork.work.steps import FIT
from skeinwork.work.steps.fitted import Interval
from skeinwork.work.steps.movement import MovementSettings, OtherSeed
from skeinwork.work.topics import fits

# Groups beyond which nobody reads each against all others, and that takes minutes.
MOST_COMPARED = 500
Seeds = tuple[int, ...]


def said_of_differences(view: View) -> str:
    """How much too small differences of a fit's topics come out, and what its intervals leave out.

    docs/methods.md has how far that is right.
    """
    summary, settings = view.fit_summary, FIT.parse(view.fit_record.making.settings)
    alone = methods.method_of(settings).shares_said(view.model, settings)
    if summary.recovery is None:
        return alone
    if summary.gain and summary.gain.low is not None and summary.gain.low <= 0:
        return (
            "The topics of this fit do not clearly foretell words of other documents, so differences of "
            "them come out too small by more than can be told."
        )
    return (
        f"Differences between groups come out at about {summary.recovery:.2f} of the true ones, as in "
        f"documents written anew from this fit.{' ' * bool(alone)}{alone}"
    )


@dataclass(frozen=True)
class Tracked:
    """Prevalence in groups and periods."""

    cells: Cells
    weights: Weights
    result: Prevalence

    @property
    def left_out(self) -> int:
        """Documents without a group or date."""
        return int((self.cells.cells < 0).sum())


def said_of_seeds(seeds: Seeds) -> str:
    """Whether the draws of other seeds are in the intervals."""
    if not seeds:
        return "The intervals rest on the draws of one seed; fits with others would let in how far they stand apart."
    named = " and ".join(filter(None, [", ".join(map(str, seeds[:-1])), str(seeds[-1])]))
    return f"The intervals hold how far fits with seed{'s' * (len(seeds) > 1)} {named} stand apart from this one."


def other_seed(view: View, seed: int) -> Chain:
    """The view's topics by its fit with another seed."""

    def made() -> Chain:
        identity = fits.with_seed(view, seed).identity
        return chain_of(view.fit_of(identity).drawn.assigned(), fits.found_again(view, identity))

    return view.cached("other seed", made, seed)


def chains_of(view: View, seeds: Seeds) -> list[Chain]:
    """The same of several seeds."""
    return [other_seed(view, seed) for seed in seeds]


def units_held(view: View, by: Breakdown, seeds: Seeds) -> Held:
    """What units hold in the cells of a breakdown, kept while they are looked at."""

    def made() -> Held:
        return broken_down(view.model.drawn, view.corpus, by, view.token_weights, chains_of(view, seeds))

    return view.cached("units held", made, by, seeds)


def other_seeds(view: View, seeds: Seeds) -> tuple[OtherSeed, ...]:
    """Fits with other seeds, as what is made in a job names them."""
    identities = [fits.with_seed(view, seed).identity for seed in seeds]
    return tuple(OtherSeed(fit=each, again=tuple(map(tuple, fits.found_again(view, each)))) for each in identities)


def movement_settings(view: View, by: Breakdown, seeds: Seeds) -> MovementSettings:
    """Of what is made in a job: the breakdown with the fits whose draws are let in.

    Raises
    ------
    BadInputError
        where the corpus can't be broken down so, or has too many groups to be compared.
    """

    def made() -> MovementSettings:
        check_comparable(by, units_held(view, by, seeds).cells.groups)
        return MovementSettings(by=by, seeds=other_seeds(view, seeds))

    return view.cached("movement settings", made, by, seeds)


def track(view: View, by: Breakdown, seeds: Seeds = ()) -> Tracked:
    """Prevalence of every topic by group, period, or group and period, kept while it is looked at.

    Parameters
    ----------
    seeds : other ones that there are fits of with the view's settings, whose draws are let in
    """

    def made() -> Tracked:
        held = units_held(view, by, seeds)
        return Tracked(held.cells, held.weights, prevalence(held.totals))

    return view.cached("track", made, by, seeds)


def overall(view: View, seeds: Seeds) -> list[Interval]:
    """The share of every topic in all documents."""
    if not seeds:
        return view.fit_summary.share
    found = track(view, Breakdown(), seeds).result
    return [Interval.of(*each) for each in zip(found.mean[0], found.low[0], found.high[0], strict=True)]


def check_comparable(by: Breakdown, groups: Sequence[str]) -> None:
    """Raise ``BadInputError`` where there are more groups than anybody holds against each other."""
    if len(groups) > MOST_COMPARED:
        raise BadInputError(
            f"“{by.group}” has {len(groups):,} values, and at most {MOST_COMPARED} groups are "
            "compared with all others. Keep the larger ones, or combine values, at Gather under Shape."
        )


def compare(view: View, by: Breakdown, seeds: Seeds = ()) -> tuple[list[str], Differences]:
    """Each group against all others together, whatever the period."""
    assert by.group is not None
    check_comparable(by, groups_of(view.corpus, by.group)[1])
    held = units_held(view, by.timeless, seeds)
    return held.cells.groups, differences(held.totals)
