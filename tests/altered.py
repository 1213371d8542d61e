"""Files of a skein with one thing in them altered, and sealed again as if it had been written so."""

from __future__ import annotations

import contextlib
import copy
import hashlib
import io
import json
import zipfile
from collections.abc import Callable, Iterator
from typing import Any

import numpy as np

from skeinwork.store.artefacts import _seal

Members = dict[str, bytes]
Json = Any
ODD: tuple[Json, ...] = (
    None,
    -1,
    10**12,
    2_000_000_000,
    1e400,
    float("nan"),
    "",
    "\ud800",
    "x" * 100_000,
    [],
    {},
    [[[]]],
    True,
    {"kind": "no such"},
    ["a"],
    0.5,
)


def members(data: bytes) -> Members:
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


def packed(files: Members) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return out.getvalue()


def sealed(files: Members, result: str) -> Members:
    """With checksums and seal as they are for what a result holds now."""
    at = f"{result}/made.json"
    made = json.loads(files[at])
    inside = {name.rpartition("/")[2]: data for name, data in files.items() if name.startswith(result)}
    made["checksums"] = {name: hashlib.sha256(data).hexdigest() for name, data in inside.items() if name != "made.json"}
    made.pop("sealed")
    with contextlib.suppress(ValueError):  # what is no number can't be; earlier versions had no seal
        made["sealed"] = _seal(made)
    return {**files, at: json.dumps(made).encode("utf-8", "surrogatepass")}


def nodes(value: Json, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """Where every part of a JSON value is; of long lists the first parts and the last."""
    if path:
        yield path
    if isinstance(value, dict):
        for key in value:
            yield from nodes(value[key], (*path, key))
    elif isinstance(value, list):
        for at in sorted({*range(min(3, len(value))), *range(max(0, len(value) - 1), len(value))}):
            yield from nodes(value[at], (*path, at))


def with_node(value: Json, path: tuple[Any, ...], odd: Json, drop: bool) -> Json:
    """The value with one part replaced, or dropped."""
    value = copy.deepcopy(value)
    inner = value
    for step in path[:-1]:
        inner = inner[step]
    if drop:
        del inner[path[-1]]
    else:
        inner[path[-1]] = odd
    return value


def _put(number: Any, where: float) -> Callable[[np.ndarray], np.ndarray]:
    def change(array: np.ndarray) -> np.ndarray:
        flat = array.ravel().copy()
        if len(flat):
            with np.errstate(all="ignore"):
                flat[int(where * (len(flat) - 1))] = np.array(number).astype(array.dtype)
        return flat.reshape(array.shape)

    return change


# Changes of an array: its numbers, order, length, type, form.
ARRAYS: dict[str, Callable[[np.ndarray], np.ndarray]] = {
    "negative first": _put(-1, 0),
    "negative last": _put(-1, 1),
    "huge": _put(2_000_000_000, 0.5),
    "least": _put(-(2**31), 0.3),
    "one more": lambda a: np.append(a.ravel(), a.ravel()[-1:]),
    "NaN": _put(float("nan"), 0.5),
    "infinite": _put(float("inf"), 1),
    "fewer": lambda a: a[: len(a) // 2],
    "none": lambda a: a[:0],
    "reversed": lambda a: a[::-1],
    "zeros": np.zeros_like,
    "ones": np.ones_like,
    "all huge": lambda a: np.full_like(a, 127),
    "wider": lambda a: a.astype(np.float64 if a.dtype.kind == "f" else np.int64),
    "as numbers": lambda a: a.astype(np.float32),
    "as words": lambda a: a.astype("U4"),
    "other byte order": lambda a: a.astype(a.dtype.newbyteorder(">")),
    "a column": lambda a: a.reshape(-1, 1),
    "one number": lambda a: np.array(1, dtype=a.dtype),
    "other layout": np.asfortranarray,
    "shuffled": lambda a: np.random.default_rng(1).permutation(a),
}


def altered_array(data: bytes, change: str) -> bytes:
    array = np.load(io.BytesIO(data))
    out = io.BytesIO()
    np.save(out, ARRAYS[change](array), allow_pickle=False)
    return out.getvalue()
