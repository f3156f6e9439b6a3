"""The settings of Clean."""

from __future__ import annotations

from typing import Literal

from pydantic.dataclasses import dataclass

from jagged_lens.setting import STRICT, setting

Language = Literal[
    "ar", "ca", "da", "de", "el", "en", "es", "et", "eu", "fi", "fr", "ga", "hi", "hu", "hy",
    "id", "it", "lt", "ne", "nl", "no", "pt", "ro", "ru", "sr", "sv", "ta", "tr", "yi",
]  # fmt: skip


@dataclass(frozen=True, config=STRICT)
class CleanSettings:
    """What becomes of the text before terms are formed. The order of the fields is not the order of the work; see docs/formulas.md."""

    take_out: tuple[Literal["markup", "web-addresses", "mail-addresses"], ...] = setting(
        ("markup", "web-addresses", "mail-addresses"),
        label="Take out",
        help="Stretches of text that are taken out before words are told apart.",
        later=("symbols", "recurring-lines"),
    )
    case: Literal["lower", "keep"] = setting("lower", label="Case", help="lower: Slugs and slugs are one word.")
    accents: Literal["keep", "strip"] = setting("keep", label="Accents", help="strip: é becomes e, ö becomes o.")
    tokens: Literal["words", "letters"] = setting(
        "words",
        label="Tokens",
        help="words: runs of letters, marks and numbers, apostrophes inside kept. letters: runs of letters and marks only.",
        later=("characters", "pattern"),
    )
    pattern: str = setting("", label="Pattern", help="The regular expression for tokens = pattern.", built=False)
    hyphens: Literal["split", "join"] = setting(
        "split", label="Hyphens", help="join: self-sown is one word. split: it is two."
    )
    shortest: int = setting(
        2, label="Shortest word", help="Words with fewer characters are taken out.", low=1, high=1000, unit="characters"
    )
    longest: int = setting(
        40,
        label="Longest word",
        help="Words with more characters are taken out.",
        low=1,
        high=100_000,
        unit="characters",
    )
    numbers: Literal["drop", "keep"] = setting(
        "drop", label="Numbers", help="drop: words that are all digits are taken out."
    )
    stop_words: tuple[str, ...] = setting(
        ("en",),
        label="Stop words",
        help="Lists of words never used: en (English function words), or the path of a text file with one word a line.",
        later=("en-wide",),
    )
    word_form: Literal["written", "stem"] = setting(
        "stem", label="Word form", help="stem: seed, seeds and seeded become one term (Snowball).", later=("lemma",)
    )
    language: Language = setting("en", label="Language", help="The language whose stems are formed.")

    def __post_init__(self) -> None:
        if self.shortest > self.longest:
            raise ValueError(f"shortest ({self.shortest}) must not be greater than longest ({self.longest})")
