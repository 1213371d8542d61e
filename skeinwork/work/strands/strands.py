"""A strand: the settings wanted, what has been made of them, and what is out of date."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError, field_validator

from skeinwork.core.corpus.shaping import Operation
from skeinwork.core.errors import BadInputError, SkeinworkError
from skeinwork.core.matrix.matrix_settings import MatrixSettings
from skeinwork.core.matrix.weighting import Weighting
from skeinwork.core.text.clean import CleanSettings
from skeinwork.core.text.names import NameEdits
from skeinwork.core.topics.methods import FitSettings
from skeinwork.core.topics.methods import suggested as suggested_fit
from skeinwork.store.artefacts import ArtefactStore, DamagedResultError
from skeinwork.store.models import Draft, Result, Strand, TopicNote, database
from skeinwork.store.store import Store
from skeinwork.work import steps
from skeinwork.work.steps.corpus import load_corpus, renumbered, wanted_corpus
from skeinwork.work.steps.matrix import compared
from skeinwork.work.steps.step import plain
from skeinwork.work.strands.carried import blank, carried_if_known
from skeinwork.work.strands.schemas import problems_in_words

SeedWords = Annotated[
    tuple[tuple[str, ...], ...], Field(max_length=500, description="sets of words for a fit to begin topics with")
]
State = Literal["empty", "ready", "stale"]


class Wanted(BaseModel):
    """The settings of a strand's steps, as the analyst has them now."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    base: str = Field("", pattern="^([0-9a-f]{64})?$", description="the corpus as brought in; empty before that")
    shape: tuple[Operation, ...] = Field((), max_length=200)
    clean: CleanSettings = CleanSettings.model_validate({})
    weigh: MatrixSettings = MatrixSettings.model_validate({})
    weighting: Weighting = Weighting()
    fit: FitSettings = suggested_fit()
    names: NameEdits = NameEdits()
    seed_words: SeedWords = ()
    beside: dict[str, dict[str, Any]] = Field(
        {}, max_length=100, description="the settings of results beside the chain, by step"
    )

    @field_validator("beside")
    @classmethod
    def _known(cls, given: dict[str, dict[str, Any]]) -> dict[str, dict[str, Any]]:
        known = {each.name: each for each in steps.BESIDE}
        if wrong := set(given) - set(known):
            raise ValueError(f"no result beside the chain is called {', '.join(sorted(wrong))}")
        return {name: plain(known[name].parse(settings)) for name, settings in given.items()}


class EditConflictError(SkeinworkError):
    """Somebody else, perhaps another tab, has changed the same thing since it was read."""

    def __init__(self) -> None:
        super().__init__(
            "This was changed in another tab since you opened it. Reload to see that change, then make yours again."
        )


def get(strand_id: int) -> Strand:
    found: Strand = Strand.get_by_id(strand_id)
    return found


def wanted(strand: Strand) -> Wanted:
    return Wanted.model_validate(strand.draft)


def bases(strand: Strand) -> set[str]:
    """The corpora as brought in that the strand has had, the present one among them."""
    drafts = Draft.select(Draft.settings).where(Draft.strand == strand)
    return {str(each["base"]) for each in (strand.draft, *(d.settings for d in drafts))} - {""}


def standing(store: Store, strand: Strand) -> dict[str, State]:
    """Which steps are empty, ready or out of date; nothing is computed for it but identities."""
    fresh, have = up_to_date(store.artefacts, wanted(strand), strand.results), strand.results
    return {
        step.name: "empty" if step.name not in have else "ready" if have[step.name] == fresh[step.name] else "stale"
        for step in steps.KEPT
    }


def up_to_date(artefacts: ArtefactStore, now: Wanted, results: Mapping[str, str]) -> dict[str, str]:
    """What each step's result is when all is made as wanted.

    Parameters
    ----------
    results : those on the strand, by step: where a step's own settings are a choice among results, any
        made of the present ones is up to date
    """
    fresh = {steps.CORPUS.name: wanted_corpus(now.base, now.shape)}
    for step in steps.COMPUTED:
        before = [fresh[each.name] for each in step.parents]
        chosen = results.get(step.name) if step.choice else None
        if chosen and list(artefacts.open(chosen).making.inputs) == before:
            fresh[step.name] = chosen
        else:
            fresh[step.name] = step.making(before, step.settings_of(now)).identity
    return fresh


def edit(strand: Strand, settings: Wanted, revision: int) -> Strand:
    """Set what is wanted, keeping what was wanted before for undo.

    Raises
    ------
    EditConflictError
        if ``revision`` is not the strand's own any more.
    """
    with database.atomic("IMMEDIATE"):
        if strand.revision != revision:
            raise EditConflictError
        if strand.draft != settings.model_dump(mode="json"):
            Draft.delete().where((Draft.strand == strand) & Draft.undone).execute()
            Draft.create(strand=strand, undone=False, settings=strand.draft)
            _set(strand, settings.model_dump(mode="json"))
    return strand


def want_beside(strand: Strand, step: str, settings: dict[str, Any]) -> Wanted:
    """Want a result beside the chain with these settings."""
    beside = {**wanted(strand).beside, step: settings}
    try:
        changed = Wanted.model_validate({**strand.draft, "beside": beside})
    except ValidationError as fault:
        raise BadInputError(f"These settings can't be used: {problems_in_words(fault)}.") from fault
    edit(strand, changed, strand.revision)
    return changed


def _set(strand: Strand, settings: dict[str, Any]) -> None:
    changed = (
        Strand.update(draft=settings, revision=strand.revision + 1)
        .where((Strand.id == strand.id) & (Strand.revision == strand.revision))
        .execute()
    )
    if not changed:
        raise EditConflictError
    strand.draft, strand.revision = settings, strand.revision + 1


