"""What the analyst says of trees, groups and the words of groups."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal, TypeAlias

from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.corpus.periods import Period
from skeinwork.core.kinds import named
from skeinwork.core.matrix.weighting import SCHEMES, Weighting
from skeinwork.core.relate.distances import DISTANCES, MOST_ITEMS
from skeinwork.core.relate.linkage import LINKAGES

# Lengths alike, frequent words down: what groups documents by what they are about.
USUAL = SCHEMES["1 + log tf, idf, L2"]
_SEED = Field(1, ge=0, le=2**31 - 1)


if TYPE_CHECKING:
    DistanceName: TypeAlias = str
    LinkageName: TypeAlias = str
    PairDistanceName: TypeAlias = str
else:
    DistanceName, LinkageName = named(DISTANCES), named(LINKAGES)
    PairDistanceName = named({name: each for name, each in DISTANCES.items() if not each.of_all})


class TreeSettings(BaseModel):
    """Which words or documents a tree joins, and how."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    of: Literal["words", "documents"] = "words"
    most: int = Field(300, ge=3, le=MOST_ITEMS, description="so many of them")
    by: Literal["documents", "count", "weight"] = Field(
        "weight", description="the words that count most; of documents a sample"
    )
    picked: tuple[Annotated[str, Field(max_length=400)], ...] = Field(
        (), max_length=MOST_ITEMS, description="these words and no others"
    )
    weighting: Weighting = USUAL
    distance: DistanceName = "cosine"
    linkage: LinkageName = "ward"
    resamples: int = Field(20, ge=0, le=200, description="trees over documents drawn anew, or words; 0 for none")
    seed: int = _SEED


class _Grouping(BaseModel):
    """How documents are grouped, whatever the number of groups."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    method: Literal["k-means", "k-medoids"] = "k-means"
    weighting: Weighting = USUAL
    spherical: bool = Field(True, description="by the angle alone (k-means)")
    distance: PairDistanceName = Field("cosine", description="from the middle (k-medoids)")
    starts: int = Field(8, ge=1, le=100, description="the best of them is taken")
    sample: int = Field(0, ge=0, le=10_000_000, description="so many documents alone, for a preview; 0 for all")


class GroupsSettings(_Grouping):
    """Documents in so many groups."""

    groups: int = Field(8, ge=2, le=500)
    seed: int = _SEED


class GroupCountsSettings(_Grouping):
    """Groupings over their number."""

    fewest: int = Field(2, ge=2, le=500)
    most: int = Field(20, ge=2, le=500)
    step: int = Field(1, ge=1, le=100)
    seeds: int = Field(3, ge=2, le=20, description="groupings of each number, from other starts")
    starts: int = Field(2, ge=1, le=100, description="the best of them is taken, for each seed")

    @property
    def counts(self) -> list[int]:
        """The numbers of groups that are tried."""
        return list(range(self.fewest, max(self.most, self.fewest) + 1, self.step))


class GroupWordsSettings(BaseModel):
    """What groups of documents are compared by their words."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    field: str | None = Field(None, max_length=200, description="a field; each of its values against all others")
    period: Period | None = Field(None, description="or each period against all others")
    numbers: tuple[Annotated[int, Field(ge=0)], ...] | None = Field(
        None, max_length=200_000, description="or these documents against all others, by their numbers"
    )
    said: str = Field("", max_length=500, description="what these documents are")
    unit: str | None = Field(
        None, max_length=200, description="what was sampled: a field that documents belong together by, or documents"
    )
