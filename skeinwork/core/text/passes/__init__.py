"""The passes of a cleaning. One is added by its file, and named in the list here."""

from __future__ import annotations

from typing import TYPE_CHECKING

from skeinwork.core.kinds import union
from skeinwork.core.text.passes.accents import AccentsPass
from skeinwork.core.text.passes.addresses import AddressesPass
from skeinwork.core.text.passes.base import BasePass
from skeinwork.core.text.passes.case import CasePass
from skeinwork.core.text.passes.character_ngrams import CharacterNgramsPass
from skeinwork.core.text.passes.contractions import ContractionsPass
from skeinwork.core.text.passes.corpus_words import CorpusWordsPass
from skeinwork.core.text.passes.domain_words import DomainWordsPass
from skeinwork.core.text.passes.emoji import EmojiPass
from skeinwork.core.text.passes.keep_list import KeepListPass
from skeinwork.core.text.passes.mail import MailPass
from skeinwork.core.text.passes.markup import MarkupPass
from skeinwork.core.text.passes.multiword import MultiwordPass
from skeinwork.core.text.passes.numbers import NumbersPass
from skeinwork.core.text.passes.own_list import OwnListPass
from skeinwork.core.text.passes.parts_of_speech import PartsOfSpeechPass
from skeinwork.core.text.passes.punctuation import PunctuationPass
from skeinwork.core.text.passes.repeats import RepeatsPass
from skeinwork.core.text.passes.replacements import ReplacementsPass
from skeinwork.core.text.passes.short_words import ShortWordsPass
from skeinwork.core.text.passes.speakers import SpeakersPass
from skeinwork.core.text.passes.stop_words import StopWordsPass
from skeinwork.core.text.passes.tag_filter import TagFilterPass
from skeinwork.core.text.passes.word_forms import WordFormsPass

# In the order in which they are offered, which is about that in which they are of use.
PASSES: tuple[type[BasePass], ...] = (
    MailPass,
    SpeakersPass,
    MarkupPass,
    AddressesPass,
    EmojiPass,
    KeepListPass,
    AccentsPass,
    ContractionsPass,
    CasePass,
    RepeatsPass,
    ReplacementsPass,
    MultiwordPass,
    PartsOfSpeechPass,
    TagFilterPass,
    CharacterNgramsPass,
    NumbersPass,
    PunctuationPass,
    StopWordsPass,
    DomainWordsPass,
    OwnListPass,
    CorpusWordsPass,
    ShortWordsPass,
    WordFormsPass,
)

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

# What a first cleaning may have, in its order; each says itself whether it fits some texts.
FIRST: tuple[type[BasePass], ...] = (
    MailPass,
    SpeakersPass,
    MarkupPass,
    AddressesPass,
    ContractionsPass,
    CasePass,
    MultiwordPass,
    CharacterNgramsPass,
    NumbersPass,
    PunctuationPass,
    StopWordsPass,
    ShortWordsPass,
    WordFormsPass,
    DomainWordsPass,
)
