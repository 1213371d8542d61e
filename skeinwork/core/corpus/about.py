"""What a corpus says of its documents beside their texts."""

from __future__ import annotations

import numpy as np

from skeinwork.core.corpus.corpus import Corpus
from skeinwork.core.corpus.survey import Survey
from skeinwork.core.text.about import UNSURE, About
from skeinwork.core.text.language import LANGUAGES
from skeinwork.core.text.language_names import language_named


def about(corpus: Corpus, survey: Survey) -> About:
    """What a corpus says of its documents; a field of the role language goes before what was guessed."""
    guessed = survey.language
    names = [*LANGUAGES, UNSURE]
    language = np.where(guessed < 0, len(LANGUAGES), guessed).astype(np.int16)
    if column := corpus.role("language"):
        said = [language_named(value) for value in column.values]
        names[-1:] = [*(name for name in dict.fromkeys(said) if name and name not in names), UNSURE]
        language[language == len(LANGUAGES)] = len(names) - 1
        place = np.array([names.index(name) if name else -1 for name in [*said, None]])
        given = place[column.codes]
        language = np.where(given >= 0, given, language).astype(np.int16)
    return About(language, tuple(names), {c.name: (c.codes, c.values) for c in corpus.columns}, survey.near)
