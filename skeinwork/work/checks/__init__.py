"""Checks of topics by people. One is added by its file and its entry here."""

from __future__ import annotations

from skeinwork.core.errors import NotFoundError
from skeinwork.work.checks.base import CheckKind
from skeinwork.work.checks.hand_coding import HandCoding
from skeinwork.work.checks.topic_intrusion import TopicIntrusion
from skeinwork.work.checks.word_intrusion import WordIntrusion

KINDS: dict[str, CheckKind] = {each.name: each for each in (WordIntrusion(), TopicIntrusion(), HandCoding())}


def kind_of(name: str) -> CheckKind:
    """The kind of check that is called so."""
    if name not in KINDS:
        raise NotFoundError(f"There is no check called “{name[:40]}”.")
    return KINDS[name]
