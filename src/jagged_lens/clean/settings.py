# SPDX-License-Identifier: GPL-3.0-or-later
"""The settings of Clean."""

from __future__ import annotations

from typing import Literal

from pydantic.dataclasses import dataclass

from jagged_lens.clean.replace import replacement_of
from jagged_lens.clean.stop_words import DETECTED
from jagged_lens.expressions import expression
from jagged_lens.language import NAMES, code_of
from jagged_lens.setting import STRICT, setting

Language = Literal[
    "detect", "each",
    "af", "ar", "ast", "bg", "bn", "ca", "cs", "cy", "da", "de", "el", "en", "es", "et", "eu", "fa", "fi", "fr", "ga", "gl", "gu", "hbs",
    "he", "hi", "hr", "hu", "hy", "id", "is", "it", "ja", "ka", "ko", "la", "lb", "lt", "lv", "mk", "mr", "ms", "nb", "ne", "nl", "nn",
    "no", "pl", "pt", "ro", "ru", "sk", "sl", "sq", "sr", "sv", "sw", "ta", "th", "tl", "tr", "uk", "ur", "vi", "yi", "zh",
]  # fmt: skip


def _language(value: object, where: str) -> object:
    """A language by its name or its code."""
    return (code_of(value) or value) if isinstance(value, str) else value


_RECURRING = ("recurring-lines", "recurring-sentences")
_LISTS = {
    **{code: f"{name} function words" for code, name in NAMES.items()},
    **{f"{code}-wide": f"{name} wide list" for code, name in NAMES.items()},
}


