"""Cleaning: the passes over a token stream."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict
from functools import lru_cache
from pathlib import Path
from typing import Any, ClassVar

from pydantic import BaseModel

from skeinwork.core.formats import word_list
from skeinwork.core.kinds import differing
from skeinwork.core.progress import Report
from skeinwork.core.text import clean
from skeinwork.core.text.applying import Survival
from skeinwork.core.text.clean import Cleaning, CleanSettings
from skeinwork.core.text.trail import Changes, Trail
from skeinwork.store.artefacts import Making
from skeinwork.work.steps import tokens as token_stream
from skeinwork.work.steps.corpus import CORPUS, corpus_with_about, load_corpus, sound
from skeinwork.work.steps.step import Arrays, Documents, Earlier, Inputs, Reads, Said, Step, Stored, counted
from skeinwork.work.steps.tokens import TOKENS

_ARRAYS = ("removed_by", "changed_by", "form_of")
_TRAIL = ("pointer", "types", "forms")


class CleaningSummary(BaseModel):
    """Tokens and forms that are left, and tokens before."""

    tokens: int
    types: int
    before: int


@lru_cache(maxsize=16)
def _folded(path: Path) -> frozenset[str]:
    return word_list.folded(word_list.load(path))


def listed(path: Path, sha256: str) -> frozenset[str]:
    """The words of a saved list, case folded.

    Raises
    ------
    BadInputError
        where the file is gone or is not what was saved.
    """
    return _folded(sound(path, sha256, "A list of words"))


class CleaningStep(Step[CleanSettings, Cleaning, CleaningSummary]):
    """Made from the token stream that its own settings ask for."""

    name: ClassVar[str] = "cleaning"
    called: ClassVar[str] = "the cleaning"
    missing: ClassVar[str] = "Nothing has been cleaned yet. Rebuild at Clean."
    wanted: ClassVar[str] = "clean"
    VERSION: ClassVar[int] = clean.VERSION
    settings: ClassVar[type[BaseModel]] = CleanSettings
    summary: ClassVar[type[BaseModel]] = CleaningSummary
    needs = (TOKENS,)

    def reads(self, making: Making, inputs: Inputs) -> Reads:
        """The corpus too, where it has to be known what documents are."""
        found, settings = super().reads(making, inputs), self.parse(making.settings)
        if settings.asks():
            found.results.append(inputs.result(making.inputs[0]).making.inputs[0])
        return Reads(found.results, settings.files())

    def told(self, settings: CleanSettings) -> dict[str, Any]:
        return {"rule": differing(settings.rule), "passes": clean.told(settings)}

    def seconds(self, making: Making, size: int) -> float:
        return 5e-8 * size

    def compute(self, earlier: Earlier, settings: CleanSettings, report: Report) -> tuple[Cleaning, CleaningSummary]:
        report("Cleaning", 0.9)
        about = corpus_with_about(earlier.stored(CORPUS))[1] if settings.asks() else None
        lists = {each: listed(earlier.inputs.file(each), each) for each in settings.files()}
        cleaning = clean.clean(earlier.load(TOKENS), settings, about, lists)
        return cleaning, _summary(cleaning)

    def save(self, value: Cleaning) -> tuple[Arrays, Documents]:
        arrays, documents = token_stream.saved(value.tokens) if value.joined else ({}, {})
        trail = Trail.of(value.trail)
        arrays |= {f"trail_{name}": getattr(trail, name) for name in _TRAIL}
        return {**arrays, **{name: getattr(value, name) for name in _ARRAYS}}, {
            **documents,
            "trail_words": trail.words,
            "forms": value.forms,
            "display": value.display,
            "survivals": [asdict(each) for each in value.survivals],
        }

    def load(self, stored: Stored, earlier: Earlier) -> Cleaning:
        joined = stored.holds("ids")
        return Cleaning(
            token_stream.loaded(stored) if joined else earlier.load(TOKENS),
            stored.array("removed_by"),
            stored.array("changed_by"),
            stored.array("form_of"),
            stored.document("forms"),
            stored.document("display"),
            [
                Survival(
                    each.get("key") or each["kind"],
                    each["tokens"],
                    each["types"],
                    tuple(each.get("concerned", ())),
                    tuple(each.get("offered", ())),
                )
                for each in stored.document("survivals")
            ],
            joined,
            self._trail(stored),
        )

    def _trail(self, stored: Stored) -> Sequence[Changes]:
        if not stored.holds("trail_types"):
            return []
        pointer, types, forms = (stored.array(f"trail_{name}") for name in _TRAIL)
        return Trail(pointer, types, forms, stored.document("trail_words"))

    def check(self, stored: Stored, earlier: Earlier) -> CleaningSummary:
        cleaning = self.load(stored, earlier)
        if cleaning.joined:
            corpus = load_corpus(earlier.stored(CORPUS))
            cleaning.tokens.check(corpus.data, corpus.pointer)
        passes = len(self.parse(stored.making.settings).passes)
        cleaning.check(passes)
        if isinstance(cleaning.trail, Trail):
            cleaning.trail.check(passes, len(cleaning.tokens.types))
        return _summary(cleaning)

    def said(self, settings: CleanSettings, summary: CleaningSummary) -> Said:
        """What the words of a cleaning are, and how many are left."""
        forms = [each.said() for each in settings.passes if each.on and each.kind == "word-forms"]
        name = forms[-1].split(" ")[0] if forms else "words"
        return Said(name=name, size=counted(summary.tokens, "token"))


def _summary(cleaning: Cleaning) -> CleaningSummary:
    first, last = cleaning.survivals[0], cleaning.survivals[-1]
    return CleaningSummary(tokens=last.tokens, types=last.types, before=first.tokens)


CLEANING = CleaningStep()
