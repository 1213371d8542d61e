"""Emoji."""

from __future__ import annotations

import unicodedata
from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from skeinwork.core.text import segment
from skeinwork.core.text.passes.base import Forms, Mask, TypePass

_REGIONAL = 0x1F1E6


class EmojiPass(TypePass):
    """Remove emoji, or write each by its name in the Unicode Standard."""

    title = "Emoji"
    about = "emoji go, or become their names"
    rewrites: ClassVar[bool] = True
    kind: Literal["emoji"] = "emoji"
    become: Literal["drop", "name"] = Field("name", description="what becomes of them")

    def said(self) -> str:
        return "by name" if self.become == "name" else "drop"

    def apply(self, forms: Forms) -> Mask:
        emoji = forms.alive & forms.open & (forms.classes == segment.EMOJI)
        if self.become == "drop":
            return emoji
        for at in np.flatnonzero(emoji).tolist():
            forms.current[at] = emoji_name(forms.current[at])
        return forms.none()


def emoji_name(sign: str) -> str:
    """The names of an emoji's signs, without skin colours and joiners; itself where it has none.

    Names are those of the Unicode version that Python knows.

    >>> emoji_name("👍🏽"), emoji_name("🇫🇷")
    ('thumbs_up_sign', 'flag_fr')
    """
    flag = [ord(each) - _REGIONAL for each in sign]
    if flag and all(0 <= each < 26 for each in flag):
        return "flag_" + "".join(chr(ord("a") + each) for each in flag)
    names = [
        unicodedata.name(each, "")
        for each in sign
        if unicodedata.category(each) in ("So", "Sm", "Sk", "Cn", "Po", "Nd") and not 0x1F3FB <= ord(each) <= 0x1F3FF
    ]
    return "_".join(name.lower().replace(" ", "_").replace("-", "_") for name in names if name) or sign
