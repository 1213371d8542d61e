"""What is kept of Relate elsewhere: groups as a field, a selection as a group to compare."""

from __future__ import annotations

from typing import Any

from skeinwork.core.corpus.shaping.base import Operation
from skeinwork.core.corpus.shaping.sorted_groups import sorted_groups
from skeinwork.core.errors import BadInputError
from skeinwork.store.models import Strand
from skeinwork.work import evidence
from skeinwork.work.evidence import EvidenceRequest
from skeinwork.work.relate.document_groups import group_name
from skeinwork.work.results.view import View
from skeinwork.work.steps import GROUPS
from skeinwork.work.strands import strands


def groups_as_field(view: View, name: str) -> Operation:
    """The step of shaping that gives each document the name of its group."""
    if view.corpus.column(name):
        raise BadInputError(f"There is a field “{name}” already. Give it another name.")
    made = view.value(GROUPS)
    names = [group_name(view, at) for at in range(len(made.within))]
    return sorted_groups(name, view.corpus, made.group, names)


def want_operation(strand: Strand, operation: Operation, revision: int) -> None:
    """Want one more step of shaping."""
    now = strands.wanted(strand)
    strands.edit(strand, now.model_copy(update={"shape": (*now.shape, operation)}), revision)


def selection_settings(view: View, selected: EvidenceRequest) -> dict[str, Any]:
    """Settings that compare the words of the selected documents with all others."""
    found = evidence.find(view, selected)
    if not 0 < len(found.documents) < len(view.corpus):
        raise BadInputError("What is selected is no document, or all of them: there is nothing to compare it with.")
    numbers = sorted(view.corpus.numbers[found.documents].tolist())
    return {"numbers": numbers, "said": evidence.title(view, selected, {})[:500]}
