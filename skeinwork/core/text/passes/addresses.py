"""Web and mail addresses, mentions, hashtags."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import Field

from skeinwork.core.text import segment
from skeinwork.core.text.passes.base import Forms, Mask, TypePass


class AddressesPass(TypePass):
    """Remove web and mail addresses and mentions; hashtags when asked."""

    title = "Addresses"
    about = "web and mail addresses and mentions go"
    kind: Literal["addresses"] = "addresses"
    hashtags: bool = Field(False, description="hashtags too")

    def said(self) -> str:
        return f"web, mail, mentions{', hashtags' if self.hashtags else ''}"

    def apply(self, forms: Forms) -> Mask:
        wanted = [segment.ADDRESS, segment.MENTION] + [segment.HASHTAG] * self.hashtags
        return forms.alive & np.isin(forms.classes, wanted)
