"""Numbers and text only: no web, no database.

Compiled kernels are cached per user, in a folder named by version, source and processor.
"""

import hashlib
import os
import platform
from pathlib import Path

import platformdirs

from skeinwork import __version__


def _kernel_cache() -> str:
    digest = hashlib.sha256()
    for path in sorted(Path(__file__).parent.rglob("*.py")):
        source = path.read_bytes()
        if b"@njit" in source:
            digest.update(source)
    checked = "-checked" if os.environ.get("NUMBA_BOUNDSCHECK") == "1" else ""
    name = f"kernels-{__version__}-{digest.hexdigest()[:12]}-{platform.machine()}{checked}"
    return str(platformdirs.user_cache_path("skeinwork") / name)


os.environ.setdefault("NUMBA_CACHE_DIR", _kernel_cache())
# Work is shared out by processes: threads of the linear algebra in each would take turns with them.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
