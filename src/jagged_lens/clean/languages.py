"""Which language a document is likely to be in: by its script, and by the function words of the language.

Simple on purpose: good enough to warn that a document is not in the language of the others, and to say so by name.
"""

from __future__ import annotations

import unicodedata

import numpy as np
from numpy.typing import NDArray

from jagged_lens.clean.clean import Tokens
from jagged_lens.clean.stop_words import function_words

UNKNOWN = -1
_LEAST_WORDS = 8
_LEAST_SHARE = 0.12  # of the words of a text that are function words of its language; below it nothing is said
_SURER = 1.6  # so many times the share of the next language

NAMES = {
    "en": "English", "de": "German", "fr": "French", "es": "Spanish", "it": "Italian", "pt": "Portuguese", "nl": "Dutch",
    "sv": "Swedish", "da": "Danish", "no": "Norwegian", "fi": "Finnish", "pl": "Polish", "cs": "Czech", "hu": "Hungarian",
    "ro": "Romanian", "tr": "Turkish", "ru": "Russian", "uk": "Ukrainian", "bg": "Bulgarian", "el": "Greek", "la": "Latin",
    "ar": "Arabic script", "he": "Hebrew", "zh": "Chinese", "ja": "Japanese", "ko": "Korean", "hi": "Devanagari script",
    "th": "Thai",
}  # fmt: skip
_SCRIPTS = {"ARABIC": "ar", "HEBREW": "he", "CJK": "zh", "HIRAGANA": "ja", "KATAKANA": "ja", "HANGUL": "ko",
            "DEVANAGARI": "hi", "THAI": "th"}  # fmt: skip
CODES: tuple[str, ...] = tuple(NAMES)


def languages_of(tokens: Tokens) -> NDArray[np.int8]:
    """The likely language of each document, an index into CODES; UNKNOWN where it is short or none stands out.

    int8, one for each document.
    """
    rows = len(tokens.row_starts) - 1
    lengths = np.diff(tokens.row_starts)
    forms = [form.lower() for form in tokens.written]
    shares = np.zeros((len(CODES), rows), np.float64)
    for place, code in enumerate(CODES):
        known = function_words().get(code)
        if known is None:
            continue
        shares[place] = _share(tokens, np.array([form in known for form in forms], bool), lengths)
    by_script: dict[int, list[int]] = {}
    for number, form in enumerate(forms):
        if not form.isascii() and (script := _SCRIPTS.get(unicodedata.name(form[0], "").split(" ")[0])):
            by_script.setdefault(CODES.index(script), []).append(number)
    for place, numbers in by_script.items():
        of_script = np.zeros(len(forms), bool)
        of_script[numbers] = True
        shares[place] = np.maximum(shares[place], _share(tokens, of_script, lengths))
    if not rows:
        return np.zeros(0, np.int8)
    best = np.argmax(shares, axis=0)
    order = np.sort(shares, axis=0)
    scripted = np.isin(best, list(by_script)) if by_script else np.zeros(rows, bool)
    sure = (order[-1] >= _LEAST_SHARE) & (order[-1] >= _SURER * order[-2]) & ((lengths >= _LEAST_WORDS) | scripted)
    return np.where(sure, best, UNKNOWN).astype(np.int8)


def _share(tokens: Tokens, of_form: NDArray[np.bool_], lengths: NDArray[np.int64]) -> NDArray[np.float64]:
    """The share of each document's tokens whose form is marked."""
    if not len(tokens.form):
        return np.zeros(len(lengths))
    sums = np.concatenate(([0], np.cumsum(of_form[tokens.form])))
    return np.asarray(np.diff(sums[tokens.row_starts]) / np.maximum(lengths, 1))
