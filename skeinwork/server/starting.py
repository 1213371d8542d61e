"""How a route begins work that takes a while."""

from __future__ import annotations

from collections.abc import Iterable

from skeinwork.core.topics.methods.base import MethodSettings
from skeinwork.server.records import Made
from skeinwork.server.state import State
from skeinwork.store.models import Strand
from skeinwork.work.jobs.plans import Plan
from skeinwork.work.screens import fit
from skeinwork.work.steps import MATRIX
from skeinwork.work.strands import strands


def start(state: State, strand: Strand, plan: Plan, settings: Iterable[MethodSettings]) -> Made:
    """Begin a plan; what its fits would refuse later is refused at once."""
    if strands.standing(state.store, strand)[MATRIX.name] == "ready":
        fit.check(state.view(strand), settings)
    with state.store.connection():
        return Made.of(strand, state.runner.start(plan, strand))
