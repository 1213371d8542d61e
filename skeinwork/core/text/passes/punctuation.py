"""Punctuation and symbols."""

from __future__ import annotations

from typing import Literal

import numpy as np

from skeinwork.core.text import segment
from skeinwork.core.text.passes.base import Forms, Mask, TypePass


class PunctuationPass(TypePass):
    """Remove tokens without letter, digit or emoji."""

    title = "Punctuation"
    about = "what has no letter, digit or emoji goes"
    kind: Literal["punctuation"] = "punctuation"

    def said(self) -> str:
        return "drop"

    def apply(self, forms: Forms) -> Mask:
        return forms.alive & np.isin(forms.classes, [segment.PUNCTUATION, segment.SYMBOL])
