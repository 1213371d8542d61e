"""The cleaning that a corpus begins with: the passes that fit its languages and its kind, each with why."""

from __future__ import annotations

from dataclasses import dataclass

from skeinwork.core.text.clean import CleanSettings
from skeinwork.core.text.passes import FIRST
from skeinwork.core.text.sample import Sample


@dataclass(frozen=True)
class FirstCleaning:
    """Settings to begin with.

    Attributes
    ----------
    reasons : by the key of a pass, for those that something was counted for
    languages : that the corpus is in
    """

    settings: CleanSettings
    reasons: dict[str, str]
    languages: tuple[str, ...]


def first_cleaning(sample: Sample) -> FirstCleaning:
    """The passes that fit some texts, by what was counted in them.

    English texts with nothing remarkable get the cleaning of ``CleanSettings`` as it is without a corpus.

    >>> first = first_cleaning(Sample(["eine Sturmflut"], {"German": 1}, 1))
    >>> first.reasons["stop-words"], first.settings.passes[-4].said()
    ('German 1 of 1 documents', 'German list')
    """
    found = [each for kind in FIRST for each in kind.suggested(sample)]
    settings = CleanSettings.model_validate({"passes": [each.model_dump() for each, _ in found]})
    reasons = {each.key: why for each, (_, why) in zip(settings.passes, found, strict=True) if why}
    return FirstCleaning(settings, reasons, sample.languages)