@dataclass(frozen=True, config=STRICT)
class CleanSettings:
    """The changes to a text before terms are formed. The order of the fields is not the order of the work; see docs/formulas.md."""

    take_out: tuple[
        Literal["markup", "web-addresses", "mail-addresses", "symbols", "recurring-lines", "recurring-sentences"], ...
    ] = setting(
        ("markup", "web-addresses", "mail-addresses"),
        label="Remove",
        help="Parts of the texts to remove before they are split into words.",
        said={
            (): "nothing",
            "markup": "markup",
            "web-addresses": "web addresses",
            "mail-addresses": "mail addresses",
            "symbols": "symbols",
            "recurring-lines": "recurring lines",
            "recurring-sentences": "recurring sentences",
        },
    )
    recurring_from: float = setting(
        0.05,
        label="Lines recur from",
        help="A line or sentence is recurring if it occurs in this many documents; below 1, in this share of them, but at least three.",
        above=0,
        unit="documents",
        when=("take_out", _RECURRING),
    )
    recurring_within: str = setting(
        "",
        label="Within",
        help='Count recurring lines and sentences within each value of this label, or within each "source".',
        said={"": "all documents"},
        when=("take_out", _RECURRING),
    )
    replace: tuple[str, ...] = setting(
        (),
        label="Replace",
        help=(
            "Your own search and replace, before texts are split into words: text = words, or /expression/ = words. "
            "Without words, the match is removed."
        ),
        apart=";",
        entry="plot = parcel",
        said={(): "nothing"},
    )
    case: Literal["lower", "keep"] = setting(
        "lower",
        label="Case",
        help="lower: Slugs and slugs are one word.",
        said={"lower": "lower case", "keep": "as written"},
    )
    accents: Literal["keep", "strip"] = setting(
        "keep", label="Accents", help="strip: é becomes e, ö becomes o.", said={"keep": "kept", "strip": "removed"}
    )
    tokens: Literal["words", "letters", "characters", "pattern"] = setting(
        "words",
        label="Tokens",
        help="words: letters, marks and numbers, apostrophes inside kept. letters: letters and marks only. characters: "
        "terms are runs of characters within words. pattern: what your expression matches.",
        said={
            "words": "words",
            "letters": "runs of letters",
            "characters": "runs of characters",
            "pattern": "what a pattern matches",
        },
    )
    pattern: str = setting(
        "",
        label="Pattern",
        help="Regular expression of a token, for tokens = pattern.",
        when=("tokens", ("pattern",)),
        said={"": "none yet"},
    )
    hyphens: Literal["split", "join", "join-after-a-letter"] = setting(
        "split",
        label="Hyphens",
        help="join: self-sown is one word. split: it is two. join-after-a-letter: e-mail is one word, self-sown is two.",
        said={
            "split": "split words",
            "join": "join words",
            "join-after-a-letter": "join after one letter, as in e-mail",
        },
    )
    keep_signs: tuple[Literal["hashtags", "handles"], ...] = setting(
        (),
        label="Keep the sign of",
        help="hashtags: #frost and frost are different words. handles: @plot keeps its sign.",
        said={(): "nothing", "hashtags": "hashtags", "handles": "handles"},
    )
    shortest: int = setting(
        2, label="Shortest word", help="Words with fewer characters are removed.", low=1, high=1000, unit="characters"
    )
    longest: int = setting(
        40,
        label="Longest word",
        help="Words with more characters are removed.",
        low=1,
        high=100_000,
        unit="characters",
    )
    numbers: Literal["drop", "keep"] = setting(
        "drop",
        label="Numbers",
        help="drop: words of digits only, such as 12, 3.5 and 1,000, are removed.",
        said={"drop": "removed", "keep": "kept"},
    )
    stop_words: tuple[str, ...] = setting(
        (DETECTED,),
        label="Stop words",
        help="Lists of words to remove: the function words of the documents' language, those of a named language, a wide "
        "list, or a text file of your own.",
        allowed='a list of "detect", "de" or another language, "de-wide" for a wide list, and paths of text files',
        entry="detect",
        said={(): "none", DETECTED: "the function words of the language", **_LISTS},
    )
    negations: Literal["keep", "drop"] = setting(
        "keep",
        label="Negations",
        help="Words that reverse the meaning (not, no, never). drop: they are removed like stop words.",
        said={"keep": "kept", "drop": "removed"},
    )
    own_rules: tuple[str, ...] = setting(
        (),
        label="Own rules",
        help="slugs, snails = slug; join: late frost; never: plot number; as written: leaves.",
        apart=";",
        entry="slugs, snails = slug",
        said={(): "none"},
    )
    word_lists: tuple[str, ...] = setting(
        (), label="Word lists", help="Text files with own rules, one per line.", entry="rules.words", said={(): "none"}
    )
    word_form: Literal["written", "stem", "lemma"] = setting(
        "stem",
        label="Word form",
        help="stem: seed, seeds and seeded become one term (Snowball). lemma: the form a dictionary lists. If stems are not "
        "available for a language, its lemmas are used, and vice versa; if neither is, words stay as written.",
        said={"written": "as written", "stem": "by their stems", "lemma": "by their lemmas"},
    )
    language: Language = setting(
        "detect",
        label="Language",
        help="The language whose stop words, word forms, sentence ends and elisions apply. detect: that of most documents. "
        "each: each document's own.",
        parse=_language,
        said={"detect": "that of most documents", "each": "each document's own", **NAMES},
    )

    def __post_init__(self) -> None:
        if self.shortest > self.longest:
            raise ValueError(f"shortest ({self.shortest}) must not be greater than longest ({self.longest})")
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
        """True if a regular expression of the user's own searches the texts."""
        return self.tokens == "pattern" or any(rule.startswith("/") for rule in self.replace)


SENTENCES = (
    "Language: {language}",
    "Remove from the texts: {take-out}",
    "A line or sentence is recurring if it occurs in {recurring-from} of {recurring-within}.",
    "Search and replace first: {replace}",
    "Tokens are {tokens}.",
    "The pattern is {pattern}.",
    "Case: {case}; accents: {accents}; hyphens {hyphens}; keep the sign of {keep-signs}",
    "Length: {shortest} to {longest} characters; numbers: {numbers}",
    "Stop words: {stop-words}; negations: {negations}",
    "Own rules: {own-rules}; rule files: {word-lists}",
    "Words are counted {word-form}.",
)
"""The settings in sentences; a key in braces stands for the value of its setting."""
