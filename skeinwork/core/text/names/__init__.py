"""Names in texts: where they stand, what they are, and which are one."""

from __future__ import annotations

from skeinwork.core.text.names.edits import MOST_EDITS, NameEdits, edited
from skeinwork.core.text.names.find import KINDS, Kind, Name, find_names

__all__ = ["KINDS", "MOST_EDITS", "Kind", "Name", "NameEdits", "edited", "find_names"]
