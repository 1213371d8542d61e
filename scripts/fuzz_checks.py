"""A check of our own for ``fuzz.py``: what the API's description allows is not out of range."""

from __future__ import annotations

from typing import Any

import schemathesis


@schemathesis.check
def described_is_in_range(_: Any, response: Any, case: Any) -> None:
    """A request that fits the description may be refused for what it means, not for its form."""
    made = case.meta.generation.mode if case.meta else None
    if made is None or not made.is_positive or response.status_code != 422:
        return
    answer = response.json()
    assert answer["title"] != "Out of range", f"fits the description, and yet: {answer['detail']}"
