"""A document as people read it in a check."""

from __future__ import annotations

from skeinwork.work.results.view import View

# Characters of a document that are shown: more than that nobody reads for one answer.
MOST = 6000
_CUT = " […]"


def reading_text(view: View, document: int) -> str:
    """Its text, cut at a word where it is very long."""
    text = view.corpus.text(document)
    if len(text) <= MOST:
        return text
    return text[:MOST].rsplit(None, 1)[0] + _CUT
