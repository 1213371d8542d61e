"""Clean: the passes there are, and the wanted ones in words."""

from __future__ import annotations

from typing import Any

import numpy as np
from pydantic import BaseModel

from skeinwork.core.text.clean import CleanSettings
from skeinwork.core.text.passes import PASSES
from skeinwork.core.text.passes.base import BasePass
from skeinwork.work.results import cleaning_preview
from skeinwork.work.results.view import View
from skeinwork.work.strands.schemas import fields_of

_MOST_VALUES = 200


class PassKind(BaseModel):
    """A kind of pass that can be added: what it is called and does, and its settings' schema."""

    kind: str
    title: str
    about: str
    fields: dict[str, Any]


class WantedPass(BaseModel):
    """A pass of the wanted cleaning in words."""

    key: str
    title: str
    said: str
    hint: str


class FittedPass(BaseModel):
    """A pass of the first cleaning, for which something was counted in the corpus.

    ``why`` says what; ``taken``: it stands so in the wanted cleaning; else ``settings`` are what would.
    """

    key: str
    title: str
    said: str
    why: str
    taken: bool
    settings: dict[str, Any]


class LimitField(BaseModel):
    """A field whose values a pass can be limited to; an empty name stands for the language."""

    field: str
    values: list[str]


class Passes(BaseModel):
    offered: list[PassKind]
    wanted: list[WantedPass]
    limits: list[LimitField]


class FittedPasses(BaseModel):
    """What was counted in the corpus and speaks for a pass, and how many languages it is in."""

    passes: list[FittedPass]
    languages: int


def fitted(view: View, settings: CleanSettings) -> FittedPasses:
    """What fits the corpus, in the order of the passes."""
    first, wanted = cleaning_preview.first_of(view), {each.key: each for each in settings.passes}
    passes = [
        FittedPass(
            key=each.key,
            title=each.title,
            said=each.said() if each.on else "off",
            why=first.reasons[each.key],
            taken=wanted.get(each.key) == each,
            settings=each.model_dump(mode="json"),
        )
        for each in first.settings.passes
        if each.key in first.reasons
    ]
    return FittedPasses(passes=passes, languages=len(first.languages))


def _limits(view: View) -> list[LimitField]:
    """The languages of the documents, and the groups that are few enough to choose from."""
    about = cleaning_preview.about_of(view)
    spoken = np.bincount(about.language, minlength=len(about.languages))
    languages = [about.languages[at] for at in np.argsort(-spoken, kind="stable") if spoken[at]]
    return [LimitField(field="", values=languages)] + [
        LimitField(field=column.name, values=sorted(column.values))
        for column in view.corpus.columns
        if column.role in ("group", "author", "source") and 0 < len(column.values) <= _MOST_VALUES
    ]


def passes(view: View, settings: CleanSettings) -> Passes:
    """The kinds of pass there are, with the schema of their settings, and the wanted ones in words."""
    listed, about = settings.passes, cleaning_preview.about_of(view)
    return Passes(
        offered=[
            PassKind(
                kind=each.model_fields["kind"].default,
                title=each.title,
                about=each.about,
                fields=fields_of(each, frozenset(BasePass.model_fields)),
            )
            for each in PASSES
        ],
        wanted=[
            WantedPass(
                key=each.key,
                title=each.title,
                said=f"{each.said()} ({each.within.said()})" if each.within else each.said(),
                hint=" ".join(filter(None, (each.hint(listed[:at]), each.note(about)))),
            )
            for at, each in enumerate(listed)
        ],
        limits=_limits(view),
    )
