"""What stream passes that join tokens have in common."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from skeinwork.core.text.passes.base import Forms, Joined
from skeinwork.core.text.segment import Segments


def join_runs(tokens: Segments, forms: Forms, runs: Sequence[tuple[int, int, str]], kind: int) -> Joined:
    """The stream with each run of tokens as one token of a type of its own.

    Parameters
    ----------
    runs : first token, token after the last and name of every run, in order, none over another
    kind : the class of the new types
    """
    first, after = (np.array([run[at] for run in runs]) for at in (0, 1))
    scope = forms.scope[tokens.ids[first]].tolist()
    keys = [(name, part) for (_, _, name), part in zip(runs, scope, strict=True)]
    place = {key: len(tokens.types) + at for at, key in enumerate(sorted(set(keys)))}
    made = np.array([place[key] for key in keys])
    source = np.empty(len(place), dtype=np.int64)
    source[made - len(tokens.types)] = tokens.ids[first]
    ids, ends = tokens.ids.copy(), tokens.ends.copy()
    ids[first], ends[first] = made, tokens.ends[after - 1]
    inside = np.zeros(len(ids) + 1, dtype=np.int32)
    np.add.at(inside, first + 1, 1)
    np.add.at(inside, after, -1)
    stay = np.cumsum(inside)[:-1] == 0
    doc_ptr = np.concatenate([[0], np.cumsum(stay)])[tokens.doc_ptr].astype(np.int64)
    named = [name for name, _ in place]
    classes = np.full(len(named), kind, dtype=np.uint8)
    joined = replace(
        tokens,
        ids=ids[stay],
        starts=tokens.starts[stay],
        ends=ends[stay],
        doc_ptr=doc_ptr,
        breaks=tokens.breaks[stay],
        opens=tokens.opens[stay],
        types=[*tokens.types, *named],
        classes=np.concatenate([tokens.classes, classes]),
    )
    written = ["_".join(name.split()) for name in named]
    return Joined(joined, forms.reduce(written, kind), source)
