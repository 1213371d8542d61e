"""Documents of a group: by how near they are to its middle, or how near the border to the next."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from skeinwork.core.errors import BadInputError
from skeinwork.work.evidence.base import Asked, Labels, Leading, Marks, Narrowing, Piece, Scores
from skeinwork.work.evidence.term import forms_in
from skeinwork.work.relate.document_groups import border, group_name, own_terms
from skeinwork.work.results.view import View
from skeinwork.work.steps import GROUPS


class AskedMembers(Asked):
    members: int | None = Field(None, ge=0, le=10_000, description="a group of documents, the nearest first")
    border: bool = Field(False, description="first those that are nearly as near to another group")


class AskedGroup(Asked):
    group: int | None = Field(None, ge=0, le=10_000, description="a group of documents, to narrow with")


class Members(Leading):
    asked = AskedMembers
    names = "members"

    def title(self, view: View, request: AskedMembers, labels: Labels) -> str:
        at = _known(view, request.members)
        return f"{group_name(view, at)}, at its border" if request.border else group_name(view, at)

    def scores(self, view: View, request: AskedMembers) -> Scores:
        made, inside = view.value(GROUPS), _inside(view, request.members)
        scores = np.zeros(len(inside))
        if request.border:
            near = border(made, _known(view, request.members))
            scores[near] = made.apart[near] / np.maximum(made.next_apart[near], 1e-12) + 1e-9
            return Scores(scores, "another group is at most a ninth farther; first those that are as near to it")
        scores[inside] = 1.0 / (1.0 + made.apart[inside])
        return Scores(scores, "first those nearest to the middle of the group")

    def piece(self, view: View, request: AskedMembers, document: int, score: float) -> Piece:
        made = view.value(GROUPS)
        own, following = made.apart[document], made.next_apart[document]
        other = group_name(view, int(made.next_group[document]))
        return Piece(f"{own:.2f}", f"{own:.2f} from its middle, {following:.2f} from that of {other}")

    def marks(self, view: View, request: AskedMembers, document: int) -> Marks:
        cleaning = view.cleaning_of(GROUPS)
        forms = cleaning.token_forms(document)
        telling = set(own_terms(view, _known(view, request.members)))
        wanted = [at for form, at in forms_in(cleaning, forms).items() if form in telling]
        return Marks(cleaning, np.isin(forms, wanted).astype(np.float64))


class InGroup(Narrowing):
    asked = AskedGroup
    names = "group"

    def title(self, view: View, request: AskedGroup, labels: Labels) -> str:
        return group_name(view, _known(view, request.group))

    def keep(self, view: View, request: AskedGroup) -> NDArray[np.bool_]:
        return _inside(view, request.group)


def _inside(view: View, group: int | None) -> NDArray[np.bool_]:
    return np.asarray(view.value(GROUPS).group == _known(view, group))


def _known(view: View, group: int | None) -> int:
    if group is None or group >= len(view.value(GROUPS).within):
        raise BadInputError(f"There is no group {0 if group is None else group + 1}.")
    return group
