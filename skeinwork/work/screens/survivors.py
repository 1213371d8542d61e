"""What survives the passes: tokens, words and documents, what went, and what the last change did."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.errors import BadInputError
from skeinwork.core.text.clean import Cleaning, CleanSettings
from skeinwork.core.text.passes.base import TypePass
from skeinwork.core.text.spread import spread
from skeinwork.work.results import cleaning_preview
from skeinwork.work.results.cleaning_preview import Tried
from skeinwork.work.results.view import View
from skeinwork.work.steps.step import count, counted

_NEARLY_NOTHING = 0.02  # of the tokens
_MOST_WORDS, _MOST_GROUPS, _NAMED = 60, 60, 6


class PassSurvival(BaseModel):
    """Tokens, forms and documents left after a pass, by its key; the first row is before them all.

    ``emptied`` are documents that held tokens and keep none. ``concerned`` and ``offered`` are words
    to name beside it, after the sentences in ``says``.
    """

    key: str
    title: str
    on: bool
    tokens: int
    types: int
    removed: int
    emptied: int
    says: list[str] = []
    concerned: tuple[str, ...] = ()
    offered: tuple[str, ...] = ()


class Survivors(BaseModel):
    """What is left after each pass; ``sample``: counted in so many documents only."""

    survivals: list[PassSurvival]
    sample: int | None
    emptied: str
    change: str


class WordGone(BaseModel):
    """A word that a pass removed or changed: as it was before, what it became, and why.

    ``written`` is one way in which it stands in the texts.
    """

    word: str
    written: str
    form: str | None
    why: str
    tokens: int
    documents: int


class GroupLeft(BaseModel):
    """What a group keeps after a pass."""

    group: str
    documents: int
    before: int
    tokens: int
    types: int
    emptied: int


class PassEffect(BaseModel):
    """What one pass does: words removed and changed, the most frequent first; groups after it."""

    key: str
    title: str
    removed: list[WordGone]
    n_removed: int
    changed: list[WordGone]
    n_changed: int
    groups: list[GroupLeft]
    fields: list[str]
    by: str
    sample: int | None


def _survivals(settings: CleanSettings, cleaning: Cleaning) -> list[PassSurvival]:
    rows = cleaning.survivals
    emptied = cleaning.emptied(len(settings.passes)).tolist()
    first = PassSurvival(
        key="tokens", title="Tokens", on=True, tokens=rows[0].tokens, types=rows[0].types, removed=0, emptied=0
    )
    return [first] + [
        PassSurvival(
            key=after.key,
            title=step.title,
            on=step.on,
            tokens=after.tokens,
            types=after.types,
            removed=max(before.tokens - after.tokens, 0),
            emptied=empty,
            says=list(step.says) if isinstance(step, TypePass) else [],
            concerned=after.concerned,
            offered=after.offered,
        )
        for step, before, after, empty in zip(settings.passes, rows, rows[1:], emptied[1:], strict=False)
    ]


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
            " These documents are cut into single letters, as in scripts written without spaces: put "
            "the pass Character n-grams before, or switch word length off."
        )
    return said


def _left(cleaning: Cleaning) -> dict[str, int]:
    """Tokens that are left of every word, as it stands in the text."""
    counts = np.bincount(cleaning.tokens.ids, minlength=len(cleaning.tokens.types))
    kept, types = np.flatnonzero(cleaning.form_of >= 0), cleaning.tokens.types
    found: dict[str, int] = {}
    for at, tokens in zip(kept.tolist(), counts[kept].tolist(), strict=True):
        found[types[at]] = found.get(types[at], 0) + tokens
    return found


def _fewer(before: Cleaning, after: Cleaning) -> dict[str, int]:
    """The words that both have, of which fewer tokens are left after, and how many fewer."""
    old, new, there = _left(before), _left(after), set(after.tokens.types)
    less = ((word, tokens - new.get(word, 0)) for word, tokens in old.items() if word in there)
    return {word: tokens for word, tokens in less if tokens > 0}


def change_said(before: Tried, after: Tried) -> str:
    """What came in with the last change of the passes; empty where nothing differs or can't be told."""
    if before.sample != after.sample or before.settings == after.settings:
        return ""
    begin = f"In {counted(after.sample, 'document')} this change" if after.sample else "This change"
    gone, back = _fewer(before.cleaning, after.cleaning), _fewer(after.cleaning, before.cleaning)
    parts = [
        _amount(said, words, tried)
        for said, words, tried in (("removes", gone, before), ("brings back", back, after))
        if words
    ]
    if not parts:
        forms = len(before.cleaning.forms), len(after.cleaning.forms)
        if forms[0] != forms[1]:
            return f"{begin} makes {count(forms[1])} forms of {count(forms[0])}."
        return f"{begin} neither removes a word nor brings one back."
    return f"{begin} {'; it '.join(parts)}."


def _amount(said: str, words: dict[str, int], tried: Tried) -> str:
    tokens = tried.cleaning.tokens
    kinds = np.array([word in words for word in tokens.types], dtype=bool)
    running = np.concatenate([[0], np.cumsum(kinds[tokens.ids] & (tried.cleaning.form_of[tokens.ids] >= 0))])
    documents = int((np.diff(running[tokens.doc_ptr]) > 0).sum())
    named = sorted(words, key=lambda word: -words[word])[:_NAMED]
    more = ", …" if len(words) > _NAMED else ""
    return (
        f"{said} {counted(len(words), 'word')}, {counted(sum(words.values()), 'token')} in "
        f"{counted(documents, 'document')} ({', '.join(named)}{more})"
    )


