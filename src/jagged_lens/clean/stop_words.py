# SPDX-License-Identifier: GPL-3.0-or-later
"""Lists of words that are never used: those of a language, wide ones (stopwordsiso), or text files of the user's."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterable
from pathlib import Path

from jagged_lens.errors import SourceError
from jagged_lens.gather import decoded
from jagged_lens.language import EARNEST, code_of, function_words, name_of, wide_languages
from jagged_lens.language.words import commonest, wide_list
from jagged_lens.line_lists import entries_in, is_inside
from jagged_lens.named_file import path_of, small_file

DETECTED = "detect"
"""The list of the language that the documents are in."""
_WIDE = "-wide"


def ships(name: str) -> bool:
    """True if a stop word list of that name ships with us; any other is a file."""
    return name == DETECTED or bool(language_of_list(name))


def language_of_list(name: str) -> str:
    """The language of a list that ships with us, by the name of the list; "" where it is none.

    >>> language_of_list("de"), language_of_list("de-wide"), language_of_list("mine.txt")
    ('de', 'de', '')
    """
    code = name.removesuffix(_WIDE)
    if name.endswith(_WIDE):
        return code if code in wide_languages() else ""
    return name if code_of(name) == name and (name in commonest() or name in wide_languages()) else ""


def list_name(name: str) -> str:
    """The display name of a list, with the number of its words.

    >>> list_name("en")
    'English function words (231)'
    """
    code = language_of_list(name)
    if not code:
        return "those of the documents' language" if name == DETECTED else name
    count = len(read_list(name, Path()))
    if name.endswith(_WIDE):
        return f"{name_of(code)} wide list ({count})"
    kind = "function words" if code in EARNEST else "function words, wide list"
    return f"{name_of(code)} {kind} ({count})"


def list_names() -> tuple[str, ...]:
    """The lists that ship with us, those of languages first, by the name of the language."""
    by_name = sorted(
        {*commonest(), *wide_languages()} & {code for code in map(code_of, wide_languages()) if code}
        | set(commonest()),
        key=name_of,
    )
    return (*by_name, *(code + _WIDE for code in by_name if code in wide_languages()))


def read_list(name: str, folder: Path) -> list[str]:
    """The entries of a list: of a file UTF-8, one a line, from # on a comment.

    SourceError where it is neither the name of a list of ours nor a file that can be read.
    """
    if is_inside(name):
        return entries_in(name)
    if code := language_of_list(name):
        return sorted(wide_list(code) if name.endswith(_WIDE) else function_words(code))
    try:
        text, _ = decoded(small_file(path_of(name, folder)))
    except OSError as error:
        raise SourceError(
            f"the stop word list cannot be read ({error.strerror})",
            name,
            f'Lists that come with Jagged Lens: "{DETECTED}", {", ".join(sorted(commonest()))}, and wide ones such as en-wide.',
        ) from error
    return entries_in(text)


def plain(entries: Iterable[str]) -> frozenset[str]:
    """Entries with composed characters and plain apostrophes, as tokens have them."""
    return frozenset(unicodedata.normalize("NFC", entry).replace("’", "'") for entry in entries)
