"""A corpus of several languages, a strand for each."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.corpus.shaping.filter import Filter
from skeinwork.core.errors import BadInputError
from skeinwork.core.text import stopwords
from skeinwork.core.text.about import UNSURE
from skeinwork.core.text.clean import CleanSettings
from skeinwork.core.text.first_cleaning import first_cleaning
from skeinwork.core.text.language_names import language_named
from skeinwork.core.text.passes.stop_words import StopWordsPass
from skeinwork.core.text.sample import sample_of
from skeinwork.store.models import Strand
from skeinwork.work.results import cleaning_preview
from skeinwork.work.results.view import View
from skeinwork.work.strands import skeins, strands

_LEAST = 10  # documents


class LanguageStrand(BaseModel):
    """A strand of the documents in a language."""

    language: str
    documents: int
    strand: int
    job: int | None = None


def split_by_language(strand: Strand, view: View) -> list[LanguageStrand]:
    """Fork a strand for every language of ten documents and more; inside a connection.

    Each keeps the documents of its language alone, by the field of the role language where there is
    one, and its cleaning fits that language.

    Raises
    ------
    BadInputError
        where there are not two such languages.
    """
    about, column = cleaning_preview.about_of(view), view.corpus.role("language")
    counts = np.bincount(about.language, minlength=len(about.languages)).tolist()
    spoken = {
        name: number
        for name, number in zip(about.languages, counts, strict=True)
        if number >= _LEAST and name != UNSURE
    }
    if len(spoken) < 2:
        raise BadInputError(f"Fewer than two languages have {_LEAST} documents and more: there is nothing to split.")
    made = []
    for name in sorted(spoken, key=lambda each: -spoken[each]):
        meant = Filter(languages=(name,))
        if column:
            values = tuple(each for each in column.values if language_named(each) == name)
            meant = Filter(where={column.name: values}) if values else meant
        fork = skeins.fork(strand, f"{strand.skein.name} · {name}", fitted=False)
        wanted = strands.wanted(fork)
        clean = _cleaning(view, wanted.clean, name, np.flatnonzero(about.language == about.languages.index(name)))

        changed = wanted.model_copy(update={"shape": (*wanted.shape, meant), "clean": clean})
        strands.edit(fork, changed, fork.revision)
        made.append(LanguageStrand(language=name, documents=spoken[name], strand=fork.id))
    return made


def _cleaning(view: View, wanted: CleanSettings, language: str, documents: NDArray[np.int64]) -> CleanSettings:
    """What fits the documents of a language; of passes that the analyst has changed, their lists and stems."""
    if wanted == cleaning_preview.first_of(view).settings:
        about = cleaning_preview.about_of(view).only(documents.tolist())
        return first_cleaning(sample_of(lambda at: view.corpus.text(int(documents[at])), about)).settings
    passes = tuple(
        each.model_copy(update={"language": language})
        if isinstance(each, StopWordsPass) and language in stopwords.languages()
        else each
        for each in wanted.passes
    )
    return wanted.model_copy(update={"passes": passes})
