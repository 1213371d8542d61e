"""What a first cleaning is told from: some texts of a corpus, and the languages of all."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from skeinwork.core.text.about import UNSURE, About

# Texts that are looked at: so many tell a share to about a hundredth.
MOST_TEXTS = 2000
# Characters of a text that are looked at.
LONGEST = 5000
# Of the documents whose language is sure, from which a language is one of the corpus and no stray.
_LANGUAGE = 0.05
# And so many of them: of a handful of documents one is a stray.
_FEW = 3
# Languages that a sentence names.
_LISTED = 4
# Of all documents, whose language has to be sure for anything to be said of it.
_SURE = 0.2
# Of the documents that have to be in one language, for the others to be strays.
_ALONE = 0.9


def main_languages(spoken: Mapping[str, int], documents: int) -> tuple[str, ...]:
    """The languages that a corpus is in, the most frequent first; none where that can't be said.

    Parameters
    ----------
    spoken : documents by the name of their language, where that is sure
    documents : all there are

    >>> main_languages({"German": 480, "French": 500, "Dutch": 3}, 1000)
    ('French', 'German')
    >>> main_languages({"English": 970, "French": 30}, 1000), main_languages({"English": 9}, 100)
    (('English',), ())
    """
    sure = sum(spoken.values())
    if sure < _SURE * documents or not sure:
        return ()
    order = sorted(spoken, key=lambda name: (-spoken[name], name))
    if spoken[order[0]] >= _ALONE * sure:
        return (order[0],)
    least = max(_LANGUAGE * sure, _FEW)
    return tuple(name for name in order if spoken[name] >= least) or (order[0],)


@dataclass(frozen=True)
class Sample:
    """Texts evenly drawn from a corpus, and what is known of all documents.

    Attributes
    ----------
    texts : ``MOST_TEXTS`` of them at most, the first ``LONGEST`` characters of each
    spoken : documents by the name of their language, where that is sure
    documents : all there are
    """

    texts: Sequence[str]
    spoken: Mapping[str, int]
    documents: int

    @cached_property
    def languages(self) -> tuple[str, ...]:
        """The languages of the corpus; none where that can't be said."""
        return main_languages(self.spoken, self.documents)

    @property
    def language(self) -> str:
        """The language of the corpus where there is one; English where none can be told; else empty."""
        if len(self.languages) > 1:
            return ""
        return self.languages[0] if self.languages else "English"

    def in_languages(self) -> str:
        """How many documents are in which language, in words."""
        sure = sum(self.spoken.values())
        if not self.languages:
            return f"{self.documents - sure:,} of {self.documents:,} documents tell no language, so English is taken"
        listed = self.counted(self.languages[:_LISTED])
        if len(self.languages) > _LISTED:
            listed = f"{len(self.languages)} languages, {listed} and more,"
        others = sure - sum(self.spoken[name] for name in self.languages)
        rest = [f"{others:,} in others"] * (others > 0) + [f"{self.documents - sure:,} unsure"] * (
            self.documents > sure
        )
        return f"{listed} of {self.documents:,} documents" + (f"; {', '.join(rest)}" if rest else "")

    def counted(self, names: Sequence[str]) -> str:
        """Languages with their documents, in words."""
        return ", ".join(f"{name} {self.spoken[name]:,}" for name in names)

    def share(self, test: Callable[[str], object]) -> float:
        """The share of the texts that pass a test; 0 of none."""
        return sum(bool(test(text)) for text in self.texts) / max(len(self.texts), 1)


def sample_of(text: Callable[[int], str], about: About) -> Sample:
    """Texts evenly drawn, and the languages of all documents; ``text`` is that of one document."""
    count = len(about.language)
    drawn = np.linspace(0, count - 1, min(count, MOST_TEXTS)).astype(int)
    often = np.bincount(about.language, minlength=len(about.languages)).tolist()
    spoken = {name: n for name, n in zip(about.languages, often, strict=True) if n and name != UNSURE}
    return Sample([text(each)[:LONGEST] for each in np.unique(drawn).tolist()], spoken, count)
