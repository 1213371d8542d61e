"""Which number of topics was chosen and why, and what was said of topics before: kept for the report."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Literal, get_args

from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.topics import matching
from skeinwork.store.models import Choice, Strand, TopicNote, TopicVote
from skeinwork.store.store import Store
from skeinwork.work import steps
from skeinwork.work.steps import FIT
from skeinwork.work.steps.step import OnDisk, load
from skeinwork.work.strands.carried import LEAST_MATCH
from skeinwork.work.strands.schemas import Remark

Vote = Literal["keep apart", "same thing twice", "not a topic"]


class VoteEdit(BaseModel):
    """What somebody says of a topic of a fit; None takes it back."""

    model_config = ConfigDict(extra="forbid")
    fit: str = Field(pattern="^[0-9a-f]{64}$")
    topic: int = Field(ge=0, lt=500)
    vote: Vote | None


class ChoiceSaid(BaseModel):
    """What spoke for a choice when it was made: sentences, votes; and what all documents changed of the topics."""

    model_config = ConfigDict(extra="forbid")
    suggested: int | None = None
    reasons: list[str] = Field([], max_length=100)
    votes: list[str] = Field([], max_length=500)
    changed: str | None = Field(None, max_length=10_000)


class ChoiceRecord(BaseModel):
    model_config = ConfigDict(extra="forbid")
    fit: str = Field(pattern="^[0-9a-f]{64}$")
    taken: str = Field(pattern="^[0-9a-f]{64}$")
    reason: Remark
    said: ChoiceSaid


class VoteRecord(BaseModel):
    model_config = ConfigDict(extra="forbid")
    fit: str = Field(pattern="^[0-9a-f]{64}$")
    topic: int = Field(ge=0, lt=500)
    vote: Vote


def latest(strand: Strand) -> Choice | None:
    """The last choice that was made; call inside a connection."""
    found: Choice | None = Choice.select().where(Choice.strand == strand).order_by(Choice.id.desc()).first()
    return found


def choose(strand: Strand, fit: str, taken: str, reason: str, said: ChoiceSaid) -> None:
    """Keep a choice; call inside a connection."""
    Choice.create(strand=strand, fit=fit, taken=taken, reason=reason.strip(), said=said.model_dump(mode="json"))


def note_change(strand: Strand, taken: str, changed: str) -> None:
    """Keep what became of the topics of a choice with all documents; call inside a connection."""
    row = latest(strand)
    if row and row.taken == taken:
        Choice.update(said={**row.said, "changed": changed}).where(Choice.id == row.id).execute()


def votes(strand: Strand, fits: Iterable[str] | None = None) -> dict[tuple[str, int], Vote]:
    """What was said of the topics of some fits, or of all; call inside a connection."""
    rows = TopicVote.select().where(TopicVote.strand == strand)
    if fits is not None:
        rows = rows.where(TopicVote.fit << list(fits))
    known: Mapping[str, Vote] = {each: each for each in get_args(Vote)}
    return {(row.fit, row.topic): known[row.vote] for row in rows if row.vote in known}


def vote(strand: Strand, edit: VoteEdit) -> None:
    """Keep a vote, or take it back; call inside a connection."""
    if edit.vote is None:
        mine = (TopicVote.strand == strand) & (TopicVote.fit == edit.fit) & (TopicVote.topic == edit.topic)
        TopicVote.delete().where(mine).execute()
    else:
        row = {"strand": strand, "fit": edit.fit, "topic": edit.topic, "vote": edit.vote}
        TopicVote.insert(**row).on_conflict_replace().execute()


def set_aside_voted(store: Store, strand: Strand, fit: str, taken: str) -> None:
    """Set the topics of a fit aside that are those voted to be none of another; call inside a connection."""
    none = [topic for (_, topic), said in votes(strand, [fit]).items() if said == "not a topic"]
    if not none:
        return
    both = [store.artefacts.open(each) for each in (fit, taken)]
    inputs = OnDisk(store.artefacts)
    terms = [load(inputs, steps.MATRIX, inputs.result(each.making.inputs[0])).terms for each in both]
    words = [steps.fit.own_words(each) for each in both]
    shared = matching.on_shared_terms(words[0], terms[0], words[1], terms[1])
    same = matching.found_again(*shared, least=LEAST_MATCH)
    topics = [int(same[each]) for each in none if each < len(same) and same[each] >= 0]
    mine = (TopicNote.strand == strand) & (TopicNote.fit == taken) & (TopicNote.topic << topics)
    TopicNote.update(set_aside=True).where(mine).execute()


def topics_of(store: Store, fit: str) -> int:
    """How many topics a fit has."""
    return FIT.summarised(store.artefacts.open(fit)).topics
