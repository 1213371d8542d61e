"""Lemmas from a form-lemma table that the analyst supplies, for any language."""

from __future__ import annotations

from skeinwork.core.text.forms.base import Form, Method, Options


def _by(options: Options) -> Form:
    """Words that the table does not have stay."""
    return lambda word: options.table.get(word.casefold(), word)


METHOD = Method("table", "lemmas of a table", (), 1, _by)