def _earlier(view: View, before: CleanSettings | None, now: Tried) -> Tried | None:
    """The cleaning before the last change, of the same documents.

    None where it could not be made, as when a mistake is mended, or would have to be made of a large
    corpus for a sentence alone.
    """
    if before is None:
        return None
    try:
        if now.sample:
            return cleaning_preview.alike(view, before, now)
        if len(view.corpus) <= cleaning_preview.SAMPLE or cleaning_preview.at_hand(view, before):
            return cleaning_preview.whole(view, before)
    except BadInputError:
        pass
    return None


def survivors(view: View, settings: CleanSettings, before: CleanSettings | None, quick: bool) -> Survivors:
    """What is left of the corpus after each pass; ``before`` are the settings before the last change."""
    tried = cleaning_preview.quick(view, settings, 0) if quick else cleaning_preview.whole(view, settings)
    key = ("survivors", cleaning_preview.identities(view, settings)[1], tried.sample)
    survivals = view.cache.get(key, lambda: _survivals(settings, tried.cleaning))

    def change() -> str:
        earlier = _earlier(view, before, tried)
        return change_said(earlier, tried) if earlier else ""

    since = before.model_dump_json() if before else ""
    return Survivors(
        survivals=survivals,
        sample=tried.sample,
        emptied=emptied_said(settings, tried.cleaning),
        change=view.cache.get(("change", *key, since), change),
    )


def _words(tried: Tried, decided: NDArray[np.int16], at: int, removed: bool) -> tuple[list[WordGone], int]:
    """The words that a pass decided on, the most frequent first, and how many there are."""
    cleaning, step = tried.cleaning, tried.settings.passes[at]
    kinds = np.flatnonzero(decided == at)
    before = {kind: _before(tried, kind, at) for kind in kinds.tolist()}
    names = list(dict.fromkeys(before.values()))
    place = {name: number for number, name in enumerate(names)}
    word_of = np.full(len(cleaning.tokens.types), -1, dtype=np.int32)
    for kind, name in before.items():
        word_of[kind] = place[name]
    found = spread(word_of[cleaning.tokens.ids], cleaning.tokens.doc_ptr, len(names))
    first = {name: kind for kind, name in reversed(before.items())}
    order = [each for each in np.argsort(-found.tokens, kind="stable").tolist() if found.tokens[each]]
    return [
        WordGone(
            word=names[each],
            written=cleaning.tokens.types[first[names[each]]],
            form=None if removed else cleaning.trail[at].get(first[names[each]], names[each]),
            why=step.reason(names[each], "") if isinstance(step, TypePass) and removed else "",
            tokens=int(found.tokens[each]),
            documents=int(found.documents[each]),
        )
        for each in order[:_MOST_WORDS]
    ], len(order)


def _before(tried: Tried, kind: int, at: int) -> str:
    """A word as it was written before a pass."""
    for trail in reversed(tried.cleaning.trail[:at]):
        if kind in trail:
            return trail[kind]
    return tried.cleaning.tokens.types[kind]


def _groups(view: View, tried: Tried, field: str) -> list[GroupLeft]:
    """Tokens, words and emptied documents of every value of a field."""
    codes, values = tried.about.fields[field]
    tokens = tried.cleaning.tokens
    group = np.repeat(codes, np.diff(tokens.doc_ptr))
    forms = tried.cleaning.token_forms()
    left, known, size = forms >= 0, group >= 0, len(tried.cleaning.forms)
    pairs = np.unique(group[left & known].astype(np.int64) * max(size, 1) + forms[left & known])
    running = np.concatenate([[0], np.cumsum(left)])
    kept = np.diff(running[tokens.doc_ptr])
    emptied = (kept == 0) & (np.diff(tokens.doc_ptr) > 0)
    number = len(values)
    table = np.stack(
        [
            np.bincount(codes[codes >= 0], minlength=number),
            np.bincount(group[known], minlength=number),
            np.bincount(group[left & known], minlength=number),
            np.bincount(pairs // max(size, 1), minlength=number),
            np.bincount(codes[emptied & (codes >= 0)], minlength=number),
        ],
        axis=1,
    )
    order = np.argsort(-table[:, 0], kind="stable")[:_MOST_GROUPS]
    return [
        GroupLeft(
            group=values[at],
            documents=int(table[at, 0]),
            before=int(table[at, 1]),
            tokens=int(table[at, 2]),
            types=int(table[at, 3]),
            emptied=int(table[at, 4]),
        )
        for at in order.tolist()
        if table[at, 0]
    ]


def effect(view: View, settings: CleanSettings, key: str, by: str) -> PassEffect:
    """What one of the wanted passes does, by word and by group."""
    keys = [each.key for each in settings.passes]
    if key not in keys:
        raise BadInputError(f"The pass “{key}” is not part of this cleaning.")
    at = keys.index(key)
    tried = cleaning_preview.whole(view, settings.until(key))
    fields = [column.name for column in view.corpus.columns if column.role == "group"]
    chosen = by if by in tried.about.fields else fields[0] if fields else ""
    removed, n_removed = _words(tried, tried.cleaning.removed_by, at, True)
    changed, n_changed = _words(tried, tried.cleaning.changed_by, at, False)
    return PassEffect(
        key=key,
        title=settings.passes[at].title,
        removed=removed,
        n_removed=n_removed,
        changed=changed,
        n_changed=n_changed,
        fields=fields,
        by=chosen,
        sample=tried.sample,
        groups=_groups(view, tried, chosen) if chosen else [],
    )
