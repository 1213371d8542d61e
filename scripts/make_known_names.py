"""Write skeinwork/core/text/data/known_names.txt.gz from an openly licensed lexical database.

``python scripts/make_known_names.py FOLDER``: the folder holds ``data.noun``. Of its instances of
persons the first words that several bear are given names, and the last words surnames; of its places
and groups the whole names are kept. A line of the result is a letter and a name. The licence is that of
the lexicon, which stands beside the result.
"""

import gzip
import re
import sys
from collections import defaultdict
from pathlib import Path

from skeinwork.core.text.names import known

KINDS = {"14": "organisation", "15": "place", "18": "person"}  # lexicographer files of nouns
NAME = re.compile(r"(?:[A-Z][A-Za-z'-]+)(?:_(?:of|the|and|[A-Z][A-Za-z.'-]*))*")
LEAST = 2  # persons who bear a given name


def main() -> None:
    found: dict[str, set[str]] = defaultdict(set)
    first: dict[str, set[str]] = defaultdict(set)
    for line in (Path(sys.argv[1]) / "data.noun").read_text(encoding="ascii").splitlines():
        parts = line.split(" ")
        if line.startswith(" ") or parts[2:3] != ["n"] or parts[1] not in KINDS or "@i" not in parts:
            continue
        kind = KINDS[parts[1]]
        names = [parts[at] for at in range(4, 4 + 2 * int(parts[3], 16), 2)]
        for name in filter(NAME.fullmatch, names):
            words = name.split("_")
            if kind != "person":
                found[kind].add(" ".join(words))
            elif len(words) > 1 and words[-1].isalpha():
                found["surname"].add(words[-1])
                first[words[0]].add(name)
    found["given"] = {name for name, bearers in first.items() if len(bearers) >= LEAST and len(name) > 2}
    lines = [f"{kind[0]} {name}" for kind in sorted(found) for name in sorted(found[kind])]
    known.PATH.write_bytes(gzip.compress(("\n".join(lines) + "\n").encode("ascii"), 9, mtime=0))
    print({kind: len(names) for kind, names in found.items()}, known.PATH.stat().st_size, "bytes")


if __name__ == "__main__":
    main()
