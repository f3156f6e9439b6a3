"""Lists of words that are never used: conservative ones of our own, wide ones (stopwordsiso), or text files of the user's."""

from __future__ import annotations

import unicodedata
from collections.abc import Callable, Iterable
from functools import cache
from importlib import resources
from pathlib import Path

from jagged_lens.errors import SourceError
from jagged_lens.gather import decoded
from jagged_lens.named_file import path_of, small_file

BUILT_IN = (
    "en", "de", "fr", "es", "it", "pt", "nl", "sv", "da", "no", "fi", "pl", "cs", "hu", "ro", "tr", "ru", "uk", "bg", "el", "la",
)  # fmt: skip
"""Lists of our own: English in full, of the other languages the commonest function words."""
_WIDE = "-wide"


@cache
def function_words() -> dict[str, frozenset[str]]:
    """The commonest function words of each language that we know by them."""
    text = resources.files("jagged_lens.clean").joinpath("lists/languages.txt").read_text("utf-8")
    lines = (line.partition(":") for line in text.splitlines() if line and not line.startswith("#"))
    return {code: frozenset(words.split()) for code, _, words in lines}


def ships(name: str) -> bool:
    """Whether a stop word list of that name ships with us; any other is a file."""
    return name in BUILT_IN or bool(_wide_language(name))


def _wide_language(name: str) -> str:
    """The language of a wide list by its name; "" where it is none."""
    if not name.endswith(_WIDE) or len(name) > 8:
        return ""
    import stopwordsiso

    language = name.removesuffix(_WIDE)
    return language if language in stopwordsiso.langs() else ""


def read_list(name: str, folder: Path) -> list[str]:
    """The entries of a list: UTF-8, one a line, from # on a comment.

    SourceError where it is neither the name of a list of ours nor a file that can be read.
    """
    if language := _wide_language(name):
        import stopwordsiso

        return sorted(stopwordsiso.stopwords(language))
    if name == "en":
        text = resources.files("jagged_lens.clean").joinpath(f"lists/{name}.txt").read_text("utf-8")
    elif name in BUILT_IN:
        return sorted(function_words()[name])
    else:
        try:
            text, _ = decoded(small_file(path_of(name, folder)))
        except OSError as error:
            raise SourceError(
                f"the stop word list cannot be read ({error.strerror})",
                name,
                f"Lists that ship: {', '.join(BUILT_IN)}, and wide ones such as en-wide.",
            ) from error
    entries = (line.partition("#")[0].strip() for line in text.splitlines())
    return [entry for entry in entries if entry]


def stop_words(names: Iterable[str], folder: Path, folded: Callable[[str], str]) -> frozenset[str]:
    """All entries of the lists, brought to the case and accents of the tokens by `folded`."""
    entries = (entry for name in names for entry in read_list(name, folder))
    return frozenset(folded(unicodedata.normalize("NFC", entry).replace("’", "'")) for entry in entries)
