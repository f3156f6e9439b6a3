"""Word forms: a word as it is written, or its stem by the Snowball algorithms (Porter, "Snowball", 2001)."""

from __future__ import annotations

import Stemmer

_SNOWBALL = {
    "ar": "arabic", "ca": "catalan", "da": "danish", "de": "german", "el": "greek", "en": "english", "es": "spanish",
    "et": "estonian", "eu": "basque", "fi": "finnish", "fr": "french", "ga": "irish", "hi": "hindi", "hu": "hungarian",
    "hy": "armenian", "id": "indonesian", "it": "italian", "lt": "lithuanian", "ne": "nepali", "nl": "dutch",
    "no": "norwegian", "pt": "portuguese", "ro": "romanian", "ru": "russian", "sr": "serbian", "sv": "swedish",
    "ta": "tamil", "tr": "turkish", "yi": "yiddish",
}  # fmt: skip


def stems(words: list[str], language: str) -> list[str]:
    """The stem of each word; a word whose stem would be nothing stays as it is.

    >>> stems(["seeds", "seeded", "slugs"], "en")
    ['seed', 'seed', 'slug']
    """
    found = Stemmer.Stemmer(_SNOWBALL[language]).stemWords(words)
    return [stem or word for stem, word in zip(found, words, strict=True)]
