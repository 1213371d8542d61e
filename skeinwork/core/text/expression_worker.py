"""The process that regular expressions run in: it ends when one takes too long or too much memory.

Started by ``expressions`` as a script, so that it loads nothing but what it needs. A line of JSON
asks and is followed by the bytes of texts; a line of JSON answers for each text, and one at the end.
"""

from __future__ import annotations

import json
import resource
import signal
import sys
import time
from collections.abc import Iterator
from typing import Any

import regex

# Bytes of the process: an expression may blow up.
MEMORY = 512 * 2**20
# Places that an answer holds; more are more than anybody reads.
MOST_PLACES = 500_000
# Seconds between signs of life.
SILENT = 0.2


def serve() -> None:
    """Answer until the other side is gone."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    for line in sys.stdin.buffer:
        asked = json.loads(line)
        texts = [sys.stdin.buffer.read(size) for size in asked["sizes"]]
        said = time.monotonic()
        for answer in _answers(asked, texts):
            sys.stdout.write(json.dumps(answer) + "\n")
            if time.monotonic() - said > SILENT:
                sys.stdout.flush()
                said = time.monotonic()
        signal.setitimer(signal.ITIMER_PROF, 0)
        sys.stdout.flush()


def _answers(asked: dict[str, Any], texts: list[bytes]) -> Iterator[Any]:
    """What each text holds. When the clock of one text runs out, the signal ends the process."""
    signal.setitimer(signal.ITIMER_PROF, asked["seconds"])
    flags = regex.MULTILINE | (regex.IGNORECASE if asked["ignore_case"] else 0)
    lines = asked.get("lines") or [[asked["expression"], ""]]
    patterns = []
    for expression, template in lines:
        try:
            patterns.append((regex.compile(expression, flags), template))
            if template:
                _check(patterns[-1][0], template)
        except MemoryError:
            raise
        except Exception as fault:  # for a doubtful expression nearly anything may be raised
            yield {"expression": expression, "fault": str(fault) or type(fault).__name__}
            return
    for data in texts:
        signal.setitimer(signal.ITIMER_PROF, asked["seconds"])
        text = data.decode("utf-8", "surrogatepass")
        if "lines" in asked:
            yield _rewritten(patterns, text)
        elif asked.get("places"):
            yield _places(patterns[0][0], text)
        else:
            yield patterns[0][0].search(text) is not None
    yield {"used": 1024 * resource.getrusage(resource.RUSAGE_SELF).ru_maxrss}


def _places(pattern: regex.Pattern[str], text: str) -> list[Any]:
    found = []
    for each in pattern.finditer(text):
        found.append([*each.span(), each.groupdict()])
        if len(found) > MOST_PLACES:
            raise MemoryError
    return found


def _rewritten(patterns: list[tuple[regex.Pattern[str], str]], text: str) -> str | None:
    """The text with what each expression matches replaced, empty matches aside; None where none does."""
    before = text
    for pattern, template in patterns:
        if pattern.search(text) is None:
            continue
        parts, last = [], 0
        for each in pattern.finditer(text):
            if each.end() > each.start():
                parts += [text[last : each.start()], each.expand(template) if template else ""]
                last = each.end()
        text = "".join([*parts, text[last:]])
    return None if text == before else text


def _check(pattern: regex.Pattern[str], template: str) -> None:
    """Raise where a template names a group that the expression does not have."""
    names = {at: f"?P<{name}>" for name, at in pattern.groupindex.items()}
    alike = "".join(f"({names.get(at, '')})" for at in range(1, pattern.groups + 1))
    regex.compile(alike).match("").expand(template)


if __name__ == "__main__":
    serve()
