"""Values kept while they are looked at, within a limit of memory."""

from __future__ import annotations

import dataclasses
import sys
import threading
import time
from collections import OrderedDict
from collections.abc import Callable
from itertools import islice
from typing import Any, TypeVar

import numpy as np
import scipy
from pydantic import BaseModel

Kept = TypeVar("Kept")
_SAMPLED = 16
_MEASURE_EVERY = 2.0  # seconds: a value may grow by what it keeps of itself


def size_of(value: Any) -> int:
    """About how many bytes a value holds; arrays mapped from files hold none.

    Long lists are judged by some of their members.
    """
    if isinstance(value, str | bytes | int | float | None):
        return sys.getsizeof(value)
    if isinstance(value, np.memmap):
        return 0
    if isinstance(value, np.ndarray):
        return int(value.nbytes) if value.base is None else size_of(value.base)
    if scipy.sparse.issparse(value):
        return sum(size_of(getattr(value, part)) for part in ("data", "indices", "indptr"))
    if isinstance(value, dict):
        return 100 * len(value) + size_of(list(value)) + size_of(list(value.values()))
    if isinstance(value, list | tuple | set | frozenset):
        step = max(1, len(value) // _SAMPLED)
        some = value[::step] if isinstance(value, list | tuple) else islice(value, 0, None, step)
        return 8 * len(value) + step * sum(map(size_of, some))
    if dataclasses.is_dataclass(value) or isinstance(value, BaseModel):
        return 100 + sum(map(size_of, list(vars(value).values())))  # others may add to it
    return sys.getsizeof(value)


class Cache:
    """The values used last, by key, up to a number of bytes.

    A value is made once: who asks for it while it is being made waits for it. One that is larger
    than the limit is kept until another is asked for.
    """

    def __init__(self, limit: int) -> None:
        self.limit = limit
        self._values: OrderedDict[Any, Any] = OrderedDict()
        self._sizes: dict[Any, int] = {}
        self._measured: dict[Any, float] = {}
        self._making: dict[Any, threading.Lock] = {}
        self._lock = threading.Lock()

    @property
    def size(self) -> int:
        """Bytes held, by estimate."""
        return sum(self._sizes.values())

    def has(self, key: Any) -> bool:
        """Whether the value of a key is there."""
        with self._lock:
            return key in self._values

    def drop(self, key: Any) -> None:
        """Forget a value."""
        with self._lock:
            self._values.pop(key, None)
            self._sizes.pop(key, None)
            self._measured.pop(key, None)

    def get(self, key: Any, make: Callable[[], Kept]) -> Kept:
        """The value of a key, made where it is not there."""
        with self._lock:
            making = self._making.setdefault(key, threading.Lock())
        with making:
            with self._lock:
                there, kept = key in self._values, self._values.get(key)
            value: Any = kept if there else make()
            self._keep(key, value)
        found: Kept = value
        return found

    def _keep(self, key: Any, value: Any) -> None:
        """Put a value last, measured again now and then, and forget the first ones over the limit."""
        now = time.monotonic()
        size = self._sizes.get(key)
        if size is None or now - self._measured.get(key, 0.0) > _MEASURE_EVERY:
            size = size_of(value)
            self._measured[key] = now
        with self._lock:
            self._values[key], self._sizes[key] = value, size
            self._values.move_to_end(key)
            self._making.pop(key, None)
            while self.size > self.limit and len(self._values) > 1:
                first, _ = self._values.popitem(last=False)
                del self._sizes[first]
                self._measured.pop(first, None)
