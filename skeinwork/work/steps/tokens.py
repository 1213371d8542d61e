"""Tokens: a corpus cut into words and signs."""

from __future__ import annotations

from typing import Any, ClassVar

import numpy as np
from pydantic import BaseModel

from skeinwork.core.progress import Report
from skeinwork.core.text import tokenise
from skeinwork.core.text.segment import Segments
from skeinwork.core.text.tokenise import TokensSettings
from skeinwork.store.artefacts import Making
from skeinwork.work.steps.corpus import CORPUS, corpus_with_about, load_corpus
from skeinwork.work.steps.step import Arrays, Documents, Earlier, Said, Step, Stored, counted

ARRAYS = ("ids", "starts", "ends", "doc_ptr", "classes", "breaks", "opens")


class TokensSummary(BaseModel):
    tokens: int
    types: int


def saved(tokens: Segments) -> tuple[Arrays, Documents]:
    """A token stream as arrays and documents."""
    return {name: getattr(tokens, name) for name in ARRAYS}, {"types": tokens.types}


def loaded(stored: Stored) -> Segments:
    """A stored token stream; those of earlier versions knew no breaks, or no sentences."""
    part = stored.array
    none = np.zeros(len(part("ids")), dtype=np.bool_)
    breaks, opens = (part(name) if stored.holds(name) else none for name in ("breaks", "opens"))
    return Segments(
        part("ids"),
        part("starts"),
        part("ends"),
        part("doc_ptr"),
        stored.document("types"),
        part("classes"),
        breaks,
        opens,
    )


class TokensStep(Step[TokensSettings, Segments, TokensSummary]):
    name: ClassVar[str] = "tokens"
    called: ClassVar[str] = "the tokens"
    kept: ClassVar[bool] = False
    VERSION: ClassVar[int] = tokenise.VERSION
    settings: ClassVar[type[BaseModel]] = TokensSettings
    summary: ClassVar[type[BaseModel]] = TokensSummary
    needs = (CORPUS,)

    def settings_of(self, wanted: Any) -> TokensSettings:
        settings: TokensSettings = wanted.clean.tokenising()
        return settings

    def told(self, settings: TokensSettings) -> dict[str, Any]:
        told = super().told(settings)
        return {**told, "text": [{**each, "key": ""} for each in told.get("text", [])]}

    def parts(self, settings: TokensSettings) -> dict[str, int]:
        return {f"{each.kind} {at}": version for each in settings.text for at, version in enumerate(each.versions())}

    def seconds(self, making: Making, size: int) -> float:
        return 1e-7 * size

    def compute(self, earlier: Earlier, settings: TokensSettings, report: Report) -> tuple[Segments, TokensSummary]:
        corpus, about = corpus_with_about(earlier.stored(CORPUS))
        tokens = tokenise.tokenise(corpus.texts(), settings, report, about)
        return tokens, TokensSummary(tokens=len(tokens.ids), types=len(tokens.types))

    def check(self, stored: Stored, earlier: Earlier) -> TokensSummary:
        tokens, corpus = loaded(stored), load_corpus(earlier.stored(CORPUS))
        tokens.check(corpus.data, corpus.pointer)
        return TokensSummary(tokens=len(tokens.ids), types=len(tokens.types))

    def said(self, settings: TokensSettings, summary: TokensSummary) -> Said:
        return Said(name="tokens", size=counted(summary.tokens, "token"))

    def save(self, value: Segments) -> tuple[Arrays, Documents]:
        return saved(value)

    def load(self, stored: Stored, earlier: Earlier) -> Segments:
        return loaded(stored)


TOKENS = TokensStep()