def step_back(strand: Strand, revision: int, redo: bool = False) -> bool:
    """Undo (or redo) the last change of settings; False where there is none.

    Raises
    ------
    EditConflictError
        if ``revision`` is not the strand's own any more: another tab may have changed other things.
    """
    with database.atomic("IMMEDIATE"):
        if strand.revision != revision:
            raise EditConflictError
        order = Draft.id if redo else Draft.id.desc()
        found = Draft.select().where((Draft.strand == strand) & (Draft.undone == redo)).order_by(order).first()
        if found is None:
            return False
        present, settings = strand.draft, found.settings
        Draft.update(settings=present, undone=not redo).where(Draft.id == found.id).execute()
        _set(strand, settings)
    return True


def undo_depth(strand: Strand) -> tuple[int, int]:
    """How many changes can be undone and redone."""
    mine = Draft.select().where(Draft.strand == strand)
    return mine.where(~Draft.undone).count(), mine.where(Draft.undone).count()


def rebased(store: Store, now: Wanted, base: str) -> Wanted:
    """What is wanted of another corpus as brought in.

    Steps that name documents by their numbers name the same ones in the new corpus.
    """
    if not now.base:
        return now.model_copy(update={"base": base})
    shape = renumbered(store.artefacts, now.shape, now.base, base)
    beside = {name: _beside_of_other(store, name, given, now.base, base) for name, given in now.beside.items()}
    return now.model_copy(update={"base": base, "shape": shape, "beside": beside})


def _beside_of_other(store: Store, name: str, given: dict[str, Any], before: str, after: str) -> dict[str, Any]:
    """Settings of a result beside the chain, naming the same documents of another corpus."""
    step = steps.beside(name)
    settings = step.parse(given)
    if not step.numbered(settings):
        return given
    old, new = (load_corpus(store.artefacts.open(each)) for each in (before, after))
    return plain(step.renumbered(settings, old, new))


def take_suggested(strand: Strand, base: str, part: str, settings: BaseModel) -> Wanted:
    """Want what a first corpus suggests for one part of the settings, unless it was chosen already."""
    with database.atomic("IMMEDIATE"):
        strand = Strand.get_by_id(strand.id)
        now = wanted(strand)
        if now.base == base and getattr(now, part) == type(settings).model_validate({}):
            _set(strand, now.model_copy(update={part: settings}).model_dump(mode="json"))
    return wanted(strand)


def take_base(store: Store, strand: Strand, base: str) -> None:
    """Want another corpus as brought in."""
    with database.atomic("IMMEDIATE"):
        strand = Strand.get_by_id(strand.id)
        now = wanted(strand)
        settings = rebased(store, now, base)
        if now.base:
            edit(strand, settings, strand.revision)
        else:
            _set(strand, settings.model_dump(mode="json"))


def put(store: Store, strand: Strand, made: Mapping[str, str]) -> None:
    """Put a corpus with its cleaning and matrix on the strand, by their steps.

    A strand's results are always of one corpus: those of other documents leave it, and the last fit of
    these documents that the strand had comes back.
    """
    corpus = made[steps.CORPUS.name]
    with database.atomic("IMMEDIATE"):
        present = get(strand.id)
        gone = [
            name
            for name, identity in present.results.items()
            if name not in made and corpus_of(store.artefacts, identity) != corpus
        ]
        kept: dict[str, str | None] = {**made, **dict.fromkeys(gone)}
        if steps.FIT.name in gone:
            kept[steps.FIT.name] = last_fit(store, present, corpus)
        strand.put(kept)


def last_fit(store: Store, strand: Strand, corpus: str | None = None) -> str | None:
    """The fit on the strand, or the newest that it has had, of one corpus or of any."""
    present = strand.results.get(steps.FIT.name)
    if corpus is None and present:
        return present
    noted = TopicNote.select(TopicNote.fit).where(TopicNote.strand == strand).distinct()
    fits = (
        Result.select(Result.identity)
        .where(Result.identity.in_(noted) & (Result.step == steps.FIT.name))
        .order_by(Result.number.desc())
    )
    for row in fits:
        if corpus is None or corpus_of(store.artefacts, row.identity) == corpus:
            found: str = row.identity
            return found
    return None


def corpus_of(artefacts: ArtefactStore, identity: str) -> str | None:
    """The corpus that a result was made of; None where that is not known any more."""
    try:
        return artefacts.ancestor(identity, steps.CORPUS.name).identity
    except DamagedResultError:
        return None


def compared_by(artefacts: ArtefactStore, strand: Strand) -> str | None:
    """The matrix by which fits are compared, where that is another than the strand's own; None where it is not."""
    mine = strand.results.get(steps.MATRIX.name)
    if mine is None:
        return None
    found = compared(artefacts.open(mine).making).identity
    return None if found == mine else found


def take_fit(store: Store, strand: Strand, fit: str) -> None:
    """Put a fit on the strand; labels of the one before follow its matched topics, unconfirmed."""
    before = last_fit(store, strand)
    with database.atomic("IMMEDIATE"):
        if not TopicNote.select().where((TopicNote.strand == strand) & (TopicNote.fit == fit)).exists():
            notes = carried_if_known(store, strand.id, before, fit) if before else None
            count = steps.FIT.summarised(store.artefacts.open(fit)).topics
            TopicNote.insert_rows(notes or blank(strand.id, fit, count))
        stored = store.artefacts.open(fit)
        settings = {**strand.draft, steps.FIT.wanted: dict(stored.making.settings)}
        strand.put({step.name: store.artefacts.ancestor(fit, step.name).identity for step in steps.CHAIN})
        if strand.draft != settings:
            Draft.create(strand=strand, undone=False, settings=strand.draft)
            _set(strand, settings)
