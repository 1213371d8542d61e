"""What encoding a file is written in, and what could not be read in it."""

from __future__ import annotations

import codecs
import re
from dataclasses import dataclass

from skeinwork.core.errors import BadInputError

OFFERED = (
    "utf-8",
    "utf-16-le",
    "utf-16-be",
    "utf-32-le",
    "utf-32-be",
    "cp1252",
    "iso-8859-15",
    "mac-roman",
    "cp437",
    "cp1250",
    "cp1251",
    "koi8-r",
    "cp1253",
    "cp1254",
    "cp1255",
    "cp1256",
    "shift_jis",
    "euc-jp",
    "gb18030",
    "big5",
    "euc-kr",
)
_KANA = "のにをはがとでしたてるいれさなもことかすう、。"
_CYRILLIC = "оеаинтсрвлкмдпуяыьгзбчйхжю"
# Letters that make up most of a text in the scripts of an encoding. Hangul and the Chinese
# characters are so many that no few of them do: for those the share expected is lower.
_FREQUENT = {
    "cp1251": _CYRILLIC,
    "koi8-r": _CYRILLIC,
    "cp1253": "αοιετνσηυρπκμλάέίόήύςδγωχθφβ",
    "cp1255": "יהואלרבתשמנדכחקפגצסעטםןז",
    "cp1256": "الينمتربوعدسفهكقحجشصطخةىأ",
    "shift_jis": _KANA,
    "euc-jp": _KANA,
    "gb18030": "的一是不了人在有我他这中大来上个国，。到说们为子和你地出道也时年",
    "big5": "的一是不了人在有我他這中大來上個國，。到說們為子和你地出道也時年",
    "euc-kr": "이다는을의에가고하지한로은를도서사기나어리시",
}
# Of a text in an alphabet these are most letters; of one in very many characters, some.
_LEAST_SHARE = {"cp1251": 0.5, "koi8-r": 0.5, "cp1253": 0.5, "cp1255": 0.5, "cp1256": 0.5}
# Of the letters, those that an encoding of its language has beyond ASCII.
_USUAL_SHARE = 0.15
_SAMPLE = 100_000
_DECLARED = re.compile(rb"""(?:<\?xml[^>]{0,100}encoding|<meta[^>]{0,200}charset)\s*=\s*["']?([\w.:-]{3,40})""", re.I)
_MARKS = (
    (codecs.BOM_UTF8, "utf-8"),
    (codecs.BOM_UTF32_LE, "utf-32-le"),
    (codecs.BOM_UTF32_BE, "utf-32-be"),
    (codecs.BOM_UTF16_LE, "utf-16-le"),
    (codecs.BOM_UTF16_BE, "utf-16-be"),
)


@dataclass(frozen=True)
class Decoded:
    """A file's text, the encoding it was read in, and how many bytes had no character in it.

    Undecodable bytes stand in the text as U+FFFD; ``doubtful`` counts them, so that nothing is
    replaced silently. ``guessed`` says that no mark or strict reading settled the encoding.
    """

    text: str
    encoding: str
    doubtful: int
    guessed: bool


def detect(data: bytes) -> str:
    """Byte-order mark, UTF-16 and UTF-32 by their NUL bytes, strict UTF-8, what it declares, the likeliest."""
    for mark, encoding in _MARKS:
        if data.startswith(mark):
            return encoding
    sample = data[:4096]
    if len(sample) >= 8 and not any(sample[2::4]) and not any(sample[3::4]) and any(sample[0::4]):
        return "utf-32-le"
    if len(sample) >= 8 and not any(sample[0::4]) and not any(sample[1::4]) and any(sample[3::4]):
        return "utf-32-be"
    if len(sample) >= 4:
        if sample[1::2].count(0) > 0.4 * len(sample[1::2]) and sample[0::2].count(0) == 0:
            return "utf-16-le"
        if sample[0::2].count(0) > 0.4 * len(sample[0::2]) and sample[1::2].count(0) == 0:
            return "utf-16-be"
    try:
        data.decode("utf-8")
    except UnicodeDecodeError:
        return "utf-8" if _mostly_utf8(data) else _declared(data) or _likeliest(data)
    return "utf-8"


def _likeliest(data: bytes) -> str:
    """Windows-1252, unless most letters are beyond ASCII and are frequent ones of another script."""
    sample = data[:_SAMPLE]
    beyond = sum(byte > 127 for byte in sample)
    if beyond < 0.5 * sum(byte > 127 or chr(byte).isalpha() for byte in sample):
        return "cp1252"
    shares = {}
    for encoding, letters in _FREQUENT.items():
        text = [each for each in sample.decode(encoding, "replace") if each > "\x7f"]
        lost = text.count("�")
        found = sum(each.lower() in letters for each in text)
        shares[encoding] = found / len(text) if lost <= 2 else 0.0
    best = max(shares, key=lambda encoding: shares[encoding])
    return best if shares[best] > _LEAST_SHARE.get(best, _USUAL_SHARE) else "cp1252"


def _declared(data: bytes) -> str | None:
    """The encoding that an HTML page or XML file says it has, where that is a known one."""
    found = _DECLARED.search(data[:4096])
    try:
        name = codecs.lookup(found[1].decode()).name if found else None
    except (LookupError, UnicodeDecodeError):
        return None
    return None if name in ("utf-8", "utf-16", "utf-32") else name


def _mostly_utf8(data: bytes) -> bool:
    """A long UTF-8 file with a few broken bytes is still UTF-8."""
    broken = data.decode("utf-8", "replace").count("�")
    beyond_ascii = sum(map(data.count, range(0xC2, 0xF5)))
    return broken * 5 < beyond_ascii


def decode(data: bytes, encoding: str | None = None) -> Decoded:
    """Decode a whole file, by its detected or a chosen encoding.

    Raises
    ------
    BadInputError
        for an encoding that does not exist, or is none of texts.
    """
    guessable = ("cp1252", *_FREQUENT)
    detected = detect(data) if not encoding or encoding in guessable else ""
    chosen = encoding or detected
    for mark, marked in _MARKS:
        if chosen == marked and data.startswith(mark):
            data = data[len(mark) :]
    try:
        text = data.decode(chosen, "replace").lstrip("\ufeff")
        doubtful = text.count("�") - data.count("�".encode(chosen, "ignore") or b"\0\0\0\0")
    except (LookupError, ValueError) as fault:
        raise BadInputError(f"There is no encoding “{chosen}”. Choose one of the list.") from fault
    guessed = chosen in guessable and chosen == detected
    return Decoded(text, chosen, max(doubtful, 0), guessed)
