"""Write skeinwork/core/text/data/unicode_classes.npz from the Unicode data of the regex package.

Run it by hand when that package follows a newer Unicode version, then raise the version of the
tokenising step.
"""

from pathlib import Path

import numpy as np
import regex

from skeinwork.core.text import unicode_classes as uc

POINTS = 0x110000
TARGET = Path(uc.__file__).parent / "data" / "unicode_classes.npz"
NAMES = {
    uc.CR: "CR", uc.LF: "LF", uc.NEWLINE: "Newline", uc.EXTEND: "Extend", uc.ZWJ: "ZWJ",
    uc.FORMAT: "Format", uc.KATAKANA: "Katakana", uc.HEBREW: "Hebrew_Letter",
    uc.ALETTER: "ALetter", uc.SINGLE_QUOTE: "Single_Quote", uc.DOUBLE_QUOTE: "Double_Quote",
    uc.MID_NUM_LET: "MidNumLet", uc.MID_LETTER: "MidLetter", uc.MID_NUM: "MidNum",
    uc.NUMERIC: "Numeric", uc.EXTEND_NUM_LET: "ExtendNumLet",
    uc.REGIONAL: "Regional_Indicator", uc.WSEG_SPACE: "WSegSpace",
}  # fmt: skip
FLAGS = {
    uc.LETTER: r"\p{L}", uc.NUMBER: r"\p{N}", uc.PICTOGRAPH: r"\p{Extended_Pictographic}",
    uc.SPACE: r"\p{White_Space}", uc.PUNCTUATION: r"\p{P}",
    uc.EMOJI: r"\p{Emoji_Presentation}",
}  # fmt: skip


def build() -> np.ndarray:
    points = "".join(map(chr, range(POINTS)))
    table = np.zeros(POINTS, dtype=np.uint16)
    for code, name in NAMES.items():
        for found in regex.finditer(rf"\p{{Word_Break={name}}}", points):
            table[found.start()] = code
    for bit, pattern in FLAGS.items():
        for found in regex.finditer(pattern, points):
            table[found.start()] |= bit
    return table


def main() -> None:
    blocks, index = np.unique(build().reshape(-1, 256), axis=0, return_inverse=True)
    np.savez_compressed(TARGET, index=index.astype(np.uint16), blocks=blocks.ravel())
    print(f"{TARGET.name}: {len(blocks)} blocks, {TARGET.stat().st_size} bytes")


if __name__ == "__main__":
    main()
