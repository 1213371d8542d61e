"""Where results are computed: in processes of this machine, or on a cluster, with the same bytes."""

from __future__ import annotations

from skeinwork.core.errors import BadInputError
from skeinwork.store.store import Store
from skeinwork.work.jobs.executors.base import Executor
from skeinwork.work.jobs.executors.local import Local


def make_executor(store: Store, workers: int | None, scheduler: str | None) -> Executor:
    """The executor that was asked for.

    Raises
    ------
    BadInputError
        where the scheduler does not answer, or what a cluster needs is not installed.
    """
    if scheduler is None:
        return Local(store.artefacts, store.uploads, store.tasks, workers)
    try:
        from skeinwork.work.jobs.executors.cluster import Cluster  # takes a second, and is optional
    except ModuleNotFoundError as fault:
        raise BadInputError(
            "--scheduler needs what a cluster needs. Install it with: pip install 'skeinwork[cluster]'."
        ) from fault
    return Cluster(store.artefacts, store.uploads, scheduler)
