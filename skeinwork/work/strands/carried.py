"""What a person said of the topics of one fit, taken to those of another."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.topics import matching
from skeinwork.store.artefacts import Artefact, DamagedResultError
from skeinwork.store.models import TopicNote
from skeinwork.store.store import Store
from skeinwork.work import steps
from skeinwork.work.steps.step import OnDisk, load

LEAST_MATCH = 0.6  # of what topics' words have above all others; shuffled documents stay below
# From here on a topic counts as a part of another: one of eight equal parts has about that cosine with the whole, and
# topics that have nothing to do with each other stay below a quarter (docs/methods.md).
_PART = 0.35
_SAID = ("dye", "label", "note", "family")
Rows = list[dict[str, Any]]


def blank(strand: int, fit: str, count: int) -> Rows:
    """Notes of topics of which nothing was said."""
    said = {"label": "", "note": "", "family": "", "came": "", "likeness": None}
    flags = {"confirmed": False, "set_aside": False, "later": False}
    return [dict(strand=strand, fit=fit, topic=k, dye=k, **said, **flags) for k in range(count)]


def carried_if_known(store: Store, strand: int, before: str, fit: str) -> Rows | None:
    """Notes for a new fit, by those of the fit before; call inside a connection.

    Returns
    -------
    None where the fit before is damaged and this version can't make it again
    """
    try:
        if not store.artefacts.has(before):
            raise DamagedResultError(before, steps.FIT.name)
        mine = (TopicNote.strand == strand) & (TopicNote.fit == before)
        notes = {note.topic: note for note in TopicNote.select().where(mine)}
        both = store.artefacts.open(before), store.artefacts.open(fit)
        rows = blank(strand, fit, steps.FIT.summarised(both[1]).topics)
        if len({steps.FIT.whole(each.making).identity for each in both}) == 1:
            return _of_same_topics(rows, notes, steps.fit.members(both[0]), steps.fit.members(both[1]))
        return _of_alike(store, rows, notes, *both)
    except DamagedResultError:
        present = store.artefacts.open(fit).making
        if store.artefacts.open(before).making.version == present.version:
            raise
        return None


def _of_same_topics(rows: Rows, notes: Mapping[int, TopicNote], before: list[list[int]], now: list[list[int]]) -> Rows:
    """Topics that are as they were keep all that was said of them; a merged one has it from its largest."""
    of = {topic: at for at, members in enumerate(before) for topic in members}
    used: set[int] = set()
    matched: set[int] = set()
    for row, members in zip(rows, now, strict=True):
        note = notes.get(of[members[0]])
        if note is None or note.topic in used:
            continue
        used.add(note.topic)
        matched.add(row["topic"])
        row.update({name: getattr(note, name) for name in _SAID})
        if sorted(before[of[members[0]]]) == members:
            row.update({name: getattr(note, name) for name in ("confirmed", "set_aside", "later", "came", "likeness")})
        else:
            others = [notes[of[each]] for each in members if of[each] in notes and of[each] != note.topic]
            told = [note.note, *dict.fromkeys(each.note for each in others)]
            row.update(note="\n\n".join(filter(None, told)), came="merged", confirmed=note.confirmed)
    return _dyed(rows, matched)


def _of_alike(store: Store, rows: Rows, notes: Mapping[int, TopicNote], then: Artefact, now: Artefact) -> Rows:
    """Topics that match have dye, label, note and family of their match, unconfirmed, with how alike the two are."""
    inputs = OnDisk(store.artefacts)
    both = (then, now)
    terms = [load(inputs, steps.MATRIX, inputs.result(each.making.inputs[0])).terms for each in both]
    words = [steps.fit.own_words(each) for each in both]
    old, new = matching.on_shared_terms(words[0], terms[0], words[1], terms[1])
    if old.shape[1] == 0:
        return rows
    likeness = matching.similarity(old, new)
    likeness[steps.FIT.summarised(then).empty] = -1.0
    likeness[:, steps.FIT.summarised(now).empty] = -1.0
    filled: set[int] = set()
    for i, j, cosine in matching.match(old, new):
        if likeness[i, j] >= LEAST_MATCH and i in notes:
            rows[j].update({name: getattr(notes[i], name) for name in _SAID})
            rows[j].update(came=_became(likeness, i, j) if notes[i].label else "", likeness=round(float(cosine), 4))
            filled.add(j)
    return _dyed(rows, filled)


def _became(likeness: NDArray[np.float64], i: int, j: int) -> str:
    """Whether a topic of before is nearest to several now, or several of before are to the one."""
    near = likeness >= _PART
    parts = np.flatnonzero(near[i] & (likeness.argmax(axis=0) == i))
    sources = np.flatnonzero(near[:, j] & (likeness.argmax(axis=1) == j))
    return "split" if len(parts) > 1 else "merged" if len(sources) > 1 else "same"


def _dyed(rows: Rows, matched: set[int]) -> Rows:
    """Topics without a match have dyes that no other has."""
    used = {row["dye"] for row in rows if row["topic"] in matched}
    free = (dye for dye in range(len(rows) + len(used)) if dye not in used)
    for row in rows:
        if row["topic"] not in matched:
            row["dye"] = next(free)
    return rows
