"""Learn the English tagger from the sentences in ``tagged_english`` and write its weights.

Prints how often it is right on sentences it has not learnt from: in ten folds, and genre by genre with
the whole genre held out; with ``--table`` the confusion table of docs/methods.md.
"""

from __future__ import annotations

import argparse
from collections import Counter
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

import numpy as np

from skeinwork.core.text.tagging import TAGS, learning, model, tag_sentences
from skeinwork.core.text.tagging.learning import Tagged
from skeinwork.core.text.tagging.model import Model

DATA = Path(__file__).parent / "tagged_english"
FOLDS = 10
HEATS = (1.0, 2.0, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0, 12.0, 16.0, 20.0, 25.0, 30.0, 40.0)
Pair = tuple[str, str]


def genres() -> dict[str, list[Tagged]]:
    return {path.stem: learning.read_tagged(path) for path in sorted(DATA.glob("*.txt"))}


def confusion(learnt: Model, held: Sequence[Tagged]) -> Counter[Pair]:
    """How often each tag was given for each, on sentences not learnt from; without punctuation."""
    found, _ = tag_sentences([[word for word, _ in each] for each in held], learnt)
    pairs = (
        (tag, given)
        for sentence, tags in zip(held, found, strict=True)
        for (_, tag), given in zip(sentence, tags, strict=True)
    )
    return Counter(pair for pair in pairs if pair[0] != "PUNCT")


def right(table: Counter[Pair]) -> float:
    return sum(table[tag, tag] for tag in TAGS) / table.total()


def loss(learnt: Model, held: Sequence[Tagged], heat: float) -> float:
    """How badly the confidences fit: minus the logarithm of the chance they give to what was so."""
    words = [[word for word, _ in each] for each in held]
    found, sure = tag_sentences(words, replace(learnt, heat=heat, elsewhere=1.0), sure=True)
    given = np.array([tag for tags in found for tag in tags])
    good = given == np.array([tag for each in held for _, tag in each])
    shares = np.clip(sure, 1e-6, 1 - 1e-6)
    return float(-np.log(np.where(good, shares, 1 - shares)).sum())


def folded(sentences: Sequence[Tagged]) -> tuple[Counter[Pair], float]:
    """The confusion of all folds together, and the heat whose confidences fit best."""
    table, losses = Counter[Pair](), np.zeros(len(HEATS))
    for fold in range(FOLDS):
        learnt = learning.learn([each for at, each in enumerate(sentences) if at % FOLDS != fold])
        held = sentences[fold::FOLDS]
        table += confusion(learnt, held)
        losses += [loss(learnt, held, heat) for heat in HEATS]
    return table, HEATS[int(losses.argmin())]


def as_markdown(table: Counter[Pair]) -> str:
    """Rows are the tags as read, columns as given, in words."""
    used = [tag for tag in TAGS if any(table[tag, other] for other in TAGS)]
    lines = ["| as read | " + " | ".join(used) + " | right |", "|---" * (len(used) + 2) + "|"]
    for tag in used:
        counts = [table[tag, other] for other in used]
        cells = " | ".join(str(count) if count else "" for count in counts)
        lines.append(f"| {tag} | {cells} | {table[tag, tag] / sum(counts):.1%} |")
    return "\n".join(lines)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--table", action="store_true", help="print the confusion table")
    options = parser.parse_args()
    read = genres()
    sentences = [each for genre in read.values() for each in genre]
    table, heat = folded(sentences)
    print(f"{len(sentences)} sentences; in {FOLDS} folds {right(table):.2%} right; heat {heat:g}")
    apart = Counter[Pair]()
    for name, held in read.items():
        rest = [each for other, genre in read.items() if other != name for each in genre]
        here = confusion(learning.learn(rest), held)
        apart += here
        print(f"{name:14}{len(held):5}{right(here):9.2%}")
    print(f"each genre without itself: {right(apart):.2%}")
    if options.table:
        print(as_markdown(apart))
    learning.learn(sentences, heat=heat).save(model.PATH)


if __name__ == "__main__":
    main()
