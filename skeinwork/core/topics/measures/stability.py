"""Stability: how far topics are found again in fits of other seeds. It is of several fits, not of one."""

from __future__ import annotations

KEY, TITLE, RISES = "stability", "Stability", True
ABOUT = "found again over seeds; falls when topics are forced"
