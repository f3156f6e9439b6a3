# SPDX-License-Identifier: GPL-3.0-or-later
"""The names of languages, and the codes (ISO 639) under which recipes know them."""

from __future__ import annotations

NAMES = {
    "af": "Afrikaans", "ar": "Arabic", "ast": "Asturian", "bg": "Bulgarian", "bn": "Bengali", "ca": "Catalan", "cs": "Czech",
    "cy": "Welsh", "da": "Danish", "de": "German", "el": "Greek", "en": "English", "es": "Spanish", "et": "Estonian",
    "eu": "Basque", "fa": "Persian", "fi": "Finnish", "fr": "French", "ga": "Irish", "gl": "Galician", "gu": "Gujarati",
    "hbs": "Serbo-Croatian", "he": "Hebrew", "hi": "Hindi", "hr": "Croatian", "hu": "Hungarian", "hy": "Armenian",
    "id": "Indonesian", "is": "Icelandic", "it": "Italian", "ja": "Japanese", "ka": "Georgian", "ko": "Korean", "la": "Latin",
    "lb": "Luxembourgish", "lt": "Lithuanian", "lv": "Latvian", "mk": "Macedonian", "mr": "Marathi", "ms": "Malay",
    "nb": "Norwegian Bokmål", "ne": "Nepali", "nl": "Dutch", "nn": "Norwegian Nynorsk", "no": "Norwegian", "pl": "Polish",
    "pt": "Portuguese", "ro": "Romanian", "ru": "Russian", "sk": "Slovak", "sl": "Slovenian", "sq": "Albanian", "sr": "Serbian",
    "sv": "Swedish", "sw": "Swahili", "ta": "Tamil", "th": "Thai", "tl": "Tagalog", "tr": "Turkish", "uk": "Ukrainian",
    "ur": "Urdu", "vi": "Vietnamese", "yi": "Yiddish", "zh": "Chinese",
}  # fmt: skip
CODES: tuple[str, ...] = tuple(NAMES)


def name_of(code: str) -> str:
    """The name of a language by its code; "" where there is none by it.

    >>> name_of("de"), name_of("xx")
    ('German', '')
    """
    return NAMES.get(code, "")


def code_of(name: str) -> str:
    """The code of a language by its name or its code, in any case; "" where there is none by it.

    >>> code_of("german"), code_of("DE"), code_of("Elvish")
    ('de', 'de', '')
    """
    wanted = name.strip().casefold()
    return wanted if wanted in NAMES else next((c for c, known in NAMES.items() if known.casefold() == wanted), "")
