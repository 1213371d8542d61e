"""Memory and time of one fit of a large corpus: ``make bench-large``, some minutes; not a part of CI.

A corpus of drawn words is fitted in a process of its own, whose largest resident size is told.
"""

from __future__ import annotations

import argparse
import resource
import sys
import time

import numpy as np
from scipy.sparse import csr_matrix

from skeinwork.core.topics.methods import lda
from skeinwork.core.topics.methods.lda import LdaSettings

_TERMS, _HELD = 50_000, 6
_WANTED_GIB = 3.0


def drawn(documents: int, length: int, topics: int) -> csr_matrix:
    """Documents of a few topics each, which draw words by the Zipf law from ranges of their own."""
    rng = np.random.default_rng(1)
    held = rng.integers(topics, size=(documents, _HELD))
    topic = np.take_along_axis(held, rng.integers(_HELD, size=(documents, length)) // 2, axis=1)
    rank = np.minimum(rng.zipf(1.4, size=(documents, length)) - 1, _TERMS - 1)
    words = ((topic * (_TERMS // topics) + rank) % _TERMS).astype(np.int32).ravel()
    counts = csr_matrix(
        (np.ones(len(words), np.int32), words, np.arange(0, len(words) + 1, length)), (documents, _TERMS)
    )
    counts.sum_duplicates()
    return counts


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--documents", type=int, default=200_000)
    parser.add_argument("--length", type=int, default=100)
    parser.add_argument("--topics", type=int, default=200)
    parser.add_argument("--iterations", type=int, default=20)
    asked = parser.parse_args()
    counts = drawn(asked.documents, asked.length, asked.topics)
    begun = time.perf_counter()
    fitted = lda.fit(counts, LdaSettings(topics=asked.topics, iterations=asked.iterations))
    seconds, gib = time.perf_counter() - begun, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 2**20
    print(
        f"{asked.documents} documents of {asked.length} tokens, {asked.topics} topics, {asked.iterations} iterations "
        f"({', '.join(set(fitted.overall) - {'beta'}) or 'dense'}): {seconds:.0f} s, largest size {gib:.2f} GiB "
        f"(wanted: under {_WANTED_GIB})"
    )
    sys.exit(gib >= _WANTED_GIB)


if __name__ == "__main__":
    main()
