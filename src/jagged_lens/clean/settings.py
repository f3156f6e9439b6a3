"""The settings of Clean."""

from __future__ import annotations

from typing import Literal

from pydantic.dataclasses import dataclass

from jagged_lens.clean.replace import replacement_of
from jagged_lens.clean.stop_words import DETECTED
from jagged_lens.clean.word_forms import LEMMAS, STEMS
from jagged_lens.expressions import expression
from jagged_lens.setting import STRICT, setting

Language = Literal[
    "detect", "each",
    "af", "ar", "ast", "bg", "bn", "ca", "cs", "cy", "da", "de", "el", "en", "es", "et", "eu", "fa", "fi", "fr", "ga", "gl", "gu", "hbs",
    "he", "hi", "hr", "hu", "hy", "id", "is", "it", "ja", "ka", "ko", "la", "lb", "lt", "lv", "mk", "mr", "ms", "nb", "ne", "nl", "nn",
    "no", "pl", "pt", "ro", "ru", "sk", "sl", "sq", "sr", "sv", "sw", "ta", "th", "tl", "tr", "uk", "ur", "vi", "yi", "zh",
]  # fmt: skip


@dataclass(frozen=True, config=STRICT)
class CleanSettings:
    """What becomes of the text before terms are formed. The order of the fields is not the order of the work; see docs/formulas.md."""

    take_out: tuple[
        Literal["markup", "web-addresses", "mail-addresses", "symbols", "recurring-lines", "recurring-sentences"], ...
    ] = setting(
        ("markup", "web-addresses", "mail-addresses"),
        label="Take out",
        help="Stretches of text that are taken out before words are told apart.",
    )
    recurring_from: float = setting(
        0.05,
        label="Lines recur from",
        help="A line, or a sentence, is recurring where it stands in so many documents; below 1 a share of them, three at the least.",
        above=0,
        unit="documents",
    )
    recurring_within: str = setting(
        "",
        label="Within",
        help='Count recurring lines and sentences within each value of this label, or within each "source".',
    )
    replace: tuple[str, ...] = setting(
        (),
        label="Replace",
        help="Own search and replace before words are told apart: text = words, or /expression/ = words. Without words it is taken out.",
        apart=";",
    )
    case: Literal["lower", "keep"] = setting("lower", label="Case", help="lower: Slugs and slugs are one word.")
    accents: Literal["keep", "strip"] = setting("keep", label="Accents", help="strip: é becomes e, ö becomes o.")
    tokens: Literal["words", "letters", "characters", "pattern"] = setting(
        "words",
        label="Tokens",
        help="words: letters, marks and numbers, apostrophes inside kept. letters: letters and marks only. "
        "characters: terms are runs of characters within words. pattern: what your expression fits.",
    )
    pattern: str = setting("", label="Pattern", help="The regular expression for tokens = pattern.")
    hyphens: Literal["split", "join", "join-after-a-letter"] = setting(
        "split",
        label="Hyphens",
        help="join: self-sown is one word. split: it is two. join-after-a-letter: e-mail is one word, self-sown is two.",
    )
    keep_signs: tuple[Literal["hashtags", "handles"], ...] = setting(
        (),
        label="Keep the sign of",
        help="hashtags: #frost stays another word than frost. handles: @plot stays with its sign.",
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
        "drop", label="Numbers", help="drop: words that are all digits, such as 12, 3.5 and 1,000, are taken out."
    )
    stop_words: tuple[str, ...] = setting(
        (DETECTED,),
        label="Stop words",
        help="Lists of words never used: detect (function words of the language of the documents), de, fr … (of a language by name), "
        "en-wide (a wide list), or the path of a text file.",
    )
    negations: Literal["keep", "drop"] = setting(
        "keep",
        label="Negations",
        help="Words that turn the meaning round (not, no, never). drop: they are taken out like stop words.",
    )
    own_rules: tuple[str, ...] = setting(
        (),
        label="Own rules",
        help="slugs, snails = slug; join: late frost; never: plot number; as written: leaves.",
        apart=";",
    )
    word_lists: tuple[str, ...] = setting((), label="Word lists", help="Text files with own rules, one a line.")
    word_form: Literal["written", "stem", "lemma"] = setting(
        "stem",
        label="Word form",
        help="stem: seed, seeds and seeded become one term (Snowball). lemma: the form a dictionary lists.",
    )
    language: Language = setting(
        "detect",
        label="Language",
        help="Whose stop words, word forms, sentence ends and elisions hold. detect: the language of most documents. "
        "each: of every document its own.",
    )

    def __post_init__(self) -> None:
        if self.shortest > self.longest:
            raise ValueError(f"shortest ({self.shortest}) must not be greater than longest ({self.longest})")
        named = self.language not in ("detect", "each")
        if named and self.word_form == "stem" and self.language not in STEMS:
            raise ValueError(f'no stems are known for "{self.language}"; take the lemma, or words as written')
        if named and self.word_form == "lemma" and self.language not in LEMMAS:
            raise ValueError(f'no lemmas are known for "{self.language}"; take the stem, or words as written')
        if self.tokens == "pattern":
            if not self.pattern:
                raise ValueError('tokens = "pattern" needs a pattern, such as [a-z]+')
            try:
                expression(self.pattern)
            except ValueError as error:
                raise ValueError(f"the pattern cannot be used: {error}") from None
        for rule in self.replace:
            replacement_of(rule)

    @property
    def has_expressions(self) -> bool:
        """Whether a regular expression of the user's own searches the texts."""
        return self.tokens == "pattern" or any(rule.startswith("/") for rule in self.replace)
