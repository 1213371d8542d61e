"""All code and kernels of the steps, in memory once this is imported: what a worker is forked from."""

from __future__ import annotations

from contextlib import suppress

import skeinwork.work.steps  # noqa: F401
from skeinwork.core.warm import warm

with suppress(OSError):  # a full disk keeps no compiled kernel
    warm()
