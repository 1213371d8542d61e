"""Cleanings to lay beside the wanted one: earlier ones, the one that was made, other strands'."""

from __future__ import annotations

from collections.abc import Iterator

from pydantic import BaseModel

from skeinwork.core.errors import NotFoundError
from skeinwork.core.text.clean import CleanSettings
from skeinwork.store.models import Draft, Strand
from skeinwork.store.store import Store
from skeinwork.work.steps import CLEANING
from skeinwork.work.strands import strands

_LOOKED_BACK = 20  # changes of a strand


class OtherCleaning(BaseModel):
    """A cleaning by its key and what it is called; ``unlike`` names the passes that differ."""

    key: str
    title: str
    unlike: list[str]


def _before(strand: Strand) -> Iterator[tuple[int, CleanSettings]]:
    """The passes as they were wanted before, the last first, with the number of their draft."""
    last = strands.wanted(strand).clean
    drafts = Draft.select(Draft.id, Draft.settings).where((Draft.strand == strand) & ~Draft.undone)
    for draft in drafts.order_by(Draft.id.desc()).limit(_LOOKED_BACK):
        earlier = CleanSettings.model_validate(draft.settings.get("clean", {}))
        if earlier != last:
            yield draft.id, earlier
        last = earlier


def before(strand: Strand) -> CleanSettings | None:
    """The passes wanted before they were last changed; None where they never were, or long ago."""
    return next((settings for _, settings in _before(strand)), None)


def _all(store: Store, strand: Strand) -> Iterator[tuple[str, str, CleanSettings]]:
    for at, (draft, earlier) in enumerate(_before(strand), start=1):
        key, title = ("before", "before the last change") if at == 1 else (f"draft-{draft}", f"{at} changes ago")
        yield key, title, earlier
    if cleaning := strand.results.get(CLEANING.name):
        made = store.artefacts.open(cleaning).making.settings
        yield "made", "as the matrix has it", CLEANING.parse(made)
    yield "suggested", "as suggested at first", CleanSettings()
    others = Strand.select().where((Strand.skein == strand.skein_id) & (Strand.id != strand.id))
    for each in others:
        yield (f"strand-{each.id}", f"of {each.name or f'strand {each.id}'}", strands.wanted(each).clean)


def _unlike(one: CleanSettings, other: CleanSettings) -> list[str]:
    """What two cleanings do differently, by the titles of passes."""
    left, right = ({each.key: each for each in which.passes if each.on} for which in (one, other))
    unlike = [(left.get(key) or right[key]).title for key in {**left, **right} if left.get(key) != right.get(key)]
    moved = [key for key in left if key in right] != [key for key in right if key in left]
    rule = ["the tokenising"] if one.rule != other.rule else []
    return [*rule, *dict.fromkeys(unlike), *(["the order"] if moved else [])]


def others(store: Store, strand: Strand) -> list[OtherCleaning]:
    """Every cleaning to compare with that is another than the wanted one, each once."""
    now, found = strands.wanted(strand).clean, list[OtherCleaning]()
    seen = [now]
    for key, title, settings in _all(store, strand):
        if settings not in seen:
            seen.append(settings)
            found.append(OtherCleaning(key=key, title=title, unlike=_unlike(now, settings)))
    return found


def other(store: Store, strand: Strand, key: str) -> CleanSettings:
    """One of them.

    Raises
    ------
    NotFoundError
        where there is none of that key any more.
    """
    found = next((settings for at, _, settings in _all(store, strand) if at == key), None)
    if found is None:
        raise NotFoundError("That cleaning is not there any more. Choose another to compare with.")
    return found
