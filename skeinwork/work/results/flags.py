"""Sets of documents that may spoil models: what they are, why that matters, and how they go."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.corpus.periods import usual_days
from skeinwork.core.corpus.shaping import Operation
from skeinwork.core.corpus.shaping.duplicates import Duplicates
from skeinwork.core.corpus.shaping.filter import Filter
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.dates import MISSING, from_days
from skeinwork.core.text.language import LANGUAGES
from skeinwork.core.text.sample import main_languages
from skeinwork.work.results.view import View

SHORT_WORDS = 5
LONG_TIMES = 10
Mask = NDArray[np.bool_]


@dataclass(frozen=True)
class Flag:
    """One set.

    Attributes
    ----------
    title : for people; said : of so many documents; why : it matters
    mask : bool[n_docs]
    said_of : the same where it depends on the corpus
    out : the shaping operation that leaves them out; None where another screen mends them
    like : int[n_docs], the document that each repeats
    condition : of a filter, that says the same of any corpus
    """

    key: str
    title: str
    said: str
    why: str
    mask: Callable[[View], Mask]
    out: Callable[[View], Operation] | None = None
    like: Callable[[View], NDArray[np.int32]] | None = None
    condition: str = ""
    said_of: Callable[[View], str] | None = None

    def in_words(self, view: View) -> str:
        """What is so of so many documents of a corpus."""
        return self.said_of(view) if self.said_of else self.said


def _most(view: View) -> float:
    return LONG_TIMES * max(float(np.median(view.lengths)), 1.0)


def _usual(view: View) -> tuple[str, ...]:
    """The languages that the corpus is in, as far as they can be told."""
    guessed = view.survey.language
    often = np.bincount(guessed[guessed >= 0], minlength=len(LANGUAGES)).tolist()
    return main_languages({name: n for name, n in zip(LANGUAGES, often, strict=True) if n}, len(guessed))


def _foreign(view: View) -> Mask:
    guessed = view.survey.language
    usual = [LANGUAGES.index(name) for name in _usual(view)]
    return (guessed >= 0) & ~np.isin(guessed, usual) & bool(usual)


def _said_of_foreign(view: View) -> str:
    usual = _usual(view)
    if len(usual) < 2:
        return f"in another language than {''.join(usual)}"
    return f"in none of the {len(usual)} languages of the corpus"


def _languages(view: View) -> Operation:
    found = np.unique(view.survey.language[_foreign(view)]).tolist()
    return Filter(out=True, languages=tuple(LANGUAGES[at] for at in found))


def _emptied(view: View) -> Mask:
    return np.isin(np.arange(len(view.corpus)), view.matrix.empty_documents)


def _repeats(view: View) -> Mask:
    return np.asarray(view.survey.same != np.arange(len(view.corpus)))


def _far(view: View) -> Mask:
    first, last = usual_days(view.corpus.days)
    days = view.corpus.days
    return np.asarray((days != MISSING) & ((days < first) | (days > last)))


def _without_far(view: View) -> Operation:
    """The side on which more of them lie; what lies on the other is told again after it."""
    first, last = usual_days(view.corpus.days)
    early, late = view.corpus.days[_far(view)] < first, view.corpus.days[_far(view)] > last
    if early.sum() >= late.sum():
        return Filter(out=True, date_to=from_days(first - 1).isoformat())
    return Filter(out=True, date_from=from_days(last + 1).isoformat())


FLAGS = (
    Flag(
        "empty",
        "Empty documents",
        "without any word",
        "they can’t be part of a fit",
        lambda view: np.asarray(view.lengths == 0),
        lambda view: Filter(out=True, words_to=1),
    ),
    Flag(
        "short",
        "Very short documents",
        f"under {SHORT_WORDS} words",
        "there is little to tell their topic from",
        lambda view: (view.lengths > 0) & (view.lengths < SHORT_WORDS),
        lambda view: Filter(out=True, words_from=1, words_to=SHORT_WORDS),
    ),
    Flag(
        "long",
        "Very long documents",
        "over ten times the median",
        "each weighs as much as ten usual ones",
        lambda view: np.asarray(view.lengths > _most(view)),
        lambda view: Filter(out=True, words_from=int(_most(view)) + 1),
    ),
    Flag(
        "same",
        "Repeats",
        "repeating an earlier one word for word",
        "their words are counted again",
        _repeats,
        lambda view: Duplicates(),
        lambda view: view.survey.same,
    ),
    Flag(
        "near",
        "Near-repeats",
        "nearly repeating an earlier one",
        "three-word runs shared by 80 % or more",
        lambda view: (view.survey.near != np.arange(len(view.corpus))) & ~_repeats(view),
        lambda view: Duplicates(near=True),
        lambda view: view.survey.near,
    ),
    Flag(
        "foreign",
        "In another language",
        "in another language",
        "they may become topics of their own",
        _foreign,
        _languages,
        said_of=_said_of_foreign,
    ),
    Flag(
        "garbled",
        "Garbled documents",
        "with characters that a wrong encoding leaves",
        "read the file in another encoding",
        lambda view: np.asarray(view.survey.garbled),
        lambda view: Filter(out=True, garbled=True),
        condition="garbled",
    ),
    Flag(
        "undated",
        "Documents without a date",
        "without a date",
        "they are missing over time",
        lambda view: np.asarray(view.corpus.days == MISSING) & view.corpus.has_dates,
        lambda view: Filter(out=True, undated=True),
        condition="undated",
    ),
    Flag(
        "far",
        "Dated far off",
        "dated far from the others",
        "a year may be mistyped; over time these lie behind a gap",
        _far,
        _without_far,
    ),
    Flag("emptied", "Documents that pruning emptied", "emptied by pruning", "no term of theirs is left", _emptied),
)


def flag_of(key: str) -> Flag:
    """A set by its key.

    Raises
    ------
    BadInputError
        where there is none of that name.
    """
    for each in FLAGS:
        if each.key == key:
            return each
    raise BadInputError(f"There is no set of documents called “{key}”.")
