"""Other word forms: stems by another method, lemmas, or words as they are."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from skeinwork.core.said import count
from skeinwork.core.text.clean import CleanSettings
from skeinwork.core.text.forms import METHODS
from skeinwork.core.text.language import LANGUAGES
from skeinwork.core.text.passes.word_forms import WordFormsPass
from skeinwork.work.alternatives.base import Alternative, Kind, Present
from skeinwork.work.results.view import View


def _language(view: View) -> str:
    """The language of most documents; empty where it is not known of any."""
    known = view.survey.language[view.survey.language >= 0]
    return LANGUAGES[int(np.bincount(known).argmax())] if len(known) else ""


def _with(clean: CleanSettings, method: WordFormsPass | None) -> CleanSettings:
    """The same passes with another method, where the pass stands, or at the end where there is none."""
    others = [each for each in clean.passes if isinstance(each, WordFormsPass) and each.on]
    if not others:
        return clean if method is None else clean.model_copy(update={"passes": (*clean.passes, method)})
    passes = [
        each
        if not (isinstance(each, WordFormsPass) and each.on)
        else each.model_copy(update={"on": False})
        if method is None
        else method.model_copy(update={"key": each.key})
        for each in clean.passes
    ]
    return CleanSettings.model_validate({"rule": clean.rule, "passes": passes})


def _offered(now: Present) -> Iterator[Alternative]:
    clean, language = now.wanted.clean, _language(now.view)
    present = [each for each in clean.passes if isinstance(each, WordFormsPass) and each.on]
    forms = count(len(now.cleaning.forms))
    for name, method in METHODS.items():
        options = method.suggested(language)
        if options is None or name in {each.method for each in present}:
            continue
        if method.spoken(options) and language not in method.spoken(options):
            continue
        pass_ = WordFormsPass.model_validate({"method": name, **options.model_dump()})
        reason = f"in place of {' and '.join(each.said() for each in present) or 'words as they are'}, {forms} forms"
        yield Alternative(f"forms-{name}", pass_.said(), reason, now.changed(clean=_with(clean, pass_)))
    if present:
        reason = f"nothing is brought together: {present[0].said()} left {forms} forms"
        yield Alternative("forms-none", "words as they are", reason, now.changed(clean=_with(clean, None)))


KIND = Kind("Word forms", _offered)
