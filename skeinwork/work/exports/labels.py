"""What people said of topics, as the exports have it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from skeinwork.store.models import TopicNote
from skeinwork.work.results.view import View


@dataclass(frozen=True)
class Label:
    """What a person said of a topic."""

    label: str = ""
    confirmed: bool = False
    note: str = ""
    family: str = ""
    set_aside: bool = False


Labels = Mapping[int, Label]


def topic_names(view: View, labels: Labels) -> list[str]:
    count = len(view.model.topic_word)
    return [labels[k].label if k in labels and labels[k].label else f"topic {k + 1}" for k in range(count)]


def label_of(note: TopicNote) -> Label:
    """A stored note as a label."""
    return Label(note.label, note.confirmed, note.note, note.family, note.set_aside)
