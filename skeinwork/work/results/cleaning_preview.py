"""Cleanings that are tried: of the whole corpus, or of a sample where that would take too long."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from skeinwork.core.text import clean, tokenise
from skeinwork.core.text.about import About
from skeinwork.core.text.clean import Cleaning, CleanSettings
from skeinwork.core.text.first_cleaning import FirstCleaning, first_cleaning
from skeinwork.core.text.sample import sample_of
from skeinwork.core.text.segment import Segments
from skeinwork.work.results.view import View
from skeinwork.work.steps import CLEANING, CORPUS, TOKENS
from skeinwork.work.steps.cleaning import listed
from skeinwork.work.steps.corpus import corpus_with_about
from skeinwork.work.steps.step import OnDisk, load

SAMPLE = 4000  # where the tokens have yet to be made
QUICK = 300  # where an answer is wanted at once


@dataclass(frozen=True)
class Tried:
    """A cleaning, of all documents or of some.

    Attributes
    ----------
    documents : the numbers of those it is of, in its order
    about : what is known of them
    sample : how many they are; None for all
    """

    cleaning: Cleaning
    settings: CleanSettings
    documents: range | list[int]
    about: About
    sample: int | None

    def place(self, document: int) -> int:
        """Where a document of the corpus stands among them."""
        return self.documents.index(document)


def about_of(view: View) -> About:
    """What is known of the documents of a view."""
    return view.cached("about", lambda: corpus_with_about(view.corpus_record)[1])


def first_of(view: View) -> FirstCleaning:
    """The cleaning that the corpus of a view suggests, and why."""
    key = ("first cleaning", view.identity(CORPUS))
    return view.cache.get(key, lambda: first_cleaning(sample_of(view.corpus.text, about_of(view))))


def lists_of(view: View, settings: CleanSettings) -> dict[str, frozenset[str]]:
    """The words of the saved lists that passes read, by checksum."""
    return {each: listed(view.uploads / each, each) for each in settings.files()}


def identities(view: View, settings: CleanSettings) -> tuple[str, str]:
    """Of the tokens and of the cleaning that the settings would give."""
    tokens = TOKENS.making(view.corpus_record.identity, settings.tokenising()).identity
    return tokens, CLEANING.making(tokens, settings).identity


def _spaced(view: View, size: int, *more: int) -> list[int]:
    """So many documents, evenly spaced over the corpus, and some others."""
    total = len(view.corpus)
    spaced = np.linspace(0, total - 1, min(size, total)).astype(int).tolist()
    return sorted({*spaced, *more})


def _of(view: View, settings: CleanSettings, documents: list[int]) -> Tried:
    about, text = about_of(view).only(documents), settings.tokenising()

    def cut() -> Segments:
        texts = [view.corpus.text(at) for at in documents]
        return tokenise.tokenise(texts, text, about=about)

    key = ("cut", identities(view, settings)[0], tuple(documents))
    tokens = view.cache.get(key, cut)
    cleaning = clean.clean(tokens, settings, about, lists_of(view, settings))
    return Tried(cleaning, settings, documents, about, len(documents))


def _stored(view: View, settings: CleanSettings, identity: str) -> Cleaning | None:
    """The cleaning as it was made, with what each pass changed."""

    def loaded() -> Cleaning:
        return load(OnDisk(view.store), CLEANING, view.store.open(identity))

    if identity == view.identity(CLEANING):
        made = view.cleaning
    elif view.store.has(identity):
        made = view.cache.get(("made cleaning", identity), loaded)
    else:
        return None
    return made if len(made.trail) == len(settings.passes) else None


def sampled(view: View, settings: CleanSettings) -> Cleaning:
    """A cleaning of a few documents spread over the corpus; of all where it was made."""
    identity = identities(view, settings)[1]
    if made := _stored(view, settings, identity):
        return made
    key = ("sampled", identity)
    return view.cache.get(key, lambda: _of(view, settings, _spaced(view, QUICK)).cleaning)


def whole(view: View, settings: CleanSettings) -> Tried:
    """The corpus under settings that may not have been made yet; a sample where it has no tokens yet."""
    store = view.store
    tokens_id, identity = identities(view, settings)
    known = store.has(tokens_id)

    def make() -> Tried:
        if made := _stored(view, settings, identity):
            return Tried(made, settings, range(len(view.corpus)), about, None)
        if not known and len(view.corpus) > SAMPLE:
            return _of(view, settings, _spaced(view, SAMPLE))
        if not known:
            found = _of(view, settings, list(range(len(view.corpus))))
            return Tried(found.cleaning, settings, found.documents, found.about, None)
        tokens = view.cache.get(("tokens", tokens_id), load_tokens)
        cleaning = clean.clean(tokens, settings, about, lists_of(view, settings))
        return Tried(cleaning, settings, range(len(view.corpus)), about, None)

    def load_tokens() -> Segments:
        return load(OnDisk(store), TOKENS, store.open(tokens_id))

    about = about_of(view)
    return view.cache.get(("tried", identity, known), make)


def alike(view: View, settings: CleanSettings, tried: Tried) -> Tried:
    """Other settings on the same documents."""
    documents = list(tried.documents)
    key = ("tried on", identities(view, settings)[1], tuple(documents))
    return view.cache.get(key, lambda: _of(view, settings, documents))


def at_hand(view: View, settings: CleanSettings) -> bool:
    """Whether the whole is there without being made."""
    tokens_id, identity = identities(view, settings)
    known = view.cache.has(("tried", identity, view.store.has(tokens_id)))
    return known or _stored(view, settings, identity) is not None


def quick(view: View, settings: CleanSettings, document: int) -> Tried:
    """The whole where it is known or small; else a few documents and the one that is asked for."""
    if len(view.corpus) <= QUICK or at_hand(view, settings):
        found = whole(view, settings)
        if document in found.documents:
            return found
    key = ("tried with", identities(view, settings)[1], document)
    return view.cache.get(key, lambda: _of(view, settings, _spaced(view, QUICK, document)))
