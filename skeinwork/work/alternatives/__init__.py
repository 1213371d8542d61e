"""Other reasonable choices, over which a statement is tested. A kind is added by its file and its entry here."""

from __future__ import annotations

from typing import Any

from skeinwork.work.alternatives import counts, limits, repeats, seeds, units, word_forms
from skeinwork.work.alternatives.base import Alternative, Kind, present
from skeinwork.work.results.view import View
from skeinwork.work.steps.step import Step

KINDS: tuple[Kind, ...] = (seeds.KIND, counts.KIND, word_forms.KIND, limits.KIND, units.KIND, repeats.KIND)


def offered(view: View, step: Step[Any, Any, Any]) -> list[tuple[Kind, list[Alternative]]]:
    """What can be decided otherwise of the view's fit, or of its matrix where it is about words, by kind."""

    def made() -> list[tuple[Kind, list[Alternative]]]:
        now = present(view, step)
        return [(kind, found) for kind in KINDS if (found := list(kind.offered(now)))]

    return view.cached("alternatives", made, step.name)
