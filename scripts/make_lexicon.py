"""Write skeinwork/core/text/data/lexicon_english.txt.gz from an openly licensed lexical database.

``python scripts/make_lexicon.py FOLDER``: the folder holds ``index.noun`` and so on, the exception
lists ``noun.exc`` and so on, and ``cntlist.rev``. A line of the result is a word, and for each part of
speech that it has, as ``n``, ``v``, ``a`` or ``r``, how often it was counted in tagged text; then, after
a second tab, the lemmas of which it is an irregular form. The licence stands beside the result.
"""

import gzip
import re
import sys
from collections import Counter, defaultdict
from pathlib import Path

from skeinwork.core.text.forms import lexicon

PARTS = {"noun": "n", "verb": "v", "adj": "a", "adv": "r"}
SENSES = {"1": "n", "2": "v", "3": "a", "4": "r", "5": "a"}
WORD = re.compile(r"[a-z][a-z'-]*")


def main() -> None:
    folder = Path(sys.argv[1])
    counts: Counter[tuple[str, str]] = Counter()
    for line in (folder / "cntlist.rev").read_text(encoding="ascii").splitlines():
        key, _, count = line.split()
        word, _, rest = key.partition("%")
        counts[word, SENSES[rest[0]]] += int(count)
    parts: dict[str, set[str]] = defaultdict(set)
    irregular: dict[str, list[str]] = defaultdict(list)
    for name, letter in PARTS.items():
        for line in (folder / f"index.{name}").read_text(encoding="ascii").splitlines():
            word = line.split(" ")[0]
            if WORD.fullmatch(word):
                parts[word].add(letter)
        for line in (folder / f"{name}.exc").read_text(encoding="ascii").splitlines():
            form, *lemmas = line.split()
            for each in filter(WORD.fullmatch, lemmas):
                if WORD.fullmatch(form):
                    irregular[form].append(letter + each)
    lines = []
    for word in sorted({*parts, *irregular}):
        known = " ".join(f"{each}{counts[word, each] or ''}" for each in "nvar" if each in parts[word])
        lines.append(f"{word}\t{known}\t{' '.join(irregular[word])}".rstrip("\t"))
    data = ("\n".join(lines) + "\n").encode("ascii")
    lexicon.PATH.write_bytes(gzip.compress(data, 9, mtime=0))
    print(f"{lexicon.PATH.name}: {len(lines)} words, {lexicon.PATH.stat().st_size} bytes")


if __name__ == "__main__":
    main()
