"""Identity of results: SHA-256 over canonical JSON of what a result was made from."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping, Sequence
from typing import Any


def canonical_json(value: Any) -> bytes:
    """UTF-8 JSON with sorted keys, no spaces and no NaN: equal values give equal bytes."""
    return json.dumps(value, sort_keys=True, separators=(",", ":"), ensure_ascii=False, allow_nan=False).encode(
        "utf-8", "surrogatepass"
    )


def result_identity(step: str, version: int, settings: Mapping[str, Any], inputs: Sequence[str]) -> str:
    """Hexadecimal identity of the result of a step; a seed is one of the settings."""
    made_from = {"step": step, "version": version, "settings": settings, "inputs": list(inputs)}
    return hashlib.sha256(canonical_json(made_from)).hexdigest()
