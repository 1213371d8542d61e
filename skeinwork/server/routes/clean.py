"""Clean: a specimen under the wanted passes, and how much survives each of them."""

from __future__ import annotations

import numpy as np
from fastapi import APIRouter
from pydantic import BaseModel

from skeinwork.core.text import clean, tokenise
from skeinwork.core.text.clean import Cleaning, CleanSettings
from skeinwork.core.text.segment import Segments
from skeinwork.server.records import SegmentRecord, segment_records
from skeinwork.server.state import NotFoundError, Selected, SelectedStrand
from skeinwork.work import codec, documents, steps, strands

router = APIRouter(prefix="/api/strands/{strand_id}", tags=["clean"])
SAMPLE = 4000


class PassSurvival(BaseModel):
    kind: str
    on: bool
    tokens: int
    types: int
    removed: int


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
    segments: list[SegmentRecord]
    survivals: list[PassSurvival]
    sample: int | None
    families: list[Family]


def wanted_cleaning(
    chosen: Selected, settings: CleanSettings
) -> tuple[Segments, Cleaning, int | None]:
    """The corpus (or its first documents) under settings that may not have been made yet."""
    view, store = chosen.view, chosen.state.store.artefacts
    corpus_id = view.corpus_record.identity
    tokens_id = steps.tokens_making(corpus_id, settings.tokenising()).identity

    def make_tokens() -> tuple[Segments, int | None]:
        if store.has(tokens_id):
            return codec.load_tokens(store.open(tokens_id)), None
        count = min(len(view.corpus), SAMPLE)
        texts = [view.corpus.text(at) for at in range(count)]
        sample = count if count < len(view.corpus) else None
        return tokenise.tokenise(texts, settings.tokenising()), sample

    tokens, sample = chosen.state.cache.get(
        ("tokens", tokens_id, store.has(tokens_id)), make_tokens
    )
    key = ("cleaning", steps.cleaning_making(corpus_id, settings).identity, sample)
    return tokens, chosen.state.cache.get(key, lambda: clean.clean(tokens, settings)), sample


def _survivals(settings: CleanSettings, cleaning: Cleaning) -> list[PassSurvival]:
    rows = cleaning.survivals
    first = PassSurvival(
        kind="tokens", on=True, tokens=rows[0].tokens, types=rows[0].types, removed=0
    )
    return [first] + [
        PassSurvival(kind=after.kind, on=step.on, tokens=after.tokens, types=after.types,
                     removed=before.tokens - after.tokens)
        for step, before, after in zip(settings.passes, rows, rows[1:], strict=False)
    ]  # fmt: skip


def _families(tokens: Segments, cleaning: Cleaning) -> list[Family]:
    """The largest families: words that share a form, with their tokens."""
    counts = np.bincount(tokens.ids, minlength=len(tokens.types))
    members: dict[int, dict[str, int]] = {}
    for kind in np.flatnonzero(cleaning.form_of >= 0).tolist():
        family = members.setdefault(int(cleaning.form_of[kind]), {})
        word = tokens.types[kind].casefold()
        family[word] = family.get(word, 0) + int(counts[kind])
    large = sorted(members.items(), key=lambda item: (-len(item[1]), -sum(item[1].values())))
    return [
        Family(
            form=cleaning.forms[form],
            tokens=sum(words.values()),
            words=sorted(words, key=lambda word: (-words[word], word))[:8],
        )  # fmt: skip
        for form, words in large[:12]
        if len(words) > 1
    ]


@router.get("/specimen")
def specimen(chosen: SelectedStrand, document: int = 0) -> Specimen:
    """One document under the wanted passes."""
    view = chosen.view
    if not 0 <= document < len(view.corpus):
        raise NotFoundError(f"There is no document {document + 1}.")
    settings = strands.wanted(chosen.strand).clean
    tokens, cleaning, sample = wanted_cleaning(chosen, settings)
    data = view.corpus.text(document).encode("utf-8", "surrogatepass")
    if sample is not None and document >= sample:
        own = tokenise.tokenise([view.corpus.text(document)], settings.tokenising())
        parts = documents.fate_segments(
            own, clean.clean(own, settings), steps.plain(settings), 0, data
        )
    else:
        parts = documents.fate_segments(tokens, cleaning, steps.plain(settings), document, data)
    key = (
        "families",
        steps.cleaning_making(view.corpus_record.identity, settings).identity,
        sample,
    )
    families = chosen.state.cache.get(key, lambda: _families(tokens, cleaning))
    return Specimen(
        document=document, name=documents.name(view, document), brief=documents.brief(view, document),
        segments=segment_records(parts), survivals=_survivals(settings, cleaning), sample=sample,
        families=families,
    )  # fmt: skip
