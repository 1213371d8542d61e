"""Web and mail addresses, mentions, hashtags."""

from __future__ import annotations

import re
from itertools import pairwise
from typing import Any, Literal

import numpy as np
from pydantic import Field, field_validator

from skeinwork.core.in_words import percent
from skeinwork.core.text import segment
from skeinwork.core.text.passes.base import BasePass, Forms, Joined, Mask, StreamPass, TypePass
from skeinwork.core.text.passes.splitting import split_forms
from skeinwork.core.text.sample import Sample
from skeinwork.core.text.segment import Segments
from skeinwork.core.text.splitting import Piece, pieces_at

_WORDS = re.compile(r"[^\W\d_]+|\d+")
_CAPITALS = re.compile(r"(?<=[a-z])(?=[A-Z])|(?<=[A-Z])(?=[A-Z][a-z])")
_HASHTAG = re.compile(r"(?<![\w&])#\w*[^\W\d_]\w*")
# Of the texts, those with hashtags from which it is asked what they are made of.
_MANY = 0.2
Choice = Literal["drop", "keep"]


class AddressesPass(StreamPass, TypePass):
    """Remove web and mail addresses and mentions; hashtags go, stay, or are split into words."""

    title = "Addresses"
    about = "web and mail addresses, mentions, hashtags"
    kind: Literal["addresses"] = "addresses"
    web: Choice = Field("drop", description="web addresses")
    mail: Choice = Field("drop", description="mail addresses")
    mentions: Choice = Field("drop", description="mentions, like @keeper")
    hashtags: Literal["drop", "keep", "split"] = Field("keep", description="hashtags; split makes #ThisWay two words")

    @field_validator("hashtags", mode="before")
    @classmethod
    def _yes_or_no(cls, given: Any) -> Any:
        """Earlier settings said whether they go."""
        return {True: "drop", False: "keep"}.get(given, given) if given in (0, 1) else given

    @classmethod
    def suggested(cls, sample: Sample) -> tuple[tuple[BasePass, str], ...]:
        """Hashtags are split where many texts have some and most are of several words."""
        share = sample.share(_HASHTAG.search)
        if share < _MANY:
            return ((cls(), ""),)
        tags = {tag for text in sample.texts for tag in _HASHTAG.findall(text)}
        several = sum(len(words_of_hashtag(tag)) > 1 for tag in tags) / len(tags)
        split = several >= 0.5
        why = f"hashtags in {percent(share)} of the texts, {percent(several)} of them of several words"
        return ((cls(hashtags="split" if split else "keep"), why),)

    def said(self) -> str:
        chosen = {"web": self.web, "mail": self.mail, "mentions": self.mentions}
        gone = [name for name, choice in chosen.items() if choice == "drop"]
        words = [f"{', '.join(gone)} go"] if gone else []
        if self.hashtags != "keep":
            words.append("hashtags go" if self.hashtags == "drop" else "hashtags are split")
        return "; ".join(words) or "all stay"

    def join(self, tokens: Segments, forms: Forms) -> Joined | None:
        if self.hashtags != "split":
            return None
        wanted = forms.alive & forms.open & (forms.classes == segment.HASHTAG)
        parts = {at: pieces for at in np.flatnonzero(wanted).tolist() if (pieces := words_of_hashtag(tokens.types[at]))}
        return split_forms(tokens, forms, parts)

    def apply(self, forms: Forms) -> Mask:
        address = forms.classes == segment.ADDRESS
        mail = forms.among(address, lambda form: "@" in form and "://" not in form)
        gone = forms.none()
        for mask, choice in (
            (address & ~mail, self.web),
            (mail, self.mail),
            (forms.classes == segment.MENTION, self.mentions),
            (forms.classes == segment.HASHTAG, self.hashtags),
        ):
            if choice == "drop":
                gone |= mask
        return forms.alive & gone


def words_of_hashtag(tag: str) -> list[Piece]:
    """The words of a hashtag, told by capitals, digits and underscores.

    >>> [piece.word for piece in words_of_hashtag("#StormWatch2014")]
    ['Storm', 'Watch', '2014']
    """
    cuts = []
    for found in _WORDS.finditer(tag):
        begins = [0, *(cut.start() for cut in _CAPITALS.finditer(found[0])), len(found[0])]
        cuts += [(found.start() + first, found.start() + last) for first, last in pairwise(begins)]
    return pieces_at(tag, cuts)
