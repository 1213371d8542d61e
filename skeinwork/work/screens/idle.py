"""Passes that can do nothing where they stand, and the place where they could."""

from __future__ import annotations

from pydantic import BaseModel

from skeinwork.core.text.clean import Cleaning, CleanSettings
from skeinwork.core.text.passes.base import BasePass, TextPass
from skeinwork.work.results import cleaning_preview
from skeinwork.work.results.view import View


class Idle(BaseModel):
    """A pass that finds nothing to do; ``better`` is the place in the order where it would."""

    key: str
    said: str
    better: int | None


def _does(cleaning: Cleaning, at: int) -> bool:
    """Whether a pass removes or changes anything, or names what it keeps."""
    return bool(cleaning.trail[at] or (cleaning.removed_by == at).any() or cleaning.survivals[at + 1].concerned)


def _placed(settings: CleanSettings, at: int, to: int) -> CleanSettings:
    passes = list(settings.passes)
    passes.insert(to, passes.pop(at))
    return CleanSettings(rule=settings.rule, passes=tuple(passes))


def idle_passes(view: View, settings: CleanSettings) -> list[Idle]:
    """The wanted passes that find nothing to do, from a sample of the documents."""
    identity = cleaning_preview.identities(view, settings)[1]
    return view.cache.get(("idle", identity), lambda: _idle(view, settings))


def _idle(view: View, settings: CleanSettings) -> list[Idle]:
    present = cleaning_preview.sampled(view, settings)
    found = []
    for at, step in enumerate(settings.passes):
        if step.on and not isinstance(step, TextPass) and not _does(present, at):
            found += _why(view, settings, at, step)
    return found


def _why(view: View, settings: CleanSettings, at: int, step: BasePass) -> list[Idle]:
    """Why a pass is idle; nothing where the corpus holds nothing for it, wherever it stands."""
    first = sum(isinstance(each, TextPass) for each in settings.passes)
    if at > first and _does(cleaning_preview.sampled(view, _placed(settings, at, first)), first):
        better = next(
            to
            for to in range(at - 1, first - 1, -1)
            if to == first or _does(cleaning_preview.sampled(view, _placed(settings, at, to)), to)
        )
        before = settings.passes[better].title
        return [
            Idle(
                key=step.key,
                better=better,
                said=f"It finds nothing here: {before} has already taken what it would find. It works before {before}.",
            )
        ]
    if settings.rule.rule == "letters":
        words = settings.model_copy(update={"rule": settings.rule.model_copy(update={"rule": "unicode"})})
        if _does(cleaning_preview.sampled(view, words), at):
            return [
                Idle(
                    key=step.key,
                    better=None,
                    said="It finds nothing: cutting at every non-letter leaves nothing for it. Cut into "
                    "Unicode words under Tokens.",
                )
            ]
    return []
