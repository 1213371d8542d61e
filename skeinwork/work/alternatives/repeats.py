"""With and without documents that nearly repeat another."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from skeinwork.core.corpus.shaping.duplicates import Duplicates
from skeinwork.core.said import count, counted
from skeinwork.work.alternatives.base import Alternative, Kind, Present


def _offered(now: Present) -> Iterator[Alternative]:
    shape = now.wanted.shape
    out = tuple(each for each in shape if not isinstance(each, Duplicates))
    if out != shape:
        reason = f"{count(len(now.view.corpus))} documents are left without them"
        yield Alternative("repeats-with", "with repeats", reason, now.changed(shape=out))
    near = now.view.survey.near
    if repeats := int(np.count_nonzero(near != np.arange(len(near)))):
        leave = Duplicates(near=True)
        reason = f"{counted(repeats, 'document')} nearly repeat an earlier one"
        yield Alternative("repeats-without", "without near-repeats", reason, now.changed(shape=(*shape, leave)))


KIND = Kind("Repeats", _offered)
