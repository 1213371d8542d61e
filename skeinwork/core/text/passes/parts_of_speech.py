"""Parts of speech: each word is taken apart by the tags that it has in its sentences."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

import numpy as np
from pydantic import Field

from skeinwork.core.text import segment, tagging
from skeinwork.core.text.about import UNSURE, About
from skeinwork.core.text.passes.base import Forms, Joined, StreamPass
from skeinwork.core.text.segment import Segments
from skeinwork.core.text.tagging.tagger import Reading
from skeinwork.core.text.tagging.tags import NUMBER_OF

_FOREIGN = 0.02  # of the documents
_NOUN = NUMBER_OF["NOUN"]


class PartsOfSpeechPass(StreamPass):
    """Tag every word in its place; later passes may tell a word's tags apart.

    The tagger reads the text as it stands there, whatever passes before have made of its words.
    """

    title = "Parts of speech"
    about = "words are told apart by what they are in their sentence"
    kind: Literal["parts-of-speech"] = "parts-of-speech"
    context: Literal["sentence", "word"] = Field("sentence", description="a tag is read from the")
    capitals: bool = Field(True, description="capitals tell names")

    def versions(self) -> list[int]:
        return [self.VERSION, tagging.VERSION]

    def reading(self) -> Reading:
        return Reading(self.context == "sentence", self.capitals)

    def said(self) -> str:
        by = "in their sentence" if self.context == "sentence" else "word by word"
        return by + ("" if self.capitals else ", whatever their capitals")

    def note(self, about: About) -> str:
        if self.within:
            return ""
        english = {at for at, name in enumerate(about.languages) if name in ("English", UNSURE)}
        foreign = sum(at not in english for at in about.language.tolist())
        if foreign <= _FOREIGN * len(about.language):
            return ""
        return (
            f"{foreign:,} documents are not in English, which is all that the tagger knows: limit this pass to English."
        )

    def join(self, tokens: Segments, forms: Forms) -> Joined | None:
        """The stream with one type for each tag that a type has; the most frequent keeps the type."""
        tags = tagging.tag_segments(tokens, reading=self.reading()).tags.astype(np.int64)
        tags[tokens.classes[tokens.ids] == segment.MULTIWORD] = _NOUN
        wanted = forms.open[tokens.ids]
        kinds, n_tags = len(tokens.types), len(tagging.TAGS)
        pairs = tokens.ids.astype(np.int64) * n_tags + tags
        counts = np.bincount(pairs[wanted], minlength=kinds * n_tags).reshape(kinds, n_tags)
        lead = counts.argmax(axis=1)
        of_type = np.where(counts.any(axis=1), lead, -1)
        counts[np.arange(kinds), lead] = 0
        source, tag = np.nonzero(counts)
        place = np.full(kinds * n_tags, -1, dtype=np.int64)
        place[source * n_tags + tag] = kinds + np.arange(len(source))
        moved = wanted & (place[pairs] >= 0)
        ids = np.where(moved, place[pairs], tokens.ids).astype(np.int32)
        made = replace(
            tokens,
            ids=ids,
            types=[*tokens.types, *(tokens.types[at] for at in source.tolist())],
            classes=np.concatenate([tokens.classes, tokens.classes[source]]),
        )
        forms.tags = of_type.astype(np.int8)
        return Joined(
            made,
            [forms.current[at] for at in source.tolist()],
            source.astype(np.int64),
            [forms.readable[at] for at in source.tolist()],
            tag.astype(np.int8),
        )
