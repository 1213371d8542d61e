"""Write skeinwork/core/text/data/stop_lists.json from an openly licensed collection.

``python scripts/make_stop_lists.py FILE``: a JSON file with words by language code. English is not
taken from it: its list is our own. The licence stands beside the result.
"""

import json
import sys
import unicodedata
from pathlib import Path

import regex

from skeinwork.core.text import stopwords
from skeinwork.core.text.language_names import CODES

TARGET = Path(stopwords.__file__).parent / "data" / "stop_lists.json"
# Letters of other encodings that some lists hold where Turkish was decoded wrongly.
WRONG = {"Turkish": "ýþðţ"}
WORD = regex.compile(r"[\p{L}\p{M}\p{N}'’\u200c\-·]+")


def words_of(language: str, given: list[str]) -> list[str]:
    wrong = WRONG.get(language, "")
    composed = {unicodedata.normalize("NFC", word.strip()).casefold() for word in given}
    return sorted(
        word
        for word in composed
        if WORD.fullmatch(word) and regex.search(r"\p{L}", word) and not set(word) & set(wrong)
    )


def main() -> None:
    given = json.loads(Path(sys.argv[1]).read_text(encoding="utf-8"))
    lists = {
        CODES[code]: " ".join(words_of(CODES[code], given[code])) for code in sorted(given) if CODES[code] != "English"
    }
    TARGET.write_text(json.dumps(lists, ensure_ascii=False, indent=0) + "\n", encoding="utf-8")
    print(f"{TARGET.name}: {len(lists)} languages, {TARGET.stat().st_size} bytes")


if __name__ == "__main__":
    main()
