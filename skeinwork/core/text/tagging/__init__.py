"""Parts of speech of English: universal tags by an averaged perceptron, decoded exactly."""

from __future__ import annotations

from skeinwork.core.text.tagging.fine import fine
from skeinwork.core.text.tagging.tagger import VERSION, Tagged, tag_segments, tag_sentences, tag_tokens
from skeinwork.core.text.tagging.tags import NAMES, TAGS

__all__ = ["NAMES", "TAGS", "VERSION", "Tagged", "fine", "tag_segments", "tag_sentences", "tag_tokens"]
