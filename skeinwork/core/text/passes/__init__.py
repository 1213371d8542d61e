"""The passes of a cleaning. One is added by its file and its import here."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from skeinwork.core.kinds import union
from skeinwork.core.text.passes.addresses import AddressesPass
from skeinwork.core.text.passes.base import BasePass
from skeinwork.core.text.passes.case import CasePass
from skeinwork.core.text.passes.domain_words import DomainWordsPass
from skeinwork.core.text.passes.markup import MarkupPass
from skeinwork.core.text.passes.multiword import MultiwordPass
from skeinwork.core.text.passes.numbers import NumbersPass
from skeinwork.core.text.passes.punctuation import PunctuationPass
from skeinwork.core.text.passes.short_words import ShortWordsPass
from skeinwork.core.text.passes.stop_words import StopWordsPass
from skeinwork.core.text.passes.word_forms import WordFormsPass


def _offered(base: type[BasePass]) -> Iterator[type[BasePass]]:
    """The passes that were imported above: those with a default kind."""
    for each in base.__subclasses__():
        if each.model_fields["kind"].is_required():
            yield from _offered(each)
        else:
            yield each


PASSES = tuple(_offered(BasePass))  # type: ignore[type-abstract]

if TYPE_CHECKING:
    Pass = BasePass
else:
    Pass = union(PASSES, "kind")

SUGGESTED: tuple[BasePass, ...] = (
    MarkupPass(),
    AddressesPass(),
    CasePass(),
    MultiwordPass(),
    NumbersPass(),
    PunctuationPass(),
    StopWordsPass(),
    ShortWordsPass(),
    WordFormsPass(),
    DomainWordsPass(),
)
