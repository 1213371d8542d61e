"""What stream passes that split tokens have in common."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from skeinwork.core.text.passes.base import Forms, Joined
from skeinwork.core.text.segment import Segments
from skeinwork.core.text.splitting import Piece, split_types


def split_forms(tokens: Segments, forms: Forms, parts: Mapping[int, Sequence[Piece]]) -> Joined | None:
    """What a stream pass makes by splitting types; None where there is nothing to split."""
    if not parts:
        return None
    split, source, given = split_types(tokens, parts)
    made = split.types[len(tokens.types) :]
    wanted = [form or word for word, form in zip(made, given, strict=True)]
    return Joined(split, forms.reduce(wanted), source, wanted)
