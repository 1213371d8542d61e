"""Clean: a specimen under the wanted passes, and how much survives each of them."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import numpy as np
from pydantic import BaseModel

from skeinwork.core.errors import NotFoundError
from skeinwork.core.text import clean, tokenise
from skeinwork.core.text.clean import Cleaning, CleanSettings
from skeinwork.core.text.passes import PASSES
from skeinwork.core.text.passes.base import BasePass, TypePass
from skeinwork.core.text.segment import Segments
from skeinwork.work import documents
from skeinwork.work.documents import Segment
from skeinwork.work.schemas import fields_of
from skeinwork.work.steps import CLEANING, TOKENS
from skeinwork.work.steps.step import OnDisk, count, load
from skeinwork.work.view import View

SAMPLE = 4000
_NEARLY_NOTHING = 0.02  # of the tokens


class PassSurvival(BaseModel):
    """Tokens and forms left after a pass, by its key; the first row is before them all.

    ``concerned`` and ``offered`` are words to name beside it, after the sentences in ``says``.
    """

    key: str
    title: str
    on: bool
    tokens: int
    types: int
    removed: int
    says: list[str] = []
    concerned: tuple[str, ...] = ()
    offered: tuple[str, ...] = ()


class Family(BaseModel):
    """Words that share a form, the most frequent first, and their tokens."""

    form: str
    words: list[str]
    tokens: int


class Specimen(BaseModel):
    """What the wanted passes do to one document, and to the corpus."""

    document: int
    name: str
    brief: str
    segments: list[Segment]
    survivals: list[PassSurvival]
    sample: int | None
    families: list[Family]
    emptied: str


def _identities(view: View, settings: CleanSettings) -> tuple[str, str]:
    """Of the tokens and of the cleaning that the settings would give."""
    tokens = TOKENS.making(view.corpus_record.identity, settings.tokenising()).identity
    return tokens, CLEANING.making(tokens, settings).identity


def wanted_cleaning(view: View, settings: CleanSettings) -> tuple[Cleaning, int | None]:
    """The corpus (or its first documents) under settings that may not have been made yet."""
    store = view.store
    tokens_id, key = _identities(view, settings)

    def make_tokens() -> tuple[Segments, int | None]:
        if store.has(tokens_id):
            return load(OnDisk(store), TOKENS, store.open(tokens_id)), None
        size = min(len(view.corpus), SAMPLE)
        texts = [view.corpus.text(at) for at in range(size)]
        sample = size if size < len(view.corpus) else None
        return tokenise.tokenise(texts, settings.tokenising()), sample

    tokens, sample = view.cache.get(("tokens", tokens_id, store.has(tokens_id)), make_tokens)
    kept = ("cleaning", key, sample)
    return view.cache.get(kept, lambda: clean.clean(tokens, settings)), sample


def _survivals(settings: CleanSettings, cleaning: Cleaning) -> list[PassSurvival]:
    rows = cleaning.survivals
    first = PassSurvival(
        key="tokens", title="Tokens", on=True, tokens=rows[0].tokens, types=rows[0].types, removed=0
    )
    return [first] + [
        PassSurvival(key=after.key, title=step.title, on=step.on, tokens=after.tokens,
                     types=after.types, removed=before.tokens - after.tokens,
                     says=list(step.says) if isinstance(step, TypePass) else [],
                     concerned=after.concerned, offered=after.offered)
        for step, before, after in zip(settings.passes, rows, rows[1:], strict=False)
    ]  # fmt: skip


def _families(cleaning: Cleaning) -> list[Family]:
    """The widest families: words that share a form, with their tokens."""
    return [
        Family(
            form=form, tokens=sum(words.values()),
            words=sorted(words, key=lambda word: (-words[word], word))[:8],
        )
        for form, words in cleaning.families(12)
    ]  # fmt: skip


def emptied_said(settings: CleanSettings, cleaning: Cleaning) -> str:
    """Which pass took nearly everything, and what to do; empty where none did."""
    rows = cleaning.survivals
    lost = [before.tokens - after.tokens for before, after in pairwise(rows)]
    if not lost or not rows[0].tokens or rows[-1].tokens > _NEARLY_NOTHING * rows[0].tokens:
        return ""
    at = max(range(len(lost)), key=lambda each: lost[each])
    said = (
        f"{settings.passes[at].title} removed {count(lost[at])} of {count(rows[at].tokens)} tokens, and "
        f"{count(rows[-1].tokens)} are left. Switch that pass off, or set it so that it takes less."
    )
    counts = np.bincount(cleaning.tokens.ids, minlength=len(cleaning.tokens.types))
    single = np.array([len(word) == 1 and word.isalpha() for word in cleaning.tokens.types])
    if 2 * int(counts[single].sum()) > rows[0].tokens:
        said += (
            " These documents are cut into single letters, as in scripts written without spaces: each "
            "letter is a word then, which short words must not remove."
        )
    return said


def specimen(view: View, settings: CleanSettings, document: int) -> Specimen:
    """One document under passes that may not have been applied yet."""
    if not 0 <= document < len(view.corpus):
        raise NotFoundError(f"There is no document {document + 1}.")
    cleaning, sample = wanted_cleaning(view, settings)
    text = view.corpus.text(document)
    shown, at = cleaning, document
    if sample is not None and document >= sample:
        own = tokenise.tokenise([text], settings.tokenising())
        shown, at = clean.clean(own, settings), 0
    data = text.encode("utf-8", "surrogatepass")
    key = ("families", _identities(view, settings)[1], sample)
    return Specimen(
        document=document, name=documents.name(view, document), brief=documents.brief(view, document),
        segments=documents.fate_segments(shown, settings, at, data),
        survivals=_survivals(settings, cleaning), sample=sample,
        families=view.cache.get(key, lambda: _families(cleaning)),
        emptied=emptied_said(settings, cleaning),
    )  # fmt: skip


class PassKind(BaseModel):
    """A kind of pass that can be added: what it is called and does, and its settings' schema."""

    kind: str
    title: str
    about: str
    fields: dict[str, Any]


class WantedPass(BaseModel):
    """A pass of the wanted cleaning in words."""

    key: str
    title: str
    said: str
    hint: str


class Passes(BaseModel):
    offered: list[PassKind]
    wanted: list[WantedPass]


def passes(settings: CleanSettings) -> Passes:
    """The kinds of pass there are, with the schema of their settings, and the wanted ones in words."""
    listed = settings.passes
    return Passes(
        offered=[
            PassKind(kind=each.model_fields["kind"].default, title=each.title, about=each.about,
                     fields=fields_of(each, frozenset(BasePass.model_fields)))
            for each in PASSES
        ],
        wanted=[
            WantedPass(key=each.key, title=each.title, said=each.said(), hint=each.hint(listed[:at]))
            for at, each in enumerate(listed)
        ],
    )  # fmt: skip
