"""Names of languages, and how fields name them."""

from __future__ import annotations

from functools import cache

CODES = {
    "af": "Afrikaans", "ar": "Arabic", "az": "Azerbaijani", "bg": "Bulgarian", "bn": "Bengali",
    "br": "Breton", "ca": "Catalan", "cs": "Czech", "da": "Danish", "de": "German", "el": "Greek",
    "en": "English", "eo": "Esperanto", "es": "Spanish", "et": "Estonian", "eu": "Basque",
    "fa": "Persian", "fi": "Finnish", "fr": "French", "ga": "Irish", "gl": "Galician",
    "gu": "Gujarati", "ha": "Hausa", "he": "Hebrew", "hi": "Hindi", "hr": "Croatian",
    "hu": "Hungarian", "hy": "Armenian", "id": "Indonesian", "is": "Icelandic", "it": "Italian",
    "ja": "Japanese", "ka": "Georgian", "ko": "Korean", "ku": "Kurdish", "la": "Latin", "lt": "Lithuanian",
    "lv": "Latvian", "mr": "Marathi", "ms": "Malay", "nl": "Dutch", "no": "Norwegian",
    "pl": "Polish", "pt": "Portuguese", "ro": "Romanian", "ru": "Russian", "sk": "Slovak",
    "sl": "Slovenian", "so": "Somali", "sr": "Serbian", "st": "Southern Sotho", "sv": "Swedish",
    "sw": "Swahili", "ta": "Tamil", "th": "Thai", "tl": "Tagalog", "tr": "Turkish", "uk": "Ukrainian",
    "ur": "Urdu", "vi": "Vietnamese", "yo": "Yoruba", "zh": "Chinese", "zu": "Zulu",
}  # fmt: skip
_MORE = {
    "nb": "Norwegian", "nn": "Norwegian", "iw": "Hebrew", "eng": "English", "deu": "German",
    "ger": "German", "fra": "French", "fre": "French", "spa": "Spanish", "ita": "Italian",
    "por": "Portuguese", "nld": "Dutch", "dut": "Dutch", "swe": "Swedish", "dan": "Danish",
    "nor": "Norwegian", "fin": "Finnish", "pol": "Polish", "rus": "Russian", "ukr": "Ukrainian",
    "tur": "Turkish", "ell": "Greek", "gre": "Greek", "zho": "Chinese", "chi": "Chinese",
    "jpn": "Japanese", "kor": "Korean", "tha": "Thai", "ara": "Arabic", "heb": "Hebrew",
    "deutsch": "German", "français": "French", "español": "Spanish", "italiano": "Italian",
    "português": "Portuguese", "nederlands": "Dutch", "svenska": "Swedish", "dansk": "Danish",
    "norsk": "Norwegian", "suomi": "Finnish", "polski": "Polish", "русский": "Russian",
    "türkçe": "Turkish", "čeština": "Czech", "slovenčina": "Slovak", "magyar": "Hungarian",
    "română": "Romanian", "català": "Catalan", "hrvatski": "Croatian", "български": "Bulgarian",
}  # fmt: skip


@cache
def _known() -> dict[str, str]:
    return {**{name.casefold(): name for name in CODES.values()}, **CODES, **_MORE}


def language_named(value: str) -> str | None:
    """The language that a field's value names by code, region code, English or own name.

    >>> [language_named(value) for value in ("de", "en-GB", "Français", "x")]
    ['German', 'English', 'French', None]
    """
    folded = value.strip().casefold()
    return _known().get(folded) or _known().get(folded.replace("_", "-").split("-")[0])
