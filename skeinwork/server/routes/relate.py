"""Relate: trees of words and documents, groups of documents, the words of groups."""

from __future__ import annotations

from typing import Annotated

from fastapi import Path, Query, Response
from pydantic import BaseModel, Field

from skeinwork.server.records import Made, saves, streamed
from skeinwork.server.routing import Routes
from skeinwork.server.state import Identity, StateOf, StrandOf, ViewOf
from skeinwork.work.evidence import EvidenceRequest
from skeinwork.work.jobs.plans import Beside
from skeinwork.work.relate import kept
from skeinwork.work.screens import group_counts, group_words, groups, relate, tree
from skeinwork.work.screens.group_counts import CountWorking, GroupCountsScreen
from skeinwork.work.screens.group_words import ComparedWords, GroupWordsQuery, GroupWordsScreen, WordGrid, WordWorking
from skeinwork.work.screens.groups import CrossedTable, GroupsScreen, GroupWorking, MeanGrid
from skeinwork.work.screens.relate import RelateChoices
from skeinwork.work.screens.tree import Neighbours, PairWorking, TreeScreen
from skeinwork.work.steps import GROUP_WORDS

router = Routes(prefix="/api/strands/{strand_id}/relate", tags=["relate"])
Place = Annotated[int, Path(ge=0, le=10_000)]
Group = Annotated[int, Query(ge=0, le=1000)]


@router.get("/choices")
def list_choices(view: ViewOf) -> RelateChoices:
    """Distances, linkages, weightings, fields, and suggested settings with their reasons."""
    return relate.choices(view)


@router.get("/tree")
def get_tree(
    view: ViewOf,
    number: Annotated[int | None, Query(ge=1, le=10_000)] = None,
    height: Annotated[float | None, Query(ge=0, le=1e12)] = None,
) -> TreeScreen:
    """The tree, cut into so many clusters, or at a height, or where the heights rise most."""
    return tree.tree(view, number, height)


@router.get("/tree/items/{place}")
def get_neighbours(view: ViewOf, place: Place) -> Neighbours:
    """The items nearest to one."""
    return tree.neighbours(view, place)


@router.get("/tree/items/{place}/{other}")
def get_pair(view: ViewOf, place: Place, other: Place) -> PairWorking:
    """The distance of two items with its own numbers."""
    return tree.pair(view, place, other)


@router.get("/tree/distances.csv", **saves("text/csv"))
def distances_csv(view: ViewOf) -> Response:
    """All distances as a table."""
    return streamed(tree.distance_table(view), "distances.csv", "text/csv")


@router.get("/groups")
def get_groups(view: ViewOf) -> GroupsScreen:
    """Groups of documents, the largest first."""
    return groups.groups(view)


@router.get("/groups/means")
def get_means(view: ViewOf) -> MeanGrid:
    """Mean weight of telling words in every group."""
    return groups.mean_grid(view)


@router.get("/groups/working")
def get_group_working(
    view: ViewOf, group: Group, term: Annotated[str | None, Query(max_length=400)] = None
) -> GroupWorking:
    """How the figures of a group came about, or those of one of its words."""
    return groups.working(view, group, term)


@router.get("/groups/by/{field}")
def get_groups_by_field(view: ViewOf, field: Annotated[str, Path(max_length=200)]) -> CrossedTable:
    """Groups against the values of a field."""
    return groups.by_field(view, field)


@router.get("/groups/beside/{identity}")
def get_groups_beside(view: ViewOf, identity: Identity) -> CrossedTable:
    """Groups against those of another grouping."""
    return groups.beside_other(view, identity)


class NewField(BaseModel):
    """What to call a field of groups."""

    name: str = Field(min_length=1, max_length=100)
    revision: int


@router.post("/groups/field")
def keep_groups(strand: StrandOf, state: StateOf, view: ViewOf, new: NewField) -> Made:
    """Keep the groups as a field of the corpus: a step of its shape."""
    operation = kept.groups_as_field(view, new.name)
    with state.store.connection():
        kept.want_operation(strand, operation, new.revision)
        return Made.of(strand)


@router.get("/group-counts")
def get_group_counts(view: ViewOf) -> GroupCountsScreen:
    """Measures of groupings over their number."""
    return group_counts.group_counts(view)


@router.get("/group-counts/working")
def get_count_working(view: ViewOf, groups: Annotated[int, Query(ge=1, le=10_000)]) -> CountWorking:
    """How the measures of one number of groups came about."""
    return group_counts.working(view, groups)


@router.get("/group-words")
def get_group_words(view: ViewOf) -> GroupWordsScreen:
    """The groups whose words are compared."""
    return group_words.group_words(view)


@router.get("/group-words/words")
def list_group_words(view: ViewOf, query: Annotated[GroupWordsQuery, Query()]) -> ComparedWords:
    """Words that a group has more, or less, of."""
    return group_words.words(view, query)


@router.get("/group-words/grid")
def get_word_grid(view: ViewOf) -> WordGrid:
    """Telling words by groups, both in an order in which neighbours are alike."""
    return group_words.grid(view)


@router.get("/group-words/working")
def get_word_working(
    view: ViewOf,
    group: Group,
    term: Annotated[str, Query(max_length=400)],
    against: Annotated[int | None, Query(ge=0, le=1000)] = None,
) -> WordWorking:
    """How the figures of one word came about."""
    return group_words.working(view, group, term, against)


@router.post("/group-words/selection", status_code=202)
def compare_selection(state: StateOf, strand: StrandOf, view: ViewOf, selected: EvidenceRequest) -> Made:
    """Compare the words of what is selected with those of all other documents, in a job."""
    settings = kept.selection_settings(view, selected)
    with state.store.connection():
        return Made.of(strand, state.runner.start(Beside.wanting(strand, GROUP_WORDS.name, settings), strand))
