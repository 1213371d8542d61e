"""Write the Unicode tables in skeinwork/core/text/data from the Unicode data of the regex package.

Run it by hand when that package follows a newer Unicode version, then raise the version of the
tokenising step.
"""

from pathlib import Path

import numpy as np
import regex

from skeinwork.core.text import unicode_classes as uc

POINTS = 0x110000
FOLDER = Path(uc.__file__).parent / "data"
NAMES = {
    uc.CR: "CR",
    uc.LF: "LF",
    uc.NEWLINE: "Newline",
    uc.EXTEND: "Extend",
    uc.ZWJ: "ZWJ",
    uc.FORMAT: "Format",
    uc.KATAKANA: "Katakana",
    uc.HEBREW: "Hebrew_Letter",
    uc.ALETTER: "ALetter",
    uc.SINGLE_QUOTE: "Single_Quote",
    uc.DOUBLE_QUOTE: "Double_Quote",
    uc.MID_NUM_LET: "MidNumLet",
    uc.MID_LETTER: "MidLetter",
    uc.MID_NUM: "MidNum",
    uc.NUMERIC: "Numeric",
    uc.EXTEND_NUM_LET: "ExtendNumLet",
    uc.REGIONAL: "Regional_Indicator",
    uc.WSEG_SPACE: "WSegSpace",
}
FLAGS = {
    uc.LETTER: r"\p{L}",
    uc.NUMBER: r"\p{N}",
    uc.PICTOGRAPH: r"\p{Extended_Pictographic}",
    uc.SPACE: r"\p{White_Space}",
    uc.PUNCTUATION: r"\p{P}",
    uc.EMOJI: r"\p{Emoji_Presentation}",
}

SENTENCE = {
    uc.S_CR: "CR",
    uc.S_LF: "LF",
    uc.S_SEP: "Sep",
    uc.S_EXTEND: "Extend",
    uc.S_FORMAT: "Format",
    uc.S_SP: "Sp",
    uc.S_LOWER: "Lower",
    uc.S_UPPER: "Upper",
    uc.S_LETTER: "OLetter",
    uc.S_NUMERIC: "Numeric",
    uc.S_ATERM: "ATerm",
    uc.S_CONTINUE: "SContinue",
    uc.S_STERM: "STerm",
    uc.S_CLOSE: "Close",
}
GRAPHEME = {
    uc.G_CR: "CR",
    uc.G_LF: "LF",
    uc.G_CONTROL: "Control",
    uc.G_EXTEND: "Extend",
    uc.G_ZWJ: "ZWJ",
    uc.G_REGIONAL: "Regional_Indicator",
    uc.G_PREPEND: "Prepend",
    uc.G_SPACING: "SpacingMark",
    uc.G_L: "L",
    uc.G_V: "V",
    uc.G_T: "T",
    uc.G_LV: "LV",
    uc.G_LVT: "LVT",
}
CONJUNCT = {
    uc.G_CONSONANT: r"\p{InCB=Consonant}",
    uc.G_LINKER: r"\p{InCB=Linker}",
    uc.G_JOINED: r"\p{InCB=Extend}",
    uc.G_PICTOGRAPH: r"\p{Extended_Pictographic}",
}
ALL = "".join(map(chr, range(POINTS)))


def build(name: str, classes: dict[int, str], flags: dict[int, str], more: dict[int, str]) -> np.ndarray:
    """Entries of all code points: classes of one property, flags, classes of Sentence_Break."""
    table = np.zeros(POINTS, dtype=np.uint16)
    for code, value in classes.items():
        for found in regex.finditer(rf"\p{{{name}={value}}}", ALL):
            table[found.start()] = code
    for bit, pattern in flags.items():
        for found in regex.finditer(pattern, ALL):
            table[found.start()] |= bit
    for code, value in more.items():
        for found in regex.finditer(rf"\p{{Sentence_Break={value}}}", ALL):
            table[found.start()] |= code << uc.SENTENCE_SHIFT
    return table


def write(name: str, table: np.ndarray) -> None:
    blocks, index = np.unique(table.reshape(-1, 256), axis=0, return_inverse=True)
    target = FOLDER / f"{name}.npz"
    np.savez_compressed(target, index=index.astype(np.uint16), blocks=blocks.ravel())
    print(f"{target.name}: {len(blocks)} blocks, {target.stat().st_size} bytes")


def main() -> None:
    write("unicode_classes", build("Word_Break", NAMES, FLAGS, SENTENCE))
    write("grapheme_classes", build("Grapheme_Cluster_Break", GRAPHEME, CONJUNCT, {}))


if __name__ == "__main__":
    main()
