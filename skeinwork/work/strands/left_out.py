"""Words that are left out round after round: what is pending, what would go, and who did it when."""

from __future__ import annotations

import getpass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.errors import BadInputError
from skeinwork.core.text.clean import Cleaning, CleanSettings
from skeinwork.core.text.passes.base import one_word
from skeinwork.core.text.passes.domain_words import DomainWordsPass
from skeinwork.core.text.spread import spread
from skeinwork.store.models import LeftOut, Strand
from skeinwork.work.results.view import View
from skeinwork.work.steps import CLEANING
from skeinwork.work.strands import strands
from skeinwork.work.strands.schemas import Moment

_MOST_ROUNDS, _SAME_ROUND = 200, 60  # rows, seconds


class Leaving(BaseModel):
    """Words to leave out, and what was looked at."""

    model_config = ConfigDict(extra="forbid")
    revision: int
    words: list[str] = Field([], max_length=1000, description="as they are written")
    terms: list[str] = Field([], max_length=1000, description="terms of the matrix")
    looked_at: str = Field("", max_length=300)


class Going(BaseModel):
    """What would go with a word: its tokens and documents, and the other words of its form."""

    word: str
    tokens: int
    documents: int
    others: list[str]


class Round(BaseModel):
    """Words that somebody left out together; those in ``back`` have come back since."""

    at: Moment
    by: str
    looked_at: str
    words: list[str]
    back: list[str]


class Tray(BaseModel):
    """What is pending, what goes with it in all, and the rounds so far, the last one first."""

    pending: list[Going]
    tokens: int
    documents: int
    rounds: list[Round]


def _who() -> str:
    try:
        return getpass.getuser()
    except (KeyError, OSError):
        return ""


def written(view: View, leaving: Leaving) -> list[str]:
    """The words meant; a term by the word that it is shown as."""
    terms = [
        view.cleaning.display[view.form_place[term]] if term in view.form_place else term for term in leaving.terms
    ]
    return [word for each in (*leaving.words, *terms) if (word := " ".join(each.split()))]


def leave_out(strand: Strand, words: list[str], leaving: Leaving) -> Strand:
    """Put words on the list of domain words, as one change that can be undone; inside a connection.

    Raises
    ------
    BadInputError
        for a term of several words, of which only a single one can be left out.
    """
    if several := [word for word in words if " " in word]:
        raise BadInputError(f"Only single words can be left out; choose one of the words of “{several[0]}”.")
    wanted = strands.wanted(strand)
    clean = _with(wanted.clean, words)
    changed = strands.edit(strand, wanted.model_copy(update={"clean": clean}), leaving.revision)
    for word in words:
        LeftOut.create(strand=strand, word=word, by=_who(), looked_at=leaving.looked_at)
    return changed


def _with(clean: CleanSettings, words: list[str]) -> CleanSettings:
    passes: list[Any] = list(clean.passes)
    at = next((i for i, each in enumerate(passes) if isinstance(each, DomainWordsPass)), None)
    if at is None:
        passes.append(DomainWordsPass(words=tuple(words)))
    else:
        listed = dict.fromkeys([*passes[at].words, *words])
        passes[at] = passes[at].model_copy(update={"on": True, "words": tuple(listed)})
    return CleanSettings(rule=clean.rule, passes=tuple(passes))


def listed(clean: CleanSettings) -> list[str]:
    """The domain words that a cleaning leaves out."""
    passes = [each for each in clean.passes if isinstance(each, DomainWordsPass) and each.on]
    return list(dict.fromkeys(word for each in passes for word in each.words))


def forms_of(cleaning: Cleaning, word: str) -> set[int]:
    """The forms that are left of a word, in any case, or that are shown as it."""
    folded = one_word(word).casefold()
    found = {at for at, shown in enumerate(cleaning.display) if shown.casefold() == folded}
    for kind, written in enumerate(cleaning.tokens.types):
        if cleaning.form_of[kind] >= 0 and written.casefold() == folded:
            found.add(int(cleaning.form_of[kind]))
    return found


def going(cleaning: Cleaning, words: list[str]) -> tuple[list[Going], int, int]:
    """What would go with each of some words, and tokens and documents in all."""
    tokens, forms = cleaning.tokens, cleaning.token_forms()
    of_word = {word: forms_of(cleaning, word) for word in words}
    counts = np.bincount(tokens.ids, minlength=len(tokens.types))

    def counted(wanted: set[int]) -> tuple[int, int]:
        mask: NDArray[np.int32] = np.full(len(cleaning.forms) + 1, -1, dtype=np.int32)
        mask[list(wanted)] = 0
        found = spread(mask[forms], tokens.doc_ptr, 1)
        return int(found.tokens[0]), int(found.documents[0])

    each = []
    for word, mine in of_word.items():
        members = np.flatnonzero(np.isin(cleaning.form_of, list(mine))).tolist()
        others = {
            tokens.types[kind].casefold(): int(counts[kind])
            for kind in members
            if tokens.types[kind].casefold() != word.casefold()
        }
        n_tokens, n_documents = counted(mine)
        named = sorted(others, key=lambda other: -others[other])[:8]
        each.append(Going(word=word, tokens=n_tokens, documents=n_documents, others=named))
    return each, *counted(set().union(*of_word.values()))


def rounds(strand: Strand) -> list[Round]:
    """Who left out which words when, after looking at what; inside a connection."""
    now = {word.casefold() for word in listed(strands.wanted(strand).clean)}
    rows = LeftOut.select().where(LeftOut.strand == strand).order_by(LeftOut.id.desc())
    found: list[Round] = []
    for row in rows.limit(_MOST_ROUNDS):
        last = found[-1] if found else None
        near = last and abs((last.at.replace(tzinfo=None) - row.created).total_seconds()) < _SAME_ROUND
        if last is None or not near or (last.by, last.looked_at) != (row.by, row.looked_at):
            last = Round(at=row.created, by=row.by, looked_at=row.looked_at, words=[], back=[])
            found.append(last)
        if row.word not in last.words:
            last.words.append(row.word)
            if row.word.casefold() not in now:
                last.back.append(row.word)
    return found


def tray(view: View, wanted: CleanSettings, before: list[Round]) -> Tray:
    """What is pending: words that are listed and still in the cleaning that was made."""
    if view.identity(CLEANING) is None:
        return Tray(pending=[], tokens=0, documents=0, rounds=before)
    applied = set(listed(view.clean_settings))
    words = [word for word in listed(wanted) if word not in applied]
    each, tokens, documents = going(view.cleaning, words) if words else ([], 0, 0)
    return Tray(pending=each, tokens=tokens, documents=documents, rounds=before)
