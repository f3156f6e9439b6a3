# SPDX-License-Identifier: GPL-3.0-or-later
"""A return note in each of many languages, and the encodings in which such notes are found."""

from __future__ import annotations

from pathlib import Path

_LINES = (Path(__file__).parent / "notes_of_languages.txt").read_text("utf-8").splitlines()
NOTES = {code: text for code, _, text in (line.partition(": ") for line in _LINES)}

_WEST, _NORTH = ("cp1252", "iso8859_1", "iso8859_15"), ("cp1252", "iso8859_1")
_MIDDLE, _BALTIC = ("cp1250", "iso8859_2"), ("cp1257", "iso8859_13")
ENCODINGS = {
    **dict.fromkeys(("de", "fr", "es", "pt", "it", "nl", "fi"), _WEST),
    **dict.fromkeys(("sv", "da", "no", "is"), _NORTH),
    **dict.fromkeys(("pl", "cs", "sk", "hu", "ro", "sl", "hr"), _MIDDLE),
    **dict.fromkeys(("lv", "lt"), _BALTIC),
    "et": ("cp1257", "iso8859_15"), "tr": ("cp1254", "iso8859_9"), "ru": ("cp1251", "koi8_r", "iso8859_5"),
    "uk": ("cp1251", "koi8_u"), "bg": ("cp1251", "iso8859_5"), "el": ("cp1253", "iso8859_7"), "he": ("cp1255", "iso8859_8"),
    "ar": ("cp1256", "iso8859_6"), "th": ("cp874", "tis_620"), "ja": ("cp932", "euc_jp", "iso2022_jp"), "zh": ("gb18030",),
    "zh-hant": ("big5",), "ko": ("cp949", "euc_kr"),
}  # fmt: skip
OLD = {
    "de": ("cp850", "cp437", "mac_roman"),
    "fr": ("cp850", "mac_roman"),
    "pl": ("cp852",),
    "ru": ("cp866", "mac_cyrillic"),
}
