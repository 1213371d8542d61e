"""A tree in Newick's format, which programs for trees read (G. Olsen, *Newick's 8:45 tree format standard*, 1990)."""

from __future__ import annotations

from collections.abc import Sequence

from skeinwork.core.relate.linkage import Tree


def newick(tree: Tree, names: Sequence[str]) -> str:
    """The tree as text, each branch with its length: how much higher it ends than it begins.

    Examples
    --------
    >>> import numpy as np
    >>> newick(Tree(np.array([[0, 1], [2, 3]]), np.array([1.0, 3.0])), ["gale", "storm", "lead light"])
    "('lead light':3,(gale:1,storm:1):2);"
    """
    n = tree.n_items
    written = [_quoted(name) for name in names]
    for step, (one, other) in enumerate(tree.joined.tolist()):
        height = float(tree.heights[step])
        halves = [
            f"{written[each]}:{height - (float(tree.heights[each - n]) if each >= n else 0.0):.6g}"
            for each in (one, other)
        ]
        written.append(f"({','.join(halves)})")
        written[one] = written[other] = ""  # a long tree is not kept twice
    return f"{written[-1]};"


def _quoted(name: str) -> str:
    return name if name.isalnum() else "'" + name.replace("'", "''") + "'"
