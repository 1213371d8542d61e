"""Why a word is not in the vocabulary, and how it comes back."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import BaseModel

from skeinwork.core.in_words import percent
from skeinwork.core.matrix.matrix_settings import MatrixSettings
from skeinwork.core.matrix.pruning import document_bounds
from skeinwork.core.text.passes.base import BasePass, TypePass, one_word
from skeinwork.core.text.passes.word_lists import ListPass
from skeinwork.core.text.spread import spread
from skeinwork.work.results import cleaning_preview
from skeinwork.work.results.cleaning_preview import Tried
from skeinwork.work.results.view import View
from skeinwork.work.steps.step import count
from skeinwork.work.strands.strands import Wanted

_MOST = 12
Remedy = Literal["none", "unlist", "spare", "keep"]


class WordStep(BaseModel):
    """What a pass made of it."""

    key: str
    title: str
    form: str


class WordFate(BaseModel):
    """What becomes of ways to write a word that go the same way.

    ``remedy`` is how it comes back: taken off the pass's own words, spared from its list, or put on a
    keep list before the pass ``removed_by``. ``vocabulary`` says whether its form is a term, and why
    not.
    """

    words: list[str]
    tokens: int
    documents: int
    steps: list[WordStep]
    form: str | None
    removed_by: str | None
    title: str
    why: str
    remedy: Remedy
    vocabulary: str


class WordStory(BaseModel):
    """A word of the texts; no fates where none of them holds it."""

    word: str
    fates: list[WordFate]
    sample: int | None


def story(view: View, wanted: Wanted, word: str) -> WordStory:
    """Follow a word, in any case, through the wanted passes to the vocabulary."""
    tried = cleaning_preview.whole(view, wanted.clean)
    tokens, folded = tried.cleaning.tokens, one_word(word.strip()).casefold()
    ways: dict[tuple[object, ...], list[int]] = {}
    for kind, written in enumerate(tokens.types):
        if one_word(written).casefold() == folded:
            way = tuple((at, each[kind]) for at, each in enumerate(tried.cleaning.trail) if kind in each)
            ways.setdefault((way, int(tried.cleaning.removed_by[kind])), []).append(kind)
    fates = [_fate(view, wanted, tried, kinds) for kinds in list(ways.values())[:_MOST]]
    return WordStory(
        word=word.strip(),
        sample=tried.sample,
        fates=sorted((each for each in fates if each.tokens), key=lambda each: -each.tokens),
    )


def _fate(view: View, wanted: Wanted, tried: Tried, kinds: list[int]) -> WordFate:
    cleaning, passes = tried.cleaning, tried.settings.passes
    mine = np.full(len(cleaning.tokens.types), -1, dtype=np.int32)
    mine[kinds] = 0
    found = spread(mine[cleaning.tokens.ids], cleaning.tokens.doc_ptr, 1)
    kind = kinds[0]
    steps = [
        WordStep(key=passes[at].key, title=passes[at].title, form=each[kind])
        for at, each in enumerate(cleaning.trail)
        if kind in each
    ]
    by, form = int(cleaning.removed_by[kind]), int(cleaning.form_of[kind])
    before = steps[-1].form if steps else cleaning.tokens.types[kind]
    step = passes[by] if by >= 0 else None
    return WordFate(
        words=list(dict.fromkeys(cleaning.tokens.types[each] for each in kinds)),
        tokens=int(found.tokens[0]),
        documents=int(found.documents[0]),
        steps=steps,
        form=cleaning.forms[form] if form >= 0 else None,
        removed_by=step.key if step else None,
        title=step.title if step else "",
        why=step.reason(before, "") if isinstance(step, TypePass) else "",
        remedy=_remedy(step, before),
        vocabulary=_in_vocabulary(view, wanted, tried, form),
    )


def _remedy(step: BasePass | None, word: str) -> Remedy:
    if step is None:
        return "none"
    if isinstance(step, ListPass):
        if word.casefold() in {each.casefold() for each in step.listed()}:
            return "unlist"
        if "keep" in type(step).model_fields:
            return "spare"
    return "keep"


def _in_vocabulary(view: View, wanted: Wanted, tried: Tried, form: int) -> str:
    """Whether a form is a term of the wanted matrix, and which limit of Weigh it fails."""
    if form < 0:
        return ""
    tokens, weigh = tried.cleaning.tokens, wanted.weigh
    mine = np.where(tried.cleaning.form_of == form, 0, -1).astype(np.int32)
    documents = int(spread(mine[tokens.ids], tokens.doc_ptr, 1).documents[0])
    total = len(tried.documents)
    if tried.sample:
        return "in the vocabulary if Weigh keeps it; seen in a sample only"
    word, (least, most) = tried.cleaning.forms[form], document_bounds(weigh, total)
    if word in weigh.go:
        return "not in the vocabulary: pinned to go at Weigh"
    if word in weigh.stay:
        return "in the vocabulary: pinned to stay at Weigh"
    if documents < least:
        return f"not in the vocabulary: in {count(documents)} documents, and Weigh asks for {count(least)} at least"
    if documents > most:
        there, allowed = percent(documents / total), percent(most / max(total, 1))
        return f"not in the vocabulary: in {there} of the documents, and Weigh allows {allowed} at most"
    if further := _further(weigh):
        return f"in the vocabulary if it is among the terms that Weigh keeps, {further}"
    return "in the vocabulary"


def _further(weigh: MatrixSettings) -> str:
    """Limits of Weigh that a single word can't be judged by here; empty where there are none."""
    said = [
        f"the first {count(weigh.keep_top)}" if weigh.keep_top else "",
        f"the first {percent(weigh.keep_share)}" if weigh.keep_share else "",
        "by their letters" if weigh.min_letters > 1 or weigh.max_letters else "",
        f"that occur {count(weigh.min_count)} times" if weigh.min_count > 1 else "",
        "of the training part" if weigh.split else "",
    ]
    return ", ".join(filter(None, said))
